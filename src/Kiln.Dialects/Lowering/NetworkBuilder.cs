using System.Numerics;
using Kiln.Dialects.Networks;
using Kiln.Dialects.Profiles;
using Kiln.Looks.Maps;

namespace Kiln.Dialects.Lowering;

/// <summary>Collects nodes and files under unique names; equal nodes and equal files are one.</summary>
internal sealed class NetworkBuilder(string material, TextureRule rule)
{
    private readonly HashSet<string> names = [];
    private readonly Dictionary<string, NetworkTexture> textures = [];

    public List<NetworkNode> Nodes { get; } = [];

    public IEnumerable<NetworkTexture> Textures => textures.Values;

    public string Add(string part, string category, string type, IEnumerable<NetworkPort> ports)
    {
        var node = new NetworkNode("", category, type, [.. ports]);
        if (Nodes.FirstOrDefault(n => n with { Name = "" } is var bare && bare.Equals(node)) is { } same)
            return same.Name;
        var name = Unique(DialectCompiler.MaterialName($"{material}_{part}"), names);
        Nodes.Add(node with { Name = name });
        return name;
    }

    /// <summary>The relative path under which a file will be written.</summary>
    public string Texture(MapFile file, bool baked)
    {
        var key = string.Concat(file.Contents);
        if (textures.TryGetValue(key, out var known))
            return known.Path;
        var used = textures.Values.Select(t => t.Path).ToHashSet(StringComparer.OrdinalIgnoreCase);
        // Pictures in tiles with their levels are written anew, whatever they came as.
        var extension = rule.Tiled
            ? file.IsFloat
                ? ".exr"
                : ".tif"
            : Path.GetExtension(file.Name).ToLowerInvariant();
        var stem = DialectCompiler.MaterialName(file.Stem);
        if (file.IsTiled)
            extension = $".{rule.Udim ?? NetworkTexture.TilePlace}{extension}";
        var path = $"textures/{stem}{extension}";
        for (var i = 2; used.Contains(path); i++)
            path = $"textures/{stem}_{i}{extension}";
        textures[key] = new(path, file, baked);
        return path;
    }

    /// <summary>A number that a formula gave, to six digits: what came in as 0.5 goes out as 0.5.</summary>
    public static string Number(float value) =>
        value == 0 || !float.IsFinite(value)
            ? "0"
            : Text((float)Math.Round(value, Math.Clamp(5 - (int)Math.Floor(Math.Log10(Math.Abs(value))), 0, 15)));

    public static string Text(float value) => value.ToString("0.#########");

    public static string Text(Vector3 value) => $"{Text(value.X)}, {Text(value.Y)}, {Text(value.Z)}";

    private static string Unique(string wanted, HashSet<string> taken)
    {
        var name = wanted;
        for (var i = 2; !taken.Add(name); i++)
            name = $"{wanted}_{i}";
        return name;
    }
}
