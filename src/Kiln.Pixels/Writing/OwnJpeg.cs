using NetVips;

namespace Kiln.Pixels.Writing;

/// <summary>
/// JPEGs that this program has written itself, taken up again in its own process; what comes from elsewhere is decoded in workers.
/// </summary>
public static class OwnJpeg
{
    /// <summary>As 8 bit RGB of so many pixels each way.</summary>
    public static ImageBuffer Square(byte[] jpeg, int side)
    {
        using var loaded = Image.JpegloadBuffer(jpeg);
        using var fitted = loaded.ThumbnailImage(side, height: side, size: Enums.Size.Force);
        return new(fitted.Width, fitted.Height, ["R", "G", "B"], SampleType.U8, fitted.WriteToMemory<byte>());
    }
}
