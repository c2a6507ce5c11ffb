using System.Numerics;

namespace Kiln.Models.Measures;

/// <summary>How a part's maps lie on it, within the part, without wrapping.</summary>
/// <param name="Overlap">Share of the covered area of UV that is covered more than once, within 1 %.</param>
/// <param name="Outside">Share of triangles, by count, that are not within 0..1; none of a set of UDIM tiles is.</param>
/// <param name="Flipped">Share of triangles, by count, that are mirrored.</param>
/// <param name="StretchP95">The larger over the smaller singular value of the mapping: 95 of 100 parts of the area have no more. Null
/// where so much of it has no extent in UV that this is no number.</param>
/// <param name="Udims">Tiles in use; none where triangles lie across tiles.</param>
public sealed record UvMeasures(double Overlap, double Outside, double Flipped, double? StretchP95, IReadOnlyList<int> Udims)
{
    /// <summary>What lies so little beyond an edge lies on it.</summary>
    private const float Edge = 1e-5f;

    private const int TilesAcross = 10;

    public static UvMeasures Of(ModelPart part, UvSet set)
    {
        var triangles = Enumerable.Range(0, part.Triangles).Where(set.Has).ToList();
        var tiles = Tiles(set, triangles);
        var outside = tiles is null ? triangles.Count(t => !IsWithin(set.Of(t), 0, 0)) : 0;
        var flipped = triangles.Count(t => Signed(set.Of(t)) < 0);
        return new(
            UvCoverage.Overlap(set, triangles),
            (double)outside / triangles.Count,
            (double)flipped / triangles.Count,
            Stretch(part, set, triangles),
            tiles ?? []
        );
    }

    /// <summary>The tiles, where each triangle lies in one; null where one does not.</summary>
    private static List<int>? Tiles(UvSet set, List<int> triangles)
    {
        var tiles = new SortedSet<int>();
        foreach (var t in triangles)
        {
            var corners = set.Of(t);
            var middle = (corners.A + corners.B + corners.C) / 3;
            var (u, v) = ((int)MathF.Floor(middle.X), (int)MathF.Floor(middle.Y));
            if (u is < 0 or >= TilesAcross || v < 0 || !IsWithin(corners, u, v))
                return null;
            tiles.Add(1001 + u + TilesAcross * v);
        }
        return [.. tiles];
    }

    private static bool IsWithin((Vector2 A, Vector2 B, Vector2 C) t, int u, int v)
    {
        bool Is(Vector2 p) => p.X >= u - Edge && p.X <= u + 1 + Edge && p.Y >= v - Edge && p.Y <= v + 1 + Edge;
        return Is(t.A) && Is(t.B) && Is(t.C);
    }

    /// <summary>Area in UV; negative for one that is mirrored.</summary>
    public static double Signed((Vector2 A, Vector2 B, Vector2 C) t) =>
        0.5 * (((double)t.B.X - t.A.X) * ((double)t.C.Y - t.A.Y) - ((double)t.B.Y - t.A.Y) * ((double)t.C.X - t.A.X));

    private static double? Stretch(ModelPart part, UvSet set, List<int> triangles)
    {
        var each = new List<(double Ratio, double Area)>(triangles.Count);
        foreach (var t in triangles)
            if (PartMeasures.TriangleArea(part, t) is > 0 and var area)
                each.Add((Stretch(part, set, t), area));
        each.Sort((a, b) => a.Ratio.CompareTo(b.Ratio));
        var wanted = 0.95 * each.Sum(e => e.Area);
        double sum = 0;
        foreach (var (ratio, area) in each)
            if ((sum += area) >= wanted)
                return double.IsFinite(ratio) ? ratio : null;
        return null;
    }

    /// <summary>Of one triangle; infinite where it has no extent in UV.</summary>
    public static double Stretch(ModelPart part, UvSet set, int triangle) => Ratio(PartMeasures.Of(part, triangle), set.Of(triangle));

    /// <summary>Of one triangle: so many widths of the picture are one metre; 0 where it has no extent in UV.</summary>
    public static double Density(ModelPart part, UvSet set, int triangle) =>
        PartMeasures.TriangleArea(part, triangle) is > 0 and var area ? Math.Sqrt(Math.Abs(Signed(set.Of(triangle))) / area) : 0;

    /// <summary>Half of the parts' area has a density of at most so much; null where nothing has an area.</summary>
    public static double? MedianDensity(IEnumerable<(ModelPart Part, UvSet Set)> parts)
    {
        var each = new List<(double Density, double Area)>();
        foreach (var (part, set) in parts)
            for (var t = 0; t < part.Triangles; t++)
                if (set.Has(t) && PartMeasures.TriangleArea(part, t) is > 0 and var area)
                    each.Add((Density(part, set, t), area));
        each.Sort((a, b) => a.Density.CompareTo(b.Density));
        var half = 0.5 * each.Sum(e => e.Area);
        double sum = 0;
        foreach (var (density, area) in each)
            if ((sum += area) >= half)
                return density;
        return null;
    }

    /// <summary>Singular values of the linear mapping from the triangle's plane to UV, the larger over the smaller.</summary>
    private static double Ratio((Vector3 A, Vector3 B, Vector3 C) on, (Vector2 A, Vector2 B, Vector2 C) uv)
    {
        var (e, f) = (on.B - on.A, on.C - on.A);
        // In a frame of the triangle: B at (x, 0), C at (p, q).
        var x = Math.Sqrt(Dot(e, e));
        var p = Dot(e, f) / x;
        var q = Math.Sqrt(Math.Max(0, Dot(f, f) - p * p));
        double u1 = (double)uv.B.X - uv.A.X,
            v1 = (double)uv.B.Y - uv.A.Y,
            u2 = (double)uv.C.X - uv.A.X,
            v2 = (double)uv.C.Y - uv.A.Y;
        double a = u1 / x,
            c = v1 / x,
            b = (u2 - a * p) / q,
            d = (v2 - c * p) / q;
        var half = 0.5 * (a * a + b * b + c * c + d * d);
        var determinant = a * d - b * c;
        var root = Math.Sqrt(Math.Max(0, half * half - determinant * determinant));
        var smaller = half - root;
        // From the determinant where the difference would lose its digits.
        if (half + root > 0)
            smaller = determinant * determinant / (half + root);
        return smaller > 0 ? Math.Sqrt((half + root) / smaller) : double.PositiveInfinity;
    }

    private static double Dot(Vector3 a, Vector3 b) => (double)a.X * b.X + (double)a.Y * b.Y + (double)a.Z * b.Z;
}
