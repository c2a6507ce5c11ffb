using System.Runtime.CompilerServices;
using Kiln.Looks.Readings;
using Kiln.Pixels;

namespace Kiln.Intake.Content;

/// <summary>
/// A measured direction: null where the pixels do not decide. Ratio is the curl energy of the worse decoding over the better.
/// </summary>
public sealed record DirectionMeasurement(NormalY? Direction, float Ratio, float Significance, float? HeightCorrelation)
{
    /// <summary>Whether the height map rises where the normal map says it falls.</summary>
    public bool InvertedHeight { get; init; }

    public string Sentence =>
        Direction is { } d
            ? HeightCorrelation is { } c
                ? $"measured Y {d.ToString().ToLowerInvariant()}: correlation {MathF.Abs(c):0.00} with the height map's "
                    + $"slopes{(InvertedHeight ? ", which is inverted (dark is high)" : "")}"
                : $"measured Y {d.ToString().ToLowerInvariant()}: the other decoding has {Ratio:0.0} times the curl"
            : "the direction cannot be told from the pixels (too flat, or relief in one direction only)";
}

/// <summary>
/// Tells Y up from Y down. Slopes p = −n_x/n_z, q = ∓n_y/n_z come from a height field only if ∂p/∂v = ∂q/∂u,
/// so the right sign gives the smaller curl energy. Rows grow downward: ∂/∂v = −∂/∂row.
/// </summary>
public static class NormalDirection
{
    /// <summary>Longer side of the band-limited copies that are measured, in pixels.</summary>
    public const int CopySize = 512;

    private const int Block = 16;
    private const float LeastRatio = 1.15f,
        LeastSignificance = 4f,
        LeastCorrelation = 0.15f;

    /// <param name="map">A band-limited copy (512 px or so) of the normal map, stored values.</param>
    /// <param name="height">A copy of the set's height or bump map, if there is one.</param>
    public static DirectionMeasurement Measure(ImageBuffer map, ImageBuffer? height = null) =>
        height is not null && ByHeight(map, height) is { } decided ? decided : ByCurl(map);

    /// <summary>
    /// Decides by the height map's slopes; null where they have too little to do with the normal map's, or the sizes differ.
    /// </summary>
    public static DirectionMeasurement? ByHeight(ImageBuffer map, ImageBuffer height)
    {
        if (Correlate(map, height) is not { } c)
            return null;
        // An inverted height turns both signs.
        var signed = c.Down * Math.Sign(c.Across);
        return MathF.Abs(signed) > LeastCorrelation && MathF.Abs(c.Across) > LeastCorrelation / 2
            ? new(signed > 0 ? NormalY.Up : NormalY.Down, 1 + MathF.Abs(signed), 99, signed) { InvertedHeight = c.Across < 0 }
            : null;
    }

    /// <summary>
    /// The share of a normal map's slopes that a grey picture explains as its height, with one scale for both directions and either way of
    /// green: 1 − residual/total of least squares, 0..1;
    /// null where nothing varies or the sizes differ. A curve of the height (occlusion, cavity, a roughness made from it) points the same
    /// way and explains less.
    /// </summary>
    public static float? ExplainedByHeight(ImageBuffer map, ImageBuffer height)
    {
        if (OfOneSize(map, height) is not var (slopes, relief))
            return null;
        var (p, q, valid) = Slopes(slopes);
        int w = slopes.Width,
            h = slopes.Height;
        double across = 0,
            down = 0,
            own = 0,
            other = 0;
        for (var y = 1; y < h - 1; y++)
        for (var x = 1; x < w - 1; x++)
        {
            var i = y * w + x;
            if (!valid[i])
                continue;
            double du = relief[x + 1, y, 0] - relief[x - 1, y, 0],
                dv = relief[x, y - 1, 0] - relief[x, y + 1, 0];
            (across, down) = (across + p[i] * du, down + q[i] * dv);
            (own, other) = (own + p[i] * p[i] + q[i] * q[i], other + du * du + dv * dv);
        }
        if (own * other < 1e-14)
            return null;
        var best = Math.Max(Math.Abs(across + down), Math.Abs(across - down));
        return (float)(best * best / (own * other));
    }

    private static (float Across, float Down)? Correlate(ImageBuffer map, ImageBuffer height)
    {
        if (OfOneSize(map, height) is not var (slopes, relief))
            return null;
        var (p, q, valid) = Slopes(slopes);
        return HeightCorrelation(p, q, valid, slopes.Width, slopes.Height, relief);
    }

    /// <summary>Both pictures at the size of the smaller; null where the one has no two channels or their shapes differ.</summary>
    private static (ImageBuffer Slopes, ImageBuffer Relief)? OfOneSize(ImageBuffer map, ImageBuffer height)
    {
        if (map.ChannelCount < 2)
            return null;
        var longest = Math.Min(Math.Max(map.Width, map.Height), Math.Max(height.Width, height.Height));
        var (slopes, relief) = (Resample.ToFit(map, longest), Resample.ToFit(height, longest));
        return slopes.Width == relief.Width && slopes.Height == relief.Height ? (slopes, relief) : null;
    }

