using Kiln.Pixels;

namespace Kiln.Looks.Intake;

/// <summary>What a small copy of a picture tells about its kind. All numbers are over the copy's pixels, stored values 0..1.</summary>
/// <param name="Chroma">Mean difference between the largest and the smallest of r, g, b.</param>
/// <param name="NormalLikeness">Share of pixels whose 2t − 1 is a unit vector (within 0.12) leaning outwards.</param>
/// <param name="AlphaSpread">Standard deviation of alpha; 0 where there is none.</param>
/// <param name="ChannelLinks">Greatest absolute correlation between two of r, g, b.</param>
public sealed record ContentEvidence(float[] Mean, float[] Deviation, float Chroma, bool IsConstant, float NormalLikeness, float AlphaSpread, float ChannelLinks)
{
    public bool IsGrey => Chroma < 0.012f;

    public bool IsNormal => NormalLikeness > 0.9f && Mean.Length >= 3 && Mean[2] > 0.7f && MathF.Abs(Mean[0] - 0.5f) < 0.2f && MathF.Abs(Mean[1] - 0.5f) < 0.2f;

    /// <summary>All directions present and unit length, but the mean far from straight out: an object-space normal map.</summary>
    public bool IsObjectSpaceNormal => NormalLikeness < 0.9f && UnitShare > 0.95f && Chroma > 0.2f;

    public float UnitShare { get; init; }

    /// <summary>Three channels that have little to do with each other.</summary>
    public bool LooksPacked => !IsGrey && !IsNormal && Chroma > 0.15f && ChannelLinks < 0.5f;

    public static ContentEvidence Of(ImageBuffer copy)
    {
        var stats = ImageStatistics.Measure(copy);
        var n = copy.ChannelCount;
        var alpha = copy.Channels.IndexOf("A");
        var colour = alpha == 3 || n == 3;
        float chroma = 0, normals = 0, units = 0;
        double[] products = new double[3];
        var row = new float[copy.Width * n];
        for (var y = 0; colour && y < copy.Height; y++)
        {
            copy.ReadRow(y, row);
            for (var i = 0; i < row.Length; i += n)
            {
                float r = row[i], g = row[i + 1], b = row[i + 2];
                chroma += MathF.Max(r, MathF.Max(g, b)) - MathF.Min(r, MathF.Min(g, b));
                float x = 2 * r - 1, yy = 2 * g - 1, z = 2 * b - 1;
                var unit = MathF.Abs(x * x + yy * yy + z * z - 1) < 0.24f;
                units += unit ? 1 : 0;
                normals += unit && z > 0 ? 1 : 0;
                products[0] += (r - stats[0].Mean) * (g - stats[1].Mean);
                products[1] += (g - stats[1].Mean) * (b - stats[2].Mean);
                products[2] += (b - stats[2].Mean) * (r - stats[0].Mean);
            }
        }
        var pixels = (float)copy.Width * copy.Height;
        double Link(int p, int a, int b) => stats.Length > 2 && stats[a].Deviation * stats[b].Deviation > 1e-9 ? Math.Abs(products[p] / pixels / (stats[a].Deviation * stats[b].Deviation)) : 0;
        return new([.. stats.Select(s => s.Mean)], [.. stats.Select(s => s.Deviation)], colour ? chroma / pixels : 0,
            stats.Where((_, c) => c != alpha).All(s => s.Maximum - s.Minimum < 1.5f / 255), colour ? normals / pixels : 0, alpha >= 0 ? stats[alpha].Deviation : 0,
            colour ? (float)Math.Max(Link(0, 0, 1), Math.Max(Link(1, 1, 2), Link(2, 2, 0))) : 1)
        { UnitShare = units / pixels };
    }
}
