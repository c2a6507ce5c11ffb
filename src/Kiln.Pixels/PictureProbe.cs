using System.Runtime.CompilerServices;

namespace Kiln.Pixels;

/// <summary>What only the full-size pixels tell, measured where a picture is decoded.</summary>
/// <param name="NotFinite">Samples that are NaN or infinite; they are read as 0 (infinities as ±65504, the largest half).</param>
/// <param name="EightBitContent">A 16-bit picture all of whose sampled values are 8-bit codes repeated or shifted.</param>
/// <param name="BlockNoise">Mean step across 8-pixel block borders over the mean step inside blocks; 1 without JPEG blocks.</param>
/// <param name="SeamAcross">Mean step from the right edge to the left over the mean step between neighbouring columns; 1 where the picture repeats.</param>
/// <param name="SeamDown">The same from the bottom edge to the top.</param>
public sealed record PictureProbe(long NotFinite = 0, bool EightBitContent = false, float BlockNoise = 1, float SeamAcross = 1, float SeamDown = 1)
{
    private const int Lines = 64;

    /// <summary>Replaces what is not finite and measures the rest. Looks at up to 64 rows and columns, not at every pixel.</summary>
    public static PictureProbe Measure(ImageBuffer picture)
    {
        var lost = Mend(picture);
        if (picture.Width < 16 || picture.Height < 16)
            return new(lost);
        return new(lost, IsEightBit(picture), Blocks(picture), Seam(picture, down: false), Seam(picture, down: true));
    }

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private static long Mend(ImageBuffer picture)
    {
        long lost = 0;
        if (picture.Type == SampleType.F32)
        {
            foreach (ref var v in picture.Samples<float>())
                if (!float.IsFinite(v))
                    (v, lost) = (float.IsNaN(v) ? 0 : v > 0 ? 65504f : -65504f, lost + 1);
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
        bool repeated = true, shifted = true, varies = false;
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
        long border = 0, inside = 0, borders = 0, insides = 0;
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

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private static float Seam(ImageBuffer picture, bool down)
    {
        int along = down ? picture.Width : picture.Height, across = down ? picture.Height : picture.Width;
        var step = Math.Max(1, along / (2 * Lines));
        double edge = 0, inner = 0;
        for (var i = 0; i < along; i += step)
        {
            float At(int k) => down ? picture[i, k, 0] : picture[k, i, 0];
            edge += Math.Abs(At(0) - At(across - 1));
            // Neighbours near both edges and in the middle are what an unseen seam would look like.
            inner += (Math.Abs(At(1) - At(0)) + Math.Abs(At(across - 1) - At(across - 2)) + Math.Abs(At(across / 2) - At(across / 2 - 1)) + Math.Abs(At(across / 3) - At(across / 3 - 1))) / 4;
        }
        return inner < 1e-6 ? edge < 1e-6 ? 1 : 99 : (float)(edge / inner);
    }
}
