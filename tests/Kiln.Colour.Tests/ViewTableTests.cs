using System.Numerics;
using Kiln.Colour.Spaces;
using Kiln.Colour.Views;

namespace Kiln.Colour.Tests;

/// <summary>Views as tables, against the views themselves.</summary>
public class ViewTableTests
{
    /// <summary>
    /// Colours of every brightness that pictures have, in codes of 255: of muted ones the worst, of all the 99th of a hundred. Where a
    /// colour leaves the display's primaries a view has an edge, which no table follows.
    /// </summary>
    [Theory]
    [InlineData("aces1-sdr", 0.2f, 1, 4, 0.6)]
    [InlineData("aces1-sdr", 0.5f, 0.99, 8, 0.6)]
    [InlineData("plain", 0.2f, 1, 12, 0.8)]
    [InlineData("plain", 0.5f, 0.98, 16, 1.3)]
    public void ATableShowsWhatTheViewShows(string name, float saturation, double share, double codes, double mean)
    {
        var view = View.Named(name, ColourSpace.AcesCg);
        var table = ViewTable.Of(view);
        var random = new Random(5);
        var away = new List<double>();
        for (var i = 0; i < 4000; i++)
        {
            float Part() => 1 + saturation * (2 * random.NextSingle() - 1);
            var light = MathF.Pow(2, -10 + 14 * random.NextSingle()) * new Vector3(Part(), Part(), Part());
            var off = Vector3.Abs(ViewTable.Shown(table, light) - view.Apply(light)) * 255;
            away.Add(Math.Max(off.X, Math.Max(off.Y, off.Z)));
        }
        away.Sort();
        Assert.True(away.Average() < mean, $"{name}: {away.Average():0.00} codes on the mean");
        Assert.True(
            away[(int)(share * away.Count) - 1] < codes,
            $"{name}: {away[(int)(share * away.Count) - 1]:0.0} codes at {share:0.00}"
        );
    }

    [Fact]
    public void BlackStaysBlack() =>
        Assert.Equal(Vector3.Zero, ViewTable.Shown(ViewTable.Of(View.Named("plain", ColourSpace.AcesCg)), Vector3.Zero));
}
