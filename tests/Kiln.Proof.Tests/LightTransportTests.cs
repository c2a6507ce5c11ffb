using System.Numerics;
using Kiln.Looks.Document;
using Kiln.Pixels;
using Kiln.Proof.Geometry;
using Kiln.Proof.Lights;
using Kiln.Proof.Rendering;

namespace Kiln.Proof.Tests;

/// <summary>Light in scenes whose answer is known by formula.</summary>
public class LightTransportTests
{
    /// <summary>Straight down on the middle of the slab's flat face: nothing but the face is in the picture.</summary>
    private static readonly OrbitCamera OnTheFace = new(0, 80, 9);

    /// <summary>Radiance within a cone around a direction, none elsewhere.</summary>
    private static EnvironmentLight Cone(Vector3 towards, float degrees, float radiance) =>
        EnvironmentLight.Generate(2048, 1024, d =>
            Vector3.Dot(d, Vector3.Normalize(towards)) >= MathF.Cos(degrees * MathF.PI / 180) ? new(radiance) : Vector3.Zero
        );

    [Theory]
    [InlineData(60)]
    [InlineData(30)]
    [InlineData(12)]
    public async Task ADiscOverheadByItsFormFactor(float degrees)
    {
        // A disc that fills a cone of half angle α over a plane has the form factor sin² α (Howell, A Catalog of Radiation Heat Transfer
        // Configuration Factors, B-14 at its centre); a matt plane returns albedo · sin² α · radiance.
        var seen = Plain.Seen(await Plain.MattAsync(0.5f), Cone(Vector3.UnitY, degrees, 1), "tile", OnTheFace, 256);
        var sin = MathF.Sin(degrees * MathF.PI / 180);
        Assert.Equal(0.5f * sin * sin, seen.X, 0.5f * sin * sin * 0.012f);
    }

    [Theory]
    [InlineData(20)]
    [InlineData(50)]
    [InlineData(75)]
    public async Task ASmallSourceByTheCosineLaw(float fromZenith)
    {
        // Irradiance of a cone that is wholly above the horizon is radiance · π sin² α · cos θ, for every α (its projected solid angle).
        const float degrees = 2.5f,
            radiance = 300;
        var theta = fromZenith * MathF.PI / 180;
        var seen = Plain.Seen(
            await Plain.MattAsync(0.6f),
            Cone(new(MathF.Sin(theta), MathF.Cos(theta), 0), degrees, radiance),
            "tile",
            OnTheFace,
            256
        );
        var sin = MathF.Sin(degrees * MathF.PI / 180);
        // The edge of the cone is cut into texels of 0.18°.
        Assert.Equal(0.6f * radiance * sin * sin * MathF.Cos(theta), seen.X, 0.02f * seen.X);
    }

    [Fact]
    public async Task ABodyAbsorbsByBeerAndLambert()
    {
        // Index 1 (no specular weight): rays go straight through 0.8 m of the ball's middle; white light has the colour after the depth.
        var material = await Plain.MaterialAsync(
            "openpbr",
            ("transmission_weight", LookValue.Of(1f)),
            ("specular_weight", LookValue.Of(0f)),
            ("transmission_color", Plain.Tint(0.7f, 0.4f, 0.9f)),
            ("transmission_depth", LookValue.Of(0.5f)),
            ("specular_roughness", LookValue.Of(0f))
        );
        var tracer = new PathTracer(
            new ProofScene(Forms.Sphere(), material, EnvironmentLight.Even(Vector3.One), withFloor: false),
            65,
            65,
            new(0, 0, 1)
        );
        tracer.Accumulate(64);
        var picture = tracer.Picture();
        foreach (var (colour, c) in new[] { (0.7f, 0), (0.4f, 1), (0.9f, 2) })
            Assert.Equal(MathF.Pow(colour, 0.8f / 0.5f), picture[32, 32, c], 0.01f);
    }

    [Theory]
    [InlineData("glass", 0.97f)]
    [InlineData("rough glass", 0.97f)]
    [InlineData("coated", 0.985f)]
    [InlineData("fuzzy", 0.985f)]
    [InlineData("filmed", 0.985f)]
    [InlineData("sheet", 0.985f)]
    public async Task AWhiteBallOfAnyKindVanishesInTheFurnace(string kind, float least)
    {
        (string, LookValue)[] own = kind switch
        {
            "glass" => [("transmission_weight", LookValue.Of(1f)), ("specular_roughness", LookValue.Of(0.05f))],
            "rough glass" => [("transmission_weight", LookValue.Of(1f)), ("specular_roughness", LookValue.Of(0.7f))],
            "coated" => [("coat_weight", LookValue.Of(1f)), ("coat_roughness", LookValue.Of(0.3f)), ("base_metalness", LookValue.Of(0.5f))],
            "fuzzy" => [("fuzz_weight", LookValue.Of(1f)), ("fuzz_roughness", LookValue.Of(0.6f))],
            "filmed" => [("thin_film_weight", LookValue.Of(1f)), ("thin_film_thickness", LookValue.Of(0.4f))],
            _ => [("subsurface_weight", LookValue.Of(1f)), ("subsurface_color", Plain.White)],
        };
        var material = await Plain.MaterialAsync("openpbr", [("base_color", Plain.White), .. own]);
        var tracer = new ProofRequest("sphere", "furnace", 40, 40).Start(material);
        tracer.Accumulate(256);
        foreach (var channel in ImageStatistics.Measure(tracer.Picture()))
            Assert.InRange(channel.Mean, least, 1.005);
    }

