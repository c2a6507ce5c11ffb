using Kiln.Dialects.Baking;
using Kiln.Dialects.Folding;
using Kiln.Dialects.Profiles;
using Kiln.Exchange;
using Kiln.Exchange.Documents;
using Kiln.Looks.Document;
using Kiln.Looks.Evaluation;
using Kiln.Looks.Intake;
using Kiln.Pixels;
using Kiln.Pixels.Decoding;
using Kiln.Server.Configs;
using Kiln.Store;

namespace Kiln.Server.Packages;

/// <summary>
/// Networks of any dialect as looks: a document, or a zip of documents with their textures. One whose textures are gone comes in with the maps marked as missing,
/// so that they can be linked again.
/// </summary>
public sealed class NetworkImport(DialectProfiles profiles, MapTextures textures, ContentStore store, Contents contents, ConfigDesk colour)
{
    /// <exception cref="ExchangeException">No network is in it, or one cannot be read: nothing is kept.</exception>
    public async Task<IReadOnlyList<Look>> ReadAsync(string file, string staging, CancellationToken cancel)
    {
        var listing = DeliveryListing.Read([file], staging, cancel: cancel);
        var byPath = listing.Files.ToDictionary(f => f.Path);
        var documents = NetworkDocuments.Among(byPath.Keys).Select(p => byPath[p]).ToList();
        if (documents.Count == 0 && byPath.Keys.FirstOrDefault(p => Path.GetExtension(p).ToLowerInvariant() is ".usdc" or ".usd") is { } binary)
            throw new ExchangeException($"'{binary}' is a binary USD layer; only text layers are read. Save it as text (.usda) and bring that in with its maps.");
        if (documents.Count == 0)
            throw new ExchangeException("There is neither a package of a look in it nor a network: .mtlx, .glb, .gltf, .usda and .usdz are read.");
        foreach (var picture in listing.Files)
            store.Take(picture.LocalPath, picture.Content);
        await contents.NameAsync(listing.Files);
        var looks = new List<Look>();
        foreach (var document in documents)
        {
            // The reader goes by the ending, which a staged file may have lost.
            var path = Path.Combine(staging, $"network{looks.Count}{Path.GetExtension(document.Path)}");
            Directory.CreateDirectory(staging);
            File.Copy(document.LocalPath, path, overwrite: true);
            var known = NetworkDocuments.DialectsOf(path, profiles);
            if (known.Count == 0)
                throw new ExchangeException($"'{Path.GetFileName(document.Path)}' is in no dialect that is known here.");
            var folder = document.Path.Contains('/', StringComparison.Ordinal) ? document.Path[..(document.Path.LastIndexOf('/') + 1)] : "";
            // Only what came in the same delivery, by its path there: nothing of this disk.
            DeliveredFile? Beside(string name) => byPath.GetValueOrDefault(folder + name.Replace('\\', '/'));
            // A material that two dialects of one layer describe is read once, in the one that says more.
            var read = new HashSet<string>();
            foreach (var profile in known)
            {
                var networks = NetworkDocuments.Read(path, profile, name => Beside(name) is { } texture ? Map(texture) : null, Kept, name => Beside(name) is { } other ? File.ReadAllBytes(other.LocalPath) : null)
                    .Where(n => !read.Contains(n.Material)).ToList();
                foreach (var network in networks)
                    looks.Add(await NetworkReading.ReadAsync(profile, network, name => colour.Current.Names?.OursFor(name) ?? name, new Bakery(textures, store), cancel));
                read.UnionWith(networks.Select(n => n.Material));
            }
        }
        return looks;
    }

    private string Kept(byte[] bytes)
    {
        var content = store.Put(bytes);
        contents.NameAsync([(content, bytes.LongLength)]).GetAwaiter().GetResult();
        return content;
    }

    private static MapFile? Map(DeliveredFile file)
    {
        using var stream = File.OpenRead(file.LocalPath);
        try
        {
            return MapFile.Of(file.Content, Path.GetFileName(file.Path), HeaderReader.Read(stream, DecodeLimits.Default));
        }
        catch (PictureException)
        {
            // What is no picture counts as missing: the lane is marked, nothing else suffers.
            return null;
        }
    }
}
