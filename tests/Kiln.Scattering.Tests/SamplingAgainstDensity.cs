using System.Numerics;
using MathNet.Numerics.Distributions;

namespace Kiln.Scattering.Tests;

/// <summary>
/// Pearson's chi-square test of what is sampled against the density that is stated, over the whole sphere; significance 1 % for all tests
/// together
/// (Bonferroni). Expected counts come from integrating the density over each cell; cells that expect fewer than five are pooled (Cochran's
/// rule).
/// </summary>
public class SamplingAgainstDensity
{
    private const int Rows = 24,
        Columns = 32,
        Samples = 200_000;

    private sealed record Case(string Name, SurfaceModel Model, SurfaceParameters P, bool Inside = false, Frame? Coat = null);

    private static readonly Case[] Cases =
    [
        new("GGX", Surfaces.Packed, Surfaces.Metal(0.3f)),
        new("GGX, wide", Surfaces.Packed, Surfaces.Metal(1f)),
        new("GGX, stretched", Surfaces.Packed, Surfaces.Metal(0.4f, 0.7f)),
        new("Beckmann", Surfaces.Beckmann, Surfaces.Metal(0.4f)),
        new("Beckmann, stretched", Surfaces.Beckmann, Surfaces.Metal(0.5f, 0.6f)),
        new("cosine", Surfaces.Packed, Surfaces.White with { SpecularWeight = 0 }),
        new("rough diffuse", Surfaces.Full, Surfaces.White with { SpecularWeight = 0, DiffuseRoughness = 1 }),
        new(
            "fuzz, transformed cosine",
            Surfaces.Full,
            Surfaces.White with
            {
                BaseColour = Vector3.Zero,
                SpecularWeight = 0,
                FuzzWeight = 1,
                FuzzRoughness = 0.4f,
            }
        ),
        new(
            "fuzz, even",
            Surfaces.Packed,
            Surfaces.White with
            {
                BaseColour = Vector3.Zero,
                SpecularWeight = 0,
                FuzzWeight = 1,
                FuzzRoughness = 0.4f,
            }
        ),
        new("glass, entering", Surfaces.Full, Surfaces.Glass(0.3f)),
        new("glass, leaving", Surfaces.Full, Surfaces.Glass(0.4f), true),
        new("dense glass, leaving", Surfaces.Full, Surfaces.Glass(0.5f, 2.2f), true),
        new("thin sheet", Surfaces.Full, Surfaces.Glass(0.3f) with { ThinWalled = 1 }),
        new("sheet with skin", Surfaces.Full, Surfaces.White with { ThinWalled = 1, Subsurface = 0.7f }),
        new(
            "metal by complex index",
            Surfaces.Complex,
            Surfaces.Metal(0.4f) with
            {
                BaseColour = new(0.9f, 0.5f, 0.3f),
                SpecularColour = new(0.8f),
            }
        ),
        new(
            "Oren and Nayar",
            Surfaces.Complex,
            Surfaces.White with
            {
                SpecularWeight = 0,
                SpecularColour = Vector3.Zero,
                DiffuseRoughness = 0.8f,
            }
        ),
        new(
            "coat of one tint",
            Surfaces.Complex,
            Surfaces.White with
            {
                Width = 0.4f,
                CoatWeight = 1,
                CoatWidth = 0.2f,
                CoatColour = new(0.6f, 0.4f, 0.9f),
            }
        ),
        new(
            "reflection as two colours",
            Surfaces.Beckmann,
            Surfaces.White with
            {
                Width = 0.3f,
                ReflectanceAsColour = 1,
                SpecularColour = new(0.5f, 0.3f, 0.1f),
                BaseColour = new(0.3f),
            }
        ),
        new("plastic", Surfaces.Full, Surfaces.White with { Width = 0.25f }),
        new("coat over metal", Surfaces.Full, Surfaces.Metal(0.5f) with { CoatWeight = 1, CoatWidth = 0.2f }),
        new(
            "coat that leans",
            Surfaces.Full,
            Surfaces.White with
            {
                Width = 0.4f,
                CoatWeight = 1,
                CoatWidth = 0.3f,
            },
            Coat: new Frame(Vector3.Normalize(new(0.25f, -0.1f, 1)))
        ),
        new(
            "coat stretched elsewhere than the base",
            Surfaces.Full,
            Surfaces.Metal(0.5f, 0.6f) with
            {
                CoatWeight = 1,
                CoatWidth = 0.3f,
                CoatAnisotropy = 0.7f,
            },
            Coat: new Frame(Vector3.UnitZ, new(0.6f, 0.8f, 0))
        ),
        new(
            "coat that leans and is stretched",
            Surfaces.Full,
            Surfaces.White with
            {
                Width = 0.4f,
                CoatWeight = 1,
                CoatWidth = 0.3f,
                CoatAnisotropy = 0.5f,
            },
            Coat: new Frame(Vector3.Normalize(new(0.2f, 0.1f, 1)), Vector3.UnitY)
        ),
        new(
            "everything",
            Surfaces.Full,
            Surfaces.White with
            {
                Metalness = 0.3f,
                Width = 0.3f,
                Transmission = 0.4f,
                CoatWeight = 0.6f,
                CoatWidth = 0.25f,
                FuzzWeight = 0.5f,
                FilmWeight = 1,
                FilmThickness = 420,
            }
        ),
    ];

