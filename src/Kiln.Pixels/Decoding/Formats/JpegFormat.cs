using Kiln.Pixels.Decoding.Headers;
using Kiln.Pixels.Writing;
using NetVips;

namespace Kiln.Pixels.Decoding.Formats;

/// <summary>JPEG through libvips, also CMYK ones.</summary>
internal sealed class JpegFormat : IPictureFormat
{
    public PictureFormat Format => PictureFormat.Jpeg;

    public string Label => "JPEG";

    public IReadOnlyList<string> Extensions { get; } = [".jpg", ".jpeg"];

    public string MediaType => "image/jpeg";

    public bool Recognises(ReadOnlySpan<byte> head) => head.StartsWith(Mark);

    public PictureFacts Header(ReadOnlySpan<byte> head, Stream file) => JpegHeader.Read(head, file);

    public ImageBuffer Pixels(PictureFile file) =>
        VipsReader.Read(
            file.Facts,
            () => Image.Jpegload(file.Path, shrink: Shrink(file), access: Enums.Access.Sequential, failOn: Enums.FailOn.Error),
            Printed
        );

    public void Write(Stream to, ImageBuffer picture, PictureWriting how) => to.Write(PictureWriter.Jpeg(picture, how.Quality));

    private static ReadOnlySpan<byte> Mark => [0xff, 0xd8, 0xff];

    /// <summary>A large picture comes at half, quarter or eighth size, at least twice what is wanted.</summary>
    private static int Shrink(PictureFile file)
    {
        var factor = file.Longest is { } l ? Math.Max(file.Facts.Width, file.Facts.Height) / (2 * l) : 1;
        return factor >= 8 ? 8
            : factor >= 4 ? 4
            : factor >= 2 ? 2
            : 1;
    }

    /// <summary>The loader gives ink, 255 the most; what paper shows is what each ink and black leave.</summary>
    private static Image? Printed(Image image)
    {
        if (image.Interpretation != Enums.Interpretation.Cmyk)
            return null;
        using var inks = image.ExtractBand(0, n: 3);
        using var black = image.ExtractBand(3);
        using var product = (255 - inks) * (255 - black) / 255.0 + 0.5;
        return product.Cast(Enums.BandFormat.Uchar);
    }
}
