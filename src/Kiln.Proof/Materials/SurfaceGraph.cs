using System.Numerics;
using Kiln.Colour.Spaces;
using Kiln.Dialects.Execution;
using Kiln.Dialects.Networks;
using Kiln.Dialects.Profiles;
using Kiln.Looks.Document;
using Kiln.Looks.Graph;
using Kiln.Scattering;

namespace Kiln.Proof.Materials;

/// <summary>
/// What a surface is before its maps are loaded: the nodes of its parameters and directions by the names of
/// <see cref="SurfaceParameterNames"/>, and the scattering model of its dialect. The proof runs it as a program, the viewport as a shader.
/// </summary>
/// <param name="Shift">How the surface itself is moved; null where it is not.</param>
public sealed record SurfaceGraph(ShadeGraph Graph, IReadOnlyDictionary<string, int> Nodes, SurfaceModel Model, SurfaceShift? Shift)
{
    /// <summary>A look as itself: its lanes through the profile's formulas, without a network.</summary>
    /// <param name="live">Numbers that stay numbers of their own, for who is about to change them.</param>
    public static SurfaceGraph OfLook(Look look, DialectProfile profile, WorkingSpace? working = null, LiveValues? live = null)
    {
        var graph = new ShadeGraph(working);
        return OfInputs(look, graph, new LaneGraphs(look, graph, live: live).Input, profile);
    }

    /// <summary>A look whose neutral inputs are given otherwise, to see what one of them does.</summary>
    /// <param name="neutral">The node of a neutral input in the graph.</param>
    public static SurfaceGraph OfInputs(Look look, ShadeGraph graph, Func<string, int?> neutral, DialectProfile profile) =>
        Of(profile, graph, name => DialectModels.Input(profile, name, graph, neutral), SurfaceShift.OfLook(look));

    /// <summary>A dialect's network as the dialect would read it, worked in the network's own space.</summary>
    public static SurfaceGraph OfNetwork(Network network, DialectProfile profile, Func<string, SpaceId>? spaceOf = null)
    {
        var graph = new ShadeGraph(WorkingSpace.Find(network.WorkingSpace));
        var execution = new NetworkExecution(profile, network, graph, spaceOf);
        return Of(profile, graph, execution.Input, SurfaceShift.OfNetwork(profile, graph, execution.Input));
    }

    /// <summary>One picture of a look shown as the surface's colour and nothing else: solo.</summary>
    public static SurfaceGraph OfNode(ShadeGraph graph, int node)
    {
        var colour =
            graph[node].Type == ShadeType.Direction
                ? graph.Add(ShadeOp.Add, graph.Add(ShadeOp.Multiply, node, graph.Constant(0.5f)), graph.Constant(0.5f))
                : graph.As(node, ShadeType.Colour);
        var nodes = new Dictionary<string, int>
        {
            ["baseColour"] = graph.Constant(Vector3.Zero),
            ["specularWeight"] = graph.Constant(0f),
            ["emission"] = colour,
        };
        return new(graph, nodes, Fit(new(DiffuseModel.Lambert, DielectricModel.Schlick, MetalModel.Schlick, false), graph), null);
    }

    private static SurfaceGraph Of(DialectProfile profile, ShadeGraph graph, Func<string, int?> input, SurfaceShift? shift)
    {
        var nodes = new Dictionary<string, int>();
        foreach (var (parameter, formula) in profile.ScatteringFormulas)
            if (ExpressionGraph.Build(formula, graph, input) is { } node)
                nodes[parameter] = node;
        return new(graph, nodes, Fit(DialectModels.Of(profile.Scattering), graph), shift);
    }

    /// <summary>The model with the working primaries, which films need.</summary>
    private static SurfaceModel Fit(SurfaceModel model, ShadeGraph graph) => model with { FromXyz = EqualEnergy.To(graph.Working.Space) };
}
