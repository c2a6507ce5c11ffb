using System.Buffers.Binary;
using System.Text;

namespace Kiln.Pixels.Decoding.Headers;

/// <summary>OpenEXR file layout (openexr.com, "OpenEXR File Layout"): the attributes of the first part's header.</summary>
internal static class ExrHeader
{
    private const int B44 = 6,
        Dwaa = 8,
        Dwab = 9;

    public static PictureFacts Read(ReadOnlySpan<byte> bytes)
    {
        var version = BinaryPrimitives.ReadUInt32LittleEndian(bytes[4..]);
        if ((version & 0x800) != 0)
            throw new PictureException("This OpenEXR file holds deep data, which has no single value per pixel; flatten it first.");
        int width = 0,
            height = 0,
            type = -1,
            compression = 0;
        var names = new List<string>();
        string? embedded = null;
        for (var at = 8; bytes[at] != 0; )
        {
            var name = Text(bytes, ref at);
            var kind = Text(bytes, ref at);
            var size = BinaryPrimitives.ReadInt32LittleEndian(bytes[at..]);
            at += 4;
            var value = bytes.Slice(at, size);
            if (name == "dataWindow")
            {
                width = checked(BinaryPrimitives.ReadInt32LittleEndian(value[8..]) - BinaryPrimitives.ReadInt32LittleEndian(value) + 1);
                height = checked(
                    BinaryPrimitives.ReadInt32LittleEndian(value[12..]) - BinaryPrimitives.ReadInt32LittleEndian(value[4..]) + 1
                );
            }
            else if (kind == "chlist")
            {
                for (var c = 0; value[c] != 0; c += 16)
                {
                    names.Add(Text(value, ref c));
                    type = Math.Max(type, BinaryPrimitives.ReadInt32LittleEndian(value[c..]));
                }
            }
            else if (name == "compression")
                compression = value[0];
            else if (name == "chromaticities")
            {
                var numbers = new float[8];
                for (var i = 0; i < 8; i++)
                    numbers[i] = BinaryPrimitives.ReadSingleLittleEndian(value[(4 * i)..]);
                embedded = "chromaticities " + string.Join(' ', numbers.Select(n => n.ToString("0.####")));
            }
            at += size;
        }
        return new(
            PictureFormat.OpenExr,
            width,
            height,
            ChannelOrder.Sorted(names),
            type == 1 ? 16 : 32,
            true,
            embedded,
            compression >= B44
        )
        {
            Compression = compression switch
            {
                Dwaa => "dwaa",
                Dwab => "dwab",
                _ => null,
            },
        };
    }

    private static string Text(ReadOnlySpan<byte> bytes, ref int at)
    {
        var end = bytes[at..].IndexOf((byte)0);
        if (end is < 0 or > 255)
            throw new PictureException("A name in the OpenEXR header has no end; the file is damaged.");
        var text = Encoding.UTF8.GetString(bytes.Slice(at, end));
        at += end + 1;
        return text;
    }
}

/// <summary>OpenEXR stores channels by the alphabet (A B G R); people expect R G B A first, then the rest by name.</summary>
internal static class ChannelOrder
{
    private const string Usual = "R\0G\0B\0Y\0A";

    public static List<string> Sorted(IEnumerable<string> names) =>
        [.. names.OrderBy(n => Array.IndexOf(Usual.Split('\0'), n) is var i && i >= 0 ? i : 99).ThenBy(n => n, StringComparer.Ordinal)];
}
