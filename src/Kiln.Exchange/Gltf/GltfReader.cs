using System.Numerics;
using Kiln.Dialects.Networks;
using Kiln.Dialects.Profiles;
using Kiln.Looks.Document;
using Kiln.Pixels;
using Kiln.Pixels.Decoding;
using SharpGLTF.Schema2;

namespace Kiln.Exchange.Gltf;

/// <summary>
/// Reads the materials of a glTF 2.0 file (.glb or .gltf), each as a network of places and factors: core, KHR_materials_ior, _specular,
/// _emissive_strength, _clearcoat, _sheen, _transmission, _volume, _dispersion, _anisotropy, _iridescence, KHR_texture_transform, and the
/// archived KHR_materials_pbrSpecularGlossiness.
/// </summary>
public static class GltfReader
{
    private const long LargestFile = 1L << 30;

    // Channel of the material → place of the network, its factor's port and the channels read when all are in use.
    private static readonly (string Channel, string Slot, string Space, string Read)[] Places =
    [
        ("BaseColor", "baseColorTexture", "srgb_texture", "rgba"),
        ("MetallicRoughness", "metallicRoughnessTexture", "raw", "gb"),
        ("Normal", "normalTexture", "raw", "rgb"),
        ("Occlusion", "occlusionTexture", "raw", "r"),
        ("Emissive", "emissiveTexture", "srgb_texture", "rgb"),
        ("SpecularFactor", "specularTexture", "raw", "a"),
        ("SpecularColor", "specularColorTexture", "srgb_texture", "rgb"),
        ("ClearCoat", "clearcoatTexture", "raw", "r"),
        ("ClearCoatRoughness", "clearcoatRoughnessTexture", "raw", "g"),
        ("ClearCoatNormal", "clearcoatNormalTexture", "raw", "rgb"),
        ("SheenColor", "sheenColorTexture", "srgb_texture", "rgb"),
        ("SheenRoughness", "sheenRoughnessTexture", "raw", "a"),
        ("Transmission", "transmissionTexture", "raw", "r"),
        ("Anisotropy", "anisotropyTexture", "raw", "rgb"),
        ("Iridescence", "iridescenceTexture", "raw", "r"),
        ("IridescenceThickness", "iridescenceThicknessTexture", "raw", "g"),
        ("Diffuse", "diffuseTexture", "srgb_texture", "rgba"),
        ("SpecularGlossiness", "specularGlossinessTexture", "srgb_texture", "rgba"),
    ];

    /// <param name="store">Keeps a picture's bytes and gives their SHA-256.</param>
    /// <param name="beside">Gives the bytes of a file it names beside itself. The caller decides what may be read: a name in the file may
    /// lead anywhere. Null: only what is within it.</param>
    /// <exception cref="ExchangeException">It is no glTF file, is damaged, or has no material.</exception>
    public static IReadOnlyList<Network> Read(
        string path,
        DialectProfile profile,
        Func<byte[], ContentHash> store,
        Func<string, byte[]?>? beside = null
    )
    {
        var model = Opened(path, beside);
        if (model.LogicalMaterials.Count == 0)
            throw new ExchangeException($"'{Path.GetFileName(path)}' has no material.");
        return
        [
            .. model.LogicalMaterials.Select(m =>
                Of(m, string.IsNullOrWhiteSpace(m.Name) ? Path.GetFileNameWithoutExtension(path) : m.Name, profile, store)
            ),
        ];
    }

    private static ModelRoot Opened(string path, Func<string, byte[]?>? beside)
    {
        if (new FileInfo(path).Length > LargestFile)
            throw new ExchangeException($"'{Path.GetFileName(path)}' is larger than {LargestFile >> 20} MB.");
        try
        {
            var own = Path.GetFileName(path);
            var context = ReadContext.Create(name =>
                name == own
                    ? File.ReadAllBytes(path)
                    : beside?.Invoke(Uri.UnescapeDataString(name)) ?? throw new ExchangeException($"it names '{name}', which is not there.")
            );
            context.Validation = SharpGLTF.Validation.ValidationMode.TryFix;
            return context.ReadSchema2(own);
        }
        catch (Exception e) when (e is not OutOfMemoryException)
        {
            throw new ExchangeException($"'{Path.GetFileName(path)}' cannot be read as glTF: {e.Message.ReplaceLineEndings(" ")}", e);
        }
    }

    private static Network Of(Material material, string name, DialectProfile profile, Func<byte[], ContentHash> store)
    {
        var (textures, ports) = (new GltfTextures(store), new List<NetworkPort>());
        foreach (var (channelName, slot, space, read) in Places)
            if (material.FindChannel(channelName) is { Texture.PrimaryImage: { } image } channel)
                ports.Add(
                    new(
                        slot,
                        "color3",
                        Node: textures.Add(
                            channel,
                            image,
                            new(
                                slot,
                                space,
                                read,
                                material.Alpha == SharpGLTF.Schema2.AlphaMode.OPAQUE && (channelName is "BaseColor" or "Diffuse")
                            )
                        )
                    )
                );
        Factors(material, ports);
        // The archived materials are converted as their published formula says, in the primaries it was written for.
        var working = material.FindChannel("SpecularGlossiness") is null ? "acescg" : "lin_rec709";
        var surface = new NetworkNode("surface", profile.Surface, "surfaceshader", [.. ports]);
        return new(profile.Id, name, working, [.. textures.Nodes, surface], [.. textures.Files]);
    }

