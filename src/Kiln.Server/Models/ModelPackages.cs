using Kiln.Analysis.Models;
using Kiln.Colour.Spaces;
using Kiln.Dialects.Lowering;
using Kiln.Dialects.Networks;
using Kiln.Dialects.Profiles;
using Kiln.Exchange.Gltf;
using Kiln.Exchange.Models;
using Kiln.Exchange.Packages;
using Kiln.Looks.Document;
using Kiln.Looks.Ids;
using Kiln.Looks.Overrides;
using Kiln.Models.Packing;
using Kiln.Server.Looks;
using Kiln.Server.Packages;
using Kiln.Server.Proofs;
using Kiln.Store.Looks;
using Kiln.Store.Models;

namespace Kiln.Server.Models;

/// <summary>A model with the looks on its parts, written in a dialect.</summary>
public sealed class ModelPackages(
    ModelRepository models,
    VersionRepository versions,
    LookRepository looks,
    LookViews views,
    LookCompilation compilation,
    DialectProfiles profiles,
    PackageContents contents
)
{
    private sealed record Bound(string Name, int? Version, int Revision, ViewedLook Seen);

    private sealed record Written(Network Network, CarriedLook Look);

    /// <summary>Writes the package as a zip.</summary>
    /// <param name="drafts">Looks as they are now; otherwise the newest published version of each, where there is one.</param>
    /// <returns>What the file is called.</returns>
    /// <exception cref="LookException">There is no such model, or no look lies on it.</exception>
    /// <exception cref="ProfileException">There is no such dialect.</exception>
    public async Task<string> WriteAsync(Stream stream, ModelId id, string dialect, bool drafts)
    {
        var profile = profiles.Find(dialect);
        var model = await models.FindAsync(id) ?? throw new LookException("There is no such model.");
        var parts = await models.PartsAsync(id);
        var (dressed, written) = await CompiledAsync(parts, profile, drafts);
        if (written.Count == 0)
            throw new LookException($"No look lies on '{model.Name}' yet; there is nothing to write.");
        // Reading and meshing are work for a thread of their own.
        var carried = await Task.Run(() => Carried(model, parts, dressed, written));
        var files = new ModelWriter(contents.Writer, contents.Store).Files(carried, profile);
        var notes = ModelNotes.Of(carried, profile.Title, [.. written.Select(w => w.Look)], Remarks(parts));
        ZippedFiles.Write(stream, [.. files, notes], contents.Store);
        return $"{DialectCompiler.MaterialName(model.Name)}_{profile.Id}.zip";
    }

    /// <summary>Parts with the same look and the same of their own share a material.</summary>
    private async Task<(Dictionary<string, (Look Look, int Material)> Dressed, List<Written> Written)> CompiledAsync(
        IReadOnlyList<PartRow> parts,
        DialectProfile profile,
        bool drafts
    )
    {
        var bound = new Dictionary<LookId, Bound>();
        var (names, written, numbers) = (new WrittenNames(), new List<Written>(), new Dictionary<string, int>());
        var dressed = new Dictionary<string, (Look, int)>();
        WorkingSpace? working = null;
        foreach (var part in parts)
        {
            if (part.LookId is not { } id)
                continue;
            if (!bound.TryGetValue(id, out var look))
                bound[id] = look = await BoundAsync(id, drafts);
            // One document has one working space: that of the first look.
            working ??= look.Seen.Working;
            var own = (look.Seen.Look with { Variants = [] }).With(part.Own);
            var key = LookJson.Hash(own);
            if (!numbers.TryGetValue(key, out var number))
            {
                if (!part.Own.IsNothing)
                    // Of the parts that share it, the first.
                    own = own with { Name = $"{own.Name} {part.Name}" };
                numbers[key] = number = written.Count;
                var compiled = await compilation.CompileAsync(own, profile.Id, working);
                written.Add(new(names.Apart(compiled.Network), new(look.Name, look.Version, look.Revision, compiled.Report)));
            }
            dressed[part.Path] = (own, number);
        }
        return (dressed, written);
    }

    private async Task<Bound> BoundAsync(LookId id, bool drafts)
    {
        var stored = await looks.GetAsync(id);
        if (!drafts && await versions.PublishedAsync(id) is { } number && await versions.FindAsync(id, number) is { } version)
            return new(stored.Name, number, stored.Revision, new(version.Rendered, WorkingSpace.Find(version.Context.WorkingSpace)));
        return new(stored.Name, null, stored.Revision, await views.OfAsync(id));
    }

    private CarriedModel Carried(
        ModelRow model,
        IReadOnlyList<PartRow> parts,
        Dictionary<string, (Look Look, int Material)> dressed,
        List<Written> written
    )
    {
        using var file = File.OpenRead(contents.Store.PathOf(model.Packed));
        var shown = ModelOnStage.WithUvs(
            PackedModel.Read(file),
            dressed.ToDictionary(d => d.Key, d => d.Value.Look),
            ModelsOnStage.Chosen(parts)
        );
        var names = parts.ToDictionary(p => p.Path, p => DialectCompiler.MaterialName(p.Name));
        return new(
            model.Name,
            [
                .. ModelMeshes
                    .Of(shown)
                    .Select(p => new CarriedPart(
                        p.Path,
                        new(names[p.Path], p.Mesh.Positions, p.Mesh.Normals, p.Mesh.Tangents, p.Mesh.Uvs, p.Mesh.Indices),
                        dressed.TryGetValue(p.Path, out var look) ? look.Material : null
                    )),
            ],
            [.. written.Select(w => w.Network)]
        );
    }

    private static IReadOnlyList<string> Remarks(IReadOnlyList<PartRow> parts)
    {
        var bare = parts.Where(p => p.LookId is null).Select(p => p.Path).ToList();
        return bare.Count == 0 ? [] : [$"Without a look, and so without a material: {string.Join(", ", bare)}."];
    }
}
