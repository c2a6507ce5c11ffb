using System.Numerics;

namespace Kiln.Scattering.Tests;

/// <summary>
/// White furnace by numeric integration: under radiance 1 from everywhere a white compensated surface returns 0.99 to 1.005, and nothing
/// returns more.
/// The integral is estimated with the surface's own sampling and, independently, by a plain cosine grid.
/// </summary>
public class FurnaceTests
{
    private static readonly SurfaceModel Full = new(DiffuseModel.Eon, DielectricModel.Exact, MetalModel.F82, true);
    private static readonly SurfaceModel Packed = new(DiffuseModel.Lambert, DielectricModel.Schlick, MetalModel.Schlick, false);

    public static TheoryData<float, float> Cases()
    {
        var data = new TheoryData<float, float>();
        foreach (var roughness in new[] { 0.1f, 0.2f, 0.35f, 0.5f, 0.7f, 0.85f, 1f })
        foreach (var cos in new[] { 0.08f, 0.3f, 0.6f, 0.95f })
            data.Add(roughness, cos);
        return data;
    }

    private static SurfaceParameters White(float roughness, float metal, float diffuseRoughness = 0) =>
        SurfaceParameters.Plain with
        {
            BaseColour = Vector3.One,
            Metalness = metal,
            Width = roughness * roughness,
            DiffuseRoughness = diffuseRoughness,
        };

    private static (double Mean, double Error) Albedo(SurfaceModel model, SurfaceParameters p, float cos)
    {
        var surface = Surface.Of(model, p, new(MathF.Sqrt(1 - cos * cos), 0, cos));
        const int side = 300,
            rounds = 60;
        double sum = 0,
            squares = 0,
            mean = 0,
            error = 1;
        var random = new Random(7);
        // As many rounds as the standard error needs.
        for (int round = 0, n = 0; round < rounds && error > 0.0015; round++)
        {
            for (var i = 0; i < side; i++)
            for (var j = 0; j < side; j++)
            {
                var wi = surface.Sample(random.NextSingle(), new((i + random.NextSingle()) / side, (j + random.NextSingle()) / side));
                var f = surface.Evaluate(wi, out var pdf).Sum.X;
                var v = pdf > 0 ? f / pdf : 0;
                sum += v;
                squares += (double)v * v;
            }
            n += side * side;
            mean = sum / n;
            error = Math.Sqrt(Math.Max(0, squares / n - mean * mean) / n);
        }
        return (mean, error);
    }

    [Theory]
    [MemberData(nameof(Cases))]
    public void AWhiteMetalReturnsAllLight(float roughness, float cos)
    {
        var (mean, error) = Albedo(Full, White(roughness, 1), cos);
        Assert.True(error <= 0.002, $"standard error {error:0.0000}");
        Assert.InRange(mean, 0.99, 1.005);
    }

    [Theory]
    [MemberData(nameof(Cases))]
    public void AWhiteDielectricReturnsAllLight(float roughness, float cos) =>
        Assert.InRange(Albedo(Full, White(roughness, 0, roughness), cos).Mean, 0.985, 1.005);

    [Theory]
    [MemberData(nameof(Cases))]
    public void NothingReturnsMoreThanItGets(float roughness, float cos)
    {
        foreach (var metal in new[] { 0f, 0.4f, 1f })
            Assert.True(Albedo(Packed, White(roughness, metal), cos).Mean <= 1.005);
    }

