using System.Buffers.Binary;

namespace Kiln.Pixels.Decoding.Headers;

/// <summary>JPEG (ITU-T T.81): walks the marker segments to the frame header.</summary>
internal static class JpegHeader
{
    public static PictureFacts Read(ReadOnlySpan<byte> head, Stream stream)
    {
        // Embedded profiles and previews may put the frame header beyond what was read first; a few megabytes more are allowed for.
        var bytes = Find(head, out var facts) || !stream.CanSeek ? head : default;
        if (facts is null && stream.CanSeek)
        {
            stream.Position = 0;
            var longer = new byte[(int)Math.Min(stream.Length, 8 << 20)];
            bytes = longer.AsSpan(0, stream.ReadAtLeast(longer, longer.Length, false));
            Find(bytes, out facts);
        }
        return facts ?? throw new PictureException("The JPEG file has no frame header; it is damaged.");
    }

    private static bool Find(ReadOnlySpan<byte> bytes, out PictureFacts? facts)
    {
        string? embedded = null;
        facts = null;
        for (var at = 2; at + 9 < bytes.Length; )
        {
            if (bytes[at] != 0xff)
                return false;
            var marker = bytes[at + 1];
            if (marker is 0xff or 0x01 or >= 0xd0 and <= 0xd8)
            {
                at += marker == 0xff ? 1 : 2;
                continue;
            }
            var length = BinaryPrimitives.ReadUInt16BigEndian(bytes[(at + 2)..]);
            if (marker == 0xe2 && bytes[(at + 4)..].StartsWith("ICC_PROFILE"u8))
                embedded = "ICC profile";
            if (marker is >= 0xc0 and <= 0xcf and not 0xc4 and not 0xc8 and not 0xcc)
            {
                var components = bytes[at + 9];
                if (bytes[at + 4] != 8)
                    throw new PictureException($"This JPEG has {bytes[at + 4]} bits a channel; only 8 are read.");
                facts = new(
                    PictureFormat.Jpeg,
                    BinaryPrimitives.ReadUInt16BigEndian(bytes[(at + 7)..]),
                    BinaryPrimitives.ReadUInt16BigEndian(bytes[(at + 5)..]),
                    components == 1 ? ImageBuffer.Grey : ImageBuffer.Rgb,
                    8,
                    false,
                    components == 4 ? "CMYK, multiplied out to RGB without a profile" : embedded,
                    true
                );
                return true;
            }
            at += length + 2;
        }
        return false;
    }
}
