using System.Text.RegularExpressions;
using Kiln.Dialects.Networks;
using Kiln.Looks.Maps;
using Kiln.Pixels;

namespace Kiln.Exchange.Packages;

/// <summary>
/// Names of what several networks write into one folder: two different pictures or documents never share one, whatever their case; the same
/// picture may.
/// In the order of asking the first keeps its name, so the same networks get the same names.
/// </summary>
public sealed partial class WrittenNames
{
    private readonly HashSet<string> documents = new(StringComparer.OrdinalIgnoreCase);
    private readonly Dictionary<string, ContentHash> files = new(StringComparer.OrdinalIgnoreCase);

    [GeneratedRegex("\\.<[A-Za-z]+>\\.[^.]*$")]
    private static partial Regex TileAndEnding { get; }

    /// <summary>The network with names of its own for its document and for textures that would lie where others do.</summary>
    public Network Apart(Network network) => TexturesApart(network) with { Material = Document(network) };

    /// <summary>The same for textures alone, where the document is another network's too.</summary>
    public Network TexturesApart(Network network)
    {
        var paths = new Dictionary<string, string>();
        foreach (var texture in network.Textures)
        {
            var path = texture.Path;
            for (var n = 2; Parts(path, texture.File).Any(p => files.TryGetValue(p.Path, out var there) && there != p.Content); n++)
                path = Numbered(texture.Path, n);
            foreach (var part in Parts(path, texture.File))
                files[part.Path] = part.Content;
            paths[texture.Path] = path;
        }
        return network.WithPaths(p => paths.GetValueOrDefault(p, p));
    }

    /// <summary>Takes names that an earlier run has written: its documents, and its textures with what they hold.</summary>
    /// <param name="content">Of the file.</param>
    public void Reserve(string path, ContentHash content)
    {
        files[path] = content;
        if (!path.Contains('/', StringComparison.Ordinal))
            documents.Add(Path.GetFileNameWithoutExtension(path));
    }

    private string Document(Network network)
    {
        var material = network.Material;
        for (var n = 2; Documents(material, network).Any(documents.Contains); n++)
            material = $"{network.Material}_{n}";
        documents.UnionWith(Documents(material, network));
        return material;
    }

    /// <summary>A network with tiles may become a document for each; its definitions lie beside it.</summary>
    private static IEnumerable<string> Documents(string material, Network network) =>
        [material, material + "_defs", .. network.IsTiled ? network.TilesToSplit().Whole.Select(n => $"{material}_{n}") : []];

    private static IEnumerable<(string Path, ContentHash Content)> Parts(string path, MapFile file) =>
        file.IsTiled ? file.Tiles!.Select(t => (MapTile.Named(path, t.Number), t.Content)) : [(path, file.Content)];

    /// <summary>With the number before the tile's place and the ending.</summary>
    private static string Numbered(string path, int n)
    {
        var at = TileAndEnding.Match(path) is { Success: true } tile ? tile.Index : path.Length - Path.GetExtension(path).Length;
        return $"{path[..at]}_v{n}{path[at..]}";
    }
}
