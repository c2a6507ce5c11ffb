using System.Buffers.Binary;

namespace Kiln.Pixels.Decoding.Headers;

/// <summary>TIFF 6.0: the first image file directory's tags that say how the picture is stored.</summary>
internal static class TiffHeader
{
    public static PictureFacts Read(ReadOnlySpan<byte> head, Stream stream)
    {
        var little = head[0] == 'I';
        if (head[little ? 2 : 3] == '+')
            throw new PictureException("This is a BigTIFF file; save it as an ordinary TIFF or as OpenEXR.");
        var directory = U32(head[4..], little);
        ReadOnlySpan<byte> bytes = head;
        if (directory + 4096 > bytes.Length && stream.CanSeek && stream.Length > head.Length)
        {
            // The directory often lies behind the picture; only its own neighbourhood is read.
            stream.Position = directory;
            var tail = new byte[65536];
            var length = stream.ReadAtLeast(tail, tail.Length, false);
            return Directory(tail.AsSpan(0, length), little, directory, stream);
        }
        return Directory(bytes[(int)Math.Min(directory, (uint)bytes.Length)..], little, directory, stream);
    }

    private static PictureFacts Directory(ReadOnlySpan<byte> bytes, bool little, long offset, Stream stream)
    {
        var count = U16(bytes, little);
        int width = 0,
            height = 0,
            samples = 1,
            bits = 1,
            format = 1,
            photometric = 1,
            compression = 1,
            extra = 0;
        string? embedded = null;
        for (var i = 0; i < count; i++)
        {
            var entry = bytes.Slice(2 + 12 * i, 12);
            int tag = U16(entry, little),
                type = U16(entry[2..], little);
            var n = U32(entry[4..], little);
            int Value(ReadOnlySpan<byte> e, ReadOnlySpan<byte> all)
            {
                var size = type == 3 ? 2 : 4;
                if (n * size <= 4)
                    return type == 3 ? U16(e[8..], little) : (int)U32(e[8..], little);
                // A list may lie anywhere in the file, before its directory too.
                var at = (long)U32(e[8..], little);
                if (at - offset is >= 0 and var within && within + 2 <= all.Length)
                    return U16(all[(int)within..], little);
                if (!stream.CanSeek || at + 2 > stream.Length)
                    throw new PictureException($"The TIFF's tag {tag} points behind the end of the file; it is cut off or damaged.");
                stream.Position = at;
                Span<byte> two = stackalloc byte[2];
                stream.ReadExactly(two);
                return U16(two, little);
            }
            switch (tag)
            {
                case 256:
                    width = Value(entry, bytes);
                    break;
                case 257:
                    height = Value(entry, bytes);
                    break;
                case 258:
                    bits = Value(entry, bytes);
                    break;
                case 259:
                    compression = Value(entry, bytes);
                    break;
                case 262:
                    photometric = Value(entry, bytes);
                    break;
                case 277:
                    samples = Value(entry, bytes);
                    break;
                case 338:
                    extra = (int)n;
                    break;
                case 339:
                    format = Value(entry, bytes);
                    break;
                case 34675:
                    embedded = "ICC profile";
                    break;
            }
        }
        if (photometric == 5)
            throw new PictureException("This TIFF is CMYK; save it as RGB and bring it in again.");
        var isFloat = format == 3;
        var channels = photometric == 3 ? ImageBuffer.Rgb : ImageBuffer.UsualChannels(Math.Clamp(samples, 1, 64));
        if (samples == 2 && extra == 0)
            channels = ["Y", "A"];
        return new(
            PictureFormat.Tiff,
            width,
            height,
            channels,
            photometric == 3 ? 8
                : bits < 8 ? 8
                : bits,
            isFloat,
            embedded,
            compression is 6 or 7
        );
    }

    private static int U16(ReadOnlySpan<byte> b, bool little) =>
        little ? BinaryPrimitives.ReadUInt16LittleEndian(b) : BinaryPrimitives.ReadUInt16BigEndian(b);

    private static uint U32(ReadOnlySpan<byte> b, bool little) =>
        little ? BinaryPrimitives.ReadUInt32LittleEndian(b) : BinaryPrimitives.ReadUInt32BigEndian(b);
}
