using System.Numerics;
using Kiln.Looks.Document;
using Kiln.Looks.Evaluation;
using Kiln.Looks.Graph;
using Kiln.Looks.Maps;
using Kiln.Looks.Readings;
using Kiln.Looks.Steps;
using Kiln.Looks.Steps.Kinds.Reliefs;
using Kiln.Looks.Tests.Steps;
using Kiln.Pixels;

namespace Kiln.Looks.Tests;

/// <summary>
/// Varied tiles: no pattern of repeats is left, what was even stays even, the unit of UV still closes, and directions turn with their
/// pictures.
/// </summary>
public class TileVariationTests
{
    private const int Side = 128;

    private static float Height(float u, float v) =>
        0.5f
        + 0.18f * MathF.Sin(2 * MathF.PI * (2 * u + v))
        + 0.15f * MathF.Cos(2 * MathF.PI * (3 * v - u))
        + 0.1f * MathF.Sin(2 * MathF.PI * (5 * u + 4 * v));

    private static ImageBuffer Picture(Func<float, float, float> at)
    {
        var picture = new ImageBuffer(Side, Side, ["Y"], SampleType.F32);
        var row = new float[Side];
        for (var y = 0; y < Side; y++)
        {
            for (var x = 0; x < Side; x++)
                row[x] = at((x + 0.5f) / Side, 1 - (y + 0.5f) / Side);
            picture.WriteRow(y, row);
        }
        return picture;
    }

    private static async Task<ImageBuffer> VariedAsync(ImageBuffer map, Placement placement, int size = 256, params Step[] steps)
    {
        var (program, node, graph) = await LoadAsync(map, new(ReadingKind.Scalar, "raw", MapChannel.Luminance), placement, steps);
        return program.Picture(node, size, size, graph[node].Type);
    }

    private static Task<(ShadeProgram Program, int Node, ShadeGraph Graph)> LoadAsync(
        ImageBuffer map,
        Reading reading,
        Placement placement,
        params Step[] steps
    )
    {
        var pictures = new Graphs();
        var look = pictures.LookWith(("map", pictures.Add("map", map))) with { Placement = placement };
        return pictures.LoadAsync(look, new Chain(new SlotOrigin("map", reading), [.. steps]));
    }

    private static double Correlation(ImageBuffer picture, int shift)
    {
        double a = 0,
            aa = 0,
            ab = 0;
        var n = picture.Width * picture.Height;
        for (var y = 0; y < picture.Height; y++)
        for (var x = 0; x < picture.Width; x++)
            a += picture[x, y, 0];
        a /= n;
        for (var y = 0; y < picture.Height; y++)
        for (var x = 0; x < picture.Width; x++)
        {
            var d = picture[x, y, 0] - a;
            aa += d * d;
            ab += d * (picture[(x + shift) % picture.Width, y, 0] - a);
        }
        return ab / aa;
    }

    [Fact]
    public async Task ThePatternOfRepeatsIsGone()
    {
        var map = Picture(Height);
        Assert.Equal(1, Correlation(await VariedAsync(map, new(4, 4)), 64), 1e-3);
        Assert.InRange(Correlation(await VariedAsync(map, new(4, 4, Variation: new(8, 0, 3))), 64), -0.35, 0.35);
        Assert.InRange(Correlation(await VariedAsync(map, new(4, 4, Variation: new(8, 180, 3))), 64), -0.35, 0.35);
    }

    [Fact]
    public async Task WhatIsEvenStaysEvenAndTheMeanIsKept()
    {
        var even = await VariedAsync(Picture((_, _) => 0.37f), new(4, 4, Variation: new(6, 90, 2)));
        Assert.All(even.Samples<float>().ToArray(), v => Assert.Equal(0.37f, v, 1e-5));
        var varied = await VariedAsync(Picture(Height), new(4, 4, Variation: new(8, 40, 2)));
        Assert.Equal(0.5, varied.Samples<float>().ToArray().Average(), 0.02);
    }

