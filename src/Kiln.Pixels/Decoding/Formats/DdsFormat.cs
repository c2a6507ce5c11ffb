using Kiln.Pixels.Decoding.Headers;

namespace Kiln.Pixels.Decoding.Formats;

/// <summary>DDS by our own reader.</summary>
internal sealed class DdsFormat : IPictureFormat
{
    public PictureFormat Format => PictureFormat.Dds;

    public string Label => "DDS";

    public IReadOnlyList<string> Extensions { get; } = [".dds"];

    public string MediaType => "image/vnd-ms.dds";

    public bool Recognises(ReadOnlySpan<byte> head) => head.StartsWith("DDS "u8);

    public PictureFacts Header(ReadOnlySpan<byte> head, Stream file) => DdsHeader.Read(head).Facts;

    public ImageBuffer Pixels(PictureFile file) => DdsReader.Read(file.Path, file.Facts);
}
