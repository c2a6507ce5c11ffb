using System.Buffers.Binary;

namespace Kiln.Pixels.Decoding.Blocks;

/// <summary>
/// The block formats BC1 to BC5 (Khronos Data Format Specification, chapters S3TC and RGTC): 4 x 4 pixels in 8 or 16 bytes.
/// Interpolation follows the specification's exact fractions, rounded to the nearest 8-bit code.
/// </summary>
internal static class ColourBlocks
{
    /// <summary>BC1: writes 16 RGBA pixels. With <paramref name="fourColours"/> (BC2, BC3) the three-colour mode is not used.</summary>
    public static void Bc1(ReadOnlySpan<byte> block, Span<byte> rgba, bool fourColours = false)
    {
        int a = BinaryPrimitives.ReadUInt16LittleEndian(block),
            b = BinaryPrimitives.ReadUInt16LittleEndian(block[2..]);
        Span<byte> palette = stackalloc byte[16];
        Expand(a, palette);
        Expand(b, palette[4..]);
        for (var c = 0; c < 3; c++)
        {
            int first = palette[c],
                second = palette[4 + c];
            var four = fourColours || a > b;
            palette[8 + c] = (byte)(four ? (2 * first + second + 1) / 3 : (first + second + 1) / 2);
            palette[12 + c] = (byte)(four ? (first + 2 * second + 1) / 3 : 0);
        }
        palette[11] = 255;
        palette[15] = (byte)(fourColours || a > b ? 255 : 0);
        var indices = BinaryPrimitives.ReadUInt32LittleEndian(block[4..]);
        for (var i = 0; i < 16; i++)
            palette.Slice((int)(indices >> 2 * i & 3) * 4, 4).CopyTo(rgba[(4 * i)..]);
    }

    /// <summary>BC2: four bits of alpha a pixel before a BC1 block.</summary>
    public static void Bc2(ReadOnlySpan<byte> block, Span<byte> rgba)
    {
        Bc1(block[8..], rgba, fourColours: true);
        for (var i = 0; i < 16; i++)
            rgba[4 * i + 3] = (byte)((block[i / 2] >> 4 * (i & 1) & 15) * 17);
    }

    /// <summary>BC3: an interpolated alpha block before a BC1 block.</summary>
    public static void Bc3(ReadOnlySpan<byte> block, Span<byte> rgba)
    {
        Bc1(block[8..], rgba, fourColours: true);
        Bc4(block, rgba[3..], 4);
    }

    /// <summary>BC4: one channel, written every <paramref name="stride"/> bytes.</summary>
    public static void Bc4(ReadOnlySpan<byte> block, Span<byte> target, int stride)
    {
        Span<int> palette = stackalloc int[8];
        (palette[0], palette[1]) = (block[0], block[1]);
        if (palette[0] > palette[1])
            for (var i = 1; i < 7; i++)
                palette[i + 1] = ((7 - i) * palette[0] + i * palette[1] + 3) / 7;
        else
        {
            for (var i = 1; i < 5; i++)
                palette[i + 1] = ((5 - i) * palette[0] + i * palette[1] + 2) / 5;
            (palette[6], palette[7]) = (0, 255);
        }
        var indices = BinaryPrimitives.ReadUInt64LittleEndian(block) >> 16;
        for (var i = 0; i < 16; i++)
            target[i * stride] = (byte)palette[(int)(indices >> 3 * i & 7)];
    }

    /// <summary>
    /// BC4 with signed ends: −1..1 is stored; written as code values with 0 at 128, as an unsigned picture would hold it.
    /// </summary>
    public static void Bc4Signed(ReadOnlySpan<byte> block, Span<byte> target, int stride)
    {
        Span<float> palette = stackalloc float[8];
        float first = Math.Max((int)(sbyte)block[0], -127),
            second = Math.Max((int)(sbyte)block[1], -127);
        (palette[0], palette[1]) = (first, second);
        if ((sbyte)block[0] > (sbyte)block[1])
            for (var i = 1; i < 7; i++)
                palette[i + 1] = ((7 - i) * first + i * second) / 7;
        else
        {
            for (var i = 1; i < 5; i++)
                palette[i + 1] = ((5 - i) * first + i * second) / 5;
            (palette[6], palette[7]) = (-127, 127);
        }
        var indices = BinaryPrimitives.ReadUInt64LittleEndian(block) >> 16;
        for (var i = 0; i < 16; i++)
            target[i * stride] = (byte)MathF.Round((palette[(int)(indices >> 3 * i & 7)] / 127f * 0.5f + 0.5f) * 255f);
    }

    private static void Expand(int colour, Span<byte> rgba)
    {
        int r = colour >> 11,
            g = colour >> 5 & 63,
            b = colour & 31;
        (rgba[0], rgba[1], rgba[2], rgba[3]) = ((byte)(r << 3 | r >> 2), (byte)(g << 2 | g >> 4), (byte)(b << 3 | b >> 2), 255);
    }
}
