using System.Numerics;
using Kiln.Colour.Spaces;
using Kiln.Colour.Views;
using Kiln.Pixels;

namespace Kiln.Colour.Tests;

public class ViewAids
{
    private static ImageBuffer One(Vector3 colour)
    {
        var picture = new ImageBuffer(16, 16, ImageBuffer.Rgb, SampleType.F32);
        for (var y = 0; y < 16; y++)
            picture.WriteRow(y, [.. Enumerable.Repeat(new[] { colour.X, colour.Y, colour.Z }, 16).SelectMany(c => c)]);
        return picture;
    }

    [Theory]
    [InlineData(1.2f, 1.2f, 1.2f, ClippingMarks.Beyond.Above)]
    [InlineData(0.5f, -0.1f, 0.5f, ClippingMarks.Beyond.Below)]
    [InlineData(1.2f, -0.1f, 0.5f, ClippingMarks.Beyond.Above | ClippingMarks.Beyond.Below)]
    [InlineData(1f, 0f, 0.5f, ClippingMarks.Beyond.Nothing)]
    public void WhatTheDisplayCannotShowIsMarkedWithoutColour(float r, float g, float b, ClippingMarks.Beyond beyond)
    {
        var view = View.Named("plain", ColourSpace.LinRec709);
        Assert.Equal(beyond, view.Shown(new(r, g, b)).Beyond);
        var (plain, marked) = (view.Apply(One(new(r, g, b))), view.Apply(One(new(r, g, b)), clipping: true));
        var pixels = marked.Samples<byte>().ToArray().Chunk(3).ToList();
        Assert.Equal(beyond == ClippingMarks.Beyond.Nothing, plain.Data.SequenceEqual(marked.Data));
        if (beyond == ClippingMarks.Beyond.Nothing)
            return;
        Assert.All(pixels, p => Assert.True(p[0] == p[1] && p[1] == p[2] && p[0] is 0 or 255));
        Assert.InRange(pixels.Count(p => p[0] == 0), 64, 224);
    }

    /// <summary>The two directions of stripes differ, so that the mark says which end is clipped.</summary>
    [Fact]
    public void AboveAndBelowAreToldApart()
    {
        var view = View.Named("plain", ColourSpace.LinRec709);
        Assert.NotEqual(view.Apply(One(new(2, 2, 2)), clipping: true).Data, view.Apply(One(new(0.5f, -1, 0.5f)), clipping: true).Data);
    }

    [Fact]
    public void ALightReadoutTellsLightStopsAndDisplay()
    {
        var light = One(new(0.36f, 0.36f, 0.36f));
        var r = LightReadout.Of(light, WorkingSpace.AcesCg, View.Named("plain", ColourSpace.AcesCg), 0, 3, 3, 5);
        Assert.Equal(25, r.Pixels);
        Assert.Equal(0.36f, r.Luminance, 1e-5f);
        Assert.Equal(1f, r.Stops!.Value, 1e-4f);
        // IEC 61966-2-1: 1.055 · 0.36^(1/2.4) − 0.055.
        Assert.Equal(1.055f * MathF.Pow(0.36f, 1 / 2.4f) - 0.055f, r.Displayed[0], 1e-4f);
        Assert.Equal("Nothing", r.Beyond);
    }

    /// <summary>The Y rows of the published matrices: Academy S-2014-004 (AP1) and ITU-R BT.709-6 (0.2126, 0.7152, 0.0722).</summary>
    [Fact]
    public void AWorkingSpaceWeighsLuminanceAsItsStandardSays()
    {
        Assert.Equal(0.2722287f, WorkingSpace.AcesCg.LuminanceWeights.X, 1e-6f);
        Assert.Equal(0.6740818f, WorkingSpace.AcesCg.LuminanceWeights.Y, 1e-6f);
        Assert.Equal(0.0536895f, WorkingSpace.AcesCg.LuminanceWeights.Z, 1e-6f);
        Assert.Equal(0.2126f, WorkingSpace.LinRec709.LuminanceWeights.X, 1e-4f);
        Assert.Equal(0.7152f, WorkingSpace.LinRec709.LuminanceWeights.Y, 1e-4f);
        Assert.Equal(0.0722f, WorkingSpace.LinRec709.LuminanceWeights.Z, 1e-4f);
    }

    [Fact]
    public void AViewsSampleShowsWhatTheViewDoes()
    {
        var (plain, aces) = (
            ViewSample.Rendered(View.Named("plain", ColourSpace.AcesCg), 120, 42),
            ViewSample.Rendered(View.Named("aces1-sdr", ColourSpace.AcesCg), 120, 42)
        );
        Assert.NotEqual(plain.Data, aces.Data);
        // Grey rises from left to right in both, and the plain view clips at 1 / 0.18, two and a half stops above the middle.
        Assert.True(plain[60 + 25, 3, 0] >= 0.999f && plain[60 + 20, 3, 0] < 0.95f);
        Assert.True(aces[60 + 25, 3, 0] < 0.95f);
    }
}
