using Kiln.Pixels.Decoding.Headers;
using Kiln.Pixels.Writing;
using NetVips;

namespace Kiln.Pixels.Decoding.Formats;

/// <summary>Portable Network Graphics: the plain kinds by our own reader, the others through libvips.</summary>
internal sealed class PngFormat : IPictureFormat
{
    public PictureFormat Format => PictureFormat.Png;

    public string Label => "PNG";

    public IReadOnlyList<string> Extensions { get; } = [".png"];

    public string MediaType => "image/png";

    public bool Recognises(ReadOnlySpan<byte> head) => head.StartsWith(Mark);

    public PictureFacts Header(ReadOnlySpan<byte> head, Stream file) => PngHeader.Read(head);

    public ImageBuffer Pixels(PictureFile file) =>
        PngReader.TryRead(file.Path, file.Facts)
        ?? VipsReader.Read(file.Facts, () => Image.Pngload(file.Path, access: Enums.Access.Sequential, failOn: Enums.FailOn.Error));

    public void Write(Stream to, ImageBuffer picture, PictureWriting how) => to.Write(PictureWriter.Png(picture, how.Compression));

    private static ReadOnlySpan<byte> Mark => [0x89, (byte)'P', (byte)'N', (byte)'G', 13, 10, 26, 10];
}
