using System.Numerics;

namespace Kiln.Models.Measures;

/// <summary>What triangles cover in UV, told at points of a grid.</summary>
internal static class UvCoverage
{
    /// <summary>Points across the longer side of what is covered.</summary>
    private const int Across = 2048;

    /// <summary>Points that are asked about in all; for large triangles over each other by the million the grid is coarser.</summary>
    private const double MostTests = 2e9;

    /// <summary>Share of the covered area that is covered more than once; 0 where nothing is covered.</summary>
    public static double Overlap(UvSet set, List<int> triangles)
    {
        var (min, max) = (new Vector2(float.PositiveInfinity), new Vector2(float.NegativeInfinity));
        foreach (var t in triangles)
        {
            var (a, b, c) = set.Of(t);
            min = Vector2.Min(Vector2.Min(min, a), Vector2.Min(b, c));
            max = Vector2.Max(Vector2.Max(max, a), Vector2.Max(b, c));
        }
        var side = Math.Max((double)max.X - min.X, (double)max.Y - min.Y);
        if (!(side > 0) || !double.IsFinite(side))
            return 0;
        var step = Math.Max(side / Across, Math.Sqrt(Boxes(set, triangles) / MostTests));
        int width = (int)Math.Ceiling(((double)max.X - min.X) / step) + 1,
            height = (int)Math.Ceiling(((double)max.Y - min.Y) / step) + 1;
        var counts = new byte[(long)width * height];
        foreach (var t in triangles)
            Count(counts, width, (set.Of(t), min, step));
        long covered = 0,
            twice = 0;
        foreach (var count in counts)
        {
            covered += count > 0 ? 1 : 0;
            twice += count > 1 ? 1 : 0;
        }
        return covered == 0 ? 0 : (double)twice / covered;
    }

    private static double Boxes(UvSet set, List<int> triangles)
    {
        double sum = 0;
        foreach (var t in triangles)
        {
            var (a, b, c) = set.Of(t);
            var size = Vector2.Max(a, Vector2.Max(b, c)) - Vector2.Min(a, Vector2.Min(b, c));
            sum += (double)size.X * size.Y;
        }
        return sum;
    }

    private static void Count(byte[] counts, int width, ((Vector2 A, Vector2 B, Vector2 C) Corners, Vector2 Min, double Step) of)
    {
        (double X, double Y) Placed(Vector2 p) => (((double)p.X - of.Min.X) / of.Step, ((double)p.Y - of.Min.Y) / of.Step);
        var (a, b, c) = (Placed(of.Corners.A), Placed(of.Corners.B), Placed(of.Corners.C));
        if (UvMeasures.Signed(of.Corners) < 0)
            (b, c) = (c, b);
        // Points of the grid lie off its lines, so that edges on round numbers meet none.
        const double off = 0.41421356;
        int x0 = First(Math.Min(a.X, Math.Min(b.X, c.X))),
            x1 = First(Math.Max(a.X, Math.Max(b.X, c.X))),
            y0 = First(Math.Min(a.Y, Math.Min(b.Y, c.Y))),
            y1 = First(Math.Max(a.Y, Math.Max(b.Y, c.Y)));
        for (var y = y0; y < y1; y++)
        for (var x = x0; x < x1; x++)
        {
            var p = (x + off, y + off);
            if (Inside(a, b, p) && Inside(b, c, p) && Inside(c, a, p) && counts[(long)y * width + x] < byte.MaxValue)
                counts[(long)y * width + x]++;
        }

        static int First(double at) => Math.Max(0, (int)Math.Ceiling(at - off));
    }

    /// <summary>Left of an edge. An edge is told in one direction whoever asks, so that a point belongs to one of its two sides.</summary>
    private static bool Inside((double X, double Y) from, (double X, double Y) to, (double X, double Y) p)
    {
        var isTurned = from.X > to.X || from.X == to.X && from.Y > to.Y;
        var (a, b) = isTurned ? (to, from) : (from, to);
        var left = (b.X - a.X) * (p.Y - a.Y) - (b.Y - a.Y) * (p.X - a.X);
        return isTurned ? left < 0 : left >= 0;
    }
}