    /// <summary>Decides by the curl of the two decodings.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public static DirectionMeasurement ByCurl(ImageBuffer map)
    {
        var (p, q, valid) = Slopes(map);
        int w = map.Width,
            h = map.Height;
        // Energy of both decodings in blocks; the logarithm of their ratio is tested against zero over the blocks.
        double up = 0,
            down = 0,
            sum = 0,
            squares = 0;
        var blocks = 0;
        for (var by = 1; by + Block < h; by += Block)
        for (var bx = 1; bx + Block < w; bx += Block)
        {
            double blockUp = 0,
                blockDown = 0;
            for (var y = by; y < by + Block; y++)
            for (var x = bx; x < bx + Block; x++)
            {
                var i = y * w + x;
                if (!(valid[i] && valid[i - 1] && valid[i + 1] && valid[i - w] && valid[i + w]))
                    continue;
                var pv = -(p[i + w] - p[i - w]);
                var qu = q[i + 1] - q[i - 1];
                blockUp += (pv - qu) * (pv - qu);
                blockDown += (pv + qu) * (pv + qu);
            }
            if (blockUp + blockDown < 1e-9)
                continue;
            var log = Math.Log((blockDown + 1e-9) / (blockUp + 1e-9));
            (up, down, sum, squares, blocks) = (up + blockUp, down + blockDown, sum + log, squares + log * log, blocks + 1);
        }
        if (blocks < 8)
            return new(null, 1, 0, null);
        var mean = sum / blocks;
        var error = Math.Sqrt(Math.Max(1e-12, squares / blocks - mean * mean) / blocks);
        var significance = (float)(Math.Abs(mean) / error);
        var ratio = (float)(Math.Max(up, down) / Math.Max(1e-12, Math.Min(up, down)));
        var agrees = down > up == mean > 0;
        var decided = agrees && ratio > LeastRatio && significance > LeastSignificance;
        return new(
            decided
                ? down > up
                    ? NormalY.Up
                    : NormalY.Down
                : null,
            ratio,
            significance,
            null
        );
    }

    /// <summary>
    /// The relief of a normal map as grey, lit from the upper left, so that a wrong direction is seen: domes turn into hollows.
    /// </summary>
    public static ImageBuffer Lit(ImageBuffer map, NormalY direction)
    {
        var light = System.Numerics.Vector3.Normalize(new(-0.5f, 0.6f, 0.62f));
        var lit = new ImageBuffer(map.Width, map.Height, ImageBuffer.Rgb, SampleType.U8);
        for (var y = 0; y < map.Height; y++)
        for (var x = 0; x < map.Width; x++)
        {
            float nx = 2 * map[x, y, 0] - 1,
                ny = map.ChannelCount > 1 ? 2 * map[x, y, 1] - 1 : 0;
            var nz = map.ChannelCount > 2 ? 2 * map[x, y, 2] - 1 : MathF.Sqrt(MathF.Max(0, 1 - nx * nx - ny * ny));
            var shade = MathF.Max(0, System.Numerics.Vector3.Dot(new(nx, direction == NormalY.Down ? -ny : ny, nz), light));
            for (var c = 0; c < 3; c++)
                lit[x, y, c] = shade;
        }
        return lit;
    }

    /// <summary>Slopes as if green pointed up; pixels at the ends of the code range or leaning too far are left out.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private static (float[] P, float[] Q, bool[] Valid) Slopes(ImageBuffer map)
    {
        int w = map.Width,
            h = map.Height,
            n = map.ChannelCount;
        var p = new float[w * h];
        var q = new float[w * h];
        var valid = new bool[w * h];
        var row = new float[w * n];
        for (var y = 0; y < h; y++)
        {
            map.ReadRow(y, row);
            for (var x = 0; x < w; x++)
            {
                float r = row[x * n],
                    g = row[x * n + 1];
                float nx = 2 * r - 1,
                    ny = 2 * g - 1,
                    nz = n > 2 ? 2 * row[x * n + 2] - 1 : MathF.Sqrt(MathF.Max(0, 1 - nx * nx - ny * ny));
                var i = y * w + x;
                valid[i] = nz > 0.1f && r is > 0.004f and < 0.996f && g is > 0.004f and < 0.996f;
                if (valid[i])
                    (p[i], q[i]) = (-nx / nz, -ny / nz);
            }
        }
        return (p, q, valid);
    }

    /// <summary>Correlations of p with the height's ∂/∂u and of q with its ∂/∂v.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private static (float Across, float Down)? HeightCorrelation(float[] p, float[] q, bool[] valid, int w, int h, ImageBuffer height)
    {
        var z = new float[w * h];
        for (var y = 0; y < h; y++)
        for (var x = 0; x < w; x++)
            z[y * w + x] = height[x, y, 0];
        double pu = 0,
            pp = 0,
            uu = 0,
            qv = 0,
            qq = 0,
            vv = 0;
        for (var y = 1; y < h - 1; y++)
        for (var x = 1; x < w - 1; x++)
        {
            var i = y * w + x;
            if (!valid[i])
                continue;
            double du = z[i + 1] - z[i - 1],
                dv = -(z[i + w] - z[i - w]);
            pu += p[i] * du;
            pp += p[i] * p[i];
            uu += du * du;
            qv += q[i] * dv;
            qq += q[i] * q[i];
            vv += dv * dv;
        }
        if (pp * uu < 1e-14 || qq * vv < 1e-14)
            return null;
        return ((float)(pu / Math.Sqrt(pp * uu)), (float)(qv / Math.Sqrt(qq * vv)));
    }
}
