using System.Collections.Immutable;
using Kiln.Looks.Document;
using Kiln.Looks.Graph;
using Kiln.Looks.Readings;
using Kiln.Looks.Steps.Arithmetic;
using Kiln.Looks.Steps.Table;

namespace Kiln.Looks.Steps.Kinds.Numbers;

/// <summary>
/// Gives what comes in the distribution of something else: each quantile of it goes to the same quantile of the other, between them a
/// monotone cubic (histogram specification; Gonzalez and Woods, "Digital Image Processing", 3.3.2). What lies beyond the measured ends
/// stays at theirs.
/// </summary>
/// <param name="From">Quantiles of what comes in at evenly spread shares from 0 to 1, rising: one list for a number or for all
/// components alike, three for red, green and blue.</param>
/// <param name="To">The same quantiles of what it is to be like; as many lists, as long.</param>
public sealed record HistogramMatchStep(ImmutableArray<ImmutableArray<float>> From, ImmutableArray<ImmutableArray<float>> To)
    : Step,
        IStepKind<HistogramMatchStep>
{
    public const int MostQuantiles = 64;

    public static new StepEntry<HistogramMatchStep> Entry { get; } =
        new()
        {
            Name = "histogramMatch",
            Label = "histogram match",
            Order = 64,
            AlsoFoundBy = "distribution levels equalise reference same as quantiles",
            Sentence =
                "What comes in gets the distribution of another lane: the same share lies below every value. "
                + "Of a colour, red, green and blue each by themselves: for maps whose colours vary alike.",
            Tells = "{from} → {to}",
            Fields = [new(StepFieldKind.Quantiles, "from", "what comes in"), new(StepFieldKind.Quantiles, "to", "as it is to be")],
            Fresh = new(
                [
                    [0, 0.25f, 0.5f, 0.75f, 1],
                ],
                [
                    [0, 0.25f, 0.5f, 0.75f, 1],
                ]
            ),
            Checks = Check,
            Lowers = Lowered,
        };

    private static void Check(HistogramMatchStep s, string where)
    {
        static bool AreQuantiles(ImmutableArray<float> q) =>
            !q.IsDefault
            && q.Length is >= 2 and <= MostQuantiles
            && q.All(float.IsFinite)
            && q.Zip(q.Skip(1)).All(p => p.First <= p.Second);
        var isWhole =
            !s.From.IsDefault
            && !s.To.IsDefault
            && s.From.Length is 1 or 3
            && s.To.Length == s.From.Length
            && s.From.Concat(s.To).All(AreQuantiles)
            && s.From.Zip(s.To).All(p => p.First.Length == p.Second.Length);
        if (!isWhole)
            throw new LookException(
                $"The histogram match in {where} needs 2 to {MostQuantiles} rising quantiles on both sides, for one component or for three."
            );
    }

    private static int Lowered(HistogramMatchStep s, int x, StepLowering to)
    {
        var type = to.Graph[x].Type;
        if (type == ShadeType.Direction)
            throw new LookException(
                "A histogram is matched of numbers and colours, not of directions; match the height or the map instead."
            );
        int Matched(int node, int component)
        {
            var points = Points(s.From[component], s.To[component]);
            // All that came in was one value: it goes to the middle of what is asked for.
            return points.Length == 1
                ? to.Graph.Constant(new System.Numerics.Vector3(points[0].Y), to.Graph[node].Type)
                : to.Add(new CurveNode(node, to.Graph[node].Type, MonotoneCurve.Prepare(points)));
        }
        if (s.From.Length == 1)
            return Matched(x, 0);
        if (type == ShadeType.Scalar)
            throw new LookException("A histogram of three components is matched of a colour; measure this lane anew.");
        return to.Add(
            new ArithmeticNode(
                ShadeOp.Pack,
                ShadeType.Colour,
                [
                    Matched(to.Graph.Channel(x, MapChannel.R), 0),
                    Matched(to.Graph.Channel(x, MapChannel.G), 1),
                    Matched(to.Graph.Channel(x, MapChannel.B), 2),
                ]
            )
        );
    }

    /// <summary>One point for each value that comes in. Where many quantiles are one value, it goes to the mean of theirs.</summary>
    private static ImmutableArray<CurvePoint> Points(ImmutableArray<float> from, ImmutableArray<float> to) =>
        [.. from.Zip(to).GroupBy(p => p.First).Select(g => new CurvePoint(g.Key, g.Average(p => p.Second)))];

    public bool Equals(HistogramMatchStep? other) =>
        other is not null && base.Equals(other) && Same(From, other.From) && Same(To, other.To);

    public override int GetHashCode() => HashCode.Combine(base.GetHashCode(), From.Length);

    private static bool Same(ImmutableArray<ImmutableArray<float>> a, ImmutableArray<ImmutableArray<float>> b) =>
        a.Length == b.Length && a.Zip(b).All(p => p.First.SequenceEqual(p.Second));
}
