using System.Numerics;
using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;
using System.Runtime.Intrinsics;

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
/// A hierarchy of boxes over triangles, split by the surface area heuristic in 16 bins (Wald 2007), four boxes to a node.
/// </summary>
public sealed class Bvh
{
    private struct Node
    {
        public Vector3 Min;
        public int First;
        public Vector3 Max;
        public int Count;
    }

    private const int Bins = 16,
        LeafSize = 3,
        Depth = 64;

    /// <summary>
    /// Four boxes side by side; a child is the number of another quad, or the complement of (first triangle · 8 + count) of a leaf.
    /// </summary>
    private struct Quad
    {
        public Vector128<float> MinX,
            MinY,
            MinZ,
            MaxX,
            MaxY,
            MaxZ;
        public int Child0,
            Child1,
            Child2,
            Child3;
        public uint Used;

        /// <param name="lane">0 to 3.</param>
        public readonly int Child(int lane) => Unsafe.Add(ref Unsafe.AsRef(in Child0), lane);
    }

    private readonly record struct Corners(Vector3 Corner, Vector3 Edge1, Vector3 Edge2);

    private readonly List<Node> building = [];
    private readonly Quad[] quads;
    private readonly int[] order;
    private readonly Corners[] corners;

    public Bvh(IReadOnlyList<(Vector3 A, Vector3 B, Vector3 C)> triangles)
    {
        order = [.. Enumerable.Range(0, triangles.Count)];
        var boxes = triangles
            .Select(t => (Min: Vector3.Min(t.A, Vector3.Min(t.B, t.C)), Max: Vector3.Max(t.A, Vector3.Max(t.B, t.C))))
            .ToArray();
        building.Add(default);
        Split(0, 0, triangles.Count, boxes, 0);
        var collapsed = new List<Quad>();
        Collapse(0, collapsed);
        quads = [.. collapsed];
        building = [];
        corners = [.. order.Select(i => new Corners(triangles[i].A, triangles[i].B - triangles[i].A, triangles[i].C - triangles[i].A))];
    }

    /// <summary>Turns pairs into fours: of a node's children the larger one is opened until there are four.</summary>
    private int Collapse(int root, List<Quad> into)
    {
        var children = new List<int> { root };
        while (children.Count < 4)
        {
            var open = children
                .Where(c => building[c].Count == 0)
                .OrderByDescending(c => Area(building[c].Min, building[c].Max))
                .Cast<int?>()
                .FirstOrDefault();
            if (open is not { } o)
                break;
            children.Remove(o);
            children.AddRange([building[o].First, building[o].First + 1]);
        }
        var at = into.Count;
        into.Add(default);
        Span<float> box = stackalloc float[24];
        var links = new int[4];
        for (var i = 0; i < 4; i++)
        {
            // An empty place is masked out when the boxes are met.
            var node = i < children.Count ? building[children[i]] : default;
            (box[i], box[4 + i], box[8 + i], box[12 + i], box[16 + i], box[20 + i]) = (
                node.Min.X,
                node.Min.Y,
                node.Min.Z,
                node.Max.X,
                node.Max.Y,
                node.Max.Z
            );
            links[i] =
                i >= children.Count ? ~0
                : node.Count > 0 ? ~(node.First * 8 + node.Count)
                : Collapse(children[i], into);
        }
        into[at] = new Quad
        {
            MinX = Vector128.Create<float>(box[..4]),
            MinY = Vector128.Create<float>(box[4..8]),
            MinZ = Vector128.Create<float>(box[8..12]),
            MaxX = Vector128.Create<float>(box[12..16]),
            MaxY = Vector128.Create<float>(box[16..20]),
            MaxZ = Vector128.Create<float>(box[20..24]),
            Child0 = links[0],
            Child1 = links[1],
            Child2 = links[2],
            Child3 = links[3],
            Used = (1u << children.Count) - 1,
        };
        return at;
    }

