using Kiln.Colour.Spaces;
using Kiln.Colour.Views;
using Kiln.Looks.Evaluation;
using Kiln.Looks.Readings;
using Kiln.Pixels;

namespace Kiln.Looks.Tests;

public class PixelReadoutTests
{
    private static readonly View Plain = View.Named("plain", ColourSpace.AcesCg);

    private static ImageBuffer Picture(params float[] rgb)
    {
        var picture = new ImageBuffer(2, 1, ImageBuffer.Rgb, SampleType.U8);
        for (var i = 0; i < 6; i++)
            picture[i / 3, 0, i % 3] = rgb[i];
        return picture;
    }

    [Fact]
    public void AColourGoesFromCodeToDisplayAndBackToItsCode()
    {
        var r = PixelReadout.Of(
            Picture(128 / 255f, 64 / 255f, 200 / 255f, 0, 0, 0),
            new(ReadingKind.Colour, "srgb_texture", MapChannel.Rgb),
            0,
            0,
            1,
            Plain,
            WorkingSpace.AcesCg
        );
        Assert.Equal([128, 64, 200], r.Codes!);
        // IEC 61966-2-1: code 128 decodes to 0.2158605.
        Assert.Equal(0.2158605f, r.Decoded[0], 5);
        var expected = ColourTransform
            .Between(ColourSpace.LinRec709, ColourSpace.AcesCg)
            .Apply(new System.Numerics.Vector3(r.Decoded[0], r.Decoded[1], r.Decoded[2]));
        Assert.Equal(expected.Y, r.Working![1], 6);
        // Under the plain view an sRGB file shows its own codes.
        Assert.Equal("#8040c8", r.Hex);
    }

    [Fact]
    public void APatchAveragesLightNotCodes()
    {
        var r = PixelReadout.Of(
            Picture(1, 1, 1, 0, 0, 0),
            new(ReadingKind.Colour, "srgb_texture", MapChannel.Rgb),
            0,
            0,
            3,
            Plain,
            WorkingSpace.AcesCg
        );
        Assert.Equal(2, r.Pixels);
        Assert.Equal(0.5f, r.Stored[0], 5);
        Assert.Equal(0.5f, r.Decoded[0], 5);
        // Half the light is code 188 of 255.
        Assert.Equal("#bcbcbc", r.Hex);
    }

    [Fact]
    public void AMeasurementStaysAsItIsAndADirectionIsAUnitVector()
    {
        var rough = PixelReadout.Of(
            Picture(0.5f, 0.5f, 0.5f, 0, 0, 0),
            new(ReadingKind.Scalar, "raw", MapChannel.Luminance),
            0,
            0,
            1,
            Plain,
            WorkingSpace.AcesCg
        );
        Assert.Equal(128 / 255f, rough.Decoded.Single(), 5);
        Assert.Null(rough.Working);
        var normal = PixelReadout.Of(
            Picture(0.5f, 0.75f, 0.93f, 0, 0, 0),
            new(ReadingKind.Direction, "raw", MapChannel.Rgb, NormalY.Down),
            0,
            0,
            1,
            Plain,
            WorkingSpace.AcesCg
        );
        Assert.True(normal.Decoded[1] < -0.4f);
        Assert.Equal(1, normal.Decoded.Sum(v => v * v), 4);
    }
}
