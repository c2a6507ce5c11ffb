using System.Numerics;
using Kiln.Analysis.Models;
using Kiln.Colour.Spaces;
using Kiln.Colour.Views;
using Kiln.Looks.Document;
using Kiln.Looks.Evaluation;
using Kiln.Looks.Graph;
using Kiln.Looks.Ids;
using Kiln.Looks.Overrides;
using Kiln.Models;
using Kiln.Models.Measures;
using Kiln.Models.Packing;
using Kiln.Pixels;
using Kiln.Pixels.Decoding;
using Kiln.Pixels.Writing;
using Kiln.Server.Looks;
using Kiln.Server.Platform;
using Kiln.Server.Proofs;
using Kiln.Server.Proofs.Thumbnails;
using Kiln.Store.Models;

namespace Kiln.Server.Models;

/// <summary>How parts lie on their map, in numbers. Shares are 0..1.</summary>
/// <param name="Overlap">Of the covered area, the largest share of a part.</param>
/// <param name="Outside">Of triangles, the largest share of a part.</param>
/// <param name="Flipped">Of triangles, the largest share of a part.</param>
/// <param name="StretchP95">The largest of a part; null where that is no number.</param>
/// <param name="TexelsPerMetre">Median, of the base colour's map before its placement; null without a map.</param>
/// <param name="Laid">So many parts have UVs; where none has, there are no figures.</param>
/// <param name="WithoutUvs">Parts that have none.</param>
/// <param name="Over">The look over whose base colour they are drawn; null for none.</param>
/// <param name="OtherLooks">So many other looks lie on parts that are drawn; their maps are not seen.</param>
/// <param name="Steps">Of the tone that was asked for.</param>
public sealed record UvFigures(
    double Overlap,
    double Outside,
    double Flipped,
    double? StretchP95,
    double? TexelsPerMetre,
    int Laid,
    IReadOnlyList<string> WithoutUvs,
    string? Over,
    int OtherLooks,
    IReadOnlyList<UvStep> Steps
);

/// <summary>Drawings of the UVs of parts over their base colour.</summary>
public sealed class ModelUvs(ModelRepository models, StudioMaps maps, LookViews views, StudioCache cache, ThumbnailCache thumbnails)
{
    private const int TextureSize = 1024;
    private static readonly Vector3 Bare = new(0.5f);

    /// <param name="Looks">By the paths of parts.</param>
    /// <param name="Over">The look over whose map they are drawn.</param>
    private sealed record Asked(
        ModelRow Model,
        IReadOnlyList<PartRow> Parts,
        IReadOnlyDictionary<string, Look> Looks,
        Look? Over,
        WorkingSpace Working
    )
    {
        private string Said =>
            string.Join(
                '\n',
                Parts.Select(p => $"{p.Path}={p.Projection}/{(Looks.TryGetValue(p.Path, out var l) ? LookJson.Hash(l) : "")}")
            );

        public string Key => $"{Model.Packed}/{ModelsOnStage.Hash(Said)}/{Working.Id}";
    }

    /// <summary>PNG, its longer side so many pixels.</summary>
    /// <exception cref="LookException">There is no such model or part, or none of them has UVs.</exception>
    public async Task<byte[]> PictureAsync(ModelId id, IReadOnlyList<string> paths, UvTone tone, int longest, CancellationToken cancel)
    {
        var asked = await AskedAsync(id, paths);
        return await thumbnails.GetAsync($"uvs/{asked.Key}/{tone}/{longest}", async () =>
        {
            var parts = Laid(asked);
            if (parts.Count == 0)
                throw new LookException("None of these parts has UVs.");
            var sheet = new UvSheet(parts, longest);
            var under = await UnderAsync(asked, sheet, cancel);
            return await Task.Run(() => PictureFormat.Png.Bytes(sheet.Draw(tone, under), new(Compression: 1)), cancel);
        });
    }

    public async Task<UvFigures> FiguresAsync(ModelId id, IReadOnlyList<string> paths, UvTone tone)
    {
        var asked = await AskedAsync(id, paths);
        return await cache.OnceAsync("uv-figures", $"{asked.Key}/{tone}", () => Task.Run(() => Figures(asked, tone)), _ => 1);
    }