    [Fact]
    public async Task NoiseFallsAsTheRootOfTheSamples()
    {
        var material = await Plain.MattAsync(0.6f);
        float[] Picture(int samples, uint seed)
        {
            var tracer = new ProofRequest("vessel", "softbox", 64, 64, Seed: seed).Start(material);
            tracer.Accumulate(samples);
            return tracer.Picture().Samples<float>().ToArray();
        }
        var reference = Picture(2048, 99);
        var points = new List<(double X, double Y)>();
        foreach (var samples in new[] { 2, 4, 8, 16, 32, 64 })
        {
            var picture = Picture(samples, 7);
            points.Add((Math.Log(samples), 0.5 * Math.Log(picture.Zip(reference, (a, b) => ((double)a - b) * (a - b)).Average())));
        }
        double mx = points.Average(p => p.X),
            my = points.Average(p => p.Y);
        var slope = points.Sum(p => (p.X - mx) * (p.Y - my)) / points.Sum(p => (p.X - mx) * (p.X - mx));
        Assert.True(slope is >= -0.55 and <= -0.45, $"slope {slope:0.000}");
    }

    [Fact]
    public async Task WhatIsEstimatedAsNoiseIsTheNoise()
    {
        var material = await Plain.MattAsync(0.6f);
        var tracer = new ProofRequest("vessel", "softbox", 64, 64, Seed: 3).Start(material);
        tracer.Accumulate(32);
        var other = new ProofRequest("vessel", "softbox", 64, 64, Seed: 4).Start(material);
        other.Accumulate(32);
        var (a, b) = (tracer.Picture(), other.Picture());
        double difference = 0,
            mean = 0;
        for (var i = 0; i < 64 * 64; i++)
        {
            double One(ImageBuffer p) => 0.272 * p[i % 64, i / 64, 0] + 0.674 * p[i % 64, i / 64, 1] + 0.054 * p[i % 64, i / 64, 2];
            difference += Math.Abs(One(a) - One(b));
            mean += One(a);
        }
        // Mean distance of two normal numbers of deviation σ is 2σ/√π. Well spread samples err less than random ones, never more.
        Assert.InRange(difference / mean * Math.Sqrt(Math.PI) / 2 / tracer.Noise(), 0.3, 1.1);
    }

    [Fact]
    public async Task LayersOfLightAddUpToThePicture()
    {
        var material = await Plain.MaterialAsync(
            "openpbr",
            ("coat_weight", LookValue.Of(0.7f)),
            ("transmission_weight", LookValue.Of(0.3f)),
            ("emission_luminance", LookValue.Of(0.4f)),
            ("base_metalness", LookValue.Of(0.3f))
        );
        PathTracer Traced(bool layers)
        {
            var tracer = new ProofRequest("vessel", "softbox", 48, 48, WithLayers: layers, Background: false).Start(material);
            tracer.Accumulate(8);
            return tracer;
        }
        var whole = Traced(true);
        var picture = whole.Picture();
        var parts = ProofLayers.Light.Select(whole.Layers!.Picture).ToList();
        for (var y = 0; y < 48; y++)
        for (var x = 0; x < 48; x++)
        for (var c = 0; c < 3; c++)
            Assert.Equal(picture[x, y, c], parts.Sum(p => p[x, y, c]), 0.002f + 0.002f * picture[x, y, c]);
        Assert.All(parts, p => Assert.True(ImageStatistics.Measure(p)[0].Mean > 0));
        // Asking for them changes nothing but rounding.
        Assert.True(
            ImageStatistics.Measure(Traced(false).Picture())[1].Mean / ImageStatistics.Measure(picture)[1].Mean is > 0.98f and < 1.02f
        );
        Assert.Throws<ArgumentException>(() => whole.Layers!.Picture("shine"));
    }

    [Fact]
    public async Task TakingNoiseOutBringsThePictureNearer()
    {
        var material = await Plain.MattAsync(0.5f);
        PathTracer Traced(int samples)
        {
            var tracer = new ProofRequest("cloth", "softbox", 96, 96, WithLayers: true).Start(material);
            tracer.Accumulate(samples);
            return tracer;
        }
        var coarse = Traced(4);
        var fine = Traced(512).Picture();
        double Far(ImageBuffer p) =>
            p.Samples<float>().ToArray().Zip(fine.Samples<float>().ToArray(), (a, b) => ((double)a - b) * (a - b)).Average();
        Assert.True(Far(coarse.WithoutNoise()) < 0.35 * Far(coarse.Picture()));
    }
}
