using System.Numerics;
using System.Runtime.CompilerServices;

namespace Kiln.Proof.Geometry;

/// <summary>A ray as eight boxes or triangles meet it.</summary>
internal readonly struct WideRay
{
    public readonly Wide3 Origin,
        Direction;
    private readonly Wide3 inverse;
    private readonly Wide least;
    private readonly int nearX,
        nearY,
        nearZ;

    public readonly float Near;

    public WideRay(Vector3 origin, Vector3 direction, float near)
    {
        (Origin, Direction, inverse) = (Wide3.Of(origin), Wide3.Of(direction), Wide3.Of(Vector3.One / direction));
        (Near, least) = (near, Of(near));
        // Of the two planes across an axis, the one that the ray comes to first.
        (nearX, nearY, nearZ) = (direction.X < 0 ? 1 : 0, direction.Y < 0 ? 3 : 2, direction.Z < 0 ? 5 : 4);
    }

    /// <summary>One bit for each of eight boxes that the ray meets before <paramref name="far"/>, and where it enters them.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public uint Meets(ref Wide planes, float far, out Wide enter)
    {
        // A ray along a plane divides by zero: where that gives no number, the other operand is taken.
        enter = Max(
            (Unsafe.Add(ref planes, nearX) - Origin.X) * inverse.X,
            Max((Unsafe.Add(ref planes, nearY) - Origin.Y) * inverse.Y, Max((Unsafe.Add(ref planes, nearZ) - Origin.Z) * inverse.Z, least))
        );
        var leave = Min(
            (Unsafe.Add(ref planes, nearX ^ 1) - Origin.X) * inverse.X,
            Min(
                (Unsafe.Add(ref planes, nearY ^ 1) - Origin.Y) * inverse.Y,
                Min((Unsafe.Add(ref planes, nearZ ^ 1) - Origin.Z) * inverse.Z, Of(far))
            )
        );
        return Bits(AtMost(enter, leave));
    }
}

/// <summary>
/// Eight boxes side by side; a child is the number of another node, or the complement of the number of a leaf. Where there is no child the
/// box is turned inside out, and no ray meets it. It takes four lines of the cache.
/// </summary>
internal struct BvhNode
{
    private Wide minX,
        maxX,
        minY,
        maxY,
        minZ,
        maxZ;
    private Vector256<int> children;
    private readonly Vector256<int> unused;

    public BvhNode()
    {
        (minX, minY, minZ) = (Of(float.PositiveInfinity), Of(float.PositiveInfinity), Of(float.PositiveInfinity));
        (maxX, maxY, maxZ) = (Of(float.NegativeInfinity), Of(float.NegativeInfinity), Of(float.NegativeInfinity));
    }

    public void Put(int lane, Vector3 min, Vector3 max, int child)
    {
        (minX, minY, minZ) = (minX.WithElement(lane, min.X), minY.WithElement(lane, min.Y), minZ.WithElement(lane, min.Z));
        (maxX, maxY, maxZ) = (maxX.WithElement(lane, max.X), maxY.WithElement(lane, max.Y), maxZ.WithElement(lane, max.Z));
        children = children.WithElement(lane, child);
    }

    /// <summary>Planes across x, y and z, the lower ones first.</summary>
    public static ref Wide Planes(ref BvhNode node) => ref node.minX;

    public static ref int Children(ref BvhNode node) => ref Unsafe.As<Vector256<int>, int>(ref node.children);
}

/// <summary>A corner and two edges of eight triangles, and their numbers; edges of nothing where there are fewer.</summary>
internal struct BvhLeaf
{
    private Wide3 corner,
        first,
        second;
    private Vector256<int> triangles;

    public void Put(int lane, Vector3 a, Vector3 b, Vector3 c, int triangle)
    {
        (corner[lane], first[lane], second[lane]) = (a, b - a, c - a);
        triangles = triangles.WithElement(lane, triangle);
    }

    /// <summary>Möller and Trumbore 1997, eight triangles at once; false where none is nearer than the hit so far.</summary>
    public readonly bool Meets(in WideRay ray, ref Hit hit)
    {
        var p = Wide3.Cross(ray.Direction, second);
        var determinant = Wide3.Dot(first, p);
        var inverse = Wide.One / determinant;
        var s = ray.Origin - corner;
        var u = Wide3.Dot(s, p) * inverse;
        var q = Wide3.Cross(s, first);
        var v = Wide3.Dot(ray.Direction, q) * inverse;
        var distance = Wide3.Dot(second, q) * inverse;
        var met =
            AtLeast(Abs(determinant), Of(1e-12f))
            & AtLeast(u, Wide.Zero)
            & AtLeast(v, Wide.Zero)
            & AtMost(u + v, Wide.One)
            & Greater(distance, Of(ray.Near))
            & Less(distance, Of(hit.Distance));
        var bits = Bits(met);
        if (bits == 0)
            return false;
        var nearest = BitOperations.TrailingZeroCount(bits);
        for (bits &= bits - 1; bits != 0; bits &= bits - 1)
        {
            var lane = BitOperations.TrailingZeroCount(bits);
            if (distance.GetElement(lane) < distance.GetElement(nearest))
                nearest = lane;
        }
        hit = new Hit
        {
            Distance = distance.GetElement(nearest),
            Triangle = triangles.GetElement(nearest),
            U = u.GetElement(nearest),
            V = v.GetElement(nearest),
        };
        return true;
    }
}
