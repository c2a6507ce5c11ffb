using Kiln.Dialects.Networks;

namespace Kiln.Exchange.Packages;

/// <summary>A variant of a look as the network it becomes.</summary>
public sealed record NetworkVariant(string Name, Network Network);

internal static class NetworkVariants
{
    /// <summary>The variants with materials and texture files called so that nothing of one lies where something else of another does; what is the same lies in one place.</summary>
    public static IReadOnlyList<NetworkVariant> Apart(Network plain, IReadOnlyList<NetworkVariant> variants)
    {
        var materials = new HashSet<string>(StringComparer.OrdinalIgnoreCase) { plain.Material };
        var files = plain.Textures.GroupBy(t => t.Path, StringComparer.OrdinalIgnoreCase).ToDictionary(t => t.Key, t => Content(t.First()), StringComparer.OrdinalIgnoreCase);
        return [.. variants.Select(v => v with { Network = Renamed(v.Network, materials, files) })];
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
