using System.Numerics;
using Kiln.Looks.Document;
using Kiln.Looks.Evaluation;
using Kiln.Looks.Graph;
using Kiln.Looks.Steps.Kinds.Reliefs;

namespace Kiln.Looks.Tests;

/// <summary>Relief shared between geometry and shading: what a Gaussian leaves and what it takes away, together the whole again.</summary>
public class ReliefSharingTests
{
    private static Look Wavy(ReliefMode mode, float edge) =>
        new()
        {
            Name = "waves",
            Relief = mode,
            Displacement = new(On: true, HeightMetres: 0.01f, EdgeMetres: edge),
            Lanes = new Look { Name = "x" }
                .Lanes.Add("displacement", new(Chain: new(new NoiseOrigin(new(NoiseKind.Fractal, 4, 4)))))
                .Add(
                    "geometry_normal",
                    new(Chain: new(new NoiseOrigin(new(NoiseKind.Fractal, 4, 4)), [new HeightToNormalStep(new(1), 0.01f) { Id = "s1" }]))
                ),
        };

    private static async Task<Func<Vector2, Vector3>> EvaluatedAsync(Look look, string input, bool displaces = true)
    {
        var graph = new ShadeGraph();
        var node = new LaneGraphs(look, graph, displaces).Input(input)!.Value;
        var program = await ShadeProgram.LoadAsync(graph, [node], new MapTextures(null!, null!), null);
        return uv =>
        {
            var registers = program.NewRegisters();
            program.Run(uv, 1e-4f, registers);
            return registers[program.Register(node)];
        };
    }

    [Fact]
    public async Task SlopesOfBothTogetherAreTheWholeRelief()
    {
        const float edge = 0.02f;
        var (height, shading) = (
            await EvaluatedAsync(Wavy(ReliefMode.Both, edge), "displacement"),
            await EvaluatedAsync(Wavy(ReliefMode.Both, edge), "geometry_normal")
        );
        var whole = await EvaluatedAsync(Wavy(ReliefMode.Shading, edge), "geometry_normal");
        double error = 0,
            size = 0,
            low = 0;
        const float d = 1e-3f;
        for (var i = 0; i < 200; i++)
        {
            var uv = new Vector2(i * 0.618034f % 1, i * 0.754878f % 1);
            var geometry = (height(uv + new Vector2(d, 0)).X - height(uv - new Vector2(d, 0)).X) / (2 * d) * 0.01;
            var rest = shading(uv);
            var all = whole(uv);
            double expected = -all.X / all.Z,
                got = geometry - rest.X / rest.Z;
            error += (expected - got) * (expected - got);
            size += expected * expected;
            low += geometry * geometry;
        }
        // Taps of the point-wise Gaussian are seven a side; what it misses is a few per cent.
        Assert.True(Math.Sqrt(error / size) < 0.1, $"relative error {Math.Sqrt(error / size):0.000}");
        // Both have a part of it.
        Assert.InRange(Math.Sqrt(low / size), 0.15, 0.98);
    }

    [Fact]
    public async Task GeometryAloneLeavesNothingToShading()
    {
        var look = Wavy(ReliefMode.Geometry, 0.01f);
        Assert.Null(new LaneGraphs(look, new ShadeGraph()).Input("geometry_normal"));
        var whole = await EvaluatedAsync(look with { Relief = ReliefMode.Shading }, "displacement");
        var moved = await EvaluatedAsync(look, "displacement");
        Assert.Equal(whole(new(0.3f, 0.4f)), moved(new(0.3f, 0.4f)));
    }

    /// <summary>
    /// What does not move surfaces keeps the whole relief in its shading, whatever the mode; so does a look whose displacement is off.
    /// </summary>
    [Fact]
    public async Task WhereNothingMovesShadingKeepsAll()
    {
        var whole = await EvaluatedAsync(Wavy(ReliefMode.Shading, 0.01f), "geometry_normal");
        var written = await EvaluatedAsync(Wavy(ReliefMode.Both, 0.01f), "geometry_normal", displaces: false);
        var off = await EvaluatedAsync(Wavy(ReliefMode.Geometry, 0.01f) with { Displacement = new(On: false) }, "geometry_normal");
        var uv = new Vector2(0.7f, 0.2f);
        Assert.Equal(whole(uv), written(uv));
        Assert.Equal(whole(uv), off(uv));
    }
}
