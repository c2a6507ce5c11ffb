namespace Kiln.Pixels.Decoding;

/// <summary>Turns files into pixels. The one reading call of the product; implementations decide where the decoding runs.</summary>
public interface IPictureDecoder
{
    /// <summary>
    /// Decodes a file in its stored sample type, or area-averaged so that its longer side is at most <paramref name="longest"/>.
    /// </summary>
    /// <exception cref="PictureException">With a sentence why the picture cannot be had.</exception>
    Task<ImageBuffer> DecodeAsync(string path, int? longest = null, CancellationToken cancel = default);

    /// <summary>The same, with what only the full-size pixels tell.</summary>
    /// <exception cref="PictureException">With a sentence why the picture cannot be had.</exception>
    async Task<(ImageBuffer Copy, PictureProbe Probe)> ExamineAsync(string path, int? longest = null, CancellationToken cancel = default)
    {
        var copy = await DecodeAsync(path, longest, cancel);
        return (copy, PictureProbe.Measure(copy));
    }
}
