using CsCheck;
using Kiln.Analysis.Consistency;
using Kiln.Colour.Spaces;

namespace Kiln.Analysis.Tests;

/// <summary>Robust spreads and outliers against published definitions and an example that can be followed by hand.</summary>
public sealed class OutlierTests
{
    /// <summary>
    /// The example of a median absolute deviation that textbooks use (1, 1, 2, 2, 4, 6, 9: median 2, deviations 0 0 1 1 2 4 7, MAD 1; from
    /// memory).
    /// </summary>
    [Fact]
    public void TheTextbookExample()
    {
        var spread = RobustSpread.Of([1, 1, 2, 2, 4, 6, 9]);
        Assert.Equal((2, 1), (spread.Median, spread.Deviation));
        // 0.6745 (x − 2): 6 gives 2.698, 9 gives 4.7215, by Iglewicz and Hoaglin's formula.
        Assert.Equal(2.698, spread.Score(6), 1e-9);
        Assert.Equal(4.7215, spread.Score(9), 1e-9);
        Assert.False(spread.IsOutlier(6));
        Assert.True(spread.IsOutlier(9));
    }

    [Fact]
    public void WhenMostNumbersAreTheSameTheMeanDeviationStandsIn()
    {
        var spread = RobustSpread.Of([1024, 1024, 1024, 1024, 1024, 1024, 1024, 1024, 4096]);
        Assert.Equal(0, spread.Deviation);
        Assert.True(spread.IsOutlier(4096));
        Assert.False(spread.IsOutlier(1024));
        Assert.Equal(0, RobustSpread.Of([3, 3, 3]).Score(3));
    }

    /// <summary>Moving and scaling all numbers changes no score, and the order they come in does not matter.</summary>
    [Fact]
    public void ScoresDoNotDependOnUnitsOrOrder() =>
        Gen.Select(Gen.Int[-1000, 1000].Select(i => i / 10.0).Array[5, 40], Gen.Double[0.1, 50], Gen.Double[-1000, 1000])
            .Sample(
                (values, scale, shift) =>
                {
                    var (plain, moved) = (RobustSpread.Of(values), RobustSpread.Of(values.Reverse().Select(v => v * scale + shift)));
                    foreach (var v in values)
                        Assert.Equal(plain.Score(v), moved.Score(v * scale + shift), 1e-4 * (1 + Math.Abs(plain.Score(v))));
                }
            );

    /// <summary>A pattern that would take for ever by trying ways back and forth is answered at once.</summary>
    [Fact]
    public void APatternThatBacktracksForEverDoesNot()
    {
        var pattern = CollectionRules.Compiled("(a+)+b");
        Assert.DoesNotMatch(pattern, new string('a', 20_000));
        Assert.Matches(pattern, "aaab");
    }

    [Fact]
    public void LabGoesThereAndBack() =>
        Gen.Select(Gen.Double[0, 100], Gen.Double[-60, 60], Gen.Double[-60, 60])
            .Sample(
                (l, a, b) =>
                {
                    var (l2, a2, b2) = CieLab.Of(CieLab.ToXyz(l, a, b));
                    Assert.Equal(l, l2, 1e-3);
                    Assert.Equal(a, a2, 2e-3);
                    Assert.Equal(b, b2, 2e-3);
                }
            );
}
