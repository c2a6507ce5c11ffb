using System.Numerics;
using System.Runtime.Intrinsics;
using Kiln.Looks.Document;
using Kiln.Looks.Steps.Arithmetic;
using Kiln.Simd;

namespace Kiln.Looks.Tests.Steps;

public class NoiseStatistics
{
    private static readonly NoiseField[] Fields = [new(NoiseKind.Gradient, 8), new(NoiseKind.Fractal, 4, 6), new(NoiseKind.Cell, 8)];

    private static float[] Samples(NoiseField noise, int side = 256) =>
        [
            .. from y in Enumerable.Range(0, side)
            from x in Enumerable.Range(0, side)
            select TileableNoise.At(noise, new((x + 0.5f) / side, (y + 0.5f) / side), 0),
        ];

    [Fact]
    public void RepeatsWithoutASeamAndStaysWithinItsRange()
    {
        var random = new Random(1);
        foreach (var noise in Fields)
        {
            for (var i = 0; i < 500; i++)
            {
                Vector2 at = new(random.NextSingle(), random.NextSingle());
                var here = TileableNoise.At(noise, at, 0);
                Assert.InRange(here, 0, 1);
                Assert.Equal(here, TileableNoise.At(noise, at + new Vector2(1, -2), 0), 2e-3f);
            }
            // Over the edge it goes on as smoothly as inside.
            for (var v = 0f; v < 1; v += 0.01f)
                Assert.Equal(TileableNoise.At(noise, new(0.9999f, v), 0), TileableNoise.At(noise, new(1.0001f, v), 0), 0.02f);
        }
    }

    [Fact]
    public void HasTheMeanAndSpreadOfItsKind()
    {
        // Gradient noise is symmetric about its middle, so any seed has a mean near one half, and octaves of it too.
        foreach (var seed in new[] { 1, 2, 3, 4 })
        foreach (var noise in new[] { Fields[0] with { Cells = 32, Seed = seed }, Fields[1] with { Cells = 16, Seed = seed } })
            Assert.Equal(0.5, Samples(noise, 512).Average(), 0.01);
        // Variance of two-dimensional gradient noise with unit gradients and the quintic fade: Σ over four corners of ½|d|²w²
        // integrated over a cell, by numeric integration here; ours is scaled by √½.
        double expected = 0;
        const int steps = 200;
        static double Fade(double t) => t * t * t * (t * (t * 6 - 15) + 10);
        for (var i = 0; i < steps; i++)
        for (var k = 0; k < steps; k++)
        {
            double x = (i + 0.5) / steps,
                y = (k + 0.5) / steps,
                wx = 1 - Fade(x),
                wy = 1 - Fade(y);
            expected += 0.5 * (x * x + y * y) * wx * wx * wy * wy * 4 / (steps * steps);
        }
        var samples = Samples(new(NoiseKind.Gradient, 64), 1024);
        var mean = samples.Average();
        Assert.Equal(expected / 2, samples.Average(s => (s - mean) * (s - mean)), 0.05 * expected);
        // Each octave adds detail: halved and twice as fine, it has as much energy between neighbours as the one before; six of them
        // weighed down to the range of one still have 6 / 1.97² of it.
        double Roughness(NoiseField noise) =>
            Samples(noise) is var s ? Enumerable.Range(1, s.Length - 1).Average(i => (s[i] - s[i - 1]) * (s[i] - s[i - 1])) : 0;
        Assert.True(Roughness(Fields[1]) > 1.3 * Roughness(Fields[1] with { Octaves = 1 }));
    }

    /// <summary>
    /// Distances to a jittered grid's points: at most √2·1.5 cells by construction, and half the plane is nearer than 0.45 cells (measured
    /// over many points by brute force here).
    /// </summary>
    [Fact]
    public void CellNoiseIsTheDistanceToTheNearestOfItsPoints()
    {
        var samples = Samples(new(NoiseKind.Cell, 16), 512);
        Assert.InRange(samples.Order().ElementAt(samples.Length / 2), 0.38f, 0.48f);
        Assert.True(samples.Min() < 0.02f);
        // It rises with slope 1 cell a cell from each point: neighbours differ by no more than their distance.
        for (var i = 1; i < 512; i++)
            Assert.True(MathF.Abs(samples[i] - samples[i - 1]) <= 16f / 512 + 1e-4f);
    }

    [Fact]
    public void IsTheSameForASeedAndAnotherForAnother()
    {
        foreach (var noise in Fields)
        {
            Assert.Equal(Samples(noise, 32), Samples(noise, 32));
            Assert.NotEqual(Samples(noise, 32), Samples(noise with { Seed = 99 }, 32));
        }
    }

    [Fact]
    public void FinerThanTheFootprintFadesToTheMean()
    {
        var noise = new NoiseField(NoiseKind.Gradient, 64);
        Assert.Equal(0.5f, TileableNoise.At(noise, new(0.31f, 0.77f), 1f / 16), 1e-6f);
        Assert.NotEqual(0.5f, TileableNoise.At(noise, new(0.31f, 0.77f), 1f / 1024));
    }

    /// <summary>Noise whose lattices are worked out beforehand is the same noise.</summary>
    [Theory]
    [InlineData(NoiseKind.Gradient, 1)]
    [InlineData(NoiseKind.Fractal, 6)]
    public void EightAtOnceAreAsOneByOne(NoiseKind kind, int octaves)
    {
        var noise = new NoiseField(kind, 7, octaves, 0.62f, 11);
        var wide = new WideNoise(noise);
        var random = new Random(3);
        foreach (var footprint in new[] { 0f, 0.01f, 0.07f })
            for (var i = 0; i < 200; i++)
            {
                var at = Enumerable
                    .Range(0, WideMath.Lanes)
                    .Select(_ => new Vector2(random.NextSingle() * 8 - 4, random.NextSingle() * 8 - 4));
                Vector2[] places = [.. at, Vector2.Zero];
                var found = wide.At(
                    Vector256.Create([.. places[..8].Select(p => p.X)]),
                    Vector256.Create([.. places[..8].Select(p => p.Y)]),
                    WideMath.Of(footprint)
                );
                for (var lane = 0; lane < WideMath.Lanes; lane++)
                    Assert.Equal(TileableNoise.At(noise, places[lane], footprint), found[lane], 2e-4f);
            }
        Assert.Throws<ArgumentException>(() => new WideNoise(new(NoiseKind.Cell, 8)));
    }
}
