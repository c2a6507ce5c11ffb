namespace Kiln.Pixels.Decoding;

/// <summary>What a picture may claim before anything is allocated for it, and what its decoding may cost.</summary>
/// <param name="Longest">Greatest width or height in pixels.</param>
/// <param name="Pixels">Greatest number of pixels.</param>
/// <param name="Channels">Greatest number of channels.</param>
/// <param name="Seconds">Wall time after which a decoding process is ended.</param>
/// <param name="ResidentBytes">Resident memory at which a decoding process is ended.</param>
public sealed record DecodeLimits(
    int Longest = 32768,
    long Pixels = 300_000_000,
    int Channels = 64,
    int Seconds = 120,
    long ResidentBytes = 4L << 30
)
{
    public static readonly DecodeLimits Default = new();

    /// <exception cref="PictureException">The claim is beyond a limit; the message says which.</exception>
    public void Check(long width, long height, long channels)
    {
        if (width <= 0 || height <= 0)
            throw new PictureException($"The header claims a size of {width} x {height}, which is no picture.");
        if (width > Longest || height > Longest || width * height > Pixels)
            throw new PictureException(
                $"The header claims {width} x {height} pixels; at most {Longest} on a side and {Pixels / 1_000_000} million in "
                    + "all are read."
            );
        if (channels is <= 0 || channels > Channels)
            throw new PictureException($"The header claims {channels} channels; at most {Channels} are read.");
    }
}
