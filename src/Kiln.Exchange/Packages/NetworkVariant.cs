using Kiln.Dialects.Networks;

namespace Kiln.Exchange.Packages;

/// <summary>A variant of a look as the network it becomes.</summary>
/// <param name="Beside">The same surface in a dialect that can say more, for a document that holds both.</param>
public sealed record NetworkVariant(string Name, Network Network, Network? Beside = null)
{
    internal IEnumerable<Network> Networks => Beside is null ? [Network] : [Network, Beside];
}

internal static class NetworkVariants
{
    /// <summary>The look (first, as it is) and its variants with materials and texture files called so that nothing of one lies where something else of another does; what is the same lies in one place.</summary>
    public static IReadOnlyList<NetworkVariant> Apart(NetworkVariant plain, IReadOnlyList<NetworkVariant> variants)
    {
        var materials = new HashSet<string>(StringComparer.OrdinalIgnoreCase);
        var files = new Dictionary<string, string>(StringComparer.OrdinalIgnoreCase);
        return [.. variants.Prepend(plain).Select(v => v with { Network = Renamed(v.Network, materials, files), Beside = v.Beside is null ? null : Renamed(v.Beside, [], files) })];
    }

    private static Network Renamed(Network network, HashSet<string> materials, Dictionary<string, string> files)
    {
        var paths = new Dictionary<string, string>();
        foreach (var texture in network.Textures)
        {
            var path = texture.Path;
            for (var n = 2; files.TryGetValue(path, out var there) && there != Content(texture); n++)
                path = Numbered(texture.Path, n);
            files[path] = Content(texture);
            paths[texture.Path] = path;
        }
        var material = network.Material;
        for (var n = 2; !materials.Add(material); n++)
            material = $"{network.Material}_{n}";
        return network.WithPaths(p => paths.GetValueOrDefault(p, p)) with { Material = material };
    }

    /// <summary>With the number before the tile's place and the ending.</summary>
    private static string Numbered(string path, int n)
    {
        var tile = path.IndexOf(NetworkTexture.TilePlace, StringComparison.Ordinal);
        var at = tile > 0 ? tile - 1 : path.Length - Path.GetExtension(path).Length;
        return $"{path[..at]}_v{n}{path[at..]}";
    }

    private static string Content(NetworkTexture texture) => string.Join(' ', texture.File.Contents);
}
