using System.Collections.Immutable;
using System.Numerics;
using Kiln.Looks.Document;
using Kiln.Looks.Steps.Kinds.Numbers;
using Kiln.Pixels;

namespace Kiln.Looks.Tests.Steps;

/// <summary>Distributions that are known by their formulas, and pictures measured before and after.</summary>
public class HistogramMatches
{
    private const int Count = 17;

    private static ImmutableArray<float> Quantile(Func<double, double> inverse, int count = Count) =>
        [.. Enumerable.Range(0, count).Select(i => (float)inverse(i / (count - 1.0)))];

    private static HistogramMatchStep Match(ImmutableArray<float> from, ImmutableArray<float> to) => new([from], [to]) { Id = "s1" };

    private static readonly Dictionary<string, Func<double, double>> Inverses = new()
    {
        ["square"] = p => p * p,
        // Cut at 1 and 99 %.
        ["logistic"] = p => Math.Log((0.01 + 0.98 * p) / (0.99 - 0.98 * p)),
        ["triangular"] = p => p < 0.5 ? Math.Sqrt(p / 2) : 1 - Math.Sqrt((1 - p) / 2),
    };

    /// <summary>
    /// Of evenly spread numbers the match is the other's quantile function itself: p² of a square, ln(p / (1 − p)) of the logistic
    /// distribution, √(p / 2) below one half of the triangular one. What is measured is Kolmogorov's distance, the greatest difference of
    /// shares. It can never be more than the share between two measured quantiles, since both functions rise and meet there; and with four
    /// times as many it is less than half.
    /// </summary>
    [Theory]
    [InlineData("square")]
    [InlineData("logistic")]
    [InlineData("triangular")]
    public void EvenlySpreadNumbersTakeTheQuantilesOfAKnownDistribution(string distribution)
    {
        const int samples = 8000;
        var inverse = Inverses[distribution];
        double Distance(int count)
        {
            var step = Match(Quantile(p => p, count), Quantile(inverse, count));
            var matched = Enumerable.Range(0, samples + 1).Select(i => (double)Graphs.Of(i / (float)samples, step)).ToArray();
            Assert.All(matched.Zip(matched.Skip(1)), p => Assert.True(p.First <= p.Second));
            return Enumerable.Range(1, 99).Max(i => Math.Abs(matched.Count(m => m <= inverse(i / 100.0)) / (samples + 1.0) - i / 100.0));
        }
        double coarse = Distance(9),
            fine = Distance(33);
        Assert.InRange(coarse, 0, 1 / 8.0);
        Assert.InRange(fine, 0, Math.Max(coarse / 2, 2.0 / samples));
    }

    [Fact]
    public async Task APictureHasTheQuantilesOfTheOtherAfterwards()
    {
        var graphs = new Graphs();
        var random = new Random(5);
        var dark = Graphs.Filled(128, 128, (_, _) => (float)Math.Pow(random.NextDouble(), 3) * 0.6f);
        var bright = Graphs.Filled(128, 128, (_, _) => 0.3f + 0.5f * (float)(random.NextDouble() + random.NextDouble()) / 2);
        var look = graphs.LookWith(("height", graphs.Add("dark", dark)));
        float[] from = Quantiles.Of(dark, Count)[0],
            to = Quantiles.Of(bright, Count)[0];
        var picture = await graphs.PictureAsync(look, new(Graphs.Scalar("height"), [Match([.. from], [.. to])]), 128, 128);
        var after = Quantiles.Of(picture, Count)[0];
        Assert.All(after.Zip(to), p => Assert.Equal(p.Second, p.First, 2e-3));
        // It was another distribution before.
        Assert.True(from.Zip(to).Max(p => Math.Abs(p.First - p.Second)) > 0.1);
    }

    [Fact]
    public void WhatIsAlikeAlreadyStaysAsItIs()
    {
        var own = Quantile(p => 0.1 + 0.5 * p * p);
        foreach (var x in new[] { 0.1f, 0.12f, 0.3f, 0.55f, 0.6f })
            Assert.Equal(x, Graphs.Of(x, Match(own, own)), 1e-4);
    }

    [Fact]
    public void OneValueGoesToTheMiddleAndManyQuantilesOfOneValueToTheirMean()
    {
        Assert.Equal(0.5, Graphs.Of(0.3f, Match([0.3f, 0.3f, 0.3f], [0.4f, 0.5f, 0.6f])), 1e-6);
        Assert.Equal(0.2, Graphs.Of(0, Match([0, 0, 1], [0.1f, 0.3f, 1])), 1e-6);
    }

    [Fact]
    public void ThreeComponentsEachHaveTheirOwn()
    {
        ImmutableArray<float> even = [0, 1];
        var step = new HistogramMatchStep(
            [even, even, even],
            [
                [0, 0.5f],
                [0.5f, 1],
                [1, 2],
            ]
        )
        {
            Id = "s1",
        };
        var matched = Graphs.Of(new Vector3(0.5f, 0.5f, 0.5f), step);
        Assert.Equal(0.25, matched.X, 1e-6);
        Assert.Equal(0.75, matched.Y, 1e-6);
        Assert.Equal(1.5, matched.Z, 1e-6);
        Assert.Throws<LookException>(() => Graphs.Of(0.5f, step));
    }

    public static TheoryData<HistogramMatchStep> Impossible =>
        [
            new(
                [
                    [0, 1],
                ],
                [
                    [0, 1],
                    [0, 1],
                    [0, 1],
                ]
            ),
            new(
                [
                    [0, 1],
                ],
                [
                    [0, 0.5f, 1],
                ]
            ),
            new(
                [
                    [1, 0],
                ],
                [
                    [0, 1],
                ]
            ),
            new(
                [
                    [0],
                ],
                [
                    [1],
                ]
            ),
            new([], []),
            new(
                default,
                [
                    [0, 1],
                ]
            ),
            new(
                [default],
                [
                    [0, 1],
                ]
            ),
        ];

    [Theory]
    [MemberData(nameof(Impossible))]
    public void WhatAreNoQuantilesIsRefused(HistogramMatchStep step)
    {
        var look = new Look { Name = "steps" };
        look = look with
        {
            Lanes = look.Lanes.Add("coat_weight", new(Chain: new(new ConstantOrigin(LookValue.Of(1f)), [step with { Id = "s1" }]))),
        };
        Assert.Contains("rising quantiles", Assert.Throws<LookException>(() => LookValidation.Check(look)).Message);
    }
}
