using System.Buffers.Binary;

namespace Kiln.Pixels.Decoding;

/// <summary>The 18 bytes before a TGA picture (Truevision TGA File Format Specification 2.0).</summary>
internal sealed record TgaHeader(
    int IdLength,
    bool HasPalette,
    int Kind,
    int PaletteFirst,
    int PaletteLength,
    int PaletteBits,
    int Width,
    int Height,
    int Bits,
    int AlphaBits,
    bool RightToLeft,
    bool TopDown
)
{
    public const int Bytes = 18;

    public bool RunLengths => Kind >= 8;

    public bool IsGrey => (Kind & 3) == 3;

    private bool IsIndexed => (Kind & 3) == 1;

    /// <summary>Bits of one entry of the palette or of one pixel.</summary>
    public int ColourBits => IsIndexed ? PaletteBits : Bits;

    public bool HasAlpha => ColourBits == 32 && AlphaBits > 0 || IsGrey && Bits == 16;

    public PictureFacts Facts =>
        new(
            PictureFormat.Tga,
            Width,
            Height,
            (IsGrey, HasAlpha) switch
            {
                (true, true) => ImageBuffer.GreyAlpha,
                (true, false) => ImageBuffer.Grey,
                (false, true) => ImageBuffer.Rgba,
                _ => ImageBuffer.Rgb,
            },
            8,
            false,
            null,
            false
        );

    /// <summary>TGA has no mark of its own in front: a header is believed only if every field makes sense.</summary>
    public static bool Looks(ReadOnlySpan<byte> b) =>
        b.Length > Bytes
        && b[1] <= 1
        && b[2] is 1 or 2 or 3 or 9 or 10 or 11
        && b[16] is 8 or 15 or 16 or 24 or 32
        && (b[17] & 0xc0) == 0
        && (b[17] & 15) <= 8
        && BinaryPrimitives.ReadUInt16LittleEndian(b[12..]) > 0
        && BinaryPrimitives.ReadUInt16LittleEndian(b[14..]) > 0
        && ((b[2] & 3) == 1 ? b[1] == 1 && b[7] is 15 or 16 or 24 or 32 && b[16] is 8 or 16 : b[1] == 0 || b[7] is 15 or 16 or 24 or 32)
        && ((b[2] & 3) != 3 || b[16] is 8 or 16)
        && ((b[2] & 3) != 2 || b[16] is 15 or 16 or 24 or 32);

    public static TgaHeader Read(ReadOnlySpan<byte> b) =>
        new(
            b[0],
            b[1] == 1,
            b[2],
            BinaryPrimitives.ReadUInt16LittleEndian(b[3..]),
            BinaryPrimitives.ReadUInt16LittleEndian(b[5..]),
            b[7],
            BinaryPrimitives.ReadUInt16LittleEndian(b[12..]),
            BinaryPrimitives.ReadUInt16LittleEndian(b[14..]),
            b[16],
            b[17] & 15,
            (b[17] & 16) != 0,
            (b[17] & 32) != 0
        );
}

/// <summary>TGA: grey, palette and colour, with or without run lengths, any origin.</summary>
internal static class TgaReader
{
    public static ImageBuffer Read(string path, PictureFacts facts)
    {
        var file = File.ReadAllBytes(path);
        var header = TgaHeader.Read(file);
        var at = TgaHeader.Bytes + header.IdLength;
        var palette = ReadOnlySpan<byte>.Empty;
        if (header.HasPalette)
        {
            var bytes = header.PaletteLength * ((header.PaletteBits + 7) / 8);
            palette = Slice(file, at, bytes);
            at += bytes;
        }
        var pixels = Unpack(header, file, at);
        var picture = new ImageBuffer(header.Width, header.Height, [.. facts.Channels], SampleType.U8);
        var size = (header.Bits + 7) / 8;
        var n = picture.ChannelCount;
        for (var y = 0; y < header.Height; y++)
        {
            var row = header.TopDown ? y : header.Height - 1 - y;
            for (var x = 0; x < header.Width; x++)
            {
                var column = header.RightToLeft ? header.Width - 1 - x : x;
                var stored = pixels.AsSpan((y * header.Width + x) * size, size);
                Pixel(header, Colour(header, stored, palette), picture.Data.AsSpan((row * header.Width + column) * n, n));
            }
        }
        return picture;
    }

    private static ReadOnlySpan<byte> Colour(TgaHeader header, ReadOnlySpan<byte> stored, ReadOnlySpan<byte> palette)
    {
        if ((header.Kind & 3) != 1)
            return stored;
        var index = (stored.Length == 2 ? BinaryPrimitives.ReadUInt16LittleEndian(stored) : stored[0]) - header.PaletteFirst;
        var size = (header.PaletteBits + 7) / 8;
        if (index < 0 || (index + 1) * size > palette.Length)
            throw new PictureException("A pixel names a palette entry that is not there; the file is damaged.");
        return palette.Slice(index * size, size);
    }

    private static void Pixel(TgaHeader header, ReadOnlySpan<byte> stored, Span<byte> target)
    {
        if (header.IsGrey)
        {
            stored[..target.Length].CopyTo(target);
            return;
        }
        if (stored.Length == 2)
        {
            int v = BinaryPrimitives.ReadUInt16LittleEndian(stored);
            for (var c = 0; c < 3; c++)
                target[c] = (byte)(((v >> 10 - 5 * c & 31) * 255 + 15) / 31);
            // The sixteenth bit is alpha in theory; writers set it as they please, so it is left alone.
            return;
        }
        (target[0], target[1], target[2]) = (stored[2], stored[1], stored[0]);
        if (target.Length == 4)
            target[3] = stored[3];
    }

    private static byte[] Unpack(TgaHeader header, byte[] file, int at)
    {
        var size = (header.Bits + 7) / 8;
        var total = checked(header.Width * header.Height * size);
        if (!header.RunLengths)
            return Slice(file, at, total).ToArray();
        var pixels = new byte[total];
        for (var done = 0; done < total; )
        {
            var packet = Slice(file, at, 1)[0];
            var count = Math.Min(((packet & 127) + 1) * size, total - done);
            if (packet < 128)
            {
                Slice(file, at + 1, count).CopyTo(pixels.AsSpan(done));
                at += 1 + count;
            }
            else
            {
                var one = Slice(file, at + 1, size);
                for (var k = 0; k < count; k += size)
                    one.CopyTo(pixels.AsSpan(done + k));
                at += 1 + size;
            }
            done += count;
        }
        return pixels;
    }

    private static ReadOnlySpan<byte> Slice(byte[] file, int at, int count) =>
        at + (long)count <= file.Length
            ? file.AsSpan(at, count)
            : throw new PictureException("The picture data ends too early; the file is damaged or cut short.");
}
