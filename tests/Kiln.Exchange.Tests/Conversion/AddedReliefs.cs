using System.Numerics;
using Kiln.Dialects.Folding;
using Kiln.Looks.Document;
using Kiln.Looks.Evaluation;
using Kiln.Looks.Graph;
using Kiln.Looks.Readings;
using Kiln.Looks.Steps.Kinds.Reliefs;
using Kiln.Pixels;

namespace Kiln.Exchange.Tests.Conversion;

/// <summary>
/// Several reliefs in one look: bisque's nodes add two, tenmoku's list takes four pictures with a weight each, the others get them made
/// into one picture. Held against the sum of slopes.
/// </summary>
public sealed class AddedReliefs(Workshop shop) : IClassFixture<Workshop>
{
    private static readonly float[] Weights = [0.8f, 0.5f, 1.2f];

    private static Vector2 Slope(int map, Vector2 uv) =>
        map switch
        {
            0 => new(0.3f * MathF.Sin(6.2832f * uv.X), 0.1f),
            1 => new(-0.1f, 0.25f * MathF.Cos(6.2832f * uv.Y)),
            _ => new(0.15f * MathF.Cos(12.566f * uv.Y), 0.2f * MathF.Sin(6.2832f * uv.X)),
        };

    private Look Look(int reliefs)
    {
        const int size = 64;
        var look = new Look { Name = "three reliefs" };
        Chain? chain = null;
        for (var map = 0; map < reliefs; map++)
        {
            var picture = new ImageBuffer(size, size, ImageBuffer.Rgb, SampleType.U16);
            for (var y = 0; y < size; y++)
            for (var x = 0; x < size; x++)
            {
                var s = Slope(map, new((x + 0.5f) / size, 1 - (y + 0.5f) / size));
                var n = (Vector3.Normalize(new(-s.X, -s.Y, 1)) + Vector3.One) / 2;
                for (var c = 0; c < 3; c++)
                    picture[x, y, c] = n[c];
            }
            var file = shop.Store($"relief_{map}.png", picture);
            look = look with { Slots = look.Slots.SetItem($"normal{map}", new(MapRole.Normal, file, [file])) };
            var own = new Chain(
                new SlotOrigin($"normal{map}", new Reading(ReadingKind.Direction, "raw", MapChannel.Rgb, NormalY.Up)),
                [new DecodeNormalStep(new Feed(1)) { Id = "s1" }]
            );
            chain = chain is null
                ? own
                : chain with
                {
                    Steps = chain.Steps.Add(
                        new CombineStep(CombineMode.Additive, own, new Feed(map == 1 ? Weights[0] : 1), new Feed(Weights[map]))
                        {
                            Id = $"s{map + 1}",
                        }
                    ),
                };
        }
        return look with { Lanes = look.Lanes.SetItem("geometry_normal", new(Chain: chain!)) };
    }

    private async Task<Vector3> AtAsync(Look look, Vector2 uv)
    {
        var graph = new ShadeGraph();
        var node = new LaneGraphs(look, graph).Input("geometry_normal")!.Value;
        var program = await ShadeProgram.LoadAsync(graph, [node], shop.Textures, null);
        var registers = program.NewRegisters();
        program.Run(uv, 1e-5f, registers);
        return registers[program.Register(node)];
    }

    [Theory]
    [InlineData("bisque", 2, 0)]
    [InlineData("bisque", 3, 0)]
    [InlineData("tenmoku", 2, 2)]
    [InlineData("tenmoku", 3, 3)]
    [InlineData("celadon", 3, 1)]
    [InlineData("openpbr", 2, 1)]
    [InlineData("usd_preview", 2, 1)]
    public async Task WrittenReliefsAddUp(string dialect, int reliefs, int made)
    {
        var look = Look(reliefs);
        var compiled = await shop.CompileAsync(look, dialect);
        // Y-up pictures have to be turned for tenmoku, which has no node for that.
        Assert.Equal(made, compiled.Network.Textures.Count(t => t.Baked));
        var network = shop.Read(Assert.Single(shop.Write(compiled.Network, $"{dialect}{reliefs}")), dialect);
        var back = await NetworkReading.ReadAsync(shop.Profiles.Find(dialect), network);
        Assert.Empty(back.Remarks);
        for (var i = 0; i < 24; i++)
        {
            var uv = new Vector2((i * 11 % 64 + 0.5f) / 64, (i * 23 % 64 + 0.5f) / 64);
            var slopes = Weights[0] * Slope(0, uv) + Weights[1] * Slope(1, uv) + (reliefs > 2 ? Weights[2] * Slope(2, uv) : Vector2.Zero);
            var expected = Vector3.Normalize(new(-slopes.X, -slopes.Y, 1));
            // Decoded maps are held as half floats: near one half a step is 2.4e-4, a direction is twice that, and three weigh 2.5.
            Assert.True(
                Vector3.Distance(expected, await AtAsync(look, uv)) < 1.3e-3f,
                $"{uv}: {await AtAsync(look, uv)} instead of {expected}"
            );
            Assert.True(
                Vector3.Distance(expected, await AtAsync(back, uv)) < 2e-3f,
                $"{dialect}: {await AtAsync(back, uv)} instead of {expected}"
            );
        }
        if (dialect is "bisque" or "tenmoku")
        {
            Workshop.AssertValidMaterialX(
                Directory
                    .GetFiles(Path.Combine(shop.Folder, "written", $"{dialect}{reliefs}"), "*.mtlx")
                    .First(f => !f.EndsWith("_defs.mtlx", StringComparison.Ordinal))
            );
            Assert.Equal(reliefs - 1, back.Lanes["geometry_normal"].Chain!.Steps.OfType<CombineStep>().Count());
        }
    }
}
