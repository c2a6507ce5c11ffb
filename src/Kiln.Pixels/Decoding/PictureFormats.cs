using Kiln.Pixels.Decoding.Formats;
using Kiln.Pixels.Writing;

namespace Kiln.Pixels.Decoding;

/// <summary>The registry of the picture formats that are read and written: the one place that lists them.</summary>
public static class PictureFormats
{
    /// <summary>In the order in which they are told; TGA has no mark of its own and comes last.</summary>
    private static readonly IPictureFormat[] Read =
    [
        new PngFormat(),
        new JpegFormat(),
        new TiffFormat(),
        new OpenExrFormat(),
        new RadianceFormat(),
        new DdsFormat(),
        new WebPFormat(),
        new TgaFormat(),
    ];

    /// <summary>Files that claim to be pictures and are not read, so that they are reported instead of passed over.</summary>
    private static readonly string[] Unread = [".bmp", ".gif", ".psd", ".jp2", ".heic", ".avif", ".ktx", ".ktx2", ".tx"];

    /// <summary>Extensions by which a file claims to be a picture, whether or not it can be read.</summary>
    public static readonly IReadOnlySet<string> Extensions = new HashSet<string>(
        Read.SelectMany(f => f.Extensions).Concat(Unread),
        StringComparer.OrdinalIgnoreCase
    );

    /// <summary>What is read, as a sentence lists it: "PNG, JPEG, …".</summary>
    public static string Labels { get; } = string.Join(", ", Read.Select(f => f.Label));

    /// <summary>By the first bytes, never by the name.</summary>
    public static PictureFormat Recognise(ReadOnlySpan<byte> head) => Told(head)?.Format ?? PictureFormat.Unknown;

    public static string Label(this PictureFormat format) => Of(format)?.Label ?? "unknown";

    /// <summary>As HTTP names it; bytes of no known kind for a format that is not read.</summary>
    public static string MediaType(this PictureFormat format) => Of(format)?.MediaType ?? "application/octet-stream";

    /// <summary>As its files end; <see cref="PictureFormat.Unknown"/> where none does so.</summary>
    /// <param name="extension">With the dot, in any letters.</param>
    public static PictureFormat ByExtension(string extension) =>
        Array.Find(Read, f => f.Extensions.Contains(extension, StringComparer.OrdinalIgnoreCase))?.Format ?? PictureFormat.Unknown;

    /// <summary>With the dot.</summary>
    public static string Extension(this PictureFormat format) => Of(format)?.Extensions[0] ?? "";

    /// <exception cref="PictureException">The format is not written, or does not hold such pixels.</exception>
    public static void Write(this PictureFormat format, Stream to, ImageBuffer picture, PictureWriting? how = null) =>
        (Of(format) ?? throw new PictureException("A picture needs a format to be written in.")).Write(to, picture, how ?? new());

    /// <inheritdoc cref="Write"/>
    public static byte[] Bytes(this PictureFormat format, ImageBuffer picture, PictureWriting? how = null)
    {
        using var stream = new MemoryStream();
        format.Write(stream, picture, how);
        return stream.ToArray();
    }

    internal static IPictureFormat? Of(PictureFormat format) => Array.Find(Read, f => f.Format == format);

    internal static IPictureFormat? Told(ReadOnlySpan<byte> head)
    {
        foreach (var format in Read)
            if (format.Recognises(head))
                return format;
        return null;
    }
}
