using Kiln.Analysis.Difference;

namespace Kiln.Analysis.Models;

/// <summary>What the surfaces of a drawing of UVs are told apart by.</summary>
public enum UvTone
{
    /// <summary>The map itself, with what overlaps and what is mirrored.</summary>
    Layout,

    /// <summary>The larger over the smaller singular value of the mapping.</summary>
    Stretch,

    /// <summary>Against the median of what is drawn, whichever way.</summary>
    Density,
}

/// <summary>A step of a tone, in a colour of 8-bit codes, in words.</summary>
/// <param name="UpTo">The largest value; null for all that are larger.</param>
public sealed record UvStep(double? UpTo, byte Red, byte Green, byte Blue, string Words);

/// <summary>Steps of the tones, in the colours of differences; the limits are common practice, no source.</summary>
public static class UvSteps
{
    private static readonly double?[] Ratios = [1.1, 1.25, 1.5, 2, 4, null];

    private static readonly string[] Stretched = ["even", "1.25 times", "1.5 times", "2 times", "4 times", "more"];

    private static readonly string[] Dense = ["as the rest", "1.25 times", "1.5 times", "2 times", "4 times", "more"];

    public static IReadOnlyList<UvStep> Of(UvTone tone) =>
        tone == UvTone.Layout
            ? []
            :
            [
                .. DifferenceMap.Scale.Select(
                    (s, i) => new UvStep(Ratios[i], s.Red, s.Green, s.Blue, (tone == UvTone.Stretch ? Stretched : Dense)[i])
                ),
            ];
}