    private void Split(int at, int first, int count, (Vector3 Min, Vector3 Max)[] boxes, int depth)
    {
        Vector3 min = new(float.PositiveInfinity),
            max = new(float.NegativeInfinity),
            low = min,
            high = max;
        for (var i = first; i < first + count; i++)
        {
            var (bMin, bMax) = boxes[order[i]];
            min = Vector3.Min(min, bMin);
            max = Vector3.Max(max, bMax);
            var centre = bMin + bMax;
            low = Vector3.Min(low, centre);
            high = Vector3.Max(high, centre);
        }
        var middle = count <= LeafSize ? -1 : BestSplit(first, count, boxes, low, high, Area(min, max));
        if (middle < 0 && count > 7)
            middle = first + count / 2;
        if (middle < 0)
        {
            building[at] = new Node
            {
                Min = min,
                Max = max,
                First = first,
                Count = count,
            };
            return;
        }
        var children = building.Count;
        building.Add(default);
        building.Add(default);
        building[at] = new Node
        {
            Min = min,
            Max = max,
            First = children,
            Count = 0,
        };
        Split(children, first, middle - first, boxes, depth + 1);
        Split(children + 1, middle, first + count - middle, boxes, depth + 1);
    }

    private int BestSplit(int first, int count, (Vector3 Min, Vector3 Max)[] boxes, Vector3 low, Vector3 high, float area)
    {
        var (best, bestAxis, bestBin) = (float.PositiveInfinity, -1, 0);
        for (var axis = 0; axis < 3; axis++)
        {
            var extent = high[axis] - low[axis];
            if (extent <= 1e-9f)
                continue;
            var counts = new int[Bins];
            var mins = new Vector3[Bins];
            var maxs = new Vector3[Bins];
            Array.Fill(mins, new(float.PositiveInfinity));
            Array.Fill(maxs, new(float.NegativeInfinity));
            for (var i = first; i < first + count; i++)
            {
                var (bMin, bMax) = boxes[order[i]];
                var bin = Math.Min(Bins - 1, (int)((bMin[axis] + bMax[axis] - low[axis]) / extent * Bins));
                counts[bin]++;
                mins[bin] = Vector3.Min(mins[bin], bMin);
                maxs[bin] = Vector3.Max(maxs[bin], bMax);
            }
            var right = new float[Bins];
            Vector3 rMin = new(float.PositiveInfinity),
                rMax = new(float.NegativeInfinity);
            var n = 0;
            for (var b = Bins - 1; b > 0; b--)
            {
                (rMin, rMax, n) = (Vector3.Min(rMin, mins[b]), Vector3.Max(rMax, maxs[b]), n + counts[b]);
                right[b] = n * Area(rMin, rMax);
            }
            Vector3 lMin = new(float.PositiveInfinity),
                lMax = new(float.NegativeInfinity);
            n = 0;
            for (var b = 0; b < Bins - 1; b++)
            {
                (lMin, lMax, n) = (Vector3.Min(lMin, mins[b]), Vector3.Max(lMax, maxs[b]), n + counts[b]);
                var cost = n * Area(lMin, lMax) + right[b + 1];
                if (n > 0 && n < count && cost < best)
                    (best, bestAxis, bestBin) = (cost, axis, b);
            }
        }
        if (bestAxis < 0 || best >= area * count && count <= 7)
            return -1;
        int i0 = first,
            i1 = first + count - 1;
        while (i0 <= i1)
        {
            var (bMin, bMax) = boxes[order[i0]];
            var bin = Math.Min(
                Bins - 1,
                (int)((bMin[bestAxis] + bMax[bestAxis] - low[bestAxis]) / (high[bestAxis] - low[bestAxis]) * Bins)
            );
            if (bin <= bestBin)
                i0++;
            else
            {
                (order[i0], order[i1]) = (order[i1], order[i0]);
                i1--;
            }
        }
        return i0;
    }

