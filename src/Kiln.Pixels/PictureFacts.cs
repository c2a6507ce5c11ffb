using Kiln.Pixels.Decoding;

namespace Kiln.Pixels;

/// <summary>What a picture's header says, read without its pixels.</summary>
/// <param name="Bits">Bits of one stored channel: 8 for palette pictures, 16 for half, 32 for float and Radiance.</param>
/// <param name="EmbeddedColour">What the file says of its colours (for example "sRGB chunk", "gamma 0.45455", "ICC profile"), or
/// null.</param>
/// <param name="Lossy">Whether the file's compression changes values (JPEG, lossy WebP).</param>
public sealed record PictureFacts(
    PictureFormat Format,
    int Width,
    int Height,
    IReadOnlyList<string> Channels,
    int Bits,
    bool IsFloat,
    string? EmbeddedColour,
    bool Lossy
)
{
    /// <summary>The compression where it decides who can read the file (“dwaa”, “dwab”), else null.</summary>
    public string? Compression { get; init; }

    public bool HasAlpha => Channels.Contains("A");

    public bool IsGreyFile => Channels.Count(c => c != "A") == 1;
}
