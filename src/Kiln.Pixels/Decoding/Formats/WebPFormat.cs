using System.Buffers.Binary;
using System.Text;
using Kiln.Pixels.Writing;
using NetVips;

namespace Kiln.Pixels.Decoding.Formats;

/// <summary>WebP through libvips.</summary>
internal sealed class WebPFormat : IPictureFormat
{
    public PictureFormat Format => PictureFormat.WebP;

    public string Label => "WebP";

    public IReadOnlyList<string> Extensions { get; } = [".webp"];

    public string MediaType => "image/webp";

    public bool Recognises(ReadOnlySpan<byte> head) =>
        head.Length >= 12 && head.StartsWith("RIFF"u8) && head[8..12].SequenceEqual("WEBP"u8);

    public PictureFacts Header(ReadOnlySpan<byte> head, Stream file) => Canvas(head);

    public ImageBuffer Pixels(PictureFile file) =>
        VipsReader.Read(file.Facts, () => Image.Webpload(file.Path, access: Enums.Access.Sequential, failOn: Enums.FailOn.Error));

    public void Write(Stream to, ImageBuffer picture, PictureWriting how) => to.Write(PictureWriter.WebP(picture, how.Quality));

    private static PictureFacts Canvas(ReadOnlySpan<byte> head)
    {
        // WebP container specification: VP8X canvas, VP8L and VP8 frame headers.
        var chunk = Encoding.ASCII.GetString(head.Slice(12, 4));
        if (chunk == "VP8X")
        {
            int Low24(ReadOnlySpan<byte> b) => b[0] | b[1] << 8 | b[2] << 16;
            var flags = head[20];
            var lossless = head[..Math.Min(head.Length, 4096)].IndexOf("VP8L"u8) >= 0;
            return new(
                PictureFormat.WebP,
                Low24(head[24..]) + 1,
                Low24(head[27..]) + 1,
                (flags & 0x10) != 0 ? ImageBuffer.Rgba : ImageBuffer.Rgb,
                8,
                false,
                (flags & 0x20) != 0 ? "ICC profile" : null,
                !lossless
            );
        }
        if (chunk == "VP8L")
        {
            var packed = BinaryPrimitives.ReadUInt32LittleEndian(head[21..]);
            var alpha = (packed >> 28 & 1) == 1;
            return new(
                PictureFormat.WebP,
                (int)(packed & 0x3fff) + 1,
                (int)(packed >> 14 & 0x3fff) + 1,
                alpha ? ImageBuffer.Rgba : ImageBuffer.Rgb,
                8,
                false,
                null,
                false
            );
        }
        return new(
            PictureFormat.WebP,
            BinaryPrimitives.ReadUInt16LittleEndian(head[26..]) & 0x3fff,
            BinaryPrimitives.ReadUInt16LittleEndian(head[28..]) & 0x3fff,
            ImageBuffer.Rgb,
            8,
            false,
            null,
            true
        );
    }
}
