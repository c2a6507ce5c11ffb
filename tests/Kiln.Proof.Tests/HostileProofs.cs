using Kiln.Looks.Document;
using Kiln.Pixels;
using Kiln.Proof.Geometry;
using Kiln.Proof.Lights;
using Kiln.Proof.Rendering;

namespace Kiln.Proof.Tests;

/// <summary>Lights and surfaces at and beyond their limits: a picture of finite numbers.</summary>
public class HostileProofs
{
    private static void Finite(PathTracer tracer)
    {
        tracer.Accumulate(8);
        Assert.All(tracer.Picture().Samples<float>().ToArray(), v => Assert.True(float.IsFinite(v) && v >= 0, $"{v}"));
    }

    [Theory]
    [InlineData(1, 1)]
    [InlineData(7, 31)]
    [InlineData(64, 32)]
    public async Task LightsWithBadPixelsAndOddSizes(int width, int height)
    {
        var random = new Random(3);
        var picture = new ImageBuffer(width, height, ImageBuffer.Rgb, SampleType.F32);
        var samples = picture.Samples<float>();
        for (var i = 0; i < samples.Length; i++)
            samples[i] = random.Next(6) switch
            {
                0 => float.NaN,
                1 => float.PositiveInfinity,
                2 => -5,
                3 => 1e30f,
                _ => random.NextSingle(),
            };
        Finite(new ProofRequest("vessel", "own", 24, 24).Start(await Plain.MattAsync(0.5f), EnvironmentLight.Of(picture)));
    }

    [Fact]
    public async Task ABlackLight() =>
        Finite(
            new ProofRequest("sphere", "own", 24, 24).Start(
                await Plain.MattAsync(0.5f),
                EnvironmentLight.Of(new(8, 4, ImageBuffer.Rgb, SampleType.F32))
            )
        );

    public static TheoryData<string, float> Limits()
    {
        var data = new TheoryData<string, float>();
        foreach (
            var input in new[]
            {
                "specular_roughness",
                "specular_ior",
                "specular_roughness_anisotropy",
                "coat_roughness",
                "coat_ior",
                "fuzz_roughness",
                "thin_film_thickness",
                "thin_film_ior",
                "transmission_depth",
                "geometry_opacity",
                "base_diffuse_roughness",
            }
        )
        foreach (var value in new[] { -1f, 0f, 1f, 3f, 1e9f })
            data.Add(input, value);
        return data;
    }

    [Theory]
    [MemberData(nameof(Limits))]
    public async Task InputsAtTheirLimits(string input, float value)
    {
        foreach (var form in new[] { "sphere", "cloth" })
            Finite(
                new ProofRequest(form, "lowsun", 20, 20).Start(
                    await Plain.MaterialAsync(
                        "openpbr",
                        ("coat_weight", LookValue.Of(1f)),
                        ("fuzz_weight", LookValue.Of(0.5f)),
                        ("thin_film_weight", LookValue.Of(0.5f)),
                        ("transmission_weight", LookValue.Of(0.5f)),
                        ("base_metalness", LookValue.Of(0.3f)),
                        (input, LookValue.Of(value))
                    )
                )
            );
    }

    [Fact]
    public async Task WhatIsNotThereIsNotSeen()
    {
        var nothing = await Plain.MaterialAsync("openpbr", ("geometry_opacity", LookValue.Of(0f)));
        var tracer = new PathTracer(
            new ProofScene(Forms.Sphere(), nothing, EnvironmentLight.Even(new(0.5f)), withFloor: false),
            24,
            24,
            OrbitCamera.For("sphere")
        );
        tracer.Accumulate(8);
        Assert.All(tracer.Picture().Samples<float>().ToArray(), v => Assert.Equal(0.5f, v, 0.0001f));
    }
}