    /// <summary>The next unit of UV shows the same: a baked picture repeats without a seam, both ways.</summary>
    [Fact]
    public async Task OneUnitOfUvCloses()
    {
        var (program, node, _) = await LoadAsync(
            Picture(Height),
            new(ReadingKind.Scalar, "raw", MapChannel.Luminance),
            new(4, 4, Variation: new(10, 30, 5))
        );
        float At(Vector2 uv)
        {
            var registers = program.NewRegisters();
            program.Run(uv, 1f / 2048, registers);
            return registers[program.Register(node)].X;
        }
        for (var k = 0; k < 200; k++)
        {
            var uv = new Vector2(k * 0.618034f % 1, k * 0.754878f % 1);
            Assert.Equal(At(uv), At(uv + Vector2.UnitX), 2e-3);
            Assert.Equal(At(uv), At(uv + Vector2.UnitY), 2e-3);
            Assert.Equal(At(uv), At(uv - new Vector2(2, 3)), 4e-3);
        }
        Assert.Equal(At(new(0.3f, 1 - 1e-4f)), At(new(0.3f, 1 + 1e-4f)), 0.02);
    }

    /// <summary>
    /// A normal map made from a height must, varied, have the slopes of the height varied the same: where one tile stands alone the
    /// derivative of the one picture is the other picture.
    /// </summary>
    [Theory]
    [InlineData(false, NormalY.Up)]
    [InlineData(true, NormalY.Up)]
    [InlineData(false, NormalY.Down)]
    public async Task DirectionsTurnWithTheirPictures(bool mirrored, NormalY green)
    {
        const float steep = 0.08f;
        var height = Picture(Height);
        var normals = new ImageBuffer(Side, Side, ImageBuffer.Rgb, SampleType.F32);
        var row = new float[3 * Side];
        for (var y = 0; y < Side; y++)
        {
            for (var x = 0; x < Side; x++)
            {
                float u = (x + 0.5f) / Side,
                    v = 1 - (y + 0.5f) / Side;
                const float d = 1e-3f;
                var n = Vector3.Normalize(
                    new(
                        -steep * (Height(u + d, v) - Height(u - d, v)) / (2 * d),
                        -steep * (Height(u, v + d) - Height(u, v - d)) / (2 * d),
                        1
                    )
                );
                (row[3 * x], row[3 * x + 1], row[3 * x + 2]) = (
                    0.5f + 0.5f * n.X,
                    0.5f + 0.5f * (green == NormalY.Down ? -n.Y : n.Y),
                    0.5f + 0.5f * n.Z
                );
            }
            normals.WriteRow(y, row);
        }
        var placement = new Placement(2, 2, 20, MirrorU: mirrored, Variation: new(4, 120, 7));
        var byMap = await LoadAsync(
            normals,
            new(ReadingKind.Direction, "raw", MapChannel.Rgb, green),
            placement,
            new DecodeNormalStep(new(1)) { Id = "s1" }
        );
        var byHeight = await LoadAsync(
            height,
            new(ReadingKind.Scalar, "raw", MapChannel.Luminance),
            placement,
            new HeightToNormalStep(new(1), steep / 2) { Id = "s1" }
        );
        Vector3 At((ShadeProgram Program, int Node, ShadeGraph Graph) of, Vector2 uv)
        {
            var registers = of.Program.NewRegisters();
            of.Program.Run(uv, 1f / 2048, registers);
            return registers[of.Program.Register(of.Node)];
        }
        var scatter = TileScatter.Of(placement, new(ReadingKind.Scalar, "raw", MapChannel.Luminance))!;
        var corners = new TileScatter.Corner[3];
        var seen = 0;
        for (var k = 0; k < 3000; k++)
        {
            var uv = new Vector2(k * 0.618034f % 1, k * 0.754878f % 1);
            scatter.At(uv, corners);
            if (corners.Max(c => c.Weight) < 0.9999f)
                continue;
            seen++;
            // The repeats are two a unit: relief scales with the size of a repeat, so the height's slopes double with them and its metres
            // are halved above.
            Assert.True(Vector3.Distance(At(byMap, uv), At(byHeight, uv)) < 0.03f, $"{At(byMap, uv)} against {At(byHeight, uv)} at {uv}");
        }
        Assert.True(seen > 100, $"{seen} points");
    }

    [Theory]
    [InlineData(7, 0, 2, 2)]
    [InlineData(0, 0, 2, 2)]
    [InlineData(8, 200, 2, 2)]
    [InlineData(8, 10, 2, 3)]
    public void WhatCannotBeIsRefused(int cells, float turn, float u, float v)
    {
        var look = new Look { Name = "x" };
        Assert.Throws<LookException>(() => new Edits.PlacementEdit(new(u, v, Variation: new(cells, turn))).Apply(look));
        new Edits.PlacementEdit(new(u, v, Variation: new(8))).Apply(look);
    }
}