    [Theory]
    [InlineData(0.3f, 0f)]
    [InlineData(0.6f, 0.5f)]
    [InlineData(0.9f, 1f)]
    public void SamplingAgreesWithAPlainGrid(float roughness, float metal)
    {
        var p = White(roughness, metal) with { BaseColour = new(0.7f, 0.4f, 0.2f) };
        var surface = Surface.Of(Full, p, Vector3.Normalize(new(0.5f, 0.2f, 0.7f)));
        const int n = 900;
        double plain = 0,
            density = 0;
        for (var i = 0; i < n; i++)
        for (var j = 0; j < n; j++)
        {
            var z = (i + 0.5f) / n;
            var (sin, cos) = MathF.SinCos(2 * MathF.PI * (j + 0.5f) / n);
            var r = MathF.Sqrt(1 - z * z);
            var wi = new Vector3(r * cos, r * sin, z);
            plain += surface.Evaluate(wi, out var pdf).Sum.X;
            density += pdf;
        }
        plain *= 2 * Math.PI / n / n;
        density *= 2 * Math.PI / n / n;
        Assert.Equal(plain, Albedo(Full, p, surfaceCos: Vector3.Normalize(new(0.5f, 0.2f, 0.7f))), 0.01);
        // Some of the specular lobe's density lies below the surface.
        Assert.InRange(density, 0.7, 1.001);
    }

    private static double Albedo(SurfaceModel model, SurfaceParameters p, Vector3 surfaceCos)
    {
        var surface = Surface.Of(model, p, surfaceCos);
        var random = new Random(3);
        double sum = 0;
        const int n = 300_000;
        for (var i = 0; i < n; i++)
        {
            var wi = surface.Sample(random.NextSingle(), new(random.NextSingle(), random.NextSingle()));
            var f = surface.Evaluate(wi, out var pdf).Sum.X;
            sum += pdf > 0 ? f / pdf : 0;
        }
        return sum / n;
    }

    [Fact]
    public void MetalLobeIsReciprocal()
    {
        var random = new Random(11);
        for (var i = 0; i < 2000; i++)
        {
            Vector3 Direction() =>
                Vector3.Normalize(new(random.NextSingle() - 0.5f, random.NextSingle() - 0.5f, random.NextSingle() + 0.05f));
            Vector3 a = Direction(),
                b = Direction();
            var p = White(0.2f + 0.8f * random.NextSingle(), 1) with { BaseColour = new(0.9f, 0.6f, 0.4f) };
            var there = Surface.Of(Full, p, a).Evaluate(b, out _).Sum / b.Z;
            var back = Surface.Of(Full, p, b).Evaluate(a, out _).Sum / a.Z;
            Assert.True((there - back).Length() <= 2e-3f * MathF.Max(1, there.Length()), $"{there} against {back}");
        }
    }

    [Fact]
    public void FresnelOfGlassAtNormalIncidence()
    {
        // F0 = ((n − 1)/(n + 1))²; Brewster's angle of n = 1.5 reflects half of the s-polarised part: Rs = ((n² − 1)/(n² + 1))² = 0.1479,
        // mean 0.0740.
        Assert.Equal(0.04f, Fresnel.Dielectric(1, 1.5f), 5);
        Assert.Equal(0.0740f, Fresnel.Dielectric(MathF.Cos(MathF.Atan(1.5f)), 1.5f), 4);
        Assert.Equal(1f, Fresnel.Dielectric(0, 1.5f), 5);
    }

    [Theory]
    [InlineData(0.2f)]
    [InlineData(0.7f)]
    [InlineData(1f)]
    public void EonAlbedoInClosedFormIsItsIntegral(float roughness)
    {
        // With full multiple scattering a white EON returns 1 from every angle (Portsmouth, Kutz, Hill 2024).
        foreach (var mu in new[] { 0.1f, 0.5f, 0.9f })
        {
            var wo = new Vector3(MathF.Sqrt(1 - mu * mu), 0, mu);
            double sum = 0;
            const int n = 500;
            for (var i = 0; i < n; i++)
            for (var j = 0; j < n; j++)
            {
                var r = MathF.Sqrt((i + 0.5f) / n);
                var (sin, cos) = MathF.SinCos(2 * MathF.PI * (j + 0.5f) / n);
                sum += Diffuse.Eon(Vector3.One, roughness, wo, new(r * cos, r * sin, MathF.Sqrt(1 - r * r))).X * MathF.PI;
            }
            Assert.Equal(1, sum / n / n, 0.004);
        }
    }
}
