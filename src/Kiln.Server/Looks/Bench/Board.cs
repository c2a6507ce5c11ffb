using Kiln.Analysis.Findings;
using Kiln.Colour.Spaces;
using Kiln.Dialects.Networks;
using Kiln.Dialects.Profiles;
using Kiln.Looks.Document;
using Kiln.Looks.Edits;
using Kiln.Looks.Evaluation;
using Kiln.Looks.Graph;
using Kiln.Looks.Inputs;
using Kiln.Pixels;
using Kiln.Server.Collecting;
using Kiln.Store.Looks;

namespace Kiln.Server.Looks.Bench;

/// <summary>What a dialect makes of one neutral input: its own inputs, each with the formula in words.</summary>
public sealed record Restated(string Input, string Formula, string? Value, string? Texture, string? Space, IReadOnlyList<string> Steps);

/// <param name="Accepted">Who accepted it and why; null while it stands.</param>
public sealed record FindingInfo(
    string Code,
    Severity Severity,
    string Subject,
    string Message,
    string Evidence,
    string? Fix,
    LookEdit? Repair,
    IReadOnlyList<EvidencePicture> Pictures,
    AcceptedFinding? Accepted
);

/// <summary>What the bench shows beside the document itself.</summary>
public sealed record BoardInfo(
    int Revision,
    Dictionary<string, Meter> Meters,
    Dictionary<string, IReadOnlyList<Restated>> Dialect,
    ConversionReport? Report,
    IReadOnlyList<FindingInfo> Findings,
    string? Trouble
);

public sealed class BoardReading(
    LookCompilation compilation,
    StudioMaps maps,
    LookRepository looks,
    DialectProfiles profiles,
    LookContextRepository contexts,
    AcceptedFindingRepository accepted,
    BrokenRules rules
)
{
    private const int TextureSize = 512;

    public async Task<BoardInfo> ReadAsync(LookRow row, string? dialect, CancellationToken cancel)
    {
        var around = await contexts.OfLookAsync(row.Id);
        var (look, working) = (row.Look().Under(around.Trims), around.Space);
        string? trouble = null;
        var meters = new Dictionary<string, Meter>();
        try
        {
            meters = await MetersAsync(look, working, cancel);
        }
        catch (PictureException e)
        {
            trouble = e.Message;
        }
        var restated = new Dictionary<string, IReadOnlyList<Restated>>();
        ConversionReport? report = null;
        (DialectProfile Profile, Network Network)? network = null;
        if (dialect is not null && trouble is null)
        {
            var profile = profiles.Find(dialect);
            var compiled = await compilation.CompileAsync(look, dialect, working, TextureSize);
            network = (profile, compiled.Network);
            report = compiled.Report;
            restated = Restatements(profile, compiled);
        }
        var findings = LookFindings.Of(
            new FindingContext(
                look,
                await maps.Measuring.OfAsync(look, cancel),
                maps.Store.Has,
                profile: network?.Profile,
                network: network?.Network
            )
            {
                Twins = await looks.TwinsAsync(row.Id),
            }
        );
        if (trouble is null)
            findings = [.. findings, .. await rules.OfAsync(row, look, working)];
        var known = await accepted.OfLookAsync(row.Id);
        return new(row.Revision, meters, restated, report, [.. findings.Select(f => Info(f, known))], trouble);
    }

    private static FindingInfo Info(Finding f, IEnumerable<AcceptedFinding> known) =>
        new(
            f.Code,
            f.Severity,
            f.Subject,
            f.Message,
            f.Evidence,
            f.Fix,
            f.Repair,
            f.Pictures,
            known.FirstOrDefault(a => a.Code == f.Code && a.Subject == f.Subject)
        );

    /// <summary>By neutral input what the dialect makes of it.</summary>
    private static Dictionary<string, IReadOnlyList<Restated>> Restatements(DialectProfile profile, CompiledLook compiled)
    {
        var restated = new Dictionary<string, IReadOnlyList<Restated>>();
        foreach (var input in NeutralInputs.All)
            if (profile.Formulas.Where(f => f.Value.Names.Contains(input.Name)).ToList() is { Count: > 0 } fed)
                restated[input.Name] =
                [
                    .. fed.Select(f =>
                    {
                        var summary = compiled.Inputs.FirstOrDefault(i => i.Input == f.Key);
                        return new Restated(
                            f.Key,
                            profile.FormulaOf(f.Key),
                            summary?.Value,
                            summary?.Texture,
                            summary?.Space,
                            summary is null ? [] : summary.Steps
                        );
                    }),
                ];
        return restated;
    }

    /// <summary>The picture of a lane after a number of steps, for its tile.</summary>
    public async Task<ImageBuffer> TileAsync(LookRow row, LaneAddress lane, int? steps, int size, CancellationToken cancel)
    {
        var look = row.Look();
        var working = (await contexts.OfLookAsync(row.Id)).Space;
        var graph = new ShadeGraph(working);
        var lanes = new LaneGraphs(look, graph);
        var chain = look.LaneAt(lane)?.Chain ?? throw new LookException($"{lane.Label} has no map.");
        var node = lanes.Chain(chain, steps);
        var program = await ShadeProgram.LoadAsync(graph, [node], maps.Textures, TextureSize, cancel);
        return ShownPicture.Of(program.Picture(node, size, size, graph[node].Type), graph[node].Type, working);
    }

    private async Task<Dictionary<string, Meter>> MetersAsync(Look look, WorkingSpace working, CancellationToken cancel)
    {
        var graph = new ShadeGraph(working);
        var lanes = new LaneGraphs(look, graph);
        var nodes = new List<(LaneAddress Address, int Node)>();
        void Add(LaneAddress address, Lane lane)
        {
            if (lane.Chain is not { } chain)
                return;
            nodes.Add((address, Meter.Node(graph, address, lanes.Chain(chain))));
        }
        foreach (var (name, lane) in look.Lanes)
            Add(name, lane);
        foreach (var (name, lane) in look.Sources)
            Add(LaneAddress.OfSource(name), lane);
        foreach (var (layer, i) in look.Layers.Select((c, i) => (c, i)))
        {
            Add(LaneAddress.OfMask(i), layer.Mask);
            foreach (var (name, lane) in layer.Lanes)
                Add(LaneAddress.OfLayer(i, name), lane);
        }
        if (nodes.Count == 0)
            return [];
        var program = await ShadeProgram.LoadAsync(graph, nodes.Select(n => n.Node), maps.Textures, TextureSize, cancel);
        return nodes.ToDictionary(
            n => n.Address.Text,
            n => Meter.Of(program.Picture(n.Node, Meter.Side, Meter.Side, graph[n.Node].Type), graph[n.Node].Type)
        );
    }
}
