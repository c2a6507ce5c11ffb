using System.Numerics;

namespace Kiln.Proof.Geometry;

/// <summary>
/// Puts triangles into boxes within boxes, split in two by the surface area heuristic in 16 bins (Wald 2007); no more than
/// <see cref="LeafSize"/> triangles stay together.
/// </summary>
internal sealed class BvhBuilder
{
    private const int LeafSize = 8;
    private const int Bins = 16;

    /// <summary>A box: of <see cref="Count"/> triangles from <see cref="First"/> of <see cref="order"/> on, or, where there are none, of
    /// two boxes from First on.</summary>
    private struct Node
    {
        public Vector3 Min;
        public int First;
        public Vector3 Max;
        public int Count;
    }

    private readonly List<Node> building = [];
    private readonly int[] order;

    private readonly IReadOnlyList<(Vector3 A, Vector3 B, Vector3 C)> triangles;
    private readonly List<BvhNode> nodes = [];
    private readonly List<BvhLeaf> leaves = [];

    /// <summary>
    /// What boxes are wider than what they hold, so that rounding on the way to a box never lets a ray miss what it meets: 2^-20 of the
    /// greatest coordinate, eight steps of single precision.
    /// </summary>
    private readonly Vector3 margin;

    private BvhBuilder(IReadOnlyList<(Vector3 A, Vector3 B, Vector3 C)> triangles)
    {
        this.triangles = triangles;
        order = [.. Enumerable.Range(0, triangles.Count)];
        building.Add(default);
        Split(
            0,
            0,
            triangles.Count,
            [.. triangles.Select(t => (Vector3.Min(t.A, Vector3.Min(t.B, t.C)), Vector3.Max(t.A, Vector3.Max(t.B, t.C))))]
        );
        margin = new(MathF.ScaleB(Greatest(Vector3.Max(Vector3.Abs(building[0].Min), Vector3.Abs(building[0].Max))), -20));
        Collapse(0);
    }

    private static float Greatest(Vector3 v) => MathF.Max(v.X, MathF.Max(v.Y, v.Z));

    /// <returns>The outermost node first.</returns>
    public static (IReadOnlyList<BvhNode> Nodes, IReadOnlyList<BvhLeaf> Leaves) Build(
        IReadOnlyList<(Vector3 A, Vector3 B, Vector3 C)> triangles
    )
    {
        var built = new BvhBuilder(triangles);
        return (built.nodes, built.leaves);
    }

    /// <summary>Turns pairs into eights: of a node's children the largest is opened until there are eight.</summary>
    private int Collapse(int root)
    {
        var children = new List<int> { root };
        while (children.Count < Lanes)
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
        var at = nodes.Count;
        nodes.Add(default);
        var node = new BvhNode();
        foreach (var (lane, child) in children.Index())
        {
            var of = building[child];
            node.Put(lane, of.Min - margin, of.Max + margin, of.Count > 0 ? ~Leaf(of) : Collapse(child));
        }
        nodes[at] = node;
        return at;
    }

    private int Leaf(in Node of)
    {
        var leaf = new BvhLeaf();
        for (var i = 0; i < of.Count; i++)
        {
            var triangle = order[of.First + i];
            var (a, b, c) = triangles[triangle];
            leaf.Put(i, a, b, c, triangle);
        }
        leaves.Add(leaf);
        return leaves.Count - 1;
    }

    private void Split(int at, int first, int count, (Vector3 Min, Vector3 Max)[] boxes)
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
        var middle = count <= LeafSize ? -1 : BestSplit(first, count, boxes, low, high);
        if (middle < 0 && count > LeafSize)
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
        Split(children, first, middle - first, boxes);
        Split(children + 1, middle, first + count - middle, boxes);
    }

    private int BestSplit(int first, int count, (Vector3 Min, Vector3 Max)[] boxes, Vector3 low, Vector3 high)
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
        if (bestAxis < 0)
            return -1;
        return Parted(first, count, c =>
        {
            var centre = boxes[c].Min[bestAxis] + boxes[c].Max[bestAxis];
            return Math.Min(Bins - 1, (int)((centre - low[bestAxis]) / (high[bestAxis] - low[bestAxis]) * Bins)) <= bestBin;
        });
    }

    /// <summary>Puts those that count before the others, and says where the others begin.</summary>
    private int Parted(int first, int count, Func<int, bool> before)
    {
        int i = first,
            j = first + count - 1;
        while (i <= j)
        {
            if (before(order[i]))
            {
                i++;
                continue;
            }
            (order[i], order[j]) = (order[j], order[i]);
            j--;
        }
        return i;
    }

    private static float Area(Vector3 min, Vector3 max)
    {
        var d = max - min;
        return d.X < 0 ? 0 : d.X * d.Y + d.Y * d.Z + d.Z * d.X;
    }
}