    private static readonly float[] Cosines = [0.95f, 0.55f, 0.15f];

    public static TheoryData<string, float> All()
    {
        var data = new TheoryData<string, float>();
        foreach (var c in Cases)
        foreach (var cos in Cosines)
            data.Add(c.Name, cos);
        return data;
    }

    [Theory]
    [MemberData(nameof(All))]
    public void IsWhatTheDensitySays(string name, float cos)
    {
        var c = Cases.Single(x => x.Name == name);
        var surface = Surface.Of(c.Model, c.P, Surfaces.At(cos, 20), c.Inside, c.Coat);
        var expected = new double[Rows * Columns + 1];
        const int fine = 32;
        for (var row = 0; row < Rows * fine; row++)
        for (var column = 0; column < Columns * fine; column++)
        {
            var z = 1 - 2 * (row + 0.5f) / (Rows * fine);
            var (sin, cosPhi) = MathF.SinCos(2 * MathF.PI * (column + 0.5f) / (Columns * fine));
            var r = MathF.Sqrt(1 - z * z);
            surface.Evaluate(new(r * cosPhi, r * sin, z), out var density);
            expected[row / fine * Columns + column / fine] += density;
        }
        for (var i = 0; i < expected.Length; i++)
            expected[i] *= 4 * Math.PI / (Rows * Columns * fine * fine) * Samples;
        // What is absorbed (mirrored to the wrong side, for example) has no density.
        expected[^1] = Samples - expected.Sum();
        Assert.True(expected[^1] > -0.005 * Samples, $"the density of {name} holds {1 - expected[^1] / Samples:0.0000}");
        var counts = new double[expected.Length];
        var random = new Random(5);
        for (var i = 0; i < Samples; i++)
        {
            var wi = surface.Sample(random.NextSingle(), new(random.NextSingle(), random.NextSingle()));
            var density = 0f;
            if (wi != Vector3.Zero)
                surface.Evaluate(wi, out density);
            var phi = MathF.Atan2(wi.Y, wi.X);
            var at =
                Math.Clamp((int)((1 - wi.Z) / 2 * Rows), 0, Rows - 1) * Columns
                + Math.Clamp((int)((phi < 0 ? phi + 2 * MathF.PI : phi) / (2 * MathF.PI) * Columns), 0, Columns - 1);
            counts[density > 0 ? at : ^1]++;
        }
        double statistic = 0,
            pooledExpected = 0,
            pooledCount = 0;
        var cells = 0;
        foreach (var (e, n) in expected.Zip(counts))
        {
            if (e < 5)
            {
                (pooledExpected, pooledCount) = (pooledExpected + Math.Max(0, e), pooledCount + n);
                continue;
            }
            statistic += (n - e) * (n - e) / e;
            cells++;
        }
        if (pooledExpected >= 5)
        {
            statistic += (pooledCount - pooledExpected) * (pooledCount - pooledExpected) / pooledExpected;
            cells++;
        }
        else
        {
            Assert.True(pooledCount < 40, $"{pooledCount} samples of {name} where {pooledExpected:0.0} were expected");
        }
        var p = 1 - ChiSquared.CDF(cells - 1, statistic);
        Assert.True(p > 0.01 / (Cases.Length * Cosines.Length), $"{name} at {cos}: χ² = {statistic:0.0} over {cells} cells, p = {p:0.0e0}");
    }
}
