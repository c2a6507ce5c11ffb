using System.Reflection;
using Kiln.Intake;
using Kiln.Intake.Listing;
using Kiln.Looks.Ids;
using Kiln.Models;
using Kiln.Models.Packing;
using Kiln.Pixels;
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
public sealed class ModelArrivals(ContentStore store, ModelRepository models, KilnSettings settings)
{
    private readonly string folder = Path.Combine(settings.Data, "models");

    /// <summary>Of each file with a model's ending, in the order of their paths. The packed ones are in the store then.</summary>
    public IReadOnlyList<ArrivedModel> Read(DeliveryListing listing, IntakeResult result, CancellationToken stop)
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
                arrived.Add(Read(file, room));
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

    private ArrivedModel Read(DeliveredFile file, string room)
    {
        var packed = Path.Combine(room, "packed");
        try
        {
            var facts = ModelPacker.Pack(PlaceIn(room, file.Path), packed, Assembly.GetExecutingAssembly().Location);
            ContentHash content;
            using (var stream = File.OpenRead(packed))
                content = ContentHash.Of(stream);
            store.Take(packed, content);
            return new(file.Path, New(file.Path, facts, content, new FileInfo(packed).Length), null);
        }
        catch (ModelException e)
        {
            return new(file.Path, null, e.Message);
        }
        finally
        {
            File.Delete(packed);
        }
    }

    private static NewModel New(string path, ModelFacts facts, ContentHash packed, long bytes) =>
        new(
            Path.GetFileNameWithoutExtension(path),
            path,
            facts.Format,
            facts.UpAxis,
            facts.MetersPerUnit,
            facts.Remarks,
            packed,
            bytes,
            [.. facts.Parts.Select(p => new NewPart(p.Path, p.Name, p.Material, p.Triangles, p.UvSets, p.Area, p.Size))]
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
