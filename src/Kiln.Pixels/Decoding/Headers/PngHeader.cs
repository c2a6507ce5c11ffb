using System.Buffers.Binary;
using System.Text;

namespace Kiln.Pixels.Decoding.Headers;

/// <summary>PNG (ISO/IEC 15948, third edition): IHDR and the colour chunks before the picture data.</summary>
internal static class PngHeader
{
    public static PictureFacts Read(ReadOnlySpan<byte> bytes)
    {
        var width = BinaryPrimitives.ReadInt32BigEndian(bytes[16..]);
        var height = BinaryPrimitives.ReadInt32BigEndian(bytes[20..]);
        int depth = bytes[24],
            type = bytes[25];
        string? embedded = null;
        var transparency = false;
        for (var at = 33; at + 12 <= bytes.Length; )
        {
            var length = BinaryPrimitives.ReadUInt32BigEndian(bytes[at..]);
            var name = Encoding.ASCII.GetString(bytes.Slice(at + 4, 4));
            if (name is "IDAT" or "IEND" || length > bytes.Length)
                break;
            // cICP wins over iCCP over sRGB over gAMA (third edition, 4.3).
            embedded = name switch
            {
                "cICP" => "cICP chunk",
                "iCCP" when embedded != "cICP chunk" => "ICC profile",
                "sRGB" when embedded is null || embedded.StartsWith("gamma", StringComparison.Ordinal) => "sRGB chunk",
                "gAMA" when embedded is null => $"gamma {BinaryPrimitives.ReadUInt32BigEndian(bytes[(at + 8)..]) / 100000.0:0.#####}",
                _ => embedded,
            };
            transparency |= name == "tRNS";
            at += (int)length + 12;
        }
        IReadOnlyList<string> channels = type switch
        {
            0 => transparency ? ImageBuffer.GreyAlpha : ImageBuffer.Grey,
            2 or 3 => transparency ? ImageBuffer.Rgba : ImageBuffer.Rgb,
            4 => ImageBuffer.GreyAlpha,
            6 => ImageBuffer.Rgba,
            _ => throw new PictureException($"The PNG colour type {type} does not exist; the file is damaged."),
        };
        return new(PictureFormat.Png, width, height, channels, depth == 16 ? 16 : 8, false, embedded, false);
    }
}
