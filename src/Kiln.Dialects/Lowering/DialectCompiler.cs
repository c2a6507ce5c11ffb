using System.Collections.Immutable;
using System.Text;
using Kiln.Colour.Spaces;
using Kiln.Dialects.Baking;
using Kiln.Dialects.Networks;
using Kiln.Dialects.Profiles;
using Kiln.Looks.Document;
using Kiln.Looks.Graph;
using Kiln.Looks.Inputs;

namespace Kiln.Dialects.Lowering;

/// <summary>What a compilation needs to know beside the look and the profile.</summary>
/// <param name="WorkingSpace">The document's working space for values: acescg or lin_rec709.</param>
/// <param name="SpaceName">The name a config gives to one of our spaces; identity while no config is in force.</param>
/// <param name="ConvertTextures">Whether colour maps are written converted to the working space (half OpenEXR) rather than as they are and
/// tagged; never both.</param>
public sealed record CompileOptions(string WorkingSpace = "acescg", Func<SpaceId, string>? SpaceName = null, bool ConvertTextures = false)
{
    public string NameOf(SpaceId space) => SpaceName?.Invoke(space) ?? space.Text;
}

/// <summary>
/// From a look to a dialect's network: restate, map through the profile, lower, bake what has no node, set switches, report.
/// </summary>
public sealed class DialectCompiler(DialectProfile profile, Bakery bakery, CompileOptions? options = null)
{
    private readonly CompileOptions options = options ?? new();

    public async Task<CompiledLook> CompileAsync(Look look, CancellationToken cancel = default)
    {
        var graph = new ShadeGraph(Colour.Spaces.WorkingSpace.Find(options.WorkingSpace));
        var neutral = new LaneGraphs(look, graph, displaces: profile.Displacement is not null);
        var trims = look.Trims.GetValueOrDefault(profile.Id, []);
        var mapped = new Dictionary<string, int?>();
        foreach (var input in profile.Inputs)
            if (profile.Formulas.TryGetValue(input.Name, out var formula))
            {
                var node = ExpressionGraph.Build(formula, graph, name => Trimming.Apply(graph, neutral.Input(name), name, trims));
                mapped[input.Name] = node is { } n ? graph.As(n, input.ShadeType) : null;
            }
        var material = MaterialName(profile.Names.Material.Replace("{name}", look.Name, StringComparison.Ordinal));
        var baked = new List<ReportLine>();
        Lowered lowered =
            profile.Structure == NetworkStructure.Slots
                ? await new SlotLowering(profile, bakery, graph, material).LowerAsync(mapped, baked, cancel)
                : await new NodeLowering(profile, bakery, graph, material, options).LowerAsync(mapped, baked, cancel);
        var network = new Network(profile.Id, material, options.WorkingSpace, lowered.Nodes, lowered.Textures);
        return new(network, WithTiles(Report(look, graph, mapped, baked), network), Summaries(network, graph, mapped));
    }

    /// <summary>A dialect without a token for tiles gets a document for each tile that every map has; what that means is said.</summary>
    private ConversionReport WithTiles(ConversionReport report, Network network)
    {
        if (profile.Textures.Udim is not null || !network.IsTiled)
            return report;
        var (whole, partly) = network.TilesToSplit();
        var written = new ReportLine(
            TilesLine,
            null,
            $"{profile.Title} knows no tiles: each is written as a document of its own ({string.Join(", ", whole)})."
        );
        return report with
        {
            Exact = report.Exact.Add(written),
            Lost =
                partly.Count == 0
                    ? report.Lost
                    : report.Lost.Add(new(TilesLine, null, $"Tile {string.Join(", ", partly)} is not written: not every map has it.")),
        };
    }

    /// <summary>What a report calls the lines that are about UDIM tiles and no single input.</summary>
    private const string TilesLine = "UDIM tiles";

    /// <summary>Letters, digits and underscores, not beginning with a digit: a name every document format accepts.</summary>
    public static string MaterialName(string name)
    {
        var text = new StringBuilder();
        foreach (var c in name)
            text.Append(char.IsAsciiLetterOrDigit(c) ? c : '_');
        var result = text.ToString().Trim('_');
        return result.Length == 0 ? "look"
            : char.IsAsciiDigit(result[0]) ? "_" + result
            : result;
    }

    private ConversionReport Report(Look look, ShadeGraph graph, Dictionary<string, int?> mapped, List<ReportLine> baked)
    {
        var exact = new List<ReportLine>();
        var approximated = new List<ReportLine>();
        var lost = new List<ReportLine>();
        var lanes = new LaneGraphs(look, graph, displaces: profile.Displacement is not null);
        foreach (var input in NeutralInputs.All)
        {
            var targets = profile.Formulas.Where(f => f.Value.Names.Contains(input.Name)).Select(f => f.Key).ToList();
            var target = targets.FirstOrDefault();
            var changed = look.Lanes.ContainsKey(input.Name) || look.Layers.Any(c => c.Lanes.ContainsKey(input.Name));
            if (profile.Losses.FirstOrDefault(r => r.Input == input.Name && Holds(r, lanes, graph, changed)) is { } loss)
                lost.Add(new(input.Name, target, loss.Note));
            else if (profile.Approximations.FirstOrDefault(r => r.Input == input.Name && Holds(r, lanes, graph, changed)) is { } near)
                approximated.Add(new(input.Name, target, near.Note));
            else if (changed && Clipped(graph, targets, mapped) is { } clipped)
                approximated.Add(new(input.Name, clipped.Input, clipped.Note));
            else if (changed && target is null)
                lost.Add(new(input.Name, null, $"{profile.Title} has no input for it."));
            else if (changed && !baked.Any(b => targets.Contains(b.DialectInput!)))
                exact.Add(new(input.Name, target, Sentence(target!)));
        }
        lost.AddRange(LostOfDisplacement(look));
        return new([.. exact], [.. approximated], [.. baked], [.. lost]);
    }

