using System.Numerics;
using Kiln.Dialects.Folding;
using Kiln.Looks.Document;
using Kiln.Looks.Graph;
using Kiln.Looks.Maps;
using Kiln.Looks.Readings;
using Kiln.Looks.Steps.Kinds;
using Kiln.Looks.Steps.Kinds.Colours;
using Kiln.Looks.Steps.Kinds.Numbers;
using Kiln.Pixels;

namespace Kiln.Dialects.Tests;

/// <summary>
/// Each operation that a network may hold, by itself: it comes back as steps that give the same numbers, or as a sentence about what no
/// step says.
/// </summary>
public sealed class FoldingRules
{
    private static readonly ImageLookup Picture = Lookup('a', "grey.png");
    private static readonly ImageLookup Other = Lookup('b', "other.png");

    private static ImageLookup Lookup(char content, string name) =>
        new(
            new(ContentHash.Parse(new string(content, 64)), name, 4, 4, 8, false, "png", ["Y"], null),
            new(ReadingKind.Scalar, "raw", MapChannel.Luminance),
            Placement.Identity
        );

    /// <summary>An operation on the picture, with plain values or the other picture beside it, and the steps that say it.</summary>
    public static TheoryData<string, string> Rules() =>
        new()
        {
            { "invert", "InvertStep" },
            { "multiply by a number", "GainStep" },
            { "multiply by a map", "MixStep" },
            { "number times map", "GainStep" },
            { "add a number", "GainStep" },
            { "add a map", "MixStep" },
            { "subtract a number", "GainStep" },
            { "number minus map", "GainStep" },
            { "subtract a map", "MixStep" },
            { "divide by a number", "GainStep" },
            { "minimum", "MixStep" },
            { "maximum", "MixStep" },
            { "clamp", "ClampStep" },
            { "power", "PowerStep" },
            { "square root", "PowerStep" },
            { "remap", "RemapStep" },
            { "mix with a number", "MixStep" },
            { "mix by a map", "MixStep" },
            { "several", "GainStep InvertStep ClampStep" },
        };

    private static int Node(ShadeGraph g, string rule)
    {
        int x = g.Image(Picture),
            y = g.Image(Other);
        int C(float value) => g.Constant(value);
        return rule switch
        {
            "invert" => g.Add(ShadeOp.Invert, x),
            "multiply by a number" => g.Add(ShadeOp.Multiply, x, C(1.7f)),
            "number times map" => g.Add(ShadeOp.Multiply, C(0.6f), x),
            "multiply by a map" => g.Add(ShadeOp.Multiply, x, y),
            "add a number" => g.Add(ShadeOp.Add, x, C(0.2f)),
            "add a map" => g.Add(ShadeOp.Add, x, y),
            "subtract a number" => g.Add(ShadeOp.Subtract, x, C(0.1f)),
            "number minus map" => g.Add(ShadeOp.Subtract, C(0.9f), x),
            "subtract a map" => g.Add(ShadeOp.Subtract, x, y),
            "divide by a number" => g.Add(ShadeOp.Divide, x, C(1.6f)),
            "minimum" => g.Add(ShadeOp.Minimum, x, C(0.4f)),
            "maximum" => g.Add(ShadeOp.Maximum, x, y),
            "clamp" => g.Add(ShadeOp.Clamp, x, C(0.2f), C(0.7f)),
            "power" => g.Add(ShadeOp.Power, x, C(2.2f)),
            "square root" => g.Add(ShadeOp.SquareRoot, x),
            "remap" => g.Add(ShadeOp.Remap, x, C(0.1f), C(0.8f), C(0.3f), C(0.9f)),
            "mix with a number" => g.Add(ShadeOp.Mix, x, C(0.8f), C(0.25f)),
            "mix by a map" => g.Add(ShadeOp.Mix, x, C(0.8f), y),
            "several" => g.Add(ShadeOp.Clamp, g.Add(ShadeOp.Invert, g.Add(ShadeOp.Multiply, x, C(1.3f))), C(0), C(1)),
            _ => throw new ArgumentException(rule),
        };
    }

    /// <summary>The value of a node where the pictures hold these numbers.</summary>
    private static Vector3 Evaluate(ShadeGraph graph, int node, IReadOnlyDictionary<string, float> pictures)
    {
        var n = graph[node];
        if (n.Image is { } image)
            return new(pictures[image.File.Name]);
        var inputs = n.Inputs.Select(i => Evaluate(graph, i, pictures)).ToArray();
        return ShadeArithmetic.Apply(n, inputs);
    }

