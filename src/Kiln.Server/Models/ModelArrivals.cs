using System.Reflection;
using System.Text.Json;
using Kiln.Intake;
using Kiln.Intake.Listing;
using Kiln.Looks.Document;
using Kiln.Looks.Ids;
using Kiln.Models;
using Kiln.Models.Packing;
using Kiln.Pixels;
using Kiln.Server.Models.Materials;
using Kiln.Server.Platform;
using Kiln.Store.Contents;
using Kiln.Store.Models;

namespace Kiln.Server.Models;

/// <summary>A model file of a delivery, read: what came of it, or a sentence.</summary>
public sealed record ArrivedModel(string Path, NewModel? Model, string? Refused);

/// <summary>
/// Reads the models of a delivery while its files lie where they came: in a child process, which leaves them packed, so that this one
/// never holds their triangles.
/// </summary>
public sealed class ModelArrivals(ContentStore store, ModelRepository models, HeldPictures held, KilnSettings settings)
{
    private readonly string folder = Path.Combine(settings.Data, "models");

    /// <summary>Of each file with a model's ending, in the order of their paths. The packed ones are in the store then.</summary>
    public async Task<IReadOnlyList<ArrivedModel>> ReadAsync(DeliveryListing listing, IntakeResult result, CancellationToken stop)
    {
        var arrived = new List<ArrivedModel>();
        var models = result.Models.Where(m => !Beside.Contains(Path.GetExtension(m).ToLowerInvariant())).ToHashSet();
        if (models.Count == 0)
            return arrived;
        var room = Path.Combine(folder, Guid.CreateVersion7().ToString("N"));
        try
        {
            LayOut(listing, models, room);
            foreach (var file in listing.Files.Where(f => models.Contains(f.Path)).OrderBy(f => f.Path, StringComparer.Ordinal))
            {
                stop.ThrowIfCancellationRequested();
                arrived.Add(await ReadAsync(file, room, stop));
            }
        }
        finally
        {
            if (Directory.Exists(room))
                Directory.Delete(room, recursive: true);
        }
        return arrived;
    }

    /// <summary>What stands beside models and is none: materials, buffers.</summary>
    private static readonly string[] Beside = [".mtl", ".bin"];

    /// <summary>Models and what stands beside them, by the names that they call each other by.</summary>
    private static void LayOut(DeliveryListing listing, HashSet<string> models, string room)
    {
        foreach (var file in listing.Files)
        {
            if (!models.Contains(file.Path) && !Beside.Contains(Path.GetExtension(file.Path).ToLowerInvariant()))
                continue;
            var place = PlaceIn(room, file.Path);
            Directory.CreateDirectory(Path.GetDirectoryName(place)!);
            File.CreateSymbolicLink(place, Path.GetFullPath(file.LocalPath));
        }
    }

    private static string PlaceIn(string room, string path) =>
        Path.Combine([room, "in", .. path.Replace('\\', '/').Split('/').Where(p => p is not ("" or "." or ".."))]);

    private async Task<ArrivedModel> ReadAsync(DeliveredFile file, string room, CancellationToken stop)
    {
        var packed = Path.Combine(room, "packed");
        try
        {
            var facts = ModelPacker.Pack(PlaceIn(room, file.Path), packed, Assembly.GetExecutingAssembly().Location);
            ContentHash content;
            using (var stream = File.OpenRead(packed))
                content = ContentHash.Of(stream);
            store.Take(packed, content);
            var pictures = await held.TakeAsync(facts, stop);
            return new(file.Path, New(file.Path, facts, pictures, (content, new FileInfo(packed).Length)), null);
        }
        catch (ModelException e)
        {
            return new(file.Path, null, e.Message);
        }
        finally
        {
            File.Delete(packed);
            if (Directory.Exists(packed + ModelPacker.Pictures))
                Directory.Delete(packed + ModelPacker.Pictures, recursive: true);
        }
    }

    private static NewModel New(string path, ModelFacts facts, HeldOnes held, (ContentHash Content, long Length) packed) =>
        new(
            Path.GetFileNameWithoutExtension(path),
            path,
            facts.Format,
            facts.UpAxis,
            facts.MetersPerUnit,
            facts.Remarks,
            packed.Content,
            packed.Length,
            [.. facts.Parts.Select(Part)],
            [.. facts.Materials.Select(m => Material(m, held))],
            held.Files
        );

    private static NewPart Part(PartFacts p) =>
        new(
            p.Path,
            p.Name,
            p.Material,
            p.MaterialAt,
            p.Triangles,
            p.UvSets,
            p.Area,
            p.Size,
            JsonSerializer.Serialize(p.Figures, LookJson.Options)
        );

    private static KeptMaterial Material(MaterialFacts material, HeldOnes held) =>
        new(
            material.Name,
            [
                .. material.Textures.Select(t => new KeptTexture(
                    t.Role,
                    t.Written,
                    t.Channel,
                    t.Within is null ? null : held.Pictures.GetValueOrDefault(t.Within),
                    t.Within is null ? null : held.Faults.GetValueOrDefault(t.Within)
                )),
            ],
            material.Values,
            material.HasOpacityInBaseColour
        );

    /// <summary>Writes down what was read, in the unit of work at hand.</summary>
    public async Task KeepAsync(DeliveryId delivery, IReadOnlyList<ArrivedModel> arrived)
    {
        foreach (var one in arrived)
            if (one.Model is { } model)
                await models.AddAsync(model, delivery);
            else
                await models.RefuseAsync(delivery, one.Path, one.Refused!);
    }

    /// <summary>Removes what a killed server was in the middle of packing.</summary>
    public void ClearLeftovers()
    {
        if (Directory.Exists(folder))
            foreach (var left in Directory.GetDirectories(folder))
                Directory.Delete(left, recursive: true);
    }
}
