using System.Collections.Immutable;
using Kiln.Looks.Document;
using Kiln.Looks.Evaluation;
using Kiln.Looks.Graph;
using Kiln.Looks.Steps;
using Kiln.Looks.Steps.Kinds.Colours;
using Kiln.Looks.Steps.Kinds.Numbers;
using Kiln.Looks.Steps.Kinds.Reliefs;
using Kiln.Looks.Steps.Table;

namespace Kiln.Looks.Tests;

/// <summary>Numbers that stay numbers of their own while somebody changes them.</summary>
public class LiveValueTests
{
    private static readonly Step[] Numbered =
    [
        new GainStep(1, 0),
        new GainStep(1.4f, 0.1f),
        new PowerStep(1.7f),
        new ClampStep(0.2f, 0.7f),
        new RemapStep(0.1f, 0.9f, 0.8f, 0.3f, true),
        new RemapStep(),
        new GradeStep(),
        new GradeStep(40, 1.2f, 0.9f, 1.1f, 0.2f),
        new OcclusionStep(new Chain(new NoiseOrigin(new())), new Feed(0.6f)),
        new MixStep(MixMode.Multiply, new(LookValue.Of(0.5f)), new(0.3f)),
    ];

    public static TheoryData<int> Steps() => [.. Enumerable.Range(0, Numbered.Length)];

    private static Look With(Step step, Origin origin) =>
        new()
        {
            Name = "live",
            Lanes = ImmutableSortedDictionary<string, Lane>.Empty.Add("base_color", new(Chain: new(origin, [step with { Id = "s1" }]))),
        };

    private static async Task<float[]> ValuesAsync(Look look, LiveValues? live)
    {
        var graph = new ShadeGraph();
        var node = new LaneGraphs(look, graph, live: live).Input("base_color")!.Value;
        var program = await ShadeProgram.LoadAsync(graph, [node], new MapTextures(null!, null!), null);
        var registers = program.NewRegisters();
        var result = new List<float>();
        for (var i = 0; i < 20; i++)
        {
            program.Run(new(i * 0.137f % 1, i * 0.61f % 1), 1e-3f, registers);
            var value = registers[program.Register(node)];
            result.AddRange([value.X, value.Y, value.Z]);
        }
        return [.. result];
    }

    /// <summary>A step is the same whether its numbers are folded in or not, and each of them can be found.</summary>
    [Theory]
    [MemberData(nameof(Steps))]
    public async Task AStepIsTheSameWithItsNumbersApart(int number)
    {
        var look = With(Numbered[number], new NoiseOrigin(new()));
        var live = LiveValues.Of(look, ["base_color/s1"]);
        var (plain, apart) = (await ValuesAsync(look, null), await ValuesAsync(look, live));
        for (var i = 0; i < plain.Length; i++)
            Assert.Equal(plain[i], apart[i], 1e-5f);
        var graph = new ShadeGraph();
        new LaneGraphs(look, graph, live: live).Input("base_color");
        var step = look.Lanes["base_color"].Chain!.Steps[0];
        var names = graph.Nodes.OfType<ParameterNode>().Select(p => p.Name).ToHashSet();
        foreach (var side in step.Entry.Sides.Where(s => s.IsAmount))
            Assert.Contains($"base_color/s1/{side.Name}", names);
        // Of a grey value hue and saturation say nothing.
        foreach (var field in step.Entry.Fields.Where(f => f.Kind == StepFieldKind.Number && f.Name is not ("hueDegrees" or "saturation")))
            Assert.Contains($"base_color/s1#{field.Name}", names);
    }

    [Fact]
    public void HueAndSaturationOfAColourCanBeFound()
    {
        var look = With(new GradeStep(), new ConstantOrigin(new TintValue(0.5f, 0.2f, 0.1f, "acescg")));
        var graph = new ShadeGraph();
        new LaneGraphs(look, graph, live: LiveValues.Of(look, ["base_color/s1"])).Input("base_color");
        Assert.Superset(
            new HashSet<string> { "base_color/s1#hueDegrees", "base_color/s1#saturation", "base_color/s1#contrast" },
            graph.Nodes.OfType<ParameterNode>().Select(p => p.Name).ToHashSet()
        );
    }

    /// <summary>Only what is asked for stays apart: everything else is folded as it always is.</summary>
    [Fact]
    public void NothingElseIsHeldApart()
    {
        var look = With(new GainStep(1.5f), new NoiseOrigin(new())) with { };
        look = look with { Lanes = look.Lanes.Add("coat_weight", new(LookValue.Of(0.4f))) };
        var graph = new ShadeGraph();
        var lanes = new LaneGraphs(look, graph, live: LiveValues.Of(look, ["coat_weight", "fuzz_weight"]));
        lanes.Input("base_color");
        Assert.Empty(graph.Nodes.OfType<ParameterNode>());
        lanes.Input("coat_weight");
        // A lane that the look lacks gets one as soon as somebody is about to give it a value.
        lanes.Input("fuzz_weight");
        Assert.Equal(["coat_weight", "fuzz_weight"], graph.Nodes.OfType<ParameterNode>().Select(p => p.Name));
    }

    /// <summary>A colour keeps the numbers and the space of its document; the conversion comes after them.</summary>
    [Fact]
    public async Task AColourKeepsItsOwnSpace()
    {
        var look = new Look
        {
            Name = "live",
            Lanes = ImmutableSortedDictionary<string, Lane>.Empty.Add("base_color", new(new TintValue(0.6f, 0.3f, 0.2f, "srgb_texture"))),
        };
        var (plain, apart) = (await ValuesAsync(look, null), await ValuesAsync(look, LiveValues.Of(look, ["base_color"])));
        for (var i = 0; i < plain.Length; i++)
            Assert.Equal(plain[i], apart[i], 1e-5f);
    }
}
