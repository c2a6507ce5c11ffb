using System.Numerics;
using Kiln.Colour.Spaces;
using Kiln.Colour.Views;

namespace Kiln.Colour.Tests;

/// <summary>
/// aces1-sdr against OpenColorIO 2.1's built-in ACES 1.0 SDR video output and sRGB display, on a dense grid with negative and saturated
/// values.
/// </summary>
public class AcesViewAgainstOpenColorIO
{
    private const string Output =
        "o.GroupTransform([o.BuiltinTransform('ACEScg_to_ACES2065-1'), o.BuiltinTransform('ACES-OUTPUT - "
        + "ACES2065-1_to_CIE-XYZ-D65 - SDR-VIDEO_1.0'), o.BuiltinTransform('DISPLAY - CIE-XYZ-D65_to_sRGB')])";

    [Fact]
    public void StaysWithinTwoCodeValuesAndAQuarterOnAverage()
    {
        float[] levels = [-0.05f, 0f, 0.002f, 0.01f, 0.04f, 0.1f, 0.18f, 0.35f, 0.7f, 1f, 2f, 4f, 10f, 40f];
        Vector3[] colours = [.. from r in levels from g in levels from b in levels select new Vector3(r, g, b)];
        var theirs = OutsideColour.Convert(Output, colours);
        var view = View.Named("aces1-sdr", ColourSpace.AcesCg);
        double sum = 0;
        var worst = 0f;
        var at = Vector3.Zero;
        // Whole pictures are worked out with vectors and a table, single colours without: both have to hold.
        var pixels = colours.SelectMany(c => new[] { c.X, c.Y, c.Z }).ToArray();
        view.Apply(pixels.AsSpan());
        for (var i = 0; i < colours.Length; i++)
        {
            var inBulk = new Vector3(pixels[3 * i], pixels[3 * i + 1], pixels[3 * i + 2]);
            Assert.True(
                (inBulk - view.Apply(colours[i])).Length() < 0.3f / 255,
                $"{colours[i]}: {inBulk} in bulk, {view.Apply(colours[i])} alone"
            );
            var error = Vector3.Abs(inBulk - Vector3.Clamp(theirs[i], Vector3.Zero, Vector3.One)) * 255f;
            sum += (error.X + error.Y + error.Z) / 3;
            var most = MathF.Max(error.X, MathF.Max(error.Y, error.Z));
            if (most > worst)
                (worst, at) = (most, colours[i]);
        }
        Assert.True(worst <= 2f, $"worst {worst:0.000} of 255 at {at}");
        Assert.True(sum / colours.Length <= 0.25, $"mean {sum / colours.Length:0.0000} of 255");
    }

    /// <summary>The gamut compression of ACES 1.3 before the view, against theirs; most of the grid is inside and passes.</summary>
    [Fact]
    public void GamutCompressionAgrees()
    {
        float[] levels = [-0.1f, 0f, 0.02f, 0.18f, 0.6f, 2f];
        Vector3[] colours = [.. from r in levels from g in levels from b in levels select new Vector3(r, g, b)];
        var theirs = OutsideColour.Convert(
            "o.GroupTransform([o.BuiltinTransform('ACEScg_to_ACES2065-1'), o.BuiltinTransform('ACES-LMT - ACES 1.3 Reference "
                + "Gamut Compression'), o.BuiltinTransform('ACES-OUTPUT - ACES2065-1_to_CIE-XYZ-D65 - SDR-VIDEO_1.0'), "
                + "o.BuiltinTransform('DISPLAY - CIE-XYZ-D65_to_sRGB')])",
            colours
        );
        var view = View.Named("aces1-sdr-compressed", ColourSpace.AcesCg);
        for (var i = 0; i < colours.Length; i++)
        {
            var error = Vector3.Abs(view.Apply(colours[i]) - Vector3.Clamp(theirs[i], Vector3.Zero, Vector3.One)) * 255f;
            Assert.True(MathF.Max(error.X, MathF.Max(error.Y, error.Z)) <= 2f, $"{colours[i]}: {error}");
        }
    }

    /// <summary>
    /// Middle grey is grey, a stop more is lighter and warmer, a stop less darker and cooler; beyond six stops white and black.
    /// </summary>
    [Fact]
    public void StopsAreOrderedByLight()
    {
        var view = View.Named("stops", ColourSpace.AcesCg);
        var shown = Enumerable.Range(-7, 15).Select(s => view.Apply(new Vector3(0.18f * MathF.Pow(2, s)))).ToList();
        Assert.Equal(Vector3.Zero, shown[0]);
        Assert.Equal(Vector3.One, shown[^1]);
        var grey = shown[7];
        Assert.True(MathF.Abs(grey.X - grey.Y) < 0.005f && MathF.Abs(grey.Y - grey.Z) < 0.005f);
        float Light(Vector3 c) => Vector3.Dot(c, new(0.2126f, 0.7152f, 0.0722f));
        Assert.All(shown.Zip(shown.Skip(1)), p => Assert.True(Light(p.Second) > Light(p.First)));
        Assert.True(shown[9].X > shown[9].Z && shown[5].X < shown[5].Z);
    }

    [Fact]
    public void PlainIsTheSrgbEncodingOnly()
    {
        // IEC 61966-2-1: linear 0.18 is stored as 0.4613561.
        var v = View.Named("plain", ColourSpace.LinRec709).Apply(new Vector3(0.18f));
        Assert.Equal(0.4613561f, v.X, 5);
    }
}
