using System.Numerics;
using Kiln.Scattering.Interfaces;

namespace Kiln.Scattering.Tests;

/// <summary>What distributions of facets have to fulfil (Heitz 2014, equations 5, 11 and 20; Walter et al. 2007).</summary>
public class FacetTests
{
    public static TheoryData<Distribution, float, float> Kinds =>
        new()
        {
            { Distribution.Ggx, 0.3f, 0 },
            { Distribution.Ggx, 0.6f, 0.7f },
            { Distribution.Ggx, 1f, 0 },
            { Distribution.Beckmann, 0.3f, 0 },
            { Distribution.Beckmann, 0.6f, 0.5f },
        };

    private static double OverHemisphere(Func<Vector3, double> value)
    {
        const int n = 1200;
        double sum = 0;
        for (var i = 0; i < n; i++)
        for (var j = 0; j < n; j++)
        {
            // Closer towards the pole, where lobes are narrow: z = 1 − s².
            var s = (i + 0.5) / n;
            var z = 1 - s * s;
            var (sin, cos) = Math.SinCos(2 * Math.PI * (j + 0.5) / n);
            var r = Math.Sqrt(1 - z * z);
            sum += value(new((float)(r * cos), (float)(r * sin), (float)z)) * 2 * s;
        }
        return sum * 2 * Math.PI / n / n;
    }

    [Theory]
    [MemberData(nameof(Kinds))]
    public void ProjectedAreaIsOne(Distribution distribution, float width, float anisotropy)
    {
        var facets = new Facets(width, anisotropy, distribution);
        Assert.Equal(1, OverHemisphere(h => facets.D(h) * h.Z), 0.002);
    }

    [Theory]
    [MemberData(nameof(Kinds))]
    public void VisibleFacetsCoverWhatIsSeen(Distribution distribution, float width, float anisotropy)
    {
        var facets = new Facets(width, anisotropy, distribution);
        foreach (var cos in new[] { 0.2f, 0.6f, 0.95f })
        {
            var wo = Surfaces.At(cos, 35);
            // ∫ D·G1·max(0, wo·h) dh = cos. Beckmann's masking is Walter's fit, good to a few thousandths.
            Assert.Equal(
                cos,
                OverHemisphere(h => facets.D(h) * facets.G1(wo) * Math.Max(0, Vector3.Dot(wo, h))),
                distribution == Distribution.Ggx ? 0.002 : 0.004
            );
            Assert.Equal(1, OverHemisphere(h => facets.Density(wo, h)), 0.004);
        }
    }

    [Fact]
    public void WidthsFollowOpenPbr()
    {
        // OpenPBR Surface 1.1, "Microfacet model": αx² + αy² = 2 α² and αy = (1 − a) αx; D at the pole is 1/(π αx αy).
        const float width = 0.3f,
            a = 0.6f;
        var x = width * MathF.Sqrt(2 / (1 + (1 - a) * (1 - a)));
        Assert.Equal(1 / (MathF.PI * x * x * (1 - a)), new Facets(width, a).D(Vector3.UnitZ), 0.001f);
        Assert.Equal(2 * width * width, x * x * (1 + (1 - a) * (1 - a)), 0.0001f);
    }

    [Theory]
    [InlineData(0.9f, 1.5f)]
    [InlineData(0.4f, 1.33f)]
    [InlineData(0.7f, 0.66f)]
    public void RefractionFollowsSnell(float cos, float ior)
    {
        var wi = Interface.Refract(Surfaces.At(cos), Vector3.UnitZ, ior);
        var sin = Math.Sqrt(1 - cos * cos) / ior;
        if (sin > 1)
            Assert.Equal(default, wi);
        else
            Assert.Equal(-Math.Sqrt(1 - sin * sin), wi.Z, 0.00001);
    }

    [Fact]
    public void AmplitudesGiveTheSameReflectance()
    {
        foreach (var ior in new[] { 1.33f, 1.5f, 2.4f, 0.7f })
            for (var cos = 0.05f; cos <= 1; cos += 0.05f)
            {
                if (1 - (1 - cos * cos) / (ior * ior) <= 0)
                    continue;
                var (p, s) = Fresnel.Amplitudes(cos, ior);
                Assert.Equal(Fresnel.Dielectric(cos, ior), 0.5f * (p * p + s * s), 0.00002f);
            }
    }
}
