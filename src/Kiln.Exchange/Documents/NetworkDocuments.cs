using System.Security.Cryptography;
using System.Text;
using System.Text.RegularExpressions;
using Kiln.Dialects.Networks;
using Kiln.Dialects.Profiles;
using Kiln.Exchange.Gltf;
using Kiln.Exchange.MaterialX;
using Kiln.Exchange.Usd;
using Kiln.Looks.Document;
using Kiln.Looks.Maps;
using Kiln.Pixels;
using Kiln.Pixels.Decoding;
using Kiln.Pixels.Decoding.Headers;
using Kiln.Usd;

namespace Kiln.Exchange.Documents;

/// <summary>Networks in files: which documents are networks, of which dialect, and which reader takes them.</summary>
public static class NetworkDocuments
{
    private const int LongestHead = 4 << 20;

    /// <summary>
    /// The networks among files: a .usdz, or what was unpacked from one, is left out where its layer lies beside it as text, since that is
    /// the same again.
    /// </summary>
    public static IEnumerable<string> Among(IEnumerable<string> paths)
    {
        var networks = paths.Where(IsNetwork).ToList();
        return networks.Where(p =>
            p.IndexOf(".usdz", StringComparison.OrdinalIgnoreCase) is < 0
            || !networks.Contains(p[..p.IndexOf(".usdz", StringComparison.OrdinalIgnoreCase)] + ".usda")
        );
    }

    public static bool IsNetwork(string path) => Kind(path) is not null && !path.EndsWith("_defs.mtlx", StringComparison.OrdinalIgnoreCase);

    private static DocumentKind? Kind(string path) =>
        Path.GetExtension(path).ToLowerInvariant() switch
        {
            ".mtlx" => DocumentKind.MaterialX,
            ".glb" or ".gltf" => DocumentKind.Gltf,
            ".usda" or ".usdz" or ".usdc" or ".usd" => DocumentKind.Usd,
            _ => null,
        };

    /// <summary>
    /// The dialect of a document by the surface it names, the one that says most where it holds several; null where no profile knows it.
    /// </summary>
    public static DialectProfile? DialectOf(string path, DialectProfiles profiles) => DialectsOf(path, profiles).FirstOrDefault();

    /// <summary>
    /// The dialects of all surfaces in a document that a profile knows. A MaterialX network beside a USD preview comes first: it says more.
    /// </summary>
    /// <exception cref="ExchangeException">It is a binary layer, or an archive with one, that is damaged.</exception>
    public static IReadOnlyList<DialectProfile> DialectsOf(string path, DialectProfiles profiles)
    {
        var kind = Kind(path);
        var own = profiles.All.Where(p => p.Document == kind).ToList();
        if (kind == DocumentKind.Gltf)
            return own;
        if (kind == DocumentKind.Usd && BinaryLayer(path) is { } layer)
        {
            var named = layer.All.Select(p => p.Find("info:id")?.Text).OfType<string>().ToHashSet();
            return
            [
                .. profiles.All.Where(p => UsdMaterialXReader.Knows(p) && named.Contains(UsdMaterialXReader.SurfaceOf(p).Trim('"'))),
                .. own.Where(p => named.Contains(p.Surface)),
            ];
        }
        var bytes = new byte[Math.Min(LongestHead, new FileInfo(path).Length)];
        using (var file = File.OpenRead(path))
            file.ReadExactly(bytes);
        var text = Encoding.UTF8.GetString(bytes);
        bool Says(string word) => text.Contains(word, StringComparison.Ordinal);
        if (kind == DocumentKind.Usd)
            return
            [
                .. profiles.All.Where(p => UsdMaterialXReader.Knows(p) && Says(UsdMaterialXReader.SurfaceOf(p))),
                .. own.Where(p => Says($"\"{p.Surface}\"")),
            ];
        return [.. own.Where(p => Regex.IsMatch(text, $"<{Regex.Escape(p.Surface)}[\\s/>]", RegexOptions.NonBacktracking))];
    }

    /// <summary>A layer whose words cannot be searched as text; null where it can be.</summary>
    private static UsdPrim? BinaryLayer(string path)
    {
        using var file = File.OpenRead(path);
        Span<byte> head = stackalloc byte[8];
        var length = file.ReadAtLeast(head, head.Length, throwOnEndOfStream: false);
        file.Position = 0;
        try
        {
            if (UsdLayer.IsBinary(head[..length]))
                return UsdLayer.Read(file);
            if (!head[..length].StartsWith("PK"u8))
                return null;
            var (layer, _) = UsdzFiles.Read(file);
            return UsdLayer.IsBinary(layer) ? UsdLayer.Read(new MemoryStream(layer)) : null;
        }
        catch (UsdException e)
        {
            throw new ExchangeException($"'{Path.GetFileName(path)}': {e.Message}", e);
        }
    }

