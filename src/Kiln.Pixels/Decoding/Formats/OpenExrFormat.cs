using Kiln.Pixels.Decoding.Headers;
using Kiln.Pixels.Writing;

namespace Kiln.Pixels.Decoding.Formats;

/// <summary>OpenEXR through its C library; DWA compression, which that does not decode, through libvips.</summary>
internal sealed class OpenExrFormat : IPictureFormat
{
    public PictureFormat Format => PictureFormat.OpenExr;

    public string Label => "OpenEXR";

    public IReadOnlyList<string> Extensions { get; } = [".exr"];

    public string MediaType => "image/x-exr";

    public bool Recognises(ReadOnlySpan<byte> head) => head.StartsWith(Mark);

    public PictureFacts Header(ReadOnlySpan<byte> head, Stream file) => ExrHeader.Read(head);

    public ImageBuffer Pixels(PictureFile file) =>
        file.Facts.Compression is null ? OpenExrReader.Read(file.Path, file.Facts, file.Limits) : VipsReader.ReadDwa(file.Path, file.Facts);

    public void Write(Stream to, ImageBuffer picture, PictureWriting how)
    {
        if (how.IsTiled)
            ExrWriter.WriteTiled(to, picture, how.Chromaticities);
        else
            ExrWriter.Write(to, picture, how.Chromaticities);
    }

    private static ReadOnlySpan<byte> Mark => [0x76, 0x2f, 0x31, 0x01];
}
