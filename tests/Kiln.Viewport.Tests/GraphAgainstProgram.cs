using System.Numerics;
using Kiln.Dialects.Execution;
using Kiln.Exchange.Tests;
using Kiln.Looks.Document;
using Kiln.Looks.Evaluation;
using Kiln.Looks.Graph;
using Kiln.Looks.Inputs;
using Kiln.Looks.Maps;
using Kiln.Looks.Readings;
using Kiln.Looks.Steps.Arithmetic;
using Kiln.Pixels;
using Kiln.Viewport.Tests.Running;

namespace Kiln.Viewport.Tests;

/// <summary>
/// The shader of a graph, and <see cref="WideProgram"/>, against <see cref="ShadeProgram"/>, which tests of its own hold against
/// published formulas: every operation, and
/// the demo's looks as themselves and in all dialects.
/// </summary>
[Collection(Shaders.Name)]
public sealed class GraphAgainstProgram(ShaderBrowser browser, DemoLooks demo) : IClassFixture<DemoLooks>
{
    private const float Tolerance = 1e-3f;

    /// <summary>Of eight points at once, as the proof asks: the same arithmetic in another order.</summary>
    private const float EightTolerance = 2e-5f;

    private static readonly WorkshopPictures Pictures = new();

    /// <summary>Every operation, over pictures of smooth noise as they are found in looks.</summary>
    private static Dictionary<string, int> EveryOperation(ShadeGraph graph, Workshop shop)
    {
        int Picture(ReadingKind kind, string name, Placement? placement = null, Reading? reading = null) =>
            graph.Image(
                new(
                    Pictures.File(shop, name),
                    reading
                        ?? new Reading(
                            kind,
                            kind == ReadingKind.Colour ? "srgb_texture" : "raw",
                            kind == ReadingKind.Scalar ? MapChannel.R : MapChannel.Rgb
                        ),
                    placement ?? Placement.Identity
                )
            );
        var (a, b) = (Picture(ReadingKind.Colour, "a"), Picture(ReadingKind.Colour, "b", new Placement(2, 3, 20, 0.1f, 0.2f)));
        var (s, t) = (Picture(ReadingKind.Scalar, "a"), Picture(ReadingKind.Scalar, "b"));
        var stored = Picture(ReadingKind.Direction, "a");
        var up = graph.Add(new DecodeNormalNode(stored, graph.Constant(0.7f), YDown: false));
        var down = graph.Add(new DecodeNormalNode(Picture(ReadingKind.Direction, "b"), graph.Constant(1.3f), YDown: true));
        int C(float v) => graph.Constant(v);
        var varied = new Placement(2, 2, 10, Variation: new TileVariation(6, 70, 3));
        var curve = MonotoneCurve.Prepare([new(0, 0.1f), new(0.3f, 0.2f), new(0.6f, 0.8f), new(1, 0.9f)]);
        int Noise(NoiseField field) => graph.Noise(new(field, new Placement(3, 2, 15)));
        return new()
        {
            ["Constant"] = graph.Constant(new Vector3(0.2f, 0.4f, 0.9f)),
            ["Parameter"] = graph.Add(ShadeOp.Multiply, a, graph.Parameter("gain", new Vector3(0.7f), ShadeType.Scalar)),
            ["Parameter, a colour"] = graph.Parameter("tint", new Vector3(0.1f, 0.6f, 0.3f), ShadeType.Colour),
            ["Image"] = a,
            ["Image, placed"] = b,
            ["Image, mirrored"] = Picture(ReadingKind.Scalar, "a", new Placement(1.5f, 1, 0, 0.3f, MirrorU: true, MirrorV: true)),
            ["Image, varied"] = Picture(ReadingKind.Colour, "b", varied),
            ["Image, varied direction"] = Picture(
                ReadingKind.Direction,
                "a",
                varied,
                new Reading(ReadingKind.Direction, "raw", MapChannel.Rgb) { NormalY = NormalY.Down }
            ),
            ["Image, tiled"] = graph.Image(
                new(Pictures.Tiled(shop), new Reading(ReadingKind.Colour, "srgb_texture", MapChannel.Rgb), Placement.Identity)
            ),
            ["Image, tiled directions"] = graph.Image(
                new(Pictures.Tiled(shop), new Reading(ReadingKind.Direction, "raw", MapChannel.Rgb), Placement.Identity)
            ),
            ["Invert"] = graph.Add(ShadeOp.Invert, a),
            ["Add"] = graph.Add(ShadeOp.Add, a, s),
            ["Subtract"] = graph.Add(ShadeOp.Subtract, a, b),
            ["Multiply"] = graph.Add(ShadeOp.Multiply, s, t),
            ["Divide"] = graph.Add(ShadeOp.Divide, a, graph.Add(ShadeOp.Add, b, C(0.3f))),
            ["Divide by nothing"] = graph.Add(ShadeOp.Divide, a, graph.Add(ShadeOp.Subtract, s, s)),
            ["Minimum"] = graph.Add(ShadeOp.Minimum, a, C(0.4f)),
            ["Maximum"] = graph.Add(ShadeOp.Maximum, a, s),
            ["Clamp"] = graph.Add(ShadeOp.Clamp, a, C(0.2f), C(0.6f)),
            ["Power"] = graph.Add(ShadeOp.Power, a, C(2.2f)),
            ["Power of less than nothing"] = graph.Add(ShadeOp.Power, graph.Add(ShadeOp.Subtract, a, C(0.5f)), C(1.7f)),
            ["SquareRoot"] = graph.Add(ShadeOp.SquareRoot, graph.Add(ShadeOp.Subtract, a, C(0.2f))),
            ["Mix"] = graph.Add(ShadeOp.Mix, a, b, s),
            ["Remap"] = graph.Add(ShadeOp.Remap, a, C(0.1f), C(0.8f), C(0.2f), C(1.4f)),
            ["IfGreater"] = graph.Add(
                ShadeOp.IfGreater,
                graph.Add(ShadeOp.Add, graph.Constant(0.25f), graph.Noise(new(new(), new Placement(2, 2)))),
                C(0.1f),
                a,
                b
            ),
            ["Channel"] = graph.Channel(a, MapChannel.G),
            ["Luminance"] = graph.Channel(a, MapChannel.Luminance),
            ["Splat"] = graph.As(s, ShadeType.Colour),
            ["DecodeNormal"] = up,
            ["DecodeNormal, down"] = down,
            ["RotateDirection"] = graph.Add(new RotateDirectionNode(up, new(0.8f, -0.6f, 0.6f, 0.8f))),
            ["HeightToNormal"] = graph.Add(new HeightToNormalNode(s, C(1.2f), new(0.05f, 0.02f))),
            ["Heading"] = graph.Add(ShadeOp.Heading, s),
            ["Revolutions"] = graph.Add(ShadeOp.Revolutions, graph.Add(ShadeOp.Heading, graph.Add(ShadeOp.Multiply, s, C(0.4f)))),
            ["Curve"] = graph.Add(new CurveNode(a, ShadeType.Colour, curve)),
            ["Curve of a number"] = graph.Add(new CurveNode(s, ShadeType.Scalar, curve)),
            ["HsvAdjust"] = graph.Add(
                new ArithmeticNode(
                    ShadeOp.HsvAdjust,
                    ShadeType.Colour,
                    [a, graph.Constant(new Vector3(0.2f, 1.3f, 0.9f), ShadeType.Direction)]
                )
            ),
            ["Pack"] = graph.Add(new ArithmeticNode(ShadeOp.Pack, ShadeType.Colour, [s, t, C(0.3f)])),
            ["Reorient"] = graph.Add(ShadeOp.Reorient, up, down),
            ["AddReliefs"] = graph.Add(ShadeOp.AddReliefs, up, C(0.6f), down, s),
            ["ConvertSpace"] = graph.Add(new ConvertSpaceNode(a, "acescg", "srgb_texture")),
            ["ConvertSpace, to ACEScct"] = graph.Add(new ConvertSpaceNode(a, "acescg", "acescct")),
            ["ConvertSpace, from ACEScct"] = graph.Add(new ConvertSpaceNode(a, "acescct", "lin_rec709")),
            ["Noise"] = Noise(new(NoiseKind.Gradient, 5, 1, 0.5f, 7)),
            ["Noise, fractal"] = Noise(new(NoiseKind.Fractal, 4, 5, 0.55f, 3)),
            ["Noise, cells"] = Noise(new(NoiseKind.Cell, 6, 1, 0.5f, 9)),
            ["Blur"] = graph.Add(new BlurNode(a, ShadeType.Colour, 0.03f)),
        };
    }

