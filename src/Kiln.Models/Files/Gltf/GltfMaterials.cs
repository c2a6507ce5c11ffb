using System.Text.Json;
using Kiln.Looks.Readings;

namespace Kiln.Models.Files.Gltf;

/// <summary>Materials of a glTF file: the pictures they name by role, and values by neutral input.</summary>
internal static class GltfMaterials
{
    private sealed record Place(string? Block, string Texture, params MapRole[] Roles)
    {
        /// <summary>The channel of each role, where the format says one.</summary>
        public MapChannel[] Channels { get; init; } = [];
    }

    /// <summary>Where a material names pictures; a block is an extension's, or the metallic-roughness one.</summary>
    private static readonly Place[] Places =
    [
        new("pbrMetallicRoughness", "baseColorTexture", MapRole.BaseColor),
        new("pbrMetallicRoughness", "metallicRoughnessTexture", MapRole.Roughness, MapRole.Metalness)
        {
            Channels = [MapChannel.G, MapChannel.B],
        },
        new(null, "normalTexture", MapRole.Normal),
        new(null, "occlusionTexture", MapRole.AmbientOcclusion) { Channels = [MapChannel.R] },
        new(null, "emissiveTexture", MapRole.Emission),
        new("KHR_materials_pbrSpecularGlossiness", "diffuseTexture", MapRole.BaseColor),
        new("KHR_materials_pbrSpecularGlossiness", "specularGlossinessTexture", MapRole.SpecularColor, MapRole.Glossiness)
        {
            Channels = [MapChannel.Rgb, MapChannel.A],
        },
        new("KHR_materials_clearcoat", "clearcoatTexture", MapRole.Coat) { Channels = [MapChannel.R] },
        new("KHR_materials_clearcoat", "clearcoatRoughnessTexture", MapRole.CoatRoughness) { Channels = [MapChannel.G] },
        new("KHR_materials_sheen", "sheenColorTexture", MapRole.Fuzz),
        new("KHR_materials_transmission", "transmissionTexture", MapRole.Transmission) { Channels = [MapChannel.R] },
        new("KHR_materials_specular", "specularTexture", MapRole.SpecularLevel) { Channels = [MapChannel.A] },
        new("KHR_materials_specular", "specularColorTexture", MapRole.SpecularColor),
        new("KHR_materials_anisotropy", "anisotropyTexture", MapRole.Anisotropy) { Channels = [MapChannel.B] },
    ];

    /// <summary>Names by number; one without a name is called by its place.</summary>
    public static string NameOf(JsonElement root, int index) =>
        root.Item("materials", index)?.Text("name") is { Length: > 0 } name ? name : $"material {index + 1}";

    public static IReadOnlyList<ModelMaterial> Read(GltfContainer container, TextureSearch search) =>
        container.Root.List("materials") is not { } all
            ? []
            :
            [
                .. all.EnumerateArray()
                    .Select(
                        (m, i) =>
                            new ModelMaterial(NameOf(container.Root, i), [.. Textures(container, m, search)], Values(m))
                            {
                                HasOpacityInBaseColour = m.Text("alphaMode") is "MASK" or "BLEND",
                            }
                    ),
            ];

    private static JsonElement? Block(JsonElement material, string? name) =>
        name is null ? material
        : name.StartsWith("KHR_", StringComparison.Ordinal) ? material.Object("extensions")?.Object(name)
        : material.Object(name);

    private static IEnumerable<ModelTexture> Textures(GltfContainer container, JsonElement material, TextureSearch search)
    {
        var root = container.Root;
        foreach (var place in Places)
        {
            if (Block(material, place.Block)?.Object(place.Texture)?.Number("index") is not { } index)
                continue;
            var source = root.Item("textures", index)?.Number("source") ?? -1;
            if (root.Item("images", source) is not { } image)
                continue;
            // Of pictures within the file their name is all there is to say.
            var uri = image.Text("uri") is { } u && !u.StartsWith("data:", StringComparison.Ordinal) ? u : null;
            var written = uri ?? image.Text("name") ?? $"image {source + 1} of the file";
            var found = uri is null ? null : search.Find(Uri.UnescapeDataString(uri));
            var within = uri is null ? Within(container, image) : null;
            for (var i = 0; i < place.Roles.Length; i++)
                yield return new(place.Roles[i], written, found)
                {
                    Within = within,
                    Channel = i < place.Channels.Length ? place.Channels[i] : null,
                };
        }
    }

    /// <summary>The bytes of a picture in the file; null where they are broken.</summary>
    private static ReadOnlyMemory<byte>? Within(GltfContainer container, JsonElement image)
    {
        try
        {
            return image.Number("bufferView") is { } view ? container.View(view, out _)
                : image.Text("uri") is { } uri ? Convert.FromBase64String(uri[(uri.IndexOf(',') + 1)..])
                : null;
        }
        catch (Exception e) when (e is ModelException or FormatException)
        {
            return null;
        }
    }

    private static Dictionary<string, float[]> Values(JsonElement material)
    {
        var values = new Dictionary<string, float[]>();
        if (Block(material, "KHR_materials_pbrSpecularGlossiness") is { } older)
        {
            if (older.Reals("diffuseFactor", 4) is { } diffuse)
                (values["base_color"], values["geometry_opacity"]) = (diffuse[..3], diffuse[3..]);
            values["specular_roughness"] = [1 - (older.Real("glossinessFactor") ?? 1)];
        }
        else
        {
            // What is left out is 1 by the format.
            var plain = Block(material, "pbrMetallicRoughness");
            var colour = plain?.Reals("baseColorFactor", 4) ?? [1, 1, 1, 1];
            values["base_color"] = colour[..3];
            values["base_metalness"] = [plain?.Real("metallicFactor") ?? 1];
            values["specular_roughness"] = [plain?.Real("roughnessFactor") ?? 1];
            if (material.Text("alphaMode") is "MASK" or "BLEND")
                values["geometry_opacity"] = colour[3..];
        }
        if (material.Reals("emissiveFactor", 3) is { } light)
        {
            var strength = Block(material, "KHR_materials_emissive_strength")?.Real("emissiveStrength") ?? 1;
            values["emission_color"] = [.. light.Select(c => c * strength)];
        }
        if (Block(material, "KHR_materials_ior")?.Real("ior") is { } ior)
            values["specular_ior"] = [ior];
        if (Block(material, "KHR_materials_transmission")?.Real("transmissionFactor") is { } through)
            values["transmission_weight"] = [through];
        if (Block(material, "KHR_materials_clearcoat") is { } coat)
        {
            values["coat_weight"] = [coat.Real("clearcoatFactor") ?? 0];
            values["coat_roughness"] = [coat.Real("clearcoatRoughnessFactor") ?? 0];
        }
        return values;
    }
}
