using System.Numerics;

namespace Kiln.Scattering.Tests;

/// <summary>
/// Films against an integral over wavelengths: Airy's sum in complex numbers at every nanometre (Born and Wolf, section 7.6), weighed by
/// the
/// colour matching functions of CIE 1931, 2° (the table of Debian's colord-data).
/// </summary>
public class ThinFilmTests
{
    private static readonly Vector3[] Matching = PublishedObserver.Xyz;

    private static double Airy(double cos, double film, double baseLayer, double nanometres, double wavelength)
    {
        double Cosine(double n) => Math.Sqrt(1 - (1 - cos * cos) / (n * n));
        double c2 = Cosine(film),
            c3 = Cosine(baseLayer),
            sum = 0;
        var turn = Complex.Exp(Complex.ImaginaryOne * 4 * Math.PI * film * nanometres * c2 / wavelength);
        foreach (var parallel in new[] { false, true })
        {
            double R(double n1, double n2, double a, double b) =>
                parallel ? (n2 * a - n1 * b) / (n2 * a + n1 * b) : (n1 * a - n2 * b) / (n1 * a + n2 * b);
            double r12 = R(1, film, cos, c2),
                r23 = R(film, baseLayer, c2, c3);
            var r = (r12 + r23 * turn) / (1 + r12 * r23 * turn);
            sum += r.Magnitude * r.Magnitude / 2;
        }
        return sum;
    }

    [Theory]
    [InlineData(1.4f, 1.6f)]
    [InlineData(1.33f, 1.5f)]
    [InlineData(1.9f, 1.5f)]
    public void OverDielectrics(float film, float baseLayer)
    {
        double worst = 0;
        foreach (var nanometres in new[] { 60f, 150f, 280f, 400f, 650f, 1000f })
        foreach (var cos in new[] { 1f, 0.8f, 0.5f, 0.25f })
        {
            double x = 0,
                y = 0,
                z = 0,
                wx = 0,
                wy = 0,
                wz = 0;
            for (var nm = 360; nm < 830; nm++)
            {
                var r = Airy(cos, film, baseLayer, nanometres, nm);
                // Between the table's rows by a straight line.
                var m = Vector3.Lerp(Matching[(nm - 360) / 5], Matching[(nm - 360) / 5 + 1], (nm - 360) % 5 / 5f);
                (x, y, z, wx, wy, wz) = (x + r * m.X, y + r * m.Y, z + r * m.Z, wx + m.X, wy + m.Y, wz + m.Z);
            }
            var ours = new ThinFilm(nanometres, film).OverDielectric(cos, baseLayer, Matrix4x4.Identity);
            worst = Math.Max(worst, Math.Max(Math.Abs(ours.X - x / wx), Math.Max(Math.Abs(ours.Y - y / wy), Math.Abs(ours.Z - z / wz))));
        }
        // The Gaussians of Belcour and Barla are fits themselves; reflectances here reach from 0.01 to 0.5.
        Assert.True(worst < 0.02, $"worst difference {worst:0.0000}");
    }

    [Fact]
    public void AFilmOfNothingChangesNothing()
    {
        foreach (var cos in new[] { 0.1f, 0.5f, 1f })
            Assert.Equal(Fresnel.Dielectric(cos, 1.5f), new ThinFilm(0.01f, 1.4f).OverDielectric(cos, 1.5f, Matrix4x4.Identity).Y, 0.002f);
    }
}
