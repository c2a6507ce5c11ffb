namespace Kiln.Pixels.Decoding.Formats;

/// <summary>TGA by our own reader.</summary>
internal sealed class TgaFormat : IPictureFormat
{
    public PictureFormat Format => PictureFormat.Tga;

    public string Label => "TGA";

    public IReadOnlyList<string> Extensions { get; } = [".tga"];

    public string MediaType => "image/x-tga";

    public bool Recognises(ReadOnlySpan<byte> head) => TgaHeader.Looks(head);

    public PictureFacts Header(ReadOnlySpan<byte> head, Stream file) => TgaHeader.Read(head).Facts;

    public ImageBuffer Pixels(PictureFile file) => TgaReader.Read(file.Path, file.Facts);
}
