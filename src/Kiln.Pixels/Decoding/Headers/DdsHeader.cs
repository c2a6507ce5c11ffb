using System.Buffers.Binary;
using System.Text;

namespace Kiln.Pixels.Decoding.Headers;

/// <summary>How the pixels of a DDS file are stored.</summary>
internal enum DdsLayout
{
    Bc1,
    Bc2,
    Bc3,
    Bc4,
    Bc4Signed,
    Bc5,
    Bc5Signed,
    Bc6h,
    Bc6hSigned,
    Bc7,

    /// <summary>Up to 32 bits a pixel, each channel given by a mask.</summary>
    Masked,

    /// <summary>Whole 16-bit codes, half or float samples, in order.</summary>
    U16,
    F16,
    F32,
}

/// <param name="Masks">Red, green, blue, alpha (or grey, 0, 0, alpha) for <see cref="DdsLayout.Masked"/>.</param>
internal sealed record DdsHeader(
    int Width,
    int Height,
    DdsLayout Layout,
    int BitsPerPixel,
    uint[] Masks,
    int Channels,
    int DataAt,
    bool Grey,
    bool SrgbTag
)
{
    private const uint AlphaPixels = 1,
        AlphaOnly = 2,
        FourCC = 4,
        Rgb = 0x40,
        Luminance = 0x20000;
    private const uint CubeMap = 0x200,
        Volume = 0x200000;

    public PictureFacts Facts
    {
        get
        {
            IReadOnlyList<string> names = Layout switch
            {
                DdsLayout.Bc4 or DdsLayout.Bc4Signed => ImageBuffer.Grey,
                DdsLayout.Bc5 or DdsLayout.Bc5Signed => RedGreen,
                DdsLayout.Bc6h or DdsLayout.Bc6hSigned => ImageBuffer.Rgb,
                _ when Grey => Channels == 2 ? ImageBuffer.GreyAlpha : ImageBuffer.Grey,
                _ => Channels switch
                {
                    1 => ImageBuffer.Grey,
                    2 => RedGreen,
                    3 => ImageBuffer.Rgb,
                    _ => ImageBuffer.Rgba,
                },
            };
            var (bits, isFloat) = Layout switch
            {
                DdsLayout.Bc6h or DdsLayout.Bc6hSigned or DdsLayout.F16 => (16, true),
                DdsLayout.F32 => (32, true),
                DdsLayout.U16 => (16, false),
                DdsLayout.Masked when Masks.Any(m => System.Numerics.BitOperations.PopCount(m) > 8) => (16, false),
                _ => (8, false),
            };
            return new(PictureFormat.Dds, Width, Height, names, bits, isFloat, SrgbTag ? "sRGB format" : null, Layout <= DdsLayout.Bc7);
        }
    }

    public static readonly IReadOnlyList<string> RedGreen = ["R", "G"];

    /// <summary>Bytes the first level takes.</summary>
    public long DataBytes =>
        Layout <= DdsLayout.Bc7
            ? (long)((Width + 3) / 4) * ((Height + 3) / 4) * (Layout is DdsLayout.Bc1 or DdsLayout.Bc4 or DdsLayout.Bc4Signed ? 8 : 16)
            : (long)Width * Height * BitsPerPixel / 8;

    public static DdsHeader Read(ReadOnlySpan<byte> b)
    {
        uint At(ReadOnlySpan<byte> from, int at) => BinaryPrimitives.ReadUInt32LittleEndian(from[at..]);
        if (At(b, 4) != 124 || At(b, 76) != 32)
            throw new PictureException("The DDS header has a wrong size; the file is damaged.");
        int height = checked((int)At(b, 12)),
            width = checked((int)At(b, 16));
        if ((At(b, 112) & CubeMap) != 0)
            throw new PictureException("This DDS file is a cube map, which is no texture for a surface.");
        if ((At(b, 112) & Volume) != 0)
            throw new PictureException("This DDS file is a volume, which is no texture for a surface.");
        uint flags = At(b, 80),
            bits = At(b, 88);
        if ((flags & FourCC) != 0)
        {
            if (b.Slice(84, 4).SequenceEqual("DX10"u8))
            {
                if (At(b, 132) != 3)
                    throw new PictureException("This DDS file holds no flat picture (it is one-dimensional or a volume).");
                if ((At(b, 136) & 4) != 0 || At(b, 140) > 1)
                    throw new PictureException("This DDS file is a cube map or an array of pictures, which is no texture for a surface.");
                return Extended(width, height, At(b, 128));
            }
            return Coded(width, height, Encoding.ASCII.GetString(b.Slice(84, 4)), At(b, 84));
        }
        if (bits is not (8 or 16 or 24 or 32))
            throw new PictureException($"DDS pictures with {bits} bits a pixel are not read; 8, 16, 24 and 32 are.");
        uint[] masks = [At(b, 92), At(b, 96), At(b, 100), (flags & (AlphaPixels | AlphaOnly)) != 0 ? At(b, 104) : 0];
        if ((flags & Luminance) != 0)
            return Uncompressed(width, height, new((int)bits, [masks[0], 0, 0, masks[3]], masks[3] != 0 ? 2 : 1, true));
        if ((flags & Rgb) != 0)
            return Uncompressed(width, height, new((int)bits, masks, masks[3] != 0 ? 4 : 3));
        if ((flags & AlphaOnly) != 0)
            return Uncompressed(width, height, new((int)bits, [masks[3], 0, 0, 0], 1, true));
        throw new PictureException(
            "The pixels of this DDS file are stored in a way that is not read (neither blocks, colour, grey nor alpha)."
        );
    }

    private static DdsHeader Blocks(int width, int height, DdsLayout layout, int channels, int at, bool srgb = false) =>
        new(width, height, layout, 0, [], channels, at, false, srgb);

    /// <summary>Where the channels of an uncompressed pixel stand in its bits.</summary>
    private readonly record struct PixelMasks(int Bits, uint[] Masks, int Channels, bool IsGrey = false);

    private static DdsHeader Uncompressed(int width, int height, PixelMasks pixel, int at = 128, bool srgb = false) =>
        new(width, height, DdsLayout.Masked, pixel.Bits, pixel.Masks, pixel.Channels, at, pixel.IsGrey, srgb);

    private static DdsHeader Coded(int width, int height, string code, uint number) =>
        code switch
        {
            "DXT1" => Blocks(width, height, DdsLayout.Bc1, 4, 128),
            "DXT2" or "DXT3" => Blocks(width, height, DdsLayout.Bc2, 4, 128),
            "DXT4" or "DXT5" => Blocks(width, height, DdsLayout.Bc3, 4, 128),
            "ATI1" or "BC4U" => Blocks(width, height, DdsLayout.Bc4, 1, 128),
            "BC4S" => Blocks(width, height, DdsLayout.Bc4Signed, 1, 128),
            "ATI2" or "BC5U" => Blocks(width, height, DdsLayout.Bc5, 2, 128),
            "BC5S" => Blocks(width, height, DdsLayout.Bc5Signed, 2, 128),
            _ => number switch
            {
                36 => Samples(width, height, DdsLayout.U16, 4),
                111 => Samples(width, height, DdsLayout.F16, 1),
                112 => Samples(width, height, DdsLayout.F16, 2),
                113 => Samples(width, height, DdsLayout.F16, 4),
                114 => Samples(width, height, DdsLayout.F32, 1),
                115 => Samples(width, height, DdsLayout.F32, 2),
                116 => Samples(width, height, DdsLayout.F32, 4),
                _ => throw new PictureException(
                    $"DDS pictures stored as '{Printable(code)}' are not read; BC1 to BC7 and uncompressed ones are."
                ),
            },
        };

    private static DdsHeader Samples(int width, int height, DdsLayout layout, int channels, int at = 128) =>
        new(width, height, layout, channels * (layout == DdsLayout.F32 ? 32 : 16), [], channels, at, false, false);

    /// <summary>The numbers are those of the DXGI format list.</summary>
    private static DdsHeader Extended(int width, int height, uint format)
    {
        const int at = 148;
        return format switch
        {
            2 => Samples(width, height, DdsLayout.F32, 4, at),
            10 => Samples(width, height, DdsLayout.F16, 4, at),
            11 => Samples(width, height, DdsLayout.U16, 4, at),
            16 => Samples(width, height, DdsLayout.F32, 2, at),
            34 => Samples(width, height, DdsLayout.F16, 2, at),
            35 => Samples(width, height, DdsLayout.U16, 2, at),
            41 => Samples(width, height, DdsLayout.F32, 1, at),
            54 => Samples(width, height, DdsLayout.F16, 1, at),
            56 => Samples(width, height, DdsLayout.U16, 1, at),
            28 or 29 => Uncompressed(width, height, new(32, [0xff, 0xff00, 0xff0000, 0xff000000], 4), at, format == 29),
            49 => Uncompressed(width, height, new(16, [0xff, 0xff00, 0, 0], 2), at),
            61 => Uncompressed(width, height, new(8, [0xff, 0, 0, 0], 1, true), at),
            87 or 91 => Uncompressed(width, height, new(32, [0xff0000, 0xff00, 0xff, 0xff000000], 4), at, format == 91),
            88 or 93 => Uncompressed(width, height, new(32, [0xff0000, 0xff00, 0xff, 0], 3), at, format == 93),
            70 or 71 or 72 => Blocks(width, height, DdsLayout.Bc1, 4, at, format == 72),
            73 or 74 or 75 => Blocks(width, height, DdsLayout.Bc2, 4, at, format == 75),
            76 or 77 or 78 => Blocks(width, height, DdsLayout.Bc3, 4, at, format == 78),
            79 or 80 => Blocks(width, height, DdsLayout.Bc4, 1, at),
            81 => Blocks(width, height, DdsLayout.Bc4Signed, 1, at),
            82 or 83 => Blocks(width, height, DdsLayout.Bc5, 2, at),
            84 => Blocks(width, height, DdsLayout.Bc5Signed, 2, at),
            94 or 95 => Blocks(width, height, DdsLayout.Bc6h, 3, at),
            96 => Blocks(width, height, DdsLayout.Bc6hSigned, 3, at),
            97 or 98 or 99 => Blocks(width, height, DdsLayout.Bc7, 4, at, format == 99),
            _ => throw new PictureException(
                $"DDS pixel format number {format} is not read; BC1 to BC7 and the usual uncompressed ones are."
            ),
        };
    }

    private static string Printable(string code) => string.Concat(code.Select(c => char.IsAsciiLetterOrDigit(c) ? c : '?'));
}