    [Fact]
    public void EveryOperationIsTried()
    {
        var graph = new ShadeGraph();
        var tried = EveryOperation(graph, demo.Shop).Values.SelectMany(n => graph.Needed(n)).Select(n => graph[n].Op).ToHashSet();
        Assert.Empty(Enum.GetValues<ShadeOp>().Except(tried));
    }

    [Theory]
    [InlineData(1f / 1024)]
    [InlineData(1f / 40)]
    [InlineData(0.4f)]
    public async Task EveryOperationAgrees(float footprint)
    {
        var graph = new ShadeGraph();
        var operations = EveryOperation(graph, demo.Shop);
        var points = GraphRuns.Points(512, footprint);
        var (shader, program) = await GraphRuns.BothAsync(browser, graph, [.. operations.Values], demo.Shop.Textures, points);
        var faults = operations.Keys.Select((name, i) => (name, Most: GraphRuns.Most(shader[i], program[i], points)));
        Assert.Empty(faults.Where(f => f.Most.Most > Tolerance).Select(f => $"{f.name}: {f.Most.Most} {f.Most.Where}"));
        var eight = await GraphRuns.EightAsync(graph, [.. operations.Values], demo.Shop.Textures, points);
        faults = operations.Keys.Select((name, i) => (name, Most: GraphRuns.Most(eight[i], program[i], points)));
        Assert.Empty(faults.Where(f => f.Most.Most > EightTolerance).Select(f => $"eight, {f.name}: {f.Most.Most} {f.Most.Where}"));
    }

