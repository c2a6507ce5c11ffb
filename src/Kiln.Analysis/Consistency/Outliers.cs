namespace Kiln.Analysis.Consistency;

/// <summary>The middle of some numbers and their usual distance from it, neither moved by a few strange ones.</summary>
/// <param name="Deviation">Median absolute deviation from the median.</param>
/// <param name="MeanDeviation">Mean absolute deviation from the median, for when more than half of the numbers are the same.</param>
public sealed record RobustSpread(double Median, double Deviation, double MeanDeviation)
{
    /// <summary>
    /// From here on a number is called an outlier (Iglewicz and Hoaglin 1993, "How to detect and handle outliers"; NIST/SEMATECH e-Handbook
    /// 1.3.5.17).
    /// </summary>
    public const double Limit = 3.5;

    /// <param name="values">Finite numbers, in any order; at least one.</param>
    public static RobustSpread Of(IEnumerable<double> values)
    {
        var sorted = values.Order().ToArray();
        var median = Middle(sorted);
        var distances = sorted.Select(v => Math.Abs(v - median)).Order().ToArray();
        return new(median, Middle(distances), distances.Average());
    }

    /// <summary>
    /// The modified z-score: 0.6745 (x − median) / MAD; with a MAD of 0, (x − median) / (1.2533 · mean absolute deviation), the same for a
    /// normal distribution;
    /// 0 where all numbers are one.
    /// </summary>
    public double Score(double value) =>
        Deviation > 0 ? 0.6745 * (value - Median) / Deviation
        : MeanDeviation > 0 ? (value - Median) / (1.253314 * MeanDeviation)
        : 0;

    public bool IsOutlier(double value) => Math.Abs(Score(value)) > Limit;

    private static double Middle(double[] sorted) =>
        sorted.Length == 0 ? throw new ArgumentException("Of no numbers there is no middle.")
        : sorted.Length % 2 == 1 ? sorted[sorted.Length / 2]
        : (sorted[sorted.Length / 2 - 1] + sorted[sorted.Length / 2]) / 2;
}
