using System.Numerics;
using Kiln.Looks.Document;
using Kiln.Looks.Steps;
using Kiln.Pixels;
using Kiln.Proof.Geometry;
using Kiln.Proof.Lights;
using Kiln.Proof.Rendering;

namespace Kiln.Proof.Tests;

/// <summary>
/// A ball of dispersing glass against pictures of it at single wavelengths, each with that wavelength's index, weighed by the CIE's table
/// (Debian's colord-data).
/// </summary>
public class DispersedLight
{
    /// <summary>A path has one wavelength, so a dispersed picture needs more of them than one without colours.</summary>
    private const int Side = 17,
        Dispersed = 4096,
        Single = 256,
        Step = 15;
    private const float Index = 1.5f,
        Abbe = 12f;

    /// <summary>Stripes around the horizon: what bends is seen elsewhere.</summary>
    private static readonly EnvironmentLight Stripes = EnvironmentLight.Generate(1024, 512, d =>
        new(0.5f + 0.5f * MathF.Sin(14 * MathF.Atan2(d.X, d.Z)))
    );

    private static async Task<ImageBuffer> BallAsync(string dialect, int samples, params (string, LookValue)[] values)
    {
        var material = await Plain.MaterialAsync(
            dialect,
            [("transmission_weight", LookValue.Of(1f)), ("specular_roughness", LookValue.Of(0f)), .. values]
        );
        var tracer = new PathTracer(new ProofScene(Forms.Sphere(), material, Stripes, withFloor: false), Side, Side, new(20, 5, 2.2f));
        tracer.Accumulate(samples);
        return tracer.Picture();
    }

    private static (float Nanometres, Vector3 Xyz)[] Observer() =>
        [
            .. PublishedObserver
                .Xyz.Select((xyz, i) => ((float)(PublishedObserver.First + PublishedObserver.Step * i), xyz))
                .Where(o => o.Item1 is >= 405 and <= 690 && (o.Item1 - 405) % Step == 0),
        ];

    private static double Distance(ImageBuffer a, float[] b) =>
        Enumerable.Range(0, Side * Side * 3).Average(i => Math.Abs(a[i / 3 % Side, i / 3 / Side, i % 3] - b[i]));

    [Fact]
    public async Task ABallShowsEachWavelengthWhereItsIndexPutsIt()
    {
        var dispersed = await BallAsync(
            "openpbr",
            Dispersed,
            ("specular_ior", LookValue.Of(Index)),
            ("transmission_dispersion_scale", LookValue.Of(1f)),
            ("transmission_dispersion_abbe_number", LookValue.Of(Abbe))
        );
        var plain = await BallAsync("openpbr", Single, ("specular_ior", LookValue.Of(Index)));
        var observer = Observer();
        // XYZ to ACEScg (Academy S-2014-004, AP1) scaled so that equal energy is white.
        var rows = new[]
        {
            new Vector3(1.6410234f, -0.3248033f, -0.2364247f),
            new Vector3(-0.6636629f, 1.6153316f, 0.0167563f),
            new Vector3(0.0117219f, -0.0082844f, 0.9883949f),
        }
            .Select(r => r / (r.X + r.Y + r.Z))
            .ToArray();
        var whole = observer.Aggregate(Vector3.Zero, (sum, o) => sum + o.Xyz);
        var expected = new float[Side * Side * 3];
        foreach (var (nanometres, xyz) in observer)
        {
            // Cauchy, A + B / λ², through the lines d, F and C.
            var b = (Index - 1) / Abbe / (1 / (0.48613f * 0.48613f) - 1 / (0.65627f * 0.65627f));
            var one = await BallAsync(
                "openpbr",
                Single,
                ("specular_ior", LookValue.Of(Index + b * (1e6f / (nanometres * nanometres) - 1 / (0.58756f * 0.58756f))))
            );
            for (var i = 0; i < expected.Length; i++)
                expected[i] += one[i / 3 % Side, i / 3 / Side, 1] * Vector3.Dot(rows[i % 3], xyz / whole);
        }
        var plainValues = Enumerable.Range(0, expected.Length).Select(i => plain[i / 3 % Side, i / 3 / Side, i % 3]).ToArray();
        double near = Distance(dispersed, expected),
            far = Distance(dispersed, plainValues);
        Assert.True(far > 0.02, $"the stripes are too broad to tell: {far}");
        // What is left is noise: it hardly depends on how much is seen elsewhere, and falls with the samples.
        Assert.True(near < 0.25 * far, $"{near} from the sum of wavelengths, {far} from a picture without dispersion");
    }

    /// <summary>In light that is the same all around no colour can be seen, however far each is bent.</summary>
    [Fact]
    public async Task EvenLightStaysWhite()
    {
        var material = await Plain.MaterialAsync(
            "openpbr",
            ("transmission_weight", LookValue.Of(1f)),
            ("specular_roughness", LookValue.Of(0f)),
            ("transmission_dispersion_scale", LookValue.Of(1f)),
            ("transmission_dispersion_abbe_number", LookValue.Of(9f))
        );
        var tracer = new PathTracer(
            new ProofScene(Forms.Sphere(), material, EnvironmentLight.Even(Vector3.One), withFloor: false),
            Side,
            Side,
            new(20, 5, 2.2f)
        );
        tracer.Accumulate(512);
        Assert.All(ImageStatistics.Measure(tracer.Picture()).Take(3), c => Assert.Equal(1, c.Mean, 0.02));
    }

    /// <summary>
    /// Three dialects say the same glass each in its own number: scale and Abbe number, the Abbe number alone, twenty over it.
    /// </summary>
    [Theory]
    [InlineData("standard_surface")]
    [InlineData("gltf")]
    public async Task DialectsThatCanSayItShowIt(string dialect)
    {
        (string, LookValue)[] glass =
        [
            ("specular_ior", LookValue.Of(Index)),
            ("transmission_depth", LookValue.Of(1f)),
            ("transmission_dispersion_scale", LookValue.Of(1f)),
            ("transmission_dispersion_abbe_number", LookValue.Of(Abbe)),
        ];
        var own = await BallAsync("openpbr", Single, glass);
        var other = await BallAsync(dialect, Single, glass);
        var without = await BallAsync(dialect, Single, [.. glass[..2]]);
        float[] Values(ImageBuffer p) => [.. Enumerable.Range(0, Side * Side * 3).Select(i => p[i / 3 % Side, i / 3 / Side, i % 3])];
        Assert.True(
            Distance(own, Values(other)) < 0.25 * Distance(other, Values(without)),
            $"{Distance(own, Values(other))} against {Distance(other, Values(without))}"
        );
    }
}