    /// <summary>Every material of the document whose surface is of the dialect, in the document's order; never none.</summary>
    /// <param name="texture">Finds the file behind a path as written; null where it is gone: the network comes in all the same, with a map
    /// that is missing.</param>
    /// <param name="put">Keeps a picture's bytes and gives their SHA-256.</param>
    /// <param name="beside">The bytes of a file beside a glTF document; null where there is none or it may not be read.</param>
    /// <exception cref="ExchangeException">It cannot be read, or its surfaces are of other dialects; the message is a sentence that names
    /// them.</exception>
    public static IReadOnlyList<Network> Read(
        string path,
        DialectProfile profile,
        Func<string, MapFile?> texture,
        Func<byte[], ContentHash> put,
        Func<string, byte[]?> beside
    )
    {
        var kind = Kind(path)
            ?? throw new ExchangeException(
                $"Networks in {Path.GetExtension(path)} files are not read; .mtlx, .glb, .gltf, .usda, .usdc and .usdz are."
            );
        if (kind != profile.Document && !(kind == DocumentKind.Usd && UsdMaterialXReader.Knows(profile)))
            throw new ExchangeException($"'{Path.GetFileName(path)}' is no document of {profile.Title}, but {KindNames[kind]}.");
        if (kind == DocumentKind.Gltf)
            return GltfReader.Read(path, profile, put, beside);
        MapFile Found(string name) => (MapTile.HasToken(name) ? Tiled(name, texture) : texture(name)) ?? Gone(name);
        using var document = File.OpenRead(path);
        try
        {
            if (path.EndsWith(".usdz", StringComparison.OrdinalIgnoreCase))
            {
                var (layer, within) = UsdzFiles.Read(document);
                texture = name => within(name) is { } bytes ? Picture(name, bytes, put) : null;
                return Layer(new MemoryStream(layer));
            }
            return kind == DocumentKind.Usd ? Layer(document) : MaterialXReader.Read(document, profile, Found);
        }
        catch (Exception e) when (e is ExchangeException or UsdException)
        {
            throw new ExchangeException($"'{Path.GetFileName(path)}': {e.Message}", e);
        }

        IReadOnlyList<Network> Layer(Stream layer) =>
            profile.Document == DocumentKind.Usd ? UsdaReader.Read(layer, profile, Found) : UsdMaterialXReader.Read(layer, profile, Found);
    }

    private static readonly Dictionary<DocumentKind, string> KindNames = new()
    {
        [DocumentKind.MaterialX] = "a MaterialX document",
        [DocumentKind.Gltf] = "a glTF file",
        [DocumentKind.Usd] = "a USD layer",
    };

    /// <summary>All tiles of a path with a tile token, in the ten rows that are looked through; null where none is there.</summary>
    private static MapFile? Tiled(string name, Func<string, MapFile?> texture)
    {
        var found = Enumerable
            .Range(MapTile.First, MapTile.Columns * 10)
            .Select(n => (Number: n, File: texture(MapTile.Named(name, n))))
            .Where(t => t.File is not null)
            .ToList();
        return found.Count == 0
            ? null
            : found[0].File! with
            {
                Tiles = [.. found.Select(t => new MapTile(t.Number, t.File!.Content, t.File.Name))],
            };
    }

    private static MapFile? Picture(string name, byte[] bytes, Func<byte[], ContentHash> put)
    {
        try
        {
            using var stream = new MemoryStream(bytes);
            return MapFile.Of(put(bytes), Path.GetFileName(name), HeaderReader.Read(stream, DecodeLimits.Default));
        }
        catch (PictureException)
        {
            // What is no picture counts as missing.
            return null;
        }
    }

    /// <summary>
    /// A map of which only the name is known: a content that no file has, so that it counts as missing wherever maps are looked for.
    /// </summary>
    public static MapFile Gone(string name) =>
        new(
            ContentHash.Of(Encoding.UTF8.GetBytes("gone: " + name)),
            Path.GetFileName(name.Replace('\\', '/')),
            1,
            1,
            8,
            false,
            Path.GetExtension(name).TrimStart('.').ToLowerInvariant() is "exr" ? "openexr" : "png",
            ["R", "G", "B"],
            null
        );
}
