using System.Numerics;
using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;

namespace Kiln.Proof.Geometry;

/// <summary>Where a ray meets a triangle: distance, triangle number and barycentric weights of its second and third corner.</summary>
public struct Hit
{
    public float Distance;
    public int Triangle;
    public float U;
    public float V;
}

/// <summary>
/// A hierarchy of boxes over triangles, eight boxes to a node and eight triangles to a leaf, each met by a ray at once.
/// </summary>
public sealed class Bvh
{
    /// <summary>Most entries that wait: seven for every level.</summary>
    private const int Waiting = 8 * 48;

    /// <summary>A node or leaf that waits, and where the ray comes to its box.</summary>
    private record struct Entry(int Child, float Distance);

    private readonly LinedUp<BvhNode> nodes;
    private readonly LinedUp<BvhLeaf> leaves;

    public Bvh(IReadOnlyList<(Vector3 A, Vector3 B, Vector3 C)> triangles)
    {
        var (madeNodes, madeLeaves) = BvhBuilder.Build(triangles);
        (nodes, leaves) = (new(madeNodes), new(madeLeaves));
    }

    /// <summary>The nearest triangle between <paramref name="near"/> and <paramref name="far"/>.</summary>
    public bool Intersect(Vector3 origin, Vector3 direction, float near, float far, out Hit hit) =>
        Traverse(origin, direction, near, far, false, out hit);

    /// <summary>Whether anything lies between.</summary>
    public bool Occluded(Vector3 origin, Vector3 direction, float near, float far) => Traverse(origin, direction, near, far, true, out _);

    [SkipLocalsInit]
    private bool Traverse(Vector3 origin, Vector3 direction, float near, float far, bool any, out Hit hit)
    {
        hit = new Hit { Distance = far, Triangle = -1 };
        if (nodes.Count == 0)
            return false;
        WideRay.Aim(origin, direction, near, out var ray);
        ref var stack = ref MemoryMarshal.GetReference(stackalloc Entry[Waiting]);
        ref var firstNode = ref nodes.First;
        ref var firstLeaf = ref leaves.First;
        var top = 0;
        var at = 0;
        while (true)
        {
            if (at >= 0)
            {
                ref var node = ref Unsafe.Add(ref firstNode, at);
                var met = ray.Meets(ref BvhNode.Planes(ref node), hit.Distance, out var enter);
                if (met != 0)
                {
                    at = Nearest(ref node, met, ref enter, any, ref stack, ref top);
                    continue;
                }
            }
            else if (Unsafe.Add(ref firstLeaf, ~at).Meets(ray, ref hit) && any)
            {
                return true;
            }
            do
            {
                if (top == 0)
                    return hit.Triangle >= 0;
                top--;
            } while (Unsafe.Add(ref stack, top).Distance > hit.Distance);
            at = Unsafe.Add(ref stack, top).Child;
        }
    }

    /// <summary>The child that is gone into at once; the others wait, the nearer ones on top where that matters.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static int Nearest(ref BvhNode node, uint met, ref Wide enter, bool any, ref Entry stack, ref int top)
    {
        ref var children = ref BvhNode.Children(ref node);
        ref var distances = ref Unsafe.As<Wide, float>(ref enter);
        var lane = BitOperations.TrailingZeroCount(met);
        var nearest = new Entry(Unsafe.Add(ref children, lane), Unsafe.Add(ref distances, lane));
        var start = top;
        for (met &= met - 1; met != 0; met &= met - 1)
        {
            lane = BitOperations.TrailingZeroCount(met);
            var next = new Entry(Unsafe.Add(ref children, lane), Unsafe.Add(ref distances, lane));
            if (next.Distance < nearest.Distance)
                (next, nearest) = (nearest, next);
            var place = top++;
            for (; !any && place > start && Unsafe.Add(ref stack, place - 1).Distance < next.Distance; place--)
                Unsafe.Add(ref stack, place) = Unsafe.Add(ref stack, place - 1);
            Unsafe.Add(ref stack, place) = next;
        }
        return nearest.Child;
    }
}
