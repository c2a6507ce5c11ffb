using System.Globalization;

namespace Kiln.Analysis.Findings;

/// <summary>
/// Which pixels of a stored map a finding speaks of, as text: <c>below 0.118, above 0.941</c>, <c>between 0.2 0.8</c> (of the greatest
/// channel's stored value), or <c>unit</c> for vectors off unit length.
/// </summary>
public sealed class PictureMarks
{
    /// <summary>Vectors whose length differs from 1 by more than this are marked (common practice, no source).</summary>
    public const float UnitTolerance = 0.12f;

    private readonly List<(float Low, float High, bool Bright)> ranges = [];
    private bool unit;

    public static string Below(float level) => Text($"below {level:0.####}");

    public static string Above(float level) => Text($"above {level:0.####}");

    public static string Between(float low, float high) => Text($"between {low:0.####} {high:0.####}");

    public const string NotUnit = "unit";

    /// <exception cref="FormatException">The text is none of the forms above.</exception>
    public static PictureMarks Parse(string text)
    {
        var marks = new PictureMarks();
        foreach (var part in text.Split(',', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries))
        {
            var words = part.Split(' ', StringSplitOptions.RemoveEmptyEntries);
            switch (words)
            {
                case ["unit"]:
                    marks.unit = true;
                    break;
                case ["below", var level]:
                    marks.ranges.Add((float.NegativeInfinity, Number(level), false));
                    break;
                case ["above", var level]:
                    marks.ranges.Add((Number(level), float.PositiveInfinity, true));
                    break;
                case ["between", var low, var high]:
                    marks.ranges.Add((Number(low), Number(high), true));
                    break;
                default:
                    throw new FormatException($"'{part}' marks nothing: say below, above, between or unit.");
            }
        }
        return marks;
    }

    /// <summary>Whether a pixel of stored channels is marked, and whether as too bright or too dark.</summary>
    public (bool Marked, bool Bright) Of(ReadOnlySpan<float> pixel)
    {
        if (unit && pixel.Length >= 3)
        {
            var (x, y, z) = (2 * pixel[0] - 1, 2 * pixel[1] - 1, 2 * pixel[2] - 1);
            var length = MathF.Sqrt(x * x + y * y + z * z);
            if (MathF.Abs(length - 1) > UnitTolerance)
                return (true, length > 1);
        }
        var v = pixel[0];
        for (var c = 1; c < Math.Min(3, pixel.Length); c++)
            v = MathF.Max(v, pixel[c]);
        foreach (var (low, high, bright) in ranges)
            if (v >= low && v <= high)
                return (true, bright);
        return (false, false);
    }

    private static float Number(string text) =>
        float.TryParse(text, NumberStyles.Float, CultureInfo.InvariantCulture, out var n)
            ? n
            : throw new FormatException($"'{text}' is no level.");

    private static string Text(FormattableString text) => FormattableString.Invariant(text);
}
