using System.Numerics;

namespace Kiln.Scattering.Tests;

/// <summary>Metals by a complex index, and Oren and Nayar's matt model, against formulas written out another way.</summary>
public class FresnelTests
{
    /// <summary>
    /// Fresnel's equations in complex numbers (Born and Wolf, section 14.2), with the index of Gulbrandsen 2014, equations 1 and 2.
    /// </summary>
    private static double Complexly(double cos, double r, double edge)
    {
        var n = edge * (1 - r) / (1 + r) + (1 - edge) * (1 + Math.Sqrt(r)) / (1 - Math.Sqrt(r));
        var k = Math.Sqrt(Math.Max(0, (r * (n + 1) * (n + 1) - (n - 1) * (n - 1)) / (1 - r)));
        Complex index = new(n, k),
            inner = Complex.Sqrt(1 - (1 - cos * cos) / (index * index));
        var s = (cos - index * inner) / (cos + index * inner);
        var p = (index * cos - inner) / (index * cos + inner);
        return 0.5 * (s.Magnitude * s.Magnitude + p.Magnitude * p.Magnitude);
    }

    [Fact]
    public void AMetalReflectsAsItsComplexIndexSays()
    {
        foreach (var r in new[] { 0.05f, 0.3f, 0.6f, 0.9f, 0.98f })
        foreach (var edge in new[] { 0f, 0.4f, 0.8f, 1f })
        {
            foreach (var cos in new[] { 1f, 0.9f, 0.7f, 0.5f, 0.3f, 0.1f, 0.02f })
                Assert.Equal(Complexly(cos, r, edge), Fresnel.Conductor(cos, new(r), new(edge)).X, 2e-4);
            // What it is asked to reflect from the front it does.
            Assert.Equal(r, Fresnel.Conductor(1, new(r), new(edge)).Y, 1e-4);
            double mean = 0;
            const int steps = 2000;
            for (var i = 0; i < steps; i++)
                mean += 2 * (i + 0.5) / steps * Complexly((i + 0.5) / steps, r, edge) / steps;
            Assert.Equal(mean, Fresnel.ConductorAverage(new(r), new(edge)).X, 0.004);
        }
    }

    /// <summary>The original in angles (Oren and Nayar 1994, equation 30): A + B·max(0, cos φ)·sin α·tan β.</summary>
    [Fact]
    public void OrenAndNayarInAngles()
    {
        var random = new Random(3);
        for (var i = 0; i < 2000; i++)
        {
            Vector3 o = Surfaces.At(0.05f + 0.95f * random.NextSingle(), 360 * random.NextSingle()),
                w = Surfaces.At(0.05f + 0.95f * random.NextSingle(), 360 * random.NextSingle());
            double sigma = random.NextDouble(),
                s2 = sigma * sigma,
                a = 1 - 0.5 * s2 / (s2 + 0.33),
                b = 0.45 * s2 / (s2 + 0.09);
            double to = Math.Acos(o.Z),
                ti = Math.Acos(w.Z),
                phi = Math.Atan2(o.Y, o.X) - Math.Atan2(w.Y, w.X);
            var expected = 0.8 / Math.PI * (a + b * Math.Max(0, Math.Cos(phi)) * Math.Sin(Math.Max(to, ti)) * Math.Tan(Math.Min(to, ti)));
            Assert.Equal(expected, Diffuse.OrenNayar(new(0.8f), (float)sigma, o, w).X, 1e-4);
        }
    }

    /// <summary>
    /// Its own formula returns up to 1.5 % too much towards grazing angles where nothing reflects above it; the surface does not.
    /// </summary>
    [Fact]
    public void OrenAndNayarWinsNoLight()
    {
        foreach (var roughness in new[] { 0.1f, 0.18f, 0.25f, 0.4f, 1f })
        {
            Assert.True(Diffuse.OrenNayarMost(roughness) <= 1.016f);
            var p = Surfaces.White with { SpecularColour = Vector3.Zero, DiffuseRoughness = roughness };
            var (mean, _) = Surfaces.Albedo(Surfaces.Complex, p, Surfaces.At(0.02f));
            Assert.True(mean.X is > 0.8f and <= 1.005f, $"roughness {roughness}: {mean.X:0.0000}");
        }
    }
}
