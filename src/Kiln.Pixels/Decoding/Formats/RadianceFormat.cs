using System.Text;
using NetVips;

namespace Kiln.Pixels.Decoding.Formats;

/// <summary>Radiance pictures through libvips.</summary>
internal sealed class RadianceFormat : IPictureFormat
{
    public PictureFormat Format => PictureFormat.RadianceHdr;

    public string Label => "Radiance HDR";

    public IReadOnlyList<string> Extensions { get; } = [".hdr"];

    public string MediaType => "image/vnd.radiance";

    public bool Recognises(ReadOnlySpan<byte> head) => head.StartsWith("#?RADIANCE"u8) || head.StartsWith("#?RGBE"u8);

    public PictureFacts Header(ReadOnlySpan<byte> head, Stream file) => Resolution(head);

    public ImageBuffer Pixels(PictureFile file) =>
        VipsReader.Read(file.Facts, () => Image.Radload(file.Path, access: Enums.Access.Sequential, failOn: Enums.FailOn.Error), Unpacked);

    private static Image Unpacked(Image image) => image.Coding == Enums.Coding.Rad ? image.Rad2float() : image.Copy();

    private static PictureFacts Resolution(ReadOnlySpan<byte> head)
    {
        // Radiance picture format (G. Ward, "Real Pixels", 1991): text header, empty line, resolution line.
        var text = Encoding.Latin1.GetString(head[..Math.Min(head.Length, 16384)]);
        var end = text.IndexOf("\n\n", StringComparison.Ordinal);
        if (end < 0)
            throw new PictureException("The Radiance header has no end; the file is damaged.");
        var line = text[(end + 2)..].Split('\n')[0].Split(' ', StringSplitOptions.RemoveEmptyEntries);
        if (line.Length != 4 || !int.TryParse(line[1], out var first) || !int.TryParse(line[3], out var second))
            throw new PictureException("The Radiance resolution line cannot be read; the file is damaged.");
        var rowsFirst = line[0].EndsWith('Y');
        return new(
            PictureFormat.RadianceHdr,
            rowsFirst ? second : first,
            rowsFirst ? first : second,
            ImageBuffer.Rgb,
            32,
            true,
            null,
            false
        );
    }
}
