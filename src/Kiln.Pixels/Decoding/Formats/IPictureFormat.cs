using Kiln.Pixels.Writing;

namespace Kiln.Pixels.Decoding.Formats;

/// <summary>
/// One picture format: how its files are told, what their headers say, how their pixels are read, and how they are written where we write
/// them. A new format is one class and its line in <see cref="PictureFormats"/>.
/// </summary>
internal interface IPictureFormat
{
    PictureFormat Format { get; }

    /// <summary>As people write it.</summary>
    string Label { get; }

    /// <summary>With the dot, in small letters.</summary>
    IReadOnlyList<string> Extensions { get; }

    string MediaType { get; }

    /// <summary>By the first bytes, never by the name.</summary>
    bool Recognises(ReadOnlySpan<byte> head);

    /// <param name="head">The first 256 KB, or all there is.</param>
    /// <param name="file">For what lies further on.</param>
    /// <exception cref="PictureException">The header is damaged or of a kind that is not read.</exception>
    PictureFacts Header(ReadOnlySpan<byte> head, Stream file);

    /// <summary>The pixels in their stored sample type. Runs in the decoding child process only.</summary>
    /// <exception cref="PictureException">The data is damaged, cut short or of a kind that is not read.</exception>
    ImageBuffer Pixels(PictureFile file);

    /// <exception cref="PictureException">The format is not written, or does not hold such pixels.</exception>
    void Write(Stream to, ImageBuffer picture, PictureWriting how) => throw new PictureException($"{Label} files are read, not written.");
}

/// <summary>A file whose pixels are wanted.</summary>
/// <param name="Longest">Where only a smaller copy is wanted, its longer side; a format that can read less may give any size from twice
/// this on.</param>
internal sealed record PictureFile(string Path, PictureFacts Facts, DecodeLimits Limits, int? Longest);
