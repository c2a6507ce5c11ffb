using System.Text.Json.Serialization;
using Kiln.Looks.Readings;
using Kiln.Pixels;

namespace Kiln.Intake.Wiring;

/// <summary>How many metres a height map's range from stored 0 to 1 stands for.</summary>
/// <param name="Agreement">Correlation of its slopes with the normal map's, −1..1; null where there is none to compare with.</param>
public sealed record HeightScale(float Metres, float? Agreement, [property: JsonPropertyName("words")] string Sentence)
{
    /// <summary>Without a normal map: the steepest twentieth begins at this slope. Common practice, no source.</summary>
    public const float UsualSlopeDegrees = 30;

    private const float LeastAgreement = 0.15f;
    private const double Share = 0.95;

    /// <summary>
    /// By least squares to the slopes of the surface's normal map: metres that make Σ (m·g − s)² smallest, g being the height's slopes over
    /// the size of a repeat and s the normal map's. Where there is no normal map, or the two have
    /// nothing to do with each other, so that 95 of 100 slopes are below 30°.
    /// </summary>
    /// <param name="height">A copy of a few hundred pixels; the first channel counts.</param>
    /// <param name="normal">A copy of the same size, stored 0..1; null where the surface has none.</param>
    /// <param name="repeatU">Metres of one repeat along u.</param>
    /// <param name="repeatV">And along v.</param>
    public static HeightScale Of(ImageBuffer height, ImageBuffer? normal, NormalY green, float repeatU, float repeatV)
    {
        int w = height.Width,
            h = height.Height;
        var slopes = new List<float>(w * h);
        double gg = 0,
            gs = 0,
            ss = 0;
        var same = normal is not null && normal.Width == w && normal.Height == h && normal.ChannelCount >= 2;
        for (var y = 0; y < h; y++)
        for (var x = 0; x < w; x++)
        {
            // v grows upwards, rows downwards.
            var gu = (height[(x + 1) % w, y, 0] - height[(x + w - 1) % w, y, 0]) * w / (2 * repeatU);
            var gv = (height[x, (y + h - 1) % h, 0] - height[x, (y + 1) % h, 0]) * h / (2 * repeatV);
            slopes.Add(MathF.Sqrt(gu * gu + gv * gv));
            if (!same)
                continue;
            float nx = 2 * normal![x, y, 0] - 1,
                ny = (2 * normal[x, y, 1] - 1) * (green == NormalY.Down ? -1 : 1);
            var nz = normal.ChannelCount > 2 ? 2 * normal[x, y, 2] - 1 : MathF.Sqrt(MathF.Max(0, 1 - nx * nx - ny * ny));
            if (nz < 0.1f)
                continue;
            float su = -nx / nz,
                sv = -ny / nz;
            (gg, gs, ss) = (gg + gu * gu + gv * gv, gs + gu * su + gv * sv, ss + su * su + sv * sv);
        }
        if (same && gg > 1e-12 && ss > 1e-12 && gs / Math.Sqrt(gg * ss) is var agreement && Math.Abs(agreement) >= LeastAgreement)
            return new(
                (float)Math.Abs(gs / gg),
                (float)agreement,
                "fitted to the normal map's slopes, which agree by "
                    + $"{agreement:0.00}{(agreement < 0 ? "; the height is inverted (dark is high)" : "")}"
            );
        slopes.Sort();
        var steep = slopes[(int)(Share * (slopes.Count - 1))];
        return steep < 1e-9f
            ? new(0, null, "the height is the same everywhere")
            : new(
                MathF.Tan(UsualSlopeDegrees * MathF.PI / 180) / steep,
                null,
                $"95 of 100 slopes are below {UsualSlopeDegrees:0}°; "
                    + $"{(normal is null ? "there is no normal map to fit it to" : "the normal map has other slopes or another size")} "
                    + "(common practice, no source)"
            );
    }
}
