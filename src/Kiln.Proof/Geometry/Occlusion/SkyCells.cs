using System.Numerics;

namespace Kiln.Proof.Geometry.Occlusion;

/// <summary>
/// The sphere of directions in cells of about one size: rings about the vertical, 9° high, each in as many equal parts as its girth asks
/// for. The horizon lies between two rings, so that a cell is above it or below it, and a light that turns about the vertical gives each
/// ring the same light in other parts.
/// </summary>
public static class SkyCells
{
    private const int Rings = 20;

    /// <summary>Unit vectors to the middle of each cell, from the zenith downwards.</summary>
    public static readonly Vector3[] Directions;

    /// <summary>In steradians; together 4π.</summary>
    public static readonly float[] SolidAngles;

    /// <summary>Of each cell: the cosines of its upper and lower edge from the zenith, and its azimuths (0 towards +z, π/2 towards
    /// +x).</summary>
    public static readonly (float Upper, float Lower, float From, float To)[] Edges;

    /// <summary>Cells above the horizon; they come first.</summary>
    public static readonly int Above;

    /// <summary>Words of 32 bits that hold a bit for every cell.</summary>
    public const int Words = 16;

    /// <summary>Words that hold a bit for every cell above the horizon.</summary>
    public const int WordsAbove = 8;

    static SkyCells()
    {
        var edges = new List<(float Upper, float Lower, float From, float To)>();
        for (var ring = 0; ring < Rings; ring++)
        {
            var parts = Math.Max(3, (int)MathF.Round(2 * Rings * MathF.Sin((ring + 0.5f) / Rings * MathF.PI)));
            var part = 2 * MathF.PI / parts;
            // Each ring begins elsewhere, so that no edge goes through all of them.
            var start = ring * 2.399963f;
            for (var i = 0; i < parts; i++)
                edges.Add(
                    (
                        MathF.Cos((float)ring / Rings * MathF.PI),
                        MathF.Cos((ring + 1f) / Rings * MathF.PI),
                        start + i * part,
                        start + (i + 1) * part
                    )
                );
        }
        Edges = [.. edges];
        SolidAngles = [.. Edges.Select(e => (e.Upper - e.Lower) * (e.To - e.From))];
        Directions = [.. Edges.Select(e => Towards((e.Upper + e.Lower) / 2, (e.From + e.To) / 2))];
        Above = Directions.Count(d => d.Y > 0);
    }

    private static Vector3 Towards(float cos, float azimuth)
    {
        var (s, c) = MathF.SinCos(azimuth);
        var r = MathF.Sqrt(MathF.Max(0, 1 - cos * cos));
        return new(r * s, cos, r * c);
    }
}
