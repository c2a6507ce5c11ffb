using System.Numerics;
using System.Runtime.InteropServices;
using Kiln.Dialects.Networks;
using Kiln.Exchange.Models;
using Kiln.Exchange.Packages;
using Kiln.Looks.Evaluation;
using SharpGLTF.Memory;
using SharpGLTF.Schema2;

namespace Kiln.Exchange.Gltf;

/// <summary>
/// The mesh a .glb carries so that its material can be seen: metres, UV with v up, tangents with the sign of the bitangent.
/// </summary>
public sealed record CarrierForm(string Name, Vector3[] Positions, Vector3[] Normals, Vector4[] Tangents, Vector2[] Uvs, int[] Indices);

/// <summary>
/// Writes a packed network as binary glTF 2.0 with embedded textures (Khronos glTF 2.0; KHR_texture_transform, KHR_materials_*).
/// </summary>
public static class GlbWriter
{
    // Port of the network → channel of the material.
    private static readonly Dictionary<string, string> Channels = new()
    {
        ["baseColorTexture"] = "BaseColor",
        ["metallicRoughnessTexture"] = "MetallicRoughness",
        ["normalTexture"] = "Normal",
        ["occlusionTexture"] = "Occlusion",
        ["emissiveTexture"] = "Emissive",
        ["specularTexture"] = "SpecularFactor",
        ["specularColorTexture"] = "SpecularColor",
        ["clearcoatTexture"] = "ClearCoat",
        ["clearcoatRoughnessTexture"] = "ClearCoatRoughness",
        ["clearcoatNormalTexture"] = "ClearCoatNormal",
        ["sheenColorTexture"] = "SheenColor",
        ["sheenRoughnessTexture"] = "SheenRoughness",
        ["transmissionTexture"] = "Transmission",
        ["anisotropyTexture"] = "Anisotropy",
        ["iridescenceTexture"] = "Iridescence",
        ["iridescenceThicknessTexture"] = "IridescenceThickness",
    };

    /// <param name="variants">Materials beside the look's own, as KHR_materials_variants has them.</param>
    public static byte[] Write(Network network, CarrierForm form, IContentFiles files, IReadOnlyList<NetworkVariant>? variants = null)
    {
        var model = ModelRoot.CreateModel();
        model.Asset.Generator = "Nimble Kiln";
        var images = new Dictionary<string, Image>();
        var material = Material(model, network, files, images);
        foreach (var variant in variants ?? [])
            Material(model, variant.Network, files, images);
        Carrier(model, form, material);
        using var memory = new MemoryStream();
        model.WriteGLB(memory, new WriteSettings { MergeBuffers = true, JsonIndented = false });
        return variants is { Count: > 0 } ? GlbVariants.Added(memory.ToArray(), [.. variants.Select(v => v.Name)]) : memory.ToArray();
    }

    /// <summary>A model's parts as nodes, one below the other as their paths say; a mesh for each.</summary>
    /// <param name="carried">Without networks whose maps have tiles.</param>
    public static byte[] Write(CarriedModel carried, IContentFiles files)
    {
        var model = ModelRoot.CreateModel();
        model.Asset.Generator = "Nimble Kiln";
        var images = new Dictionary<string, Image>();
        var materials = carried.Materials.Select(n => Material(model, n, files, images)).ToList();
        var scene = model.UseScene(0);
        model.DefaultScene = scene;
        var nodes = new Dictionary<string, Node>();
        Node At(string path)
        {
            if (nodes.TryGetValue(path, out var there))
                return there;
            var cut = path.LastIndexOf('/');
            var (above, name) = (path[..Math.Max(0, cut)], path[(cut + 1)..]);
            return nodes[path] = above.Length == 0 ? scene.CreateNode(name) : At(above).CreateNode(name);
        }
        foreach (var part in carried.Parts)
        {
            var node = At(part.Path);
            node.Mesh = model.CreateMesh(part.Form.Name);
            Primitive(model, node.Mesh, part.Form).Material = part.Material is { } m ? materials[m] : null;
        }
        using var memory = new MemoryStream();
        model.WriteGLB(memory, new WriteSettings { MergeBuffers = true, JsonIndented = false });
        return memory.ToArray();
    }

