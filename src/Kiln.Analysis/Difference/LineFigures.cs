using System.Numerics;
using Kiln.Colour.Spaces;
using Kiln.Colour.Views;
using Kiln.Dialects.Execution;
using Kiln.Dialects.Networks;
using Kiln.Dialects.Profiles;
using Kiln.Looks.Document;
using Kiln.Looks.Evaluation;
using Kiln.Looks.Graph;
using Kiln.Looks.Inputs;
using Kiln.Pixels;
using Kiln.Proof.Materials;
using Kiln.Proof.Rendering;

namespace Kiln.Analysis.Difference;

/// <summary>
/// What one line of a conversion report costs: ΔE2000 between the look and the look with this one input as the network has it, mean and
/// what 95 % of the picture stays under.
/// </summary>
public sealed record LineFigure(string Input, float Mean, float Percentile95);

/// <summary>
/// Each approximated or lost input by itself: the look's own proof against one in which this input alone is what the written network, read
/// back, says of it. Both have the same random numbers,
/// so that what an input does not change is exactly nothing. What the dialect's scattering does otherwise is in no single line; the figure
/// for all together has it.
/// </summary>
/// <param name="neutral">The profile whose inputs are the neutral ones.</param>
/// <param name="turn">Does one piece of the work; a server lets people go first between them.</param>
public sealed class LineFigures(DialectProfile neutral, MapTextures maps, WorkingSpace working, Func<Action, Task> schedule)
{
    private const int Side = 80,
        Samples = 16,
        Piece = 8,
        Textures = 512;

    public async Task<IReadOnlyList<LineFigure>> MeasureAsync(
        Look look,
        CompiledLook compiled,
        DialectProfile profile,
        Func<string, SpaceId>? spaceOf = null,
        CancellationToken cancel = default
    )
    {
        var inputs = compiled
            .Report.Approximated.Concat(compiled.Report.Lost)
            .Select(l => l.Input)
            .Where(i => NeutralInputs.Exists(i) && i is not ("displacement" or "occlusion"))
            .Distinct()
            .ToList();
        if (inputs.Count == 0)
            return [];
        var own = await RenderAsync(look, null, compiled.Network, profile, spaceOf, cancel);
        var result = new List<LineFigure>();
        foreach (var input in inputs)
        {
            var difference = DeltaE.Between(own, await RenderAsync(look, input, compiled.Network, profile, spaceOf, cancel));
            result.Add(new(input, difference.Mean, difference.Percentile95));
        }
        return result;
    }

    /// <param name="replaced">The input that is taken from the network; null for the look as it is.</param>
    private async Task<ImageBuffer> RenderAsync(
        Look look,
        string? replaced,
        Network network,
        DialectProfile profile,
        Func<string, SpaceId>? spaceOf,
        CancellationToken cancel
    )
    {
        var graph = new ShadeGraph(working);
        var lanes = new LaneGraphs(look, graph);
        var execution = new NetworkExecution(profile, network, graph, spaceOf);
        var surface = SurfaceGraph.OfInputs(
            look,
            graph,
            name => name == replaced ? Written(profile, graph, execution, name) : lanes.Input(name),
            neutral
        );
        var material = await ProofMaterial.LoadAsync(surface, maps, Textures, cancel);
        var tracer = new ProofRequest("vessel", "softbox", Side, Side).Start(material);
        while (tracer.Samples < Samples)
            await schedule(() => tracer.Accumulate(Piece, cancel));
        return View.Named("aces1-sdr", working.Space).Apply(tracer.Picture());
    }

    /// <summary>A neutral input as the network has it; its default where the dialect has no place for it.</summary>
    private static int? Written(DialectProfile profile, ShadeGraph graph, NetworkExecution execution, string name)
    {
        var input = NeutralInputs.Find(name);
        var type =
            input.IsColour ? ShadeType.Colour
            : input.IsDirection ? ShadeType.Direction
            : ShadeType.Scalar;
        if (profile.BackFormulas.TryGetValue(name, out var formula) && ExpressionGraph.Build(formula, graph, execution.Input) is { } node)
            return graph.As(node, type);
        if (input.Default is not { } d)
            return null;
        return input.IsColour
            ? graph.Constant(ColourTransform.Between(ColourSpace.AcesCg, graph.Working.Space).Apply(new Vector3(d[0], d[1], d[2])))
            : graph.Constant(d[0]);
    }
}
