using System.Numerics;

namespace Kiln.Scattering.Tests;

/// <summary>
/// Indices against a glass maker's published lines, the eye against the CIE's table (Debian's colord-data), chosen wavelengths against
/// white.
/// </summary>
public class DispersionTests
{
    /// <summary>
    /// N-BK7: n_d 1.51680, V_d 64.17, n_F 1.52238, n_C 1.51432, n_g 1.52668 (435.8 nm), n_r 1.51289 (706.5 nm); the maker's data sheet,
    /// from memory. Two terms miss the ends of the spectrum by a few units of the fourth place.
    /// </summary>
    [Theory]
    [InlineData(486.13f, 1.52238f, 1e-4f)]
    [InlineData(656.27f, 1.51432f, 1e-4f)]
    [InlineData(587.56f, 1.51680f, 1e-6f)]
    [InlineData(435.83f, 1.52668f, 4e-4f)]
    [InlineData(706.52f, 1.51289f, 5e-4f)]
    public void IndicesOfAPublishedGlass(float nanometres, float published, float within) =>
        Assert.Equal(published, Dispersion.IndexAt(1.5168f, 1 / 64.17f, nanometres), within);

    [Theory]
    [InlineData(1.5f, 20f)]
    [InlineData(2.4f, 55f)]
    [InlineData(1.7f, 9f)]
    public void TheAbbeNumberIsThatOfItsDefinition(float index, float abbe)
    {
        float At(float nanometres) => Dispersion.IndexAt(index, 1 / abbe, nanometres);
        Assert.Equal(abbe, (At(587.56f) - 1) / (At(486.13f) - At(656.27f)), abbe * 1e-3f);
        Assert.Equal(index, Dispersion.IndexAt(index, 0, 420));
    }

    /// <summary>
    /// The mean error is of the size that the paper states for its fit; a single wavelength may be off by four hundredths of the highest
    /// value.
    /// </summary>
    [Fact]
    public void TheEyeIsThatOfTheStandardObserver()
    {
        var errors = new List<float>();
        for (var i = 0; i < PublishedObserver.Xyz.Length; i++)
        {
            var nanometres = PublishedObserver.First + PublishedObserver.Step * i;
            if (nanometres is < Dispersion.Shortest or > Dispersion.Longest)
                continue;
            var off = Vector3.Abs(Dispersion.Observer(nanometres) - PublishedObserver.Xyz[i]);
            errors.AddRange([off.X, off.Y, off.Z]);
        }
        Assert.True(errors.Average() < 0.01f, $"mean {errors.Average()}");
        Assert.True(errors.Max() < 0.08f, $"most {errors.Max()}");
    }

    [Fact]
    public void AllWavelengthsTogetherAreWhite()
    {
        // XYZ of equal-energy light to linear Rec.709 for that white (IEC 61966-2-1 primaries, rows made to sum to 1), transposed.
        var rows = new[]
        {
            new Vector3(3.2406f, -1.5372f, -0.4986f),
            new Vector3(-0.9689f, 1.8758f, 0.0415f),
            new Vector3(0.0557f, -0.2040f, 1.0570f),
        }
            .Select(r => r / (r.X + r.Y + r.Z))
            .ToArray();
        var matrix = new Matrix4x4(
            rows[0].X,
            rows[1].X,
            rows[2].X,
            0,
            rows[0].Y,
            rows[1].Y,
            rows[2].Y,
            0,
            rows[0].Z,
            rows[1].Z,
            rows[2].Z,
            0,
            0,
            0,
            0,
            1
        );
        const int count = 20000;
        var sum = Vector3.Zero;
        var before = 0f;
        for (var i = 0; i < count; i++)
        {
            var nanometres = Dispersion.Wavelength((i + 0.5f) / count);
            Assert.InRange(nanometres, Dispersion.Shortest, Dispersion.Longest);
            Assert.True(nanometres >= before);
            before = nanometres;
            sum += Dispersion.Weight(nanometres, matrix) / count;
        }
        Assert.Equal(1, sum.X, 0.003f);
        Assert.Equal(1, sum.Y, 0.003f);
        Assert.Equal(1, sum.Z, 0.003f);
        // Red light is red, blue light blue.
        Assert.True(Dispersion.Weight(640, matrix) is { X: > 1, Y: < 0.5f, Z: < 0.5f });
        Assert.True(Dispersion.Weight(450, matrix) is { Z: > 1, Y: < 0.5f });
    }
}
