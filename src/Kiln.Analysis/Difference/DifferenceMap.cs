using Kiln.Pixels;

namespace Kiln.Analysis.Difference;

/// <summary>
/// A difference as a picture in steps of ΔE, darker where it is greater: none to be seen, just to be seen, plain, and so on. The limits are
/// common practice, no source.
/// </summary>
public static class DifferenceMap
{
    /// <summary>ΔE up to which a step reaches, and its colour as 8-bit codes; the last one has no end.</summary>
    public static readonly IReadOnlyList<(double UpTo, byte Red, byte Green, byte Blue, string Words)> Scale =
    [
        (0.5, 244, 243, 240, "not to be seen"),
        (1, 214, 222, 214, "side by side only"),
        (2, 164, 190, 190, "looked for"),
        (4, 106, 146, 164, "noticed"),
        (8, 72, 92, 138, "plain"),
        (double.PositiveInfinity, 52, 34, 86, "another colour"),
    ];

    public static ImageBuffer Of(PictureDifference difference)
    {
        var result = new ImageBuffer(difference.Width, difference.Height, ImageBuffer.Rgb, SampleType.U8);
        for (var i = 0; i < difference.Values.Length; i++)
        {
            var step = Scale.First(s => difference.Values[i] <= s.UpTo || double.IsPositiveInfinity(s.UpTo));
            (result.Data[3 * i], result.Data[3 * i + 1], result.Data[3 * i + 2]) = (step.Red, step.Green, step.Blue);
        }
        return result;
    }
}
