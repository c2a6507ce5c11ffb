namespace Kiln.Pixels.Decoding;

/// <summary>File formats told by their first bytes, never by their name.</summary>
public enum PictureFormat
{
    Unknown,
    Png,
    Jpeg,
    Tiff,
    OpenExr,
    RadianceHdr,
    WebP,
    Dds,
    Tga,
}

public static class PictureFormats
{
    /// <summary>Extensions by which a file claims to be a picture, whether or not it can be read.</summary>
    public static readonly IReadOnlySet<string> Extensions = new HashSet<string>(StringComparer.OrdinalIgnoreCase)
    {
        ".png",
        ".jpg",
        ".jpeg",
        ".tif",
        ".tiff",
        ".exr",
        ".hdr",
        ".webp",
        ".tga",
        ".dds",
        ".bmp",
        ".gif",
        ".psd",
        ".jp2",
        ".heic",
        ".avif",
        ".ktx",
        ".ktx2",
        ".tx",
    };

    public static PictureFormat Recognise(ReadOnlySpan<byte> head)
    {
        if (head.StartsWith((ReadOnlySpan<byte>)[0x89, (byte)'P', (byte)'N', (byte)'G', 13, 10, 26, 10]))
            return PictureFormat.Png;
        if (head.StartsWith((ReadOnlySpan<byte>)[0xff, 0xd8, 0xff]))
            return PictureFormat.Jpeg;
        if (head.StartsWith("II*\0"u8) || head.StartsWith("MM\0*"u8) || head.StartsWith("II+\0"u8) || head.StartsWith("MM\0+"u8))
            return PictureFormat.Tiff;
        if (head.StartsWith((ReadOnlySpan<byte>)[0x76, 0x2f, 0x31, 0x01]))
            return PictureFormat.OpenExr;
        if (head.StartsWith("#?RADIANCE"u8) || head.StartsWith("#?RGBE"u8))
            return PictureFormat.RadianceHdr;
        if (head.Length >= 12 && head.StartsWith("RIFF"u8) && head[8..12].SequenceEqual("WEBP"u8))
            return PictureFormat.WebP;
        if (head.StartsWith("DDS "u8))
            return PictureFormat.Dds;
        if (TgaHeader.Looks(head))
            return PictureFormat.Tga;
        return PictureFormat.Unknown;
    }

    public static string Label(this PictureFormat format) =>
        format switch
        {
            PictureFormat.Png => "PNG",
            PictureFormat.Jpeg => "JPEG",
            PictureFormat.Tiff => "TIFF",
            PictureFormat.OpenExr => "OpenEXR",
            PictureFormat.RadianceHdr => "Radiance HDR",
            PictureFormat.WebP => "WebP",
            PictureFormat.Dds => "DDS",
            PictureFormat.Tga => "TGA",
            _ => "unknown",
        };
}
