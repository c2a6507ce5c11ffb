using Kiln.Intake.Wiring;
using Kiln.Looks.Readings;
using Kiln.Pixels;

namespace Kiln.Intake.Tests;

/// <summary>Metres of a height map against surfaces whose formula gives both the height and the normal.</summary>
public class HeightScaleTests
{
    private const int Side = 256;

    private static float Height(float u, float v) =>
        0.5f + 0.2f * MathF.Sin(2 * MathF.PI * (3 * u + v)) + 0.15f * MathF.Cos(2 * MathF.PI * (2 * v - 5 * u));

    private static (float U, float V) Slopes(float u, float v)
    {
        float a = 2 * MathF.PI * (3 * u + v),
            b = 2 * MathF.PI * (2 * v - 5 * u);
        return (
            0.2f * 6 * MathF.PI * MathF.Cos(a) + 0.15f * 10 * MathF.PI * MathF.Sin(b),
            0.2f * 2 * MathF.PI * MathF.Cos(a) - 0.15f * 4 * MathF.PI * MathF.Sin(b)
        );
    }

    private static ImageBuffer Filled(int channels, Func<float, float, float[]> at)
    {
        var picture = new ImageBuffer(Side, Side, ImageBuffer.UsualChannels(channels), SampleType.U16);
        var row = new float[Side * channels];
        for (var y = 0; y < Side; y++)
        {
            for (var x = 0; x < Side; x++)
                at((x + 0.5f) / Side, 1 - (y + 0.5f) / Side).CopyTo(row, x * channels);
            picture.WriteRow(y, row);
        }
        return picture;
    }

    private static ImageBuffer Heights(bool inverted = false) => Filled(1, (u, v) => [inverted ? 1 - Height(u, v) : Height(u, v)]);

    private static ImageBuffer Normals(float metres, float repeatU, float repeatV, NormalY green) => Filled(3, (u, v) =>
        {
            var (du, dv) = Slopes(u, v);
            float p = -du * metres / repeatU,
                q = -dv * metres / repeatV,
                length = MathF.Sqrt(p * p + q * q + 1);
            return [0.5f + 0.5f * p / length, 0.5f + 0.5f * (green == NormalY.Down ? -q : q) / length, 0.5f + 0.5f / length];
        });

    [Theory]
    [InlineData(0.02f, 1, 1, NormalY.Up)]
    [InlineData(0.005f, 0.25f, 0.25f, NormalY.Down)]
    [InlineData(0.03f, 2, 0.5f, NormalY.Up)]
    public void ANormalMapGivesTheMetresItWasMadeWith(float metres, float repeatU, float repeatV, NormalY green)
    {
        var found = HeightScale.Of(Heights(), Normals(metres, repeatU, repeatV, green), green, repeatU, repeatV);
        // Central differences of the fifth harmonic over two of 256 pixels are short by 0.3 %.
        Assert.Equal(1, found.Metres / metres, 0.02);
        Assert.True(found.Agreement > 0.98f);
    }

    [Fact]
    public void AnInvertedHeightIsSaidToBe()
    {
        var found = HeightScale.Of(Heights(inverted: true), Normals(0.02f, 1, 1, NormalY.Up), NormalY.Up, 1, 1);
        Assert.Equal(1, found.Metres / 0.02f, 0.02);
        Assert.Contains("inverted", found.Sentence, StringComparison.Ordinal);
    }

    /// <summary>Of one wave, ∂h/∂u = π·cos 2πu: its 95th percentile is π·sin(0.95·π/2).</summary>
    [Fact]
    public void WithoutANormalMapTheSteepestTwentiethBeginsAtThirtyDegrees()
    {
        var wave = Filled(1, (u, _) => [0.5f + 0.5f * MathF.Sin(2 * MathF.PI * u)]);
        var expected = 0.4f * MathF.Tan(MathF.PI / 6) / (MathF.PI * MathF.Sin(0.95f * MathF.PI / 2));
        var found = HeightScale.Of(wave, null, NormalY.Up, 0.4f, 0.4f);
        Assert.Equal(1, found.Metres / expected, 0.01);
        Assert.Null(found.Agreement);
    }

    [Fact]
    public void AnotherSurfacesNormalMapIsNotBelieved()
    {
        var other = Filled(3, (u, v) =>
            [0.5f + 0.2f * MathF.Sin(2 * MathF.PI * 17 * v), 0.5f + 0.2f * MathF.Sin(2 * MathF.PI * 13 * u), 0.95f]
        );
        Assert.Null(HeightScale.Of(Heights(), other, NormalY.Up, 1, 1).Agreement);
        Assert.Equal(0, HeightScale.Of(Filled(1, (_, _) => [0.5f]), null, NormalY.Up, 1, 1).Metres);
    }
}
