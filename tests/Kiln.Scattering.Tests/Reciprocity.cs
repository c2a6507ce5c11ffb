using System.Numerics;

namespace Kiln.Scattering.Tests;

/// <summary>
/// Single lobes look the same with light and eye exchanged (Helmholtz). Layers scaled by albedos do not, by design: they have energy tests.
/// </summary>
public class Reciprocity
{
    private static Vector3 Direction(Random random) => Surfaces.At(0.05f + 0.95f * random.NextSingle(), 360 * random.NextSingle());

    [Theory]
    [InlineData("GGX", 0f)]
    [InlineData("GGX stretched", 0.8f)]
    [InlineData("Beckmann", 0f)]
    [InlineData("GGX compensated", 0f)]
    [InlineData("complex index", 0f)]
    public void OfMetals(string name, float anisotropy)
    {
        var model =
            name == "complex index" ? Surfaces.Complex
            : name.StartsWith("Beckmann", StringComparison.Ordinal) ? Surfaces.Beckmann
            : name.EndsWith("compensated", StringComparison.Ordinal) ? Surfaces.Full
            : Surfaces.Packed;
        var random = new Random(11);
        for (var i = 0; i < 4000; i++)
        {
            Vector3 a = Direction(random),
                b = Direction(random);
            var p = Surfaces.Metal(0.04f + 0.9f * random.NextSingle(), anisotropy) with { BaseColour = new(0.9f, 0.6f, 0.4f) };
            Same(Surface.Of(model, p, a).Evaluate(b, out _).Sum / b.Z, Surface.Of(model, p, b).Evaluate(a, out _).Sum / a.Z);
        }
    }

    [Theory]
    [InlineData("eon, exact, F82, compensated")]
    [InlineData("Oren and Nayar, exact, complex index, one tint, compensated")]
    public void OfMattSurfaces(string name)
    {
        var model = Surfaces.Models[name];
        var random = new Random(12);
        for (var i = 0; i < 4000; i++)
        {
            Vector3 a = Direction(random),
                b = Direction(random);
            var p = Surfaces.White with { BaseColour = new(0.9f, 0.6f, 0.4f), SpecularWeight = 0, DiffuseRoughness = random.NextSingle() };
            Same(Surface.Of(model, p, a).Evaluate(b, out _).Sum / b.Z, Surface.Of(model, p, b).Evaluate(a, out _).Sum / a.Z);
        }
    }

    [Fact]
    public void OfRefractionUpToTheSquareOfTheIndex()
    {
        // f(i → o)/n_o² = f(o → i)/n_i² (Walter et al. 2007, section 2; Veach 1997, 5.2). The surface leaves the squares out, and the gain
        // of rough
        // glass is no part of the lobe, hence a model without compensation.
        var model = Surfaces.Models["Lambert, exact, no compensation"];
        var random = new Random(13);
        var met = 0;
        for (var i = 0; i < 8000; i++)
        {
            Vector3 above = Direction(random),
                below = Direction(random);
            var ior = 1.2f + random.NextSingle();
            var p = Surfaces.Glass(0.2f + 0.8f * random.NextSingle(), ior);
            var there = Surface.Of(model, p, above).Evaluate(below with { Z = -below.Z }, out _).Transmission / below.Z;
            // Seen from within, the frame is turned over.
            var back = Surface.Of(model, p, below, true).Evaluate(above with { Z = -above.Z }, out _).Transmission / above.Z;
            met += there.X > 0 ? 1 : 0;
            Same(there, back * ior * ior);
        }
        Assert.True(met > 1000, $"{met} pairs had light");
    }

    private static void Same(Vector3 there, Vector3 back) =>
        Assert.True((there - back).Length() <= 4e-3f * MathF.Max(0.05f, there.Length()), $"{there} against {back}");
}
