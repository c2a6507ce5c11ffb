using Kiln.Colour;
using Kiln.Colour.Views;
using Kiln.Dialects.Networks;
using Kiln.Dialects.Profiles;
using Kiln.Judge.Findings;
using Kiln.Looks.Document;
using Kiln.Looks.Edits;
using Kiln.Looks.Evaluation;
using Kiln.Looks.Graph;
using Kiln.Looks.Inputs;
using Kiln.Pixels;
using Kiln.Store;

namespace Kiln.Server.Looks;

/// <summary>The range meter of a lane: what it gives over the surface.</summary>
public sealed record Meter(float Minimum, float Mean, float Maximum);

/// <summary>What a dialect makes of one neutral input: its own inputs, each with the formula in words.</summary>
public sealed record Restated(string Input, string Formula, string? Value, string? Texture, string? Space, IReadOnlyList<string> Steps);

public sealed record FindingInfo(string Code, Severity Severity, string Subject, string Message, string Evidence, string? Fix, LookEdit? Repair);

/// <summary>What the bench shows beside the document itself.</summary>
public sealed record BoardInfo(
    int Revision, Dictionary<string, Meter> Meters, Dictionary<string, IReadOnlyList<Restated>> Dialect, ConversionReport? Report, IReadOnlyList<FindingInfo> Findings, string? Trouble);

public sealed class BoardReading(LookCompilation compilation, MapTextures textures, MapMeasurements measurements, ContentStore store, DialectProfiles profiles, WorkingSpaces workingSpaces)
{
    private const int MeterSize = 96, TextureSize = 512;

    public async Task<BoardInfo> ReadAsync(LookRow row, string? dialect, CancellationToken cancel)
    {
        var look = row.Look();
        var working = (await workingSpaces.OfLookAsync(row.Id)).Space;
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
        var findings = LookFindings.Of(look, await measurements.OfAsync(look, cancel), store.Has).ToList();
        var restated = new Dictionary<string, IReadOnlyList<Restated>>();
        ConversionReport? report = null;
        if (dialect is not null && trouble is null)
        {
            var profile = profiles.Find(dialect);
            var compiled = await compilation.CompileAsync(look, dialect, working, TextureSize);
            findings.AddRange(LookFindings.Unset(profile, compiled.Network));
            report = compiled.Report;
            foreach (var input in NeutralInputs.All)
                if (profile.Formulas.Where(f => f.Value.Names.Contains(input.Name)).ToList() is { Count: > 0 } fed)
                    restated[input.Name] = [.. fed.Select(f =>
                    {
                        var summary = compiled.Inputs.FirstOrDefault(i => i.Input == f.Key);
                        return new Restated(f.Key, profile.Mapping[f.Key], summary?.Value, summary?.Texture, summary?.Space, summary is null ? [] : summary.Steps);
                    })];
        }
        return new(row.Revision, meters, restated, report, [.. findings.Select(f => new FindingInfo(f.Code, f.Severity, f.Subject, f.Message, f.Evidence, f.Fix, f.Repair))], trouble);
    }

    /// <summary>The picture of a lane after a number of steps, for its tile.</summary>
    public async Task<ImageBuffer> TileAsync(LookRow row, string lane, int? steps, int size, CancellationToken cancel)
    {
        var look = row.Look();
        var working = (await workingSpaces.OfLookAsync(row.Id)).Space;
        var graph = new ShadeGraph(working);
        var lanes = new LaneGraphs(look, graph);
        var chain = (lane.StartsWith("source:", StringComparison.Ordinal) ? look.Sources.GetValueOrDefault(lane[7..]) : look.Lanes.GetValueOrDefault(lane))?.Chain
            ?? throw new LookException("This lane has no map.");
        var node = lanes.Chain(chain, steps);
        var program = await ShadeProgram.LoadAsync(graph, [node], textures, TextureSize, cancel);
        return Shown(program.Picture(node, size, size, graph[node].Type), graph[node].Type, working);
    }

    /// <summary>A lane's picture as display values: colours through sRGB, directions back to 0..1, numbers as they are.</summary>
    private static ImageBuffer Shown(ImageBuffer picture, ShadeType type, WorkingSpace working)
    {
        if (type == ShadeType.Colour)
            return View.Named("plain", working.Space).Apply(picture);
        var row = new float[picture.Width * picture.ChannelCount];
        var result = new ImageBuffer(picture.Width, picture.Height, picture.Channels, SampleType.U8);
        for (var y = 0; y < picture.Height; y++)
        {
            picture.ReadRow(y, row);
            // A decoded direction has parts below zero; an encoded one has not.
            if (type == ShadeType.Direction && Decoded(picture))
                for (var i = 0; i < row.Length; i++)
                    row[i] = row[i] * 0.5f + 0.5f;
            result.WriteRow(y, row);
        }
        return result;
    }

    private static bool Decoded(ImageBuffer picture)
    {
        var pixels = picture.Samples<float>();
        var mean = 0f;
        for (var i = 0; i < pixels.Length; i += 3)
            mean += pixels[i];
        return mean / (pixels.Length / 3) < 0.25f;
    }

    private async Task<Dictionary<string, Meter>> MetersAsync(Look look, WorkingSpace working, CancellationToken cancel)
    {
        var graph = new ShadeGraph(working);
        var lanes = new LaneGraphs(look, graph);
        var nodes = look.Lanes.Where(l => l.Value.Chain is not null).Select(l => (Input: l.Key, Node: lanes.Input(l.Key)!.Value)).ToList();
        if (nodes.Count == 0)
            return [];
        var program = await ShadeProgram.LoadAsync(graph, nodes.Select(n => n.Node), textures, TextureSize, cancel);
        return nodes.ToDictionary(n => n.Input, n =>
        {
            var picture = program.Picture(n.Node, MeterSize, MeterSize, graph[n.Node].Type);
            var stats = ImageStatistics.Measure(picture);
            return NeutralInputs.Find(n.Input).IsDirection
                ? new Meter(0, MathF.Acos(Math.Clamp(stats[^1].Mean, -1, 1)) * 180 / MathF.PI, MathF.Acos(Math.Clamp(stats[^1].Minimum, -1, 1)) * 180 / MathF.PI)
                : new Meter(stats.Min(s => s.Minimum), stats.Average(s => s.Mean), stats.Max(s => s.Maximum));
        });
    }
}