    /// <summary>
    /// Numbers by which the surface moves and that the dialect has no word for. Where it moves nothing at all, the line of the height says
    /// so; of a displacement that is off
    /// no number shows; a bound and a midpoint without words of their own are in the heights themselves.
    /// </summary>
    private IEnumerable<ReportLine> LostOfDisplacement(Look look)
    {
        if (profile.Displacement is null || DisplacementSettings.Of(look, "displacement_on") == 0)
            return [];
        return DisplacementSettings
            .Changed(look)
            .Where(name =>
                name is not ("displacement_bound" or "displacement_midpoint") && !profile.Formulas.Values.Any(f => f.Names.Contains(name))
            )
            .Select(name => new ReportLine(name, null, $"{profile.Title} has no word for it."));
    }

    /// <summary>The first of the dialect's inputs whose colour constant is outside what it can hold, and what is written instead.</summary>
    private (string Input, string Note)? Clipped(ShadeGraph graph, List<string> targets, Dictionary<string, int?> mapped)
    {
        foreach (var input in targets.Select(profile.Input).Where(i => i.Type == "color3"))
            if (
                mapped.GetValueOrDefault(input.Name) is { } node
                && graph.IsConstant(node)
                && WrittenColour.Of(profile, input, graph.Working, graph.ValueOf(node)) is { IsClipped: true } colour
            )
                return (
                    input.Name,
                    $"The colour {NetworkBuilder.Text(Rounded(colour.Exact))} is outside {colour.Space.Label}; "
                        + $"{NetworkBuilder.Text(colour.Written)} is written."
                );
        return null;
    }

    private static System.Numerics.Vector3 Rounded(System.Numerics.Vector3 v) =>
        new(MathF.Round(v.X, 4), MathF.Round(v.Y, 4), MathF.Round(v.Z, 4));

    private string Sentence(string target) =>
        profile.FormulaOf(target) is var formula && NeutralInputs.Exists(formula.Trim())
            ? $"{target} takes it as it is."
            : $"{target} = {formula}";

    /// <summary>
    /// A rule without a condition holds for every changed input; a condition that a map decides cannot be refuted and so holds.
    /// </summary>
    private static bool Holds(LossRule rule, LaneGraphs lanes, ShadeGraph graph, bool changed)
    {
        var node = lanes.Input(rule.Input);
        if (rule.Plain && node is { } own && !graph.IsConstant(own))
            return false;
        if (rule.Condition is not { } condition || node is null)
            return changed;
        if (condition.Names.Any(name => lanes.Input(name) is null && !NeutralInputs.Find(name).IsTangent))
            return true;
        var value = graph.As(ExpressionGraph.Build(condition, graph, lanes.Input)!.Value, ShadeType.Scalar);
        return !graph.IsConstant(value) || graph.ValueOf(value).X > 0;
    }

    private ImmutableArray<InputSummary> Summaries(Network network, ShadeGraph graph, Dictionary<string, int?> mapped)
    {
        var result = new List<InputSummary>();
        foreach (var input in profile.Inputs)
        {
            var slot = profile.Slots.FirstOrDefault(s => s.Channels.ContainsValue(input.Name) && network.Surface.Port(s.Name) is not null);
            var port = slot is not null
                ? network.Surface.Port(slot.Name)
                : (input.IsOfDisplacement ? network.Displacement : network.Surface)?.Port(input.Name);
            if (mapped.GetValueOrDefault(input.Name) is { } node && slot is not null && graph.IsConstant(node))
                port = network.Surface.Port(slot.Factors?.GetValueOrDefault(input.Name) ?? input.Name);
            if (port is null)
                continue;
            var texture = TextureBehind(network, port);
            var steps =
                mapped.GetValueOrDefault(input.Name) is { } n
                && (texture is null || !network.Textures.First(t => t.Path == texture.Value.Path).Baked)
                    ? graph
                        .Needed([n])
                        .Where(i => graph[i].Op is not ShadeOp.Constant and not ShadeOp.Image)
                        .Select(i => StepWord(graph[i].Op))
                    : [];
            result.Add(new(input.Name, texture?.Path, texture is null ? port.Value : null, texture?.Space, [.. steps]));
        }
        return [.. result];
    }

    private static string StepWord(ShadeOp op) =>
        op switch
        {
            ShadeOp.DecodeNormal => "decodeNormal",
            ShadeOp.HeightToNormal => "heightToNormal",
            ShadeOp.RotateDirection => "place",
            ShadeOp.Channel => "pick",
            _ => op.ToString().ToLowerInvariant(),
        };

    private (string Path, string? Space)? TextureBehind(Network network, NetworkPort port)
    {
        var open = new Stack<NetworkPort>([port]);
        while (open.TryPop(out var next))
        {
            if (next.Type == "filename")
            {
                var space = next.Space;
                return (next.Value!, space ?? "raw");
            }
            if (next.Node is not { } name)
                continue;
            var node = network.Node(name);
            var file = node.Ports.FirstOrDefault(p => p.Type == "filename");
            if (file is not null)
                return (
                    file.Value!,
                    file.Space ?? (profile.Image?.SpacePort is { } spacePort ? node.Port(spacePort)?.Value : null) ?? "raw"
                );
            foreach (var input in node.Ports.Reverse())
                open.Push(input);
        }
        return null;
    }
}

/// <summary>The nodes and files of a lowered look.</summary>
public sealed record Lowered(ImmutableArray<NetworkNode> Nodes, ImmutableArray<NetworkTexture> Textures);
