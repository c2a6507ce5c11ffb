using Kiln.Dialects.Baking;
using Kiln.Dialects.Folding;
using Kiln.Dialects.Networks;
using Kiln.Dialects.Profiles;
using Kiln.Exchange;
using Kiln.Exchange.Documents;
using Kiln.Intake.Listing;
using Kiln.Looks.Document;
using Kiln.Looks.Evaluation;
using Kiln.Looks.Maps;
using Kiln.Pixels;
using Kiln.Pixels.Decoding;
using Kiln.Pixels.Decoding.Headers;
using Kiln.Server.Configs;
using Kiln.Store.Contents;

namespace Kiln.Server.Packages;

/// <summary>A material in a file.</summary>
/// <param name="Dialect">By its title; null for a package, which holds a look.</param>
public sealed record FoundMaterial(string Name, string? Dialect, int Maps);

/// <summary>
/// Networks of any dialect as looks: a document, or a zip of documents with their textures. One whose textures are gone comes in with the
/// maps marked as missing,
/// so that they can be linked again.
/// </summary>
public sealed class NetworkImport(
    DialectProfiles profiles,
    MapTextures textures,
    ContentStore store,
    ContentRepository contents,
    ConfigRegistry colour
)
{
    /// <summary>What would come in, in order; nothing is kept.</summary>
    /// <exception cref="ExchangeException">No network is in it, or one cannot be read.</exception>
    public IReadOnlyList<FoundMaterial> Materials(string file, string staging, CancellationToken cancel) =>
        [
            .. Networks(Listed(file, staging, cancel), staging, bytes => ContentHash.Of(bytes))
                .Select(n => new FoundMaterial(
                    n.Network.Material,
                    n.Profile.Title,
                    n.Network.Textures.Select(t => t.File.Content).Distinct().Count()
                )),
        ];

    /// <param name="only">Numbers of the materials that shall come in; null for all.</param>
    /// <exception cref="ExchangeException">No network is in it, or one cannot be read, or a number is none of them: nothing is
    /// kept.</exception>
    public async Task<IReadOnlyList<Look>> ReadAsync(string file, string staging, IReadOnlySet<int>? only, CancellationToken cancel)
    {
        var listing = Listed(file, staging, cancel);
        foreach (var picture in listing.Files)
            store.Take(picture.LocalPath, picture.Content);
        await contents.NameAsync(listing.Files);
        var networks = Networks(listing, staging, Kept).ToList();
        if (only is not null && only.Any(n => n < 0 || n >= networks.Count))
            throw new ExchangeException(
                $"The file has {networks.Count} material{(networks.Count == 1 ? "" : "s")}, numbered from 0; one of the chosen "
                    + "numbers is none of them."
            );
        var looks = new List<Look>();
        foreach (var (profile, network) in networks.Where((_, n) => only?.Contains(n) != false))
            looks.Add(
                await NetworkReading.ReadAsync(
                    profile,
                    network,
                    name => colour.Current.Names?.OursFor(name) ?? name,
                    new Bakery(textures, store),
                    cancel
                )
            );
        return looks;
    }

    private static DeliveryListing Listed(string file, string staging, CancellationToken cancel)
    {
        var listing = DeliveryListing.Read([file], staging, cancel: cancel);
        var byPath = listing.Files.ToDictionary(f => f.Path);
        var documents = NetworkDocuments.Among(byPath.Keys).Select(p => byPath[p]).ToList();
        if (documents.Count == 0)
            throw new ExchangeException(
                "There is neither a package of a look in it nor a network: .mtlx, .glb, .gltf, .usda, .usdc and .usdz are read."
            );
        return listing;
    }

    /// <summary>Every material of every document, each once.</summary>
    private IEnumerable<(DialectProfile Profile, Network Network)> Networks(
        DeliveryListing listing,
        string staging,
        Func<byte[], ContentHash> put
    )
    {
        var byPath = listing.Files.ToDictionary(f => f.Path);
        var count = 0;
        foreach (var document in NetworkDocuments.Among(byPath.Keys).Select(p => byPath[p]))
        {
            // The reader goes by the ending, and names what has no name by the file's; a staged file may have lost both.
            var path = Path.Combine(
                Directory.CreateDirectory(Path.Combine(staging, $"network{count++}")).FullName,
                Path.GetFileName(document.Path)
            );
            File.Copy(document.LocalPath, path, overwrite: true);
            var known = NetworkDocuments.DialectsOf(path, profiles);
            if (known.Count == 0)
                throw new ExchangeException($"'{Path.GetFileName(document.Path)}' is for no renderer that is known here.");
            var folder = document.Path.Contains('/', StringComparison.Ordinal) ? document.Path[..(document.Path.LastIndexOf('/') + 1)] : "";
            // Only what came in the same delivery, by its path there: nothing of this disk.
            DeliveredFile? Beside(string name) => byPath.GetValueOrDefault(folder + name.Replace('\\', '/'));
            // A material that two dialects of one layer describe is read once, in the one that says more.
            var read = new HashSet<string>();
            foreach (var profile in known)
            {
                var networks = NetworkDocuments
                    .Read(
                        path,
                        profile,
                        name => Beside(name) is { } texture ? Map(texture) : null,
                        put,
                        name => Beside(name) is { } other ? File.ReadAllBytes(other.LocalPath) : null
                    )
                    .Where(n => !read.Contains(n.Material))
                    .ToList();
                foreach (var network in networks)
                    yield return (profile, network);
                read.UnionWith(networks.Select(n => n.Material));
            }
        }
    }

    private ContentHash Kept(byte[] bytes)
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