    /// <summary>A look as itself, by its neutral inputs.</summary>
    [Fact]
    public async Task EveryLookOfTheDemoAgrees()
    {
        foreach (var look in demo.All)
        {
            var graph = new ShadeGraph();
            var lanes = new LaneGraphs(look, graph);
            await AgreesAsync(look.Name, graph, NeutralInputs.All.Select(i => i.Name), lanes.Input);
        }
        Assert.True(demo.All.Count >= 12, $"only {demo.All.Count} looks in the demo");
    }

    public static TheoryData<string> Dialects() => [.. Workshop.Dialects];

    /// <summary>Every look as a dialect's network says it, read back.</summary>
    [Theory]
    [MemberData(nameof(Dialects))]
    public async Task EveryNetworkOfTheDemoAgrees(string dialect)
    {
        var profile = demo.Shop.Profiles.Find(dialect);
        foreach (var look in demo.All)
        {
            var graph = new ShadeGraph();
            var network = (await demo.Shop.CompileAsync(look, dialect)).Network;
            var execution = new NetworkExecution(profile, network, graph);
            await AgreesAsync(
                $"{dialect}, {look.Name}",
                graph,
                profile.Inputs.Where(i => !i.IsOfDisplacement).Select(i => i.Name),
                execution.Input
            );
        }
    }

    private async Task AgreesAsync(string what, ShadeGraph graph, IEnumerable<string> inputs, Func<string, int?> node)
    {
        var nodes = inputs.Select(i => (Name: i, Node: node(i))).Where(i => i.Node is not null).ToList();
        var points = GraphRuns.Points(256, 1f / 100);
        var (shader, program) = await GraphRuns.BothAsync(
            browser,
            graph,
            [.. nodes.Select(n => n.Node!.Value)],
            demo.Shop.Textures,
            points
        );
        var faults = nodes.Select((n, i) => (n.Name, Most: GraphRuns.Most(shader[i], program[i], points)));
        Assert.Empty(faults.Where(f => f.Most.Most > Tolerance).Select(f => $"{what}, {f.Name}: {f.Most.Most} {f.Most.Where}"));
        var eight = await GraphRuns.EightAsync(graph, [.. nodes.Select(n => n.Node!.Value)], demo.Shop.Textures, points);
        faults = nodes.Select((n, i) => (n.Name, Most: GraphRuns.Most(eight[i], program[i], points)));
        Assert.Empty(faults.Where(f => f.Most.Most > EightTolerance).Select(f => $"eight, {what}, {f.Name}: {f.Most.Most} {f.Most.Where}"));
    }
}
