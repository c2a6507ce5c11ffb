using System.Buffers.Binary;
using System.Text;

namespace Kiln.Pixels.Decoding.Headers;

/// <summary>Reads the facts of a picture from its header in managed code; limits are checked before anything is believed.</summary>
public static class HeaderReader
{
    private const int HeadBytes = 256 * 1024;

    /// <exception cref="PictureException">The file is no picture that is read here, is damaged, or claims more than the limits
    /// allow.</exception>
    public static PictureFacts Read(Stream stream, DecodeLimits limits)
    {
        var head = new byte[HeadBytes];
        var length = stream.ReadAtLeast(head, head.Length, throwOnEndOfStream: false);
        if (length == 0)
            throw new PictureException("The file is empty.");
        var bytes = head.AsSpan(0, length);
        try
        {
            var facts = PictureFormats.Recognise(bytes) switch
            {
                PictureFormat.Png => PngHeader.Read(bytes),
                PictureFormat.Jpeg => JpegHeader.Read(bytes, stream),
                PictureFormat.Tiff => TiffHeader.Read(bytes, stream),
                PictureFormat.OpenExr => ExrHeader.Read(bytes),
                PictureFormat.RadianceHdr => Radiance(bytes),
                PictureFormat.WebP => WebP(bytes),
                PictureFormat.Dds => DdsHeader.Read(bytes).Facts,
                PictureFormat.Tga => TgaHeader.Read(bytes).Facts,
                _ => throw new PictureException(
                    "The content is no picture format that is read here (PNG, JPEG, TGA, TIFF, OpenEXR, Radiance HDR, DDS, WebP)."
                ),
            };
            limits.Check(facts.Width, facts.Height, facts.Channels.Count);
            return facts;
        }
        catch (Exception e)
            when (e
                    is IndexOutOfRangeException
                        or ArgumentOutOfRangeException
                        or OverflowException
                        or ArgumentException
                        or EndOfStreamException
            )
        {
            throw new PictureException("The header ends too early or contradicts itself; the file is damaged.", e);
        }
    }

    private static PictureFacts Radiance(ReadOnlySpan<byte> bytes)
    {
        // Radiance picture format (G. Ward, "Real Pixels", 1991): text header, empty line, resolution line.
        var text = Encoding.Latin1.GetString(bytes[..Math.Min(bytes.Length, 16384)]);
        var end = text.IndexOf("\n\n", StringComparison.Ordinal);
        if (end < 0)
            throw new PictureException("The Radiance header has no end; the file is damaged.");
        var line = text[(end + 2)..].Split('\n')[0].Split(' ', StringSplitOptions.RemoveEmptyEntries);
        if (line.Length != 4 || !int.TryParse(line[1], out var first) || !int.TryParse(line[3], out var second))
            throw new PictureException("The Radiance resolution line cannot be read; the file is damaged.");
        var rowsFirst = line[0].EndsWith('Y');
        return new(
            PictureFormat.RadianceHdr,
            rowsFirst ? second : first,
            rowsFirst ? first : second,
            ImageBuffer.Rgb,
            32,
            true,
            null,
            false
        );
    }

    private static PictureFacts WebP(ReadOnlySpan<byte> bytes)
    {
        // WebP container specification: VP8X canvas, VP8L and VP8 frame headers.
        var chunk = Encoding.ASCII.GetString(bytes.Slice(12, 4));
        if (chunk == "VP8X")
        {
            int Low24(ReadOnlySpan<byte> b) => b[0] | b[1] << 8 | b[2] << 16;
            var flags = bytes[20];
            var lossless = bytes[..Math.Min(bytes.Length, 4096)].IndexOf("VP8L"u8) >= 0;
            return new(
                PictureFormat.WebP,
                Low24(bytes[24..]) + 1,
                Low24(bytes[27..]) + 1,
                (flags & 0x10) != 0 ? ImageBuffer.Rgba : ImageBuffer.Rgb,
                8,
                false,
                (flags & 0x20) != 0 ? "ICC profile" : null,
                !lossless
            );
        }
        if (chunk == "VP8L")
        {
            var packed = BinaryPrimitives.ReadUInt32LittleEndian(bytes[21..]);
            var alpha = (packed >> 28 & 1) == 1;
            return new(
                PictureFormat.WebP,
                (int)(packed & 0x3fff) + 1,
                (int)(packed >> 14 & 0x3fff) + 1,
                alpha ? ImageBuffer.Rgba : ImageBuffer.Rgb,
                8,
                false,
                null,
                false
            );
        }
        return new(
            PictureFormat.WebP,
            BinaryPrimitives.ReadUInt16LittleEndian(bytes[26..]) & 0x3fff,
            BinaryPrimitives.ReadUInt16LittleEndian(bytes[28..]) & 0x3fff,
            ImageBuffer.Rgb,
            8,
            false,
            null,
            true
        );
    }
}
