using Kiln.Pixels;
using Kiln.Pixels.Decoding;

namespace Kiln.Server.Platform;

/// <summary>Pictures as answers of routes.</summary>
internal static class PictureAnswers
{
    /// <param name="compression">1 for what is made anew each time.</param>
    public static IResult Png(ImageBuffer picture, int compression = 1) =>
        Results.Bytes(PictureFormat.Png.Bytes(picture, new(Compression: compression)), PictureFormat.Png.MediaType());

    public static IResult Jpeg(ImageBuffer picture, int quality) =>
        Results.Bytes(PictureFormat.Jpeg.Bytes(picture, new(Quality: quality)), PictureFormat.Jpeg.MediaType());
}