    /// <summary>Channels of the format's extensions that are a colour, and the port each is.</summary>
    private static readonly (string Channel, string Port)[] Tints =
    [
        ("SpecularColor", "specularColorFactor"),
        ("SheenColor", "sheenColorFactor"),
        ("VolumeAttenuation", "attenuationColor"),
    ];

    /// <summary>Channels that are a number.</summary>
    private static readonly (string Channel, string Factor, string Port)[] Weights =
    [
        ("SpecularFactor", "SpecularFactor", "specularFactor"),
        ("ClearCoat", "ClearCoatFactor", "clearcoatFactor"),
        ("ClearCoatRoughness", "RoughnessFactor", "clearcoatRoughnessFactor"),
        ("SheenRoughness", "RoughnessFactor", "sheenRoughnessFactor"),
        ("Transmission", "TransmissionFactor", "transmissionFactor"),
        ("VolumeThickness", "ThicknessFactor", "volumeThickness"),
    ];

    private static void Factors(Material material, List<NetworkPort> ports)
    {
        void Number(string port, double value) => ports.Add(new(port, "float", value.ToString("R")));
        void Colour(string port, Vector3 v) => ports.Add(new(port, "color3", $"{v.X:R}, {v.Y:R}, {v.Z:R}"));
        if (material.FindChannel("BaseColor") is { } baseColour)
        {
            Colour("baseColorFactor", new(baseColour.Color.X, baseColour.Color.Y, baseColour.Color.Z));
            Number("opacityFactor", material.Alpha == SharpGLTF.Schema2.AlphaMode.OPAQUE ? 1 : baseColour.Color.W);
        }
        if (material.FindChannel("MetallicRoughness") is { } metal)
        {
            Number("metallicFactor", metal.GetFactor("MetallicFactor"));
            Number("roughnessFactor", metal.GetFactor("RoughnessFactor"));
        }
        if (material.FindChannel("Emissive") is { } light)
        {
            Colour("emissiveFactor", new(light.Color.X, light.Color.Y, light.Color.Z));
            Number("emissiveStrength", light.GetFactor("EmissiveStrength"));
        }
        Number("ior", material.IndexOfRefraction);
        foreach (var (channel, port) in Tints)
            if (material.FindChannel(channel) is { } tint)
                Colour(port, new(tint.Color.X, tint.Color.Y, tint.Color.Z));
        foreach (var (channel, factor, port) in Weights)
            if (material.FindChannel(channel) is { } layer)
                Number(port, layer.GetFactor(factor));
        if (material.Dispersion > 0)
            Number("dispersion", material.Dispersion);
        if (material.FindChannel("Anisotropy") is { } stretch)
        {
            Number("anisotropyStrength", stretch.GetFactor("AnisotropyStrength"));
            Number("anisotropyRotation", stretch.GetFactor("AnisotropyRotation"));
        }
        if (material.FindChannel("Iridescence") is { } film && material.FindChannel("IridescenceThickness") is { } thickness)
        {
            Number("iridescenceFactor", film.GetFactor("IridescenceFactor"));
            Number("iridescenceIor", film.GetFactor("IndexOfRefraction"));
            // Without a map the film is as thick as the greatest says.
            var least = thickness.Texture is null ? 0 : thickness.GetFactor("Minimum");
            Number("iridescenceThinnest", least / 1000);
            Number("iridescenceThickest", (thickness.GetFactor("Maximum") - least) / 1000);
        }
        if (material.FindChannel("Diffuse") is { } diffuse && material.FindChannel("SpecularGlossiness") is { } glossy)
        {
            Number("glossy", 1);
            Colour("diffuseFactor", new(diffuse.Color.X, diffuse.Color.Y, diffuse.Color.Z));
            Number("diffuseOpacityFactor", material.Alpha == SharpGLTF.Schema2.AlphaMode.OPAQUE ? 1 : diffuse.Color.W);
            Colour("glossySpecularFactor", (Vector3)glossy.Parameters.First(p => p.Name == "SpecularFactor").Value);
            Number("glossinessFactor", glossy.GetFactor("GlossinessFactor"));
        }
        // Beyond a kilometre nothing is absorbed that anybody sees; the format's own "never" is the largest float.
        if (material.FindChannel("VolumeAttenuation") is { } inside && inside.GetFactor("AttenuationDistance") is < 1000 and var distance)
            Number("attenuationDistance", distance);
    }
}