    private static Material Material(ModelRoot model, Network network, IContentFiles files, Dictionary<string, Image> images)
    {
        var material = model.CreateMaterial(network.Material);
        GltfFactors.Set(
            material,
            network.Surface,
            network.Surface.Port("baseColorTexture")?.Node is { } colour && network.Node(colour).Port("channels")!.Value!.Contains('a')
        );
        foreach (var port in network.Surface.Ports.Where(p => p.Node is not null))
        {
            // A texture of a layer that is off has no place.
            if (material.FindChannel(Channels[port.Name]) is not { } channel)
                continue;
            Connect(model, channel, network, network.Node(port.Node!), files, images);
        }
        return material;
    }

    private static void Connect(
        ModelRoot model,
        MaterialChannel channel,
        Network network,
        NetworkNode texture,
        IContentFiles files,
        Dictionary<string, Image> images
    )
    {
        var path = texture.Port("file")!.Value!;
        if (!images.TryGetValue(path, out var image))
        {
            image = model.CreateImage(System.IO.Path.GetFileNameWithoutExtension(path));
            image.Content = new MemoryImage(File.ReadAllBytes(files.PathOf(network.Textures.First(t => t.Path == path).File.Content)));
            images[path] = image;
        }
        channel.SetTexture(
            0,
            image,
            null,
            TextureWrapMode.REPEAT,
            TextureWrapMode.REPEAT,
            TextureMipMapFilter.LINEAR_MIPMAP_LINEAR,
            TextureInterpolationFilter.LINEAR
        );
        if (texture.Port("steepness")?.Value is { } steepness)
            channel.SetFactor("NormalScale", float.Parse(steepness));
        if (texture.Port("strength")?.Value is { } strength)
            channel.SetFactor("OcclusionStrength", float.Parse(strength));
        if (texture.Port("scale")?.Value is { } scale)
            channel.SetTransform(Pair(texture.Port("offset")!.Value!), Pair(scale), float.Parse(texture.Port("rotation")!.Value!));
    }

    private static void Carrier(ModelRoot model, CarrierForm form, Material material)
    {
        var primitive = Primitive(model, model.CreateMesh(form.Name), form);
        primitive.Material = material;
        var node = model.UseScene(0).CreateNode(form.Name);
        node.Mesh = primitive.LogicalParent;
        model.DefaultScene = model.UseScene(0);
    }

    private static MeshPrimitive Primitive(ModelRoot model, SharpGLTF.Schema2.Mesh mesh, CarrierForm form)
    {
        var primitive = mesh.CreatePrimitive();
        Attribute(model, primitive, "POSITION", MemoryMarshal.AsBytes(form.Positions.AsSpan()), form.Positions.Length, DimensionType.VEC3);
        Attribute(model, primitive, "NORMAL", MemoryMarshal.AsBytes(form.Normals.AsSpan()), form.Normals.Length, DimensionType.VEC3);
        Attribute(model, primitive, "TANGENT", MemoryMarshal.AsBytes(form.Tangents.AsSpan()), form.Tangents.Length, DimensionType.VEC4);
        var uvs = form.Uvs.Select(uv => new Vector2(uv.X, 1 - uv.Y)).ToArray();
        Attribute(model, primitive, "TEXCOORD_0", MemoryMarshal.AsBytes(uvs.AsSpan()), uvs.Length, DimensionType.VEC2);
        var indices = form.Indices.Select(i => (uint)i).ToArray();
        var view = model.UseBufferView(MemoryMarshal.AsBytes(indices.AsSpan()).ToArray(), 0, null, 0, BufferMode.ELEMENT_ARRAY_BUFFER);
        var accessor = model.CreateAccessor();
        accessor.SetIndexData(view, 0, indices.Length, IndexEncodingType.UNSIGNED_INT);
        primitive.SetIndexAccessor(accessor);
        return primitive;
    }

    private static void Attribute(
        ModelRoot model,
        MeshPrimitive primitive,
        string name,
        ReadOnlySpan<byte> bytes,
        int count,
        DimensionType dimension
    )
    {
        var view = model.UseBufferView(bytes.ToArray(), 0, null, 0, BufferMode.ARRAY_BUFFER);
        var accessor = model.CreateAccessor();
        accessor.SetVertexData(view, 0, count, new AttributeFormat(dimension));
        primitive.SetVertexAccessor(name, accessor);
    }

    internal static Vector3 Triple(string text) => text.Split(',').Select(float.Parse).ToArray() is var v ? new(v[0], v[1], v[2]) : default;

    private static Vector2 Pair(string text) => text.Split(',').Select(float.Parse).ToArray() is var v ? new(v[0], v[1]) : default;
}
