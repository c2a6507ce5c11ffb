using Kiln.Pixels.Decoding.Headers;
using Kiln.Pixels.Writing;
using NetVips;

namespace Kiln.Pixels.Decoding.Formats;

/// <summary>TIFF and BigTIFF through libvips.</summary>
internal sealed class TiffFormat : IPictureFormat
{
    public PictureFormat Format => PictureFormat.Tiff;

    public string Label => "TIFF";

    public IReadOnlyList<string> Extensions { get; } = [".tif", ".tiff"];

    public string MediaType => "image/tiff";

    public bool Recognises(ReadOnlySpan<byte> head) =>
        head.StartsWith("II*\0"u8) || head.StartsWith("MM\0*"u8) || head.StartsWith("II+\0"u8) || head.StartsWith("MM\0+"u8);

    public PictureFacts Header(ReadOnlySpan<byte> head, Stream file) => TiffHeader.Read(head, file);

    public ImageBuffer Pixels(PictureFile file) =>
        VipsReader.Read(file.Facts, () => Image.Tiffload(file.Path, access: Enums.Access.Sequential, failOn: Enums.FailOn.Error));

    public void Write(Stream to, ImageBuffer picture, PictureWriting how) => TiledTiffWriter.Write(to, picture);
}