    [Theory]
    [MemberData(nameof(Rules))]
    public async Task WhatIsFoldedGivesTheSameNumbers(string rule, string steps)
    {
        var graph = new ShadeGraph();
        var node = Node(graph, rule);
        var folding = new LaneFolding(graph);
        var lane = await folding.LaneAsync(node, ShadeType.Scalar, MapRole.Roughness, "specular_roughness", null);
        Assert.Empty(folding.Remarks);
        Assert.Equal(steps.Split(' '), lane.Chain!.Steps.Select(s => s.GetType().Name));
        Assert.Equal(lane.Chain.Steps.Length, lane.Chain.Steps.Select(s => s.Id).Distinct().Count());

        var look = new Look { Name = "folded", Slots = folding.Slots };
        var again = new ShadeGraph();
        var back = new LaneGraphs(look, again).Chain(lane.Chain);
        foreach (var (a, b) in new[] { (0f, 1f), (0.1f, 0.9f), (0.35f, 0.2f), (0.5f, 0.5f), (0.82f, 0.4f), (1f, 0f) })
        {
            var pictures = new Dictionary<string, float> { ["grey.png"] = a, ["other.png"] = b };
            var (before, after) = (Evaluate(graph, node, pictures), Evaluate(again, back, pictures));
            Assert.True((before - after).Length() < 1e-5f, $"{rule} at {a}, {b}: {before} came back as {after}");
        }
    }

    [Fact]
    public async Task APlainValueStaysOne()
    {
        var graph = new ShadeGraph();
        var folding = new LaneFolding(graph);
        var lane = await folding.LaneAsync(graph.Constant(0.3f), ShadeType.Scalar, MapRole.Roughness, "specular_roughness", null);
        Assert.Equal(LookValue.Of(0.3f), lane.Value);
        Assert.Null(lane.Chain);
        Assert.Empty(folding.Slots);
    }

    [Fact]
    public async Task OneFileIsOneSlotHoweverOftenItIsRead()
    {
        var graph = new ShadeGraph();
        var folding = new LaneFolding(graph);
        var moved = Picture with { Placement = new(2, 2) };
        await folding.LaneAsync(graph.Image(Picture), ShadeType.Scalar, MapRole.Roughness, "specular_roughness", null);
        var lane = await folding.LaneAsync(graph.Image(moved), ShadeType.Scalar, MapRole.Metalness, "base_metalness", null);
        Assert.Single(folding.Slots);
        Assert.Equal(2, Assert.IsType<PlaceStep>(Assert.Single(lane.Chain!.Steps)).Placement.RepeatsU);
    }

    /// <summary>What no step says is a sentence with the input's name, and the lane has no map rather than a wrong one.</summary>
    [Fact]
    public async Task WhatNoStepSaysIsSaid()
    {
        var graph = new ShadeGraph();
        var folding = new LaneFolding(graph);
        var compared = graph.Add(ShadeOp.IfGreater, graph.Image(Picture), graph.Constant(0.5f), graph.Constant(1f), graph.Image(Other));
        var lane = await folding.LaneAsync(compared, ShadeType.Scalar, MapRole.Roughness, "specular_roughness", null);
        Assert.Null(lane.Chain);
        Assert.StartsWith("specular_roughness: ", Assert.Single(folding.Remarks), StringComparison.Ordinal);
    }

    /// <summary>Where a picture can be made, it is made, and the sentence names it.</summary>
    [Fact]
    public async Task WhatNoStepSaysIsBakedWhereThatCanBe()
    {
        var graph = new ShadeGraph();
        var folding = new LaneFolding(graph);
        var compared = graph.Add(ShadeOp.IfGreater, graph.Image(Picture), graph.Constant(0.5f), graph.Constant(1f), graph.Image(Other));
        var lane = await folding.LaneAsync(compared, ShadeType.Scalar, MapRole.Roughness, "specular_roughness", _ =>
            Task.FromResult((Lookup('c', "made.png").File, Picture.Reading, Placement.Identity, 2f))
        );
        Assert.Equal(2, Assert.IsType<GainStep>(Assert.Single(lane.Chain!.Steps)).Gain);
        Assert.Contains("made.png", Assert.Single(folding.Remarks), StringComparison.Ordinal);
        Assert.Equal("made.png", Assert.Single(folding.Slots).Value.File.Name);
    }
}
