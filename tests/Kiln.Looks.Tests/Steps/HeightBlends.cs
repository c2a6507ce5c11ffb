using Kiln.Looks.Document;
using Kiln.Looks.Steps.Kinds.Numbers;

namespace Kiln.Looks.Tests.Steps;

/// <summary>
/// A mask that follows heights. Its form is our own, so what is checked are the properties it is to have, and its formula in double
/// precision on a picture.
/// </summary>
public class HeightBlends
{
    private static readonly float[] Shares = [0, 0.1f, 0.25f, 0.5f, 0.6f, 0.9f, 1];

    private static float Blend(float mask, float height, float below, float softness) =>
        Graphs.Of(mask, new HeightBlendStep(new(LookValue.Of(height)), new(LookValue.Of(below)), softness));

    /// <summary>Mask, two heights and softness by seed, the same in every run.</summary>
    private static IEnumerable<(float Mask, float Height, float Below, float Softness)> Cases()
    {
        var random = new Random(19);
        for (var i = 0; i < 500; i++)
            yield return (random.NextSingle(), random.NextSingle(), random.NextSingle(), 0.01f + random.NextSingle());
    }

    [Fact]
    public void NothingShowsAtZeroAndAllAtOneWhateverTheHeights()
    {
        foreach (var (_, height, below, softness) in Cases().Append((0, 1, 0, 0.01f)).Append((0, 0, 1, 0.01f)))
        {
            Assert.Equal(0, Blend(0, height, below, softness));
            Assert.Equal(1, Blend(1, height, below, softness), 1e-5);
        }
    }

    [Fact]
    public void BothSidesAreAlike()
    {
        // At the hardest edge the formula divides by 0.02, and so do the roundings of single precision.
        foreach (var (m, h, b, w) in Cases())
            Assert.Equal(1, Blend(m, h, b, w) + Blend(1 - m, b, h, w), 2e-4);
    }

    [Fact]
    public void MoreShowsWhereTheMaskIsGreaterTheLayerHigherOrWhatLiesBelowLower()
    {
        foreach (var w in new[] { 0.01f, 0.2f, 1 })
        foreach (var fixedAt in Shares)
        foreach (var other in Shares)
        foreach (var (less, more) in Shares.Zip(Shares.Skip(1)))
        {
            Assert.True(Blend(less, fixedAt, other, w) <= Blend(more, fixedAt, other, w));
            Assert.True(Blend(fixedAt, less, other, w) <= Blend(fixedAt, more, other, w));
            Assert.True(Blend(fixedAt, other, more, w) <= Blend(fixedAt, other, less, w));
        }
    }

    [Fact]
    public void AFlatLayerFillsTheHollowsFirst()
    {
        const float half = 0.5f;
        Assert.True(Blend(half, half, 0.2f, 0.1f) > 0.95);
        Assert.True(Blend(half, half, 0.8f, 0.1f) < 0.05);
        Assert.Equal(half, Blend(half, half, half, 0.1f), 1e-6);
    }

    [Fact]
    public async Task APictureOfHeightsGivesTheFormula()
    {
        var graphs = new Graphs();
        var height = graphs.Add("height", Graphs.Filled(16, 8, (x, y) => (x * 7 + y * 3) % 16 / 15f));
        var mask = graphs.Add("mask", Graphs.Filled(16, 8, (x, y) => (x + y * 5) % 16 / 15f));
        var look = graphs.LookWith(("height", height), ("mask", mask));
        const float below = 0.4f,
            w = 0.3f;
        var picture = await graphs.PictureAsync(
            look,
            new(
                Graphs.Scalar("mask"),
                [new HeightBlendStep(new(Chain: new(Graphs.Scalar("height"))), new(LookValue.Of(below)), w) { Id = "s1" }]
            ),
            16,
            8
        );
        var row = new float[16];
        for (var y = 0; y < 8; y++)
        {
            picture.ReadRow(y, row);
            for (var x = 0; x < 16; x++)
            {
                double h = (x * 7 + y * 3) % 16 / 15.0,
                    m = (x + y * 5) % 16 / 15.0;
                Assert.Equal(Math.Clamp((h - below - 1) / (2 * w) + m * (1 + w) / w, 0, 1), row[x], 2e-5);
            }
        }
    }

    [Theory]
    [InlineData(0)]
    [InlineData(-1)]
    [InlineData(11)]
    public void ASoftnessThatCannotBeIsRefused(float softness)
    {
        var step = new HeightBlendStep(new(LookValue.Of(0.5f)), new(LookValue.Of(0.5f)), softness) { Id = "s1" };
        var look = new Look { Name = "steps" };
        look = look with { Lanes = look.Lanes.Add("coat_weight", new(Chain: new(new ConstantOrigin(LookValue.Of(1f)), [step]))) };
        var refused = Assert.Throws<LookException>(() => LookValidation.Check(look));
        Assert.Contains("softness", refused.Message);
    }
}
