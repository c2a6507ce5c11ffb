using System.Numerics;
using Kiln.Looks.Document;
using Kiln.Proof.Geometry;
using Kiln.Proof.Lights;
using Kiln.Proof.Rendering;

namespace Kiln.Proof.Tests;

/// <summary>How a proof is gone on with: part by part, after a cancel, and what stands behind the form.</summary>
public class RefiningTests
{
    private static async Task<PathTracer> StartAsync(bool blurred = false) =>
        new ProofRequest("sphere", "softbox", 40, 40, BlurredBackground: blurred).Start(
            await Plain.MaterialAsync("openpbr", ("base_metalness", LookValue.Of(1f)))
        );

    [Fact]
    public async Task APartIsRefinedAloneAndStaysTheSamePicture()
    {
        var (parts, whole) = (await StartAsync(), await StartAsync());
        parts.Accumulate(4);
        parts.Accumulate(12, region: new(0.25f, 0.25f, 0.75f, 0.75f));
        Assert.Equal((4, 16), (parts.Samples, parts.SamplesIn(new(0.25f, 0.25f, 0.75f, 0.75f))));
        whole.Accumulate(16);
        var (a, b) = (parts.Picture(), whole.Picture());
        // The same random numbers for the same sample of a pixel: inside it is bit for bit the picture that was refined as a whole.
        for (var y = 10; y < 30; y++)
        for (var x = 10; x < 30; x++)
            Assert.Equal(b[x, y, 0], a[x, y, 0]);
        Assert.NotEqual(b[20, 38, 0], a[20, 38, 0]);
        parts.Accumulate(12, region: new(0, 0, 1, 0.25f));
        Assert.Equal(4, parts.Samples);
    }

    [Fact]
    public async Task ACancelledPictureIsGoneOnWith()
    {
        var (cut, whole) = (await StartAsync(), await StartAsync());
        using (var cancel = new CancellationTokenSource())
        {
            var rows = 0;
            Assert.ThrowsAny<OperationCanceledException>(() => cut.Accumulate(8, cancel.Token, threads: 1, hold: () =>
                {
                    if (++rows == 10)
                        cancel.Cancel();
                    return false;
                }));
        }
        Assert.Equal(0, cut.Samples);
        cut.Accumulate(8);
        whole.Accumulate(8);
        // Rows that were done before have 16 samples now, the others the same 8 as the picture that nobody cancelled.
        Assert.Equal(8, cut.Samples);
        Assert.Equal(whole.Picture()[20, 39, 0], cut.Picture()[20, 39, 0]);
        Assert.All(cut.Picture().Samples<float>().ToArray(), v => Assert.True(float.IsFinite(v)));
    }

    /// <summary>A picture that stands still keeps no more threads asleep than there are cores: others would wait for new ones.</summary>
    [Fact]
    public async Task APictureThatStandsStillKeepsNoMoreThreadsThanCores()
    {
        ThreadPool.GetMinThreads(out var usual, out var ports);
        ThreadPool.SetMinThreads(4 * Environment.ProcessorCount + 8, ports);
        try
        {
            var picture = await StartAsync();
            var asleep = new System.Collections.Concurrent.ConcurrentDictionary<int, bool>();
            var began = Environment.TickCount64;
            await Task.Run(() => picture.Accumulate(1, hold: () =>
                {
                    asleep[Environment.CurrentManagedThreadId] = true;
                    return Environment.TickCount64 - began < 1500;
                }));
            Assert.InRange(asleep.Count, 1, Environment.ProcessorCount);
        }
        finally
        {
            ThreadPool.SetMinThreads(usual, ports);
        }
    }

    [Fact]
    public async Task ABlurredBackgroundIsSmootherAndLightsNothing()
    {
        var light = LightRoom.Named("softbox");
        float SteepestEdge(EnvironmentLight l)
        {
            var p = l.Picture(256, 128);
            var most = 0f;
            for (var y = 0; y < 128; y++)
            for (var x = 1; x < 256; x++)
                most = MathF.Max(most, MathF.Abs(p[x, y, 0] - p[x - 1, y, 0]));
            return most;
        }
        Assert.True(
            SteepestEdge(light.Blurred) < 0.25f * SteepestEdge(light),
            $"{SteepestEdge(light.Blurred)} against {SteepestEdge(light)}"
        );
        // As much light in all: the mean over the sphere, by the lat-long picture's own weights.
        double Mean(EnvironmentLight l)
        {
            var p = l.Picture(256, 128);
            double sum = 0,
                weights = 0;
            for (var y = 0; y < 128; y++)
            for (var x = 0; x < 256; x++)
            {
                var w = Math.Sin(Math.PI * (y + 0.5) / 128);
                sum += w * p[x, y, 1];
                weights += w;
            }
            return sum / weights;
        }
        Assert.Equal(1, Mean(light.Blurred) / Mean(light), 0.05);
        var (sharp, soft) = (await StartAsync(), await StartAsync(blurred: true));
        sharp.Accumulate(4);
        soft.Accumulate(4);
        // The form in the middle is the same to the bit.
        Assert.Equal(sharp.Picture()[20, 20, 0], soft.Picture()[20, 20, 0]);
    }

    [Fact]
    public async Task AFormWithoutCoordinatesIsSeenAllTheSame()
    {
        var sphere = Forms.Sphere();
        var bare = new Mesh
        {
            Positions = sphere.Positions,
            Normals = sphere.Normals,
            Uvs = new Vector2[sphere.Uvs.Length],
            Indices = sphere.Indices,
            Parts = sphere.Parts,
        }.WithTangents();
        var material = await Plain.MaterialAsync(
            "openpbr",
            ("specular_roughness_anisotropy", LookValue.Of(0.8f)),
            ("coat_weight", LookValue.Of(1f))
        );
        var tracer = new PathTracer(new ProofScene(bare, material, LightRoom.Named("lowsun")), 24, 24, OrbitCamera.For("sphere"));
        tracer.Accumulate(8);
        Assert.All(tracer.Picture().Samples<float>().ToArray(), v => Assert.True(float.IsFinite(v) && v >= 0));
        Assert.True(tracer.Picture()[12, 12, 0] > 0);
    }
}
