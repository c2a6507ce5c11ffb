using System.Numerics;
using Kiln.Colour.Spaces;
using Kiln.Intake.Content;
using Kiln.Pixels;

namespace Kiln.Intake.Tests;

/// <summary>
/// Double conversion told from pixels: one-sided, and silent where it cannot know. The conversions themselves are checked against
/// OpenColorIO elsewhere.
/// </summary>
public class ConvertedEvidenceTests
{
    /// <summary>Colours over the whole of Rec.709, or pulled towards grey by a share.</summary>
    private static ImageBuffer Painted(ColourSpace space, float towardsGrey = 0, int seed = 1)
    {
        var random = new Random(seed);
        var convert = ColourTransform.Between(ColourSpace.LinRec709, space);
        var picture = new ImageBuffer(64, 64, ImageBuffer.Rgb, SampleType.F16);
        var row = new float[64 * 3];
        for (var y = 0; y < 64; y++)
        {
            for (var x = 0; x < 64; x++)
            {
                var c = new Vector3(random.NextSingle(), random.NextSingle(), random.NextSingle());
                // A sixth of the pixels as saturated as paint from a tube.
                if (random.Next(6) == 0)
                    c[random.Next(3)] *= 0.02f;
                c = Vector3.Lerp(c, new((c.X + c.Y + c.Z) / 3), towardsGrey);
                convert.Apply(c).CopyTo(row.AsSpan(3 * x));
            }
            picture.WriteRow(y, row);
        }
        return picture;
    }

    [Theory]
    [InlineData("acescg", "acescg")]
    [InlineData("lin_ap0", "lin_ap0")]
    [InlineData("lin_rec709", null)]
    [InlineData("lin_rec2020", null)]
    public void SaturatedColoursTellTheSpaceTheyWereConvertedTo(string space, string? told)
    {
        for (var seed = 1; seed <= 20; seed++)
            Assert.Equal(told, ConvertedEvidence.Of(Painted(ColourSpace.Find(space), seed: seed))?.Text);
    }

    [Theory]
    [InlineData("acescg")]
    [InlineData("lin_ap0")]
    [InlineData("lin_rec709")]
    public void DullColoursTellNothing(string space) => Assert.Null(ConvertedEvidence.Of(Painted(ColourSpace.Find(space), 0.6f)));

    [Fact]
    public void IntegersAndGreyPicturesTellNothing()
    {
        Assert.Null(ConvertedEvidence.Of(Painted(ColourSpace.AcesCg).As(SampleType.U8)));
        Assert.Null(ConvertedEvidence.Of(Painted(ColourSpace.AcesCg, 1)));
    }
}
