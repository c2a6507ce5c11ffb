using System.Numerics;

namespace Kiln.Scattering.Tests;

/// <summary>White furnace over models, widths and angles; and layers of every kind at random: nothing returns more than it gets.</summary>
public class EnergyOfLayers
{
    private static readonly float[] Roughness = [0f, 0.1f, 0.25f, 0.5f, 0.75f, 1f];
    private static readonly float[] Cosines = [0.05f, 0.3f, 0.7f, 1f];

    public static TheoryData<string> Models => [.. Surfaces.Models.Keys];

    [Theory]
    [MemberData(nameof(Models))]
    public void AWhiteSurfaceInTheFurnace(string name)
    {
        var model = Surfaces.Models[name];
        foreach (var roughness in Roughness)
        foreach (var cos in Cosines)
        foreach (var metal in new[] { 0f, 0.5f, 1f })
        {
            var p = Surfaces.White with { Width = roughness * roughness, Metalness = metal, DiffuseRoughness = roughness };
            var (mean, error) = Surfaces.Albedo(model, p, Surfaces.At(cos));
            var where = $"{name}, roughness {roughness}, cosine {cos}, metal {metal}: {mean.X:0.0000} ± {error:0.0000}";
            Assert.True(error <= 0.001, where);
            Assert.True(mean.X <= 1.005, where);
            // Light within facets is given back where the model says so; the matt base takes what the interface leaves in any case.
            // Oren and Nayar's model loses light between rough facets by design; it must only never win any.
            var darkens = model.Diffuse == DiffuseModel.OrenNayar && roughness > 0 && metal < 1;
            if ((model.Compensation || metal == 0) && !darkens)
                Assert.True(mean.X >= 0.99, where);
        }
    }

    [Theory]
    [InlineData(false)]
    [InlineData(true)]
    public void GlassLosesNothing(bool inside)
    {
        foreach (var roughness in Roughness)
        foreach (var cos in Cosines)
        foreach (var ior in new[] { 1.2f, 1.5f, 2f })
        {
            var (mean, error) = Surfaces.Albedo(
                Surfaces.Full,
                Surfaces.Glass(roughness * roughness, ior),
                Surfaces.At(cos),
                inside: inside
            );
            Assert.True(
                mean.X is >= 0.985f and <= 1.005f,
                $"roughness {roughness}, cosine {cos}, index {ior}: {mean.X:0.0000} ± {error:0.0000}"
            );
        }
    }

    /// <summary>A sheet that is partly clear mirrors off both of its faces; what is matt gets what both leave.</summary>
    [Theory]
    [InlineData(0.25f)]
    [InlineData(0.5f)]
    [InlineData(0.75f)]
    public void AThinSheetThatIsPartlyClearReturnsNoMoreThanItGets(float clear)
    {
        foreach (var name in new[] { "eon, exact, F82, compensated", "Lambert, Schlick, compensated" })
        foreach (var cos in Cosines)
        {
            var p = Surfaces.White with { Transmission = clear, ThinWalled = 1, Width = 0.04f };
            var (mean, error) = Surfaces.Albedo(Surfaces.Models[name], p, Surfaces.At(cos));
            var where = $"{name}, clear {clear}, cosine {cos}: {mean.X:0.0000} ± {error:0.0000}";
            Assert.True(mean.X <= 1.005f, where);
            // At grazing angles light that bounces between the facets of a sheet is lost: nothing gives it back there yet.
            Assert.True(mean.X >= (cos < 0.3f ? 0.9f : 0.97f), where);
        }
    }

    [Theory]
    [MemberData(nameof(Models))]
    public void LayersAtRandom(string name)
    {
        var model = Surfaces.Models[name];
        var random = new Random(3);
        float U() => random.NextSingle();
        Vector3 Colour() => U() < 0.3f ? Vector3.One : new(U(), U(), U());
        float Sometimes() =>
            U() switch
            {
                < 0.4f => 0f,
                < 0.6f => 1f,
                _ => U(),
            };
        for (var i = 0; i < 120; i++)
        {
            var p = new SurfaceParameters
            {
                BaseColour = Colour(),
                DiffuseRoughness = U(),
                Metalness = Sometimes(),
                Width = U() * U(),
                Anisotropy = Sometimes() * 0.9f,
                Ior = 1 + 1.5f * U(),
                SpecularWeight = Sometimes(),
                SpecularColour = Colour(),
                EdgeColour = Colour(),
                ReflectanceAsColour = U() < 0.5f ? 1 : 0,
                Transmission = Sometimes(),
                TransmissionColour = Colour(),
                ThinWalled = U() < 0.4f ? 1 : 0,
                Subsurface = Sometimes(),
                SubsurfaceColour = Colour(),
                CoatWeight = Sometimes(),
                CoatColour = Colour(),
                CoatWidth = U() * U(),
                CoatIor = 1 + U(),
                CoatDarkening = Sometimes(),
                FuzzWeight = Sometimes(),
                FuzzColour = Colour(),
                FuzzRoughness = U(),
                FilmWeight = Sometimes(),
                FilmThickness = 1000 * U(),
                FilmIor = 1 + U(),
                Opacity = 1,
            };
            var wo = Surfaces.At(0.05f + 0.95f * U(), 360 * U());
            var (mean, error) = Surfaces.Albedo(model, p, wo, 0.002);
            var most = MathF.Max(mean.X, MathF.Max(mean.Y, mean.Z));
            Assert.True(most <= 1.005 + 2 * error, $"{name}, surface {i} returns {mean} ± {error:0.0000} at {wo}");
            Assert.True(MathF.Min(mean.X, MathF.Min(mean.Y, mean.Z)) >= 0);
        }
    }
}
