using Kiln.Colour.Spaces;
using Kiln.Colour.Views;
using Kiln.Pixels;
using Kiln.Proof.Materials;
using Kiln.Proof.Rendering;

namespace Kiln.Proof.Tests;

/// <summary>Pictures of few samples with their noise taken out, against pictures of many.</summary>
public class NoiseFilterTests
{
    private static PathTracer Traced(ProofMaterial material, string form, string light, int samples, uint seed = 1)
    {
        var tracer = new ProofRequest(form, light, 96, 96, WithLayers: true, Seed: seed).Start(material);
        tracer.Accumulate(samples);
        return tracer;
    }

    private static double Far(ImageBuffer first, ImageBuffer second)
    {
        var view = View.Named("aces1-sdr", ColourSpace.AcesCg);
        var (a, b) = (view.Apply(first), view.Apply(second));
        double sum = 0;
        for (var y = 0; y < a.Height; y++)
        for (var x = 0; x < a.Width; x++)
        for (var c = 0; c < 3; c++)
            sum += Math.Abs(a[x, y, c] - b[x, y, c]);
        return 255 * sum / (3 * a.Width * a.Height);
    }

    /// <summary>Matt, polished and coated: less than half of the noise is left, of glass little more.</summary>
    [Theory]
    [InlineData("base_metalness", 1f, "specular_roughness", 0.25f, "softbox", 0.45)]
    [InlineData("specular_roughness", 0.7f, "base_metalness", 0f, "lowsun", 0.45)]
    [InlineData("coat_weight", 1f, "specular_roughness", 0.5f, "softbox", 0.45)]
    [InlineData("transmission_weight", 1f, "specular_roughness", 0.2f, "softbox", 0.55)]
    public async Task ItBringsThePictureNearer(string first, float one, string second, float other, string light, double left)
    {
        var material = await Plain.MaterialAsync(
            "openpbr",
            ("base_color", Plain.Tint(0.6f, 0.3f, 0.2f)),
            (first, Kiln.Looks.Document.LookValue.Of(one)),
            (second, Kiln.Looks.Document.LookValue.Of(other))
        );
        var coarse = Traced(material, "vessel", light, 16);
        var fine = Traced(material, "vessel", light, 512, seed: 9).Picture();
        double before = Far(coarse.Picture(), fine),
            after = Far(coarse.WithoutNoise(), fine);
        Assert.True(after < left * before, $"{before:0.00} codes before, {after:0.00} after");
    }

    /// <summary>What is not noise stays: a picture without any comes out as it went in.</summary>
    [Fact]
    public async Task WhatHasNoNoiseStays()
    {
        var quiet = Traced(await Plain.MattAsync(0.5f), "sphere", "furnace", 64);
        Assert.InRange(Far(quiet.WithoutNoise(), quiet.Picture()), 0, 0.25);
    }

    [Fact]
    public async Task CoverageIsKeptAndFewSamplesAreLeftAlone()
    {
        var material = await Plain.MattAsync(0.5f);
        var tracer = new ProofRequest("vessel", "softbox", 64, 64, Background: false, WithLayers: true).Start(material);
        tracer.Accumulate(2);
        Assert.Equal(tracer.Picture().Samples<float>().ToArray(), tracer.WithoutNoise().Samples<float>().ToArray());
        tracer.Accumulate(14);
        var (before, after) = (tracer.Picture(), tracer.WithoutNoise());
        for (var y = 0; y < 64; y++)
        for (var x = 0; x < 64; x++)
        {
            Assert.Equal(before[x, y, 3], after[x, y, 3]);
            Assert.True(float.IsFinite(after[x, y, 0]));
        }
        Assert.Throws<InvalidOperationException>(() => new ProofRequest("vessel", "softbox", 16, 16).Start(material).WithoutNoise());
    }
}
