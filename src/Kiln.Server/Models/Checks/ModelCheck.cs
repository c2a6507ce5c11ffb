using System.Text.Json;
using Kiln.Analysis.Models.Findings;
using Kiln.Looks.Document;
using Kiln.Looks.Ids;
using Kiln.Looks.Overrides;
using Kiln.Looks.Readings;
using Kiln.Models.Materials;
using Kiln.Models.Measures;
using Kiln.Server.Models.Materials;
using Kiln.Server.Proofs;
using Kiln.Store.Models;

namespace Kiln.Server.Models.Checks;

/// <summary>What is probably wrong about a model and the looks on it.</summary>
public sealed class ModelCheck(ModelRepository models, ModelMaterials materials, MaterialRepository kept, LookViews views)
{
    private sealed record Named(IReadOnlyList<MapRole> Roles, IReadOnlyList<string> Dead);

    /// <exception cref="LookException">There is no such model.</exception>
    public async Task<IReadOnlyList<ModelFinding>> OfAsync(ModelId id)
    {
        if (await models.FindAsync(id) is null)
            throw new LookException("There is no such model.");
        var parts = await models.PartsAsync(id);
        var figures = await models.FiguresAsync(id);
        var named = await NamedAsync(id, parts);
        var looks = new Dictionary<LookId, (Look? Look, string? Fault)>();
        foreach (var look in parts.Select(p => p.LookId).OfType<LookId>().Distinct())
            looks[look] = await ReadAsync(look);
        return ModelFindings.Of([.. parts.Select(p => Found(p, figures, named, looks))]);
    }

    /// <summary>One look that cannot be read hides nothing of the others.</summary>
    private async Task<(Look? Look, string? Fault)> ReadAsync(LookId look)
    {
        try
        {
            return ((await views.OfAsync(look)).Look with { Variants = [] }, null);
        }
        catch (LookException e)
        {
            return (null, e.Message);
        }
    }

    private static FoundPart Found(
        PartRow part,
        IReadOnlyDictionary<string, string> figures,
        IReadOnlyDictionary<string, Named> named,
        IReadOnlyDictionary<LookId, (Look? Look, string? Fault)> looks
    )
    {
        var own = named.GetValueOrDefault(part.Path);
        var (look, fault) = part.LookId is { } id ? looks.GetValueOrDefault(id) : default;
        return new(
            part.Path,
            part.Name,
            part.Triangles,
            part.Area,
            part.Size,
            figures.TryGetValue(part.Path, out var text) ? JsonSerializer.Deserialize<PartFigures>(text, LookJson.Options) : null,
            look?.With(part.Own),
            part.LookId?.ToString(),
            part.Own,
            part.Projection,
            part.BoundBy == "name" ? part.Confidence : null,
            own?.Roles ?? [],
            own?.Dead ?? []
        )
        {
            IsArchived = part.LookArchived,
            LookFault = fault,
        };
    }

    /// <summary>
    /// What the file's own materials name, by the paths of the parts that have them. Where it lies matters for grey parts only.
    /// </summary>
    private async Task<IReadOnlyDictionary<string, Named>> NamedAsync(ModelId id, IReadOnlyList<PartRow> parts)
    {
        var grey = parts.Where(p => p.LookId is null).Select(p => p.Path).ToHashSet();
        var all = await kept.ListAsync(id);
        var sources = all.Any(m => m.Parts.Any(grey.Contains) && m.Material.Textures.Any(t => t.Within is null))
            ? (await materials.SourcedAsync(id)).Materials.ToDictionary(m => m.Row.Number)
            : [];
        var named = new Dictionary<string, Named>();
        foreach (var material in all)
        {
            var textures = material.Material.Textures;
            var dead = sources.TryGetValue(material.Number, out var sourced)
                ? sourced.Row.Material.Textures.Where(
                    (t, i) => t.Within is null && !sourced.Sources[i].Any(s => s.Score >= TextureSource.Sure)
                )
                : [];
            foreach (var part in material.Parts)
                named[part] = new([.. textures.Select(t => t.Role)], [.. dead.Select(t => t.Written)]);
        }
        return named;
    }
}
