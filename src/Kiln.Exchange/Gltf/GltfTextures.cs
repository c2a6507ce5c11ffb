using Kiln.Dialects.Networks;
using Kiln.Looks.Maps;
using Kiln.Pixels;
using Kiln.Pixels.Decoding;
using Kiln.Pixels.Decoding.Headers;
using SharpGLTF.Schema2;

namespace Kiln.Exchange.Gltf;

/// <summary>How a texture of a glTF material is read.</summary>
/// <param name="Slot">The input of the profile that it feeds; also the name of its node.</param>
/// <param name="Read">The channels that are read of it.</param>
/// <param name="IsOpaque">Whether the material ignores its alpha.</param>
internal readonly record struct GltfPlace(string Slot, string Space, string Read, bool IsOpaque);

/// <summary>The texture nodes of one material, and the files they read; each file is stored once.</summary>
internal sealed class GltfTextures(Func<byte[], ContentHash> store)
{
    private readonly List<NetworkNode> nodes = [];
    private readonly Dictionary<string, NetworkTexture> textures = [];

    public IReadOnlyList<NetworkNode> Nodes => nodes;

    public IEnumerable<NetworkTexture> Files => textures.Values;

    /// <returns>The name of the node that was added.</returns>
    public string Add(MaterialChannel channel, Image image, GltfPlace place)
    {
        var name = DialectName(image.Name);
        if (image.LogicalParent.LogicalImages.Count(i => DialectName(i.Name) == name) > 1)
            name += $"_{image.LogicalIndex}";
        var path = $"textures/{name}.{image.Content.FileExtension}" + (place.IsOpaque && place.Read == "rgba" ? "#rgb" : "");
        if (!textures.ContainsKey(path))
        {
            var bytes = image.Content.Content.ToArray();
            using var stream = new MemoryStream(bytes);
            var file = MapFile.Of(
                store(bytes),
                Path.GetFileName(path).Replace("#rgb", "", StringComparison.Ordinal),
                HeaderReader.Read(stream, DecodeLimits.Default)
            );
            // What is opaque has no alpha, whatever its file holds.
            textures[path] = new(
                path,
                place.IsOpaque && place.Read == "rgba" && file.Channels.Count == 4 ? file with { Channels = ["R", "G", "B"] } : file,
                false
            );
        }
        var ports = new List<NetworkPort> { new("file", "filename", path, Space: place.Space), new("channels", "string", place.Read) };
        if (place.Slot is "normalTexture" or "clearcoatNormalTexture" && channel.GetFactor("NormalScale") is not 1 and var steepness)
            ports.Add(new("steepness", "float", steepness.ToString("R")));
        if (place.Slot == "occlusionTexture" && channel.GetFactor("OcclusionStrength") is not 1 and var strength)
            ports.Add(new("strength", "float", strength.ToString("R")));
        if (channel.TextureTransform is { } t)
            ports.AddRange([
                new("scale", "vector2", $"{t.Scale.X:R}, {t.Scale.Y:R}"),
                new("rotation", "float", $"{t.Rotation:R}"),
                new("offset", "vector2", $"{t.Offset.X:R}, {t.Offset.Y:R}"),
            ]);
        nodes.Add(new(place.Slot, "texture", "color3", [.. ports]));
        return place.Slot;
    }

    private static string DialectName(string? name) =>
        string.IsNullOrEmpty(name) ? "map" : string.Concat(name.Select(c => char.IsAsciiLetterOrDigit(c) || c is '_' or '-' ? c : '_'));
}