    private UvFigures Figures(Asked asked, UvTone tone)
    {
        var parts = Laid(asked);
        var each = parts.Select(p => UvMeasures.Of(p.Part, p.Set)).ToList();
        double Most(Func<UvMeasures, double> of) => each.Select(of).DefaultIfEmpty(0).Max();
        var map = asked.Over is { } look && BaseMap(look) is { } file ? Math.Sqrt((double)file.Width * file.Height) : (double?)null;
        var known = parts.Select(p => p.Part.Path).ToHashSet();
        return new(
            Most(m => m.Overlap),
            Most(m => m.Outside),
            Most(m => m.Flipped),
            each.Count == 0 || each.Exists(m => m.StretchP95 is null) ? null : Most(m => m.StretchP95!.Value),
            map * UvMeasures.MedianDensity(parts),
            parts.Count,
            [.. asked.Parts.Select(p => p.Path).Where(p => !known.Contains(p))],
            asked.Over?.Name,
            Math.Max(0, asked.Parts.Select(p => p.LookId).Where(l => l is not null).Distinct().Count() - 1),
            UvSteps.Of(tone)
        );
    }

    /// <summary>The parts with their looks; the first of these is drawn.</summary>
    private async Task<Asked> AskedAsync(ModelId id, IReadOnlyList<string> paths)
    {
        var model = await models.FindAsync(id) ?? throw new LookException("There is no such model.");
        var all = await models.PartsAsync(id);
        var parts = paths.Count == 0 ? all : [.. all.Where(p => paths.Contains(p.Path))];
        if (parts.Count == 0 || paths.Except(all.Select(p => p.Path)).FirstOrDefault() is { } gone)
            throw new LookException("There is no such part of the model.");
        var (seen, looks) = (new Dictionary<LookId, ViewedLook>(), new Dictionary<string, Look>());
        ViewedLook? first = null;
        foreach (var part in parts)
        {
            if (part.LookId is not { } look)
                continue;
            if (!seen.TryGetValue(look, out var viewed))
                seen[look] = viewed = await views.OfAsync(look);
            first ??= viewed;
            looks[part.Path] = (viewed.Look with { Variants = [] }).With(part.Own);
        }
        var over = parts.Select(p => looks.GetValueOrDefault(p.Path)).FirstOrDefault(l => l is not null);
        return new(model, parts, looks, over, first?.Working ?? WorkingSpace.AcesCg);
    }

    /// <summary>With the UVs by which they are shown.</summary>
    private List<(ModelPart Part, UvSet Set)> Laid(Asked asked)
    {
        var paths = asked.Parts.Select(p => p.Path).ToHashSet();
        using var file = File.OpenRead(maps.Store.PathOf(asked.Model.Packed));
        var read = PackedModel.Read(file);
        read = read with { Parts = [.. read.Parts.Where(p => paths.Contains(p.Path))] };
        return
        [
            .. ModelOnStage
                .WithUvs(read, asked.Looks, ModelsOnStage.Chosen(asked.Parts))
                .Parts.Where(p => p.UvSets.Count > 0)
                .Select(p => (p, p.UvSets[0])),
        ];
    }

    private static Kiln.Looks.Maps.MapFile? BaseMap(Look look) =>
        look.Lanes.GetValueOrDefault("base_color")?.Chain?.Origin is SlotOrigin origin && look.Slots.TryGetValue(origin.Slot, out var slot)
            ? slot.File
            : null;

    private async Task<Func<int, int, Vector3>> UnderAsync(Asked asked, UvSheet sheet, CancellationToken cancel)
    {
        if (asked.Over is not { } look)
            return (_, _) => Bare;
        var graph = new ShadeGraph(asked.Working);
        if (new LaneGraphs(look, graph).Input("base_color") is not { } node)
            return (_, _) => Bare;
        var program = await ShadeProgram.LoadAsync(graph, [node], maps.Textures, TextureSize, cancel);
        var view = View.Named("plain", asked.Working.Space);
        var footprint = (sheet.To.X - sheet.From.X) / sheet.Width;
        var registers = new ThreadLocal<Vector3[]>(program.NewRegisters);
        return (x, y) =>
        {
            program.Run(sheet.At(x, y), footprint, registers.Value!);
            return view.Apply(registers.Value![program.Register(node)]);
        };
    }
}