    private static float Area(Vector3 min, Vector3 max)
    {
        var d = max - min;
        return d.X < 0 ? 0 : d.X * d.Y + d.Y * d.Z + d.Z * d.X;
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
        var inverse = Vector3.One / direction;
        Vector128<float> ox = Vector128.Create(origin.X),
            oy = Vector128.Create(origin.Y),
            oz = Vector128.Create(origin.Z);
        Vector128<float> ix = Vector128.Create(inverse.X),
            iy = Vector128.Create(inverse.Y),
            iz = Vector128.Create(inverse.Z);
        var least = Vector128.Create(near);
        Span<int> stack = stackalloc int[3 * Depth];
        Span<float> enters = stackalloc float[3 * Depth];
        ref var first = ref MemoryMarshal.GetArrayDataReference(quads);
        var top = 0;
        var at = 0;
        while (true)
        {
            if (at >= 0)
            {
                ref readonly var quad = ref Unsafe.Add(ref first, at);
                // Boxes lie between the planes; a division by zero gives infinities, which the comparisons handle.
                Vector128<float> x1 = (quad.MinX - ox) * ix,
                    x2 = (quad.MaxX - ox) * ix,
                    y1 = (quad.MinY - oy) * iy,
                    y2 = (quad.MaxY - oy) * iy,
                    z1 = (quad.MinZ - oz) * iz,
                    z2 = (quad.MaxZ - oz) * iz;
                var enter = Vector128.MaxNative(
                    Vector128.MaxNative(Vector128.MinNative(x1, x2), Vector128.MinNative(y1, y2)),
                    Vector128.MaxNative(Vector128.MinNative(z1, z2), least)
                );
                var leave = Vector128.MinNative(
                    Vector128.MinNative(Vector128.MaxNative(x1, x2), Vector128.MaxNative(y1, y2)),
                    Vector128.MinNative(Vector128.MaxNative(z1, z2), Vector128.Create(hit.Distance))
                );
                var met = Vector128.LessThanOrEqual(enter, leave).ExtractMostSignificantBits() & quad.Used;
                var base_ = top;
                while (met != 0)
                {
                    var lane = BitOperations.TrailingZeroCount(met);
                    met &= met - 1;
                    var (child, distance) = (quad.Child(lane), enter.GetElement(lane));
                    // Kept sorted, the nearest on top.
                    var place = top++;
                    while (place > base_ && enters[place - 1] < distance)
                    {
                        (stack[place], enters[place]) = (stack[place - 1], enters[place - 1]);
                        place--;
                    }
                    (stack[place], enters[place]) = (child, distance);
                }
            }
            else
            {
                int leaf = ~at,
                    start = leaf >> 3,
                    end = start + (leaf & 7);
                for (var i = start; i < end; i++)
                    if (Meets(i, origin, direction, near, ref hit) && any)
                        return true;
            }
            do
            {
                if (top == 0)
                {
                    if (hit.Triangle < 0)
                        return false;
                    hit.Triangle = order[hit.Triangle];
                    return true;
                }
                top--;
            } while (enters[top] > hit.Distance);
            at = stack[top];
        }
    }

    /// <summary>Möller and Trumbore 1997.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private bool Meets(int i, Vector3 origin, Vector3 direction, float near, ref Hit hit)
    {
        ref readonly var t = ref Unsafe.Add(ref MemoryMarshal.GetArrayDataReference(corners), i);
        var p = Vector3.Cross(direction, t.Edge2);
        var determinant = Vector3.Dot(t.Edge1, p);
        if (MathF.Abs(determinant) < 1e-12f)
            return false;
        var inverse = 1f / determinant;
        var s = origin - t.Corner;
        var u = Vector3.Dot(s, p) * inverse;
        if (u is < 0f or > 1f)
            return false;
        var q = Vector3.Cross(s, t.Edge1);
        var v = Vector3.Dot(direction, q) * inverse;
        if (v < 0f || u + v > 1f)
            return false;
        var distance = Vector3.Dot(t.Edge2, q) * inverse;
        if (distance <= near || distance >= hit.Distance)
            return false;
        hit = new Hit
        {
            Distance = distance,
            Triangle = i,
            U = u,
            V = v,
        };
        return true;
    }
}
