namespace Kiln.Pixels.Decoding;

/// <summary>File formats, as documents name them.</summary>
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
