using System.Numerics;
using System.Runtime.CompilerServices;

namespace Kiln.Proof.Geometry;

/// <summary>A ray as eight boxes or triangles meet it.</summary>
internal struct WideRay
{
    public Wide3 Origin,
        Direction;
    private Wide3 inverse,
        shift;
    private Wide least;
    private int nearX,
        nearY,
        nearZ;

    public float Near;

    /// <summary>Written field by field where it lies: a ray is large, and copying one costs as much as meeting some boxes.</summary>
    public static void Aim(Vector3 origin, Vector3 direction, float near, out WideRay ray)
    {
        Unsafe.SkipInit(out ray);
        ray.Origin.X = Of(origin.X);
        ray.Origin.Y = Of(origin.Y);
        ray.Origin.Z = Of(origin.Z);
        ray.Direction.X = Of(direction.X);
        ray.Direction.Y = Of(direction.Y);
        ray.Direction.Z = Of(direction.Z);
        var inverse = Vector3.One / direction;
        ray.inverse.X = Of(inverse.X);
        ray.inverse.Y = Of(inverse.Y);
        ray.inverse.Z = Of(inverse.Z);
        var shift = origin * inverse;
        ray.shift.X = Of(-shift.X);
        ray.shift.Y = Of(-shift.Y);
        ray.shift.Z = Of(-shift.Z);
        ray.Near = near;
        ray.least = Of(near);
        // Of the two planes across an axis, the one that the ray comes to first.
        ray.nearX = direction.X < 0 ? 1 : 0;
        ray.nearY = direction.Y < 0 ? 3 : 2;
        ray.nearZ = direction.Z < 0 ? 5 : 4;
    }

    /// <summary>One bit for each of eight boxes that the ray meets before <paramref name="far"/>, and where it enters them.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public readonly uint Meets(ref Wide planes, float far, out Wide enter)
    {
        // A ray along a plane divides by zero: where that gives no number, the other operand is taken. What is rounded here is less than
        // what boxes are wider than their triangles.
        enter = Max(
            To(ref planes, nearX, inverse.X, shift.X),
            Max(To(ref planes, nearY, inverse.Y, shift.Y), Max(To(ref planes, nearZ, inverse.Z, shift.Z), least))
        );
        var leave = Min(
            To(ref planes, nearX ^ 1, inverse.X, shift.X),
            Min(To(ref planes, nearY ^ 1, inverse.Y, shift.Y), Min(To(ref planes, nearZ ^ 1, inverse.Z, shift.Z), Of(far)))
        );
        return Bits(AtMost(enter, leave));
    }

    /// <summary>The way to a plane, as one multiplication with an addition.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static Wide To(ref Wide planes, int plane, Wide inverse, Wide shift) =>
        Vector256.FusedMultiplyAdd(Unsafe.Add(ref planes, plane), inverse, shift);
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
