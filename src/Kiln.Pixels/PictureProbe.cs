using System.Numerics;
using System.Runtime.CompilerServices;

namespace Kiln.Pixels;

/// <summary>What only the full-size pixels tell, measured where a picture is decoded.</summary>
/// <param name="NotFinite">Samples that are NaN or infinite; they are read as 0 (infinities as ±65504, the largest half).</param>
/// <param name="EightBitContent">A 16-bit picture all of whose sampled values are 8-bit codes repeated or shifted.</param>
/// <param name="BlockNoise">Mean step across 8-pixel block borders over the mean step inside blocks; 1 without JPEG blocks.</param>
/// <param name="SeamAcross">Step from the right edge to the left over the largest step between neighbouring columns; at most about 1 where
/// the picture repeats.</param>
/// <param name="SeamDown">The same from the bottom edge to the top.</param>
/// <param name="UnitShare">Share of pixels whose 2t − 1 is a vector of unit length within 0.12; null where there are fewer than three
/// channels. An average of unit vectors is shorter, so a smaller copy cannot tell.</param>
/// <param name="OutwardShare">Share of pixels where it also leans outwards (z above 0).</param>
public sealed record PictureProbe(
    long NotFinite = 0,
    bool EightBitContent = false,
    float BlockNoise = 1,
    float SeamAcross = 1,
    float SeamDown = 1,
    float? UnitShare = null,
    float? OutwardShare = null
)
{
    /// <summary>Pixels looked at for lengths, spread evenly over the picture.</summary>
    private const int Vectors = 60_000;

    /// <summary>Of the squared length: (1 ± 0.12)² within rounding.</summary>
    private const float OffUnit = 0.24f;

    private const int Lines = 64;

    /// <summary>A step over the seam of fewer codes of an 8-bit picture, on average, is not seen. Common practice, no source.</summary>
    private const double UnseenCodes = 2;

    /// <summary>Replaces what is not finite and measures the rest. Looks at up to 64 rows and columns, not at every pixel.</summary>
    public static PictureProbe Measure(ImageBuffer picture)
    {
        var lost = Mend(picture);
        var (units, outward) = Lengths(picture);
        if (picture.Width < 16 || picture.Height < 16)
            return new(lost, UnitShare: units, OutwardShare: outward);
        return new(lost, IsEightBit(picture), Blocks(picture), Seam(picture, down: false), Seam(picture, down: true), units, outward);
    }

    private static (float? Units, float? Outward) Lengths(ImageBuffer picture)
    {
        var alpha = picture.Channels.IndexOf("A");
        var n = picture.ChannelCount;
        if ((alpha >= 0 ? n - 1 : n) < 3)
            return (null, null);
        // Whole rows, so that each is read once; columns in steps that meet no pattern of tiles.
        var rows = Math.Min(picture.Height, Math.Max(16, Vectors / Math.Max(1, picture.Width)));
        int seen = 0,
            units = 0,
            outward = 0;
        var row = new float[picture.Width * n];
        for (var k = 0; k < rows; k++)
        {
            picture.ReadRow((int)((k + 0.5) * picture.Height / rows), row);
            for (var i = 0; i < row.Length; i += n)
            {
                float x = 2 * row[i] - 1,
                    y = 2 * row[i + 1] - 1,
                    z = 2 * row[i + 2] - 1;
                seen++;
                if (MathF.Abs(x * x + y * y + z * z - 1) >= OffUnit)
                    continue;
                units++;
                outward += z > 0 ? 1 : 0;
            }
        }
        return ((float)units / seen, (float)outward / seen);
    }

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private static long Mend(ImageBuffer picture)
    {
        long lost = 0;
        if (picture.Type == SampleType.F32)
        {
            foreach (ref var v in picture.Samples<float>())
                if (!float.IsFinite(v))
                    (v, lost) = (
                        float.IsNaN(v) ? 0
                        : v > 0 ? 65504f
                        : -65504f,
                        lost + 1
                    );
        }
        else if (picture.Type == SampleType.F16)
            foreach (ref var v in picture.Samples<ushort>())
                // All exponent bits set: infinity without a fraction, NaN with one.
                if ((v & 0x7c00) == 0x7c00)
                    (v, lost) = ((v & 0x3ff) != 0 ? (ushort)0 : (ushort)((v & 0x8000) | 0x7bff), lost + 1);
        return lost;
    }

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private static bool IsEightBit(ImageBuffer picture)
    {
        if (picture.Type != SampleType.U16)
            return false;
        var samples = picture.Samples<ushort>();
        bool repeated = true,
            shifted = true,
            varies = false;
        for (var i = 0; i < samples.Length && (repeated || shifted); i += 7)
        {
            var v = samples[i];
            repeated &= (v >> 8) == (v & 0xff);
            shifted &= (v & 0xff) == 0;
            varies |= v != samples[0];
        }
        return varies && (repeated || shifted);
    }

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private static float Blocks(ImageBuffer picture)
    {
        if (picture.Type != SampleType.U8)
            return 1;
        var n = picture.ChannelCount;
        long border = 0,
            inside = 0,
            borders = 0,
            insides = 0;
        var step = Math.Max(1, picture.Height / Lines);
        for (var y = 0; y < picture.Height; y += step)
        {
            var row = picture.Data.AsSpan(y * picture.Width * n, picture.Width * n);
            for (var x = 1; x < picture.Width; x++)
            {
                // The second difference is blind to slopes, which blocks share with their neighbours.
                if (x + 1 >= picture.Width || x < 2)
                    continue;
                var d = Math.Abs(row[(x - 2) * n] - row[(x - 1) * n] - (row[x * n] - row[(x + 1) * n]));
                var jump = Math.Abs(row[x * n] - row[(x - 1) * n]) * 2 - d;
                if (x % 8 == 0)
                    (border, borders) = (border + Math.Max(0, jump), borders + 1);
                else
                    (inside, insides) = (inside + Math.Max(0, jump), insides + 1);
            }
        }
        return inside == 0 || borders == 0 ? 1 : (float)((double)border / borders / ((double)inside / insides));
    }

    private static float Seam(ImageBuffer picture, bool down) =>
        picture.Type switch
        {
            SampleType.U8 => Seam<byte>(picture, down),
            SampleType.U16 => Seam<ushort>(picture, down),
            SampleType.F16 => Seam<Half>(picture, down),
            _ => Seam<float>(picture, down),
        };

    /// <summary>The step over the seam beside the largest step between any two neighbouring lines inside: once by size, once with its sign.
    /// Lines of masonry and weave have large steps inside too; a fall of light over the picture has the same sign all along the seam and
    /// nowhere else.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private static float Seam<T>(ImageBuffer picture, bool down)
        where T : unmanaged, INumberBase<T>
    {
        var samples = picture.Samples<T>();
        int row = picture.Width * picture.ChannelCount,
            column = picture.ChannelCount;
        var (along, across, alongStride, acrossStride) = down
            ? (picture.Width, picture.Height, column, row)
            : (picture.Height, picture.Width, row, column);
        // Steps onto each line from the one before it; the first from the last.
        var size = new double[across];
        var signed = new double[across];
        var step = Math.Max(1, along / Lines);
        for (var i = 0; i < along; i += step)
        {
            var at = i * alongStride;
            var before = double.CreateTruncating(samples[at + (across - 1) * acrossStride]);
            for (var k = 0; k < across; k++, at += acrossStride)
            {
                var here = double.CreateTruncating(samples[at]);
                size[k] += Math.Abs(here - before);
                signed[k] += here - before;
                before = here;
            }
        }
        double largest = 0,
            largestSigned = 0;
        for (var k = 1; k < across; k++)
        {
            largest = Math.Max(largest, size[k]);
            largestSigned = Math.Max(largestSigned, Math.Abs(signed[k]));
        }
        // What 8 bits round to is not seen.
        var unseen = typeof(T) == typeof(byte) ? UnseenCodes * ((along + step - 1) / step) : 1e-6;
        float Ratio(double edge, double inner) =>
            edge < unseen ? Math.Min(1, (float)(edge / Math.Max(inner, 1e-6)))
            : inner < 1e-6 ? 99
            : (float)(edge / inner);
        // With its sign only where it also has size: what averages out to nothing inside would make any step look large.
        return Math.Max(
            Ratio(size[0], largest),
            Math.Min(Ratio(Math.Abs(signed[0]), largestSigned), Ratio(Math.Abs(signed[0]), largest) * 10)
        );
    }
}
