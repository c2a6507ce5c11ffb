using System.Numerics;
using System.Runtime.InteropServices;
using System.Text.Json;
using System.Text.Json.Nodes;

namespace Kiln.Demo.Models;

/// <summary>A demo model as one file of glTF 2.0 with its pictures in it.</summary>
internal sealed class GlbBytes
{
    private const uint Magic = 0x46546C67,
        Json = 0x4E4F534A,
        Binary = 0x004E4942;

    private const int Floats = 5126,
        Integers = 5125,
        VertexData = 34962,
        IndexData = 34963;

    private readonly MemoryStream binary = new();

    private readonly JsonArray views = [],
        accessors = [],
        images = [],
        textures = [];

    private GlbBytes() { }

    /// <param name="pictures">
    /// PNG by material and role: baseColor, packed (roughness in green, metalness in blue), normal; null for none.
    /// </param>
    public static byte[] Of(IReadOnlyList<DemoPart> parts, IReadOnlyList<string> materials, Func<string, string, byte[]?> pictures) =>
        new GlbBytes().Written(parts, materials, pictures);

    private byte[] Written(IReadOnlyList<DemoPart> parts, IReadOnlyList<string> materials, Func<string, string, byte[]?> pictures)
    {
        var meshes = new JsonArray([.. parts.Select(p => Mesh(p, materials))]);
        var made = new JsonArray([.. materials.Select(name => Material(name, role => Texture($"{name}_{role}", pictures(name, role))))]);
        var root = new JsonObject
        {
            ["asset"] = new JsonObject { ["version"] = "2.0", ["generator"] = "demo data" },
            ["scene"] = 0,
            ["scenes"] = new JsonArray(new JsonObject { ["nodes"] = new JsonArray([.. parts.Select((_, n) => (JsonNode)n)]) }),
            ["nodes"] = new JsonArray([.. parts.Select((p, n) => (JsonNode)new JsonObject { ["name"] = p.Name, ["mesh"] = n })]),
            ["meshes"] = meshes,
            ["materials"] = made,
            ["textures"] = textures,
            ["images"] = images,
            ["accessors"] = accessors,
            ["bufferViews"] = views,
            ["buffers"] = new JsonArray(new JsonObject { ["byteLength"] = binary.Length }),
        };
        return Packed(JsonSerializer.SerializeToUtf8Bytes(root), binary.ToArray());
    }

    /// <summary>A corner for each pair of position and place; faces are convex.</summary>
    private JsonNode Mesh(DemoPart part, IReadOnlyList<string> materials)
    {
        var corners = part.Faces.SelectMany(f => f).Distinct().ToList();
        var number = corners.Index().ToDictionary(c => c.Item, c => (uint)c.Index);
        var positions = corners.Select(c => part.Positions[c.Position]).ToArray();
        var uvs = corners.Select(c => part.Uvs[c.Place] with { Y = 1 - part.Uvs[c.Place].Y }).ToArray();
        var indices = part
            .Faces.SelectMany(f => Enumerable.Range(1, f.Count - 2).SelectMany(i => new[] { f[0], f[i], f[i + 1] }))
            .Select(c => number[c])
            .ToArray();
        var place = Accessor(positions, (Floats, "VEC3", VertexData));
        (place["min"], place["max"]) = (Three(positions.Aggregate(Vector3.Min)), Three(positions.Aggregate(Vector3.Max)));
        var (normals, tangents) = Frames(positions, uvs, indices);
        var attributes = new JsonObject
        {
            ["POSITION"] = Kept(place),
            ["NORMAL"] = Kept(Accessor(normals, (Floats, "VEC3", VertexData))),
            ["TANGENT"] = Kept(Accessor(tangents, (Floats, "VEC4", VertexData))),
            ["TEXCOORD_0"] = Kept(Accessor(uvs, (Floats, "VEC2", VertexData))),
        };
        var primitive = new JsonObject
        {
            ["attributes"] = attributes,
            ["indices"] = Kept(Accessor(indices, (Integers, "SCALAR", IndexData))),
            ["material"] = materials.Index().First(m => m.Item == part.Material).Index,
        };
        return new JsonObject { ["name"] = part.Name, ["primitives"] = new JsonArray(primitive) };
    }

    /// <summary>Normals, and tangents along u with the side on which v lies: of all triangles that share a corner.</summary>
    private static (Vector3[] Normals, Vector4[] Tangents) Frames(Vector3[] positions, Vector2[] uvs, uint[] indices)
    {
        var (normals, along, across) = (new Vector3[positions.Length], new Vector3[positions.Length], new Vector3[positions.Length]);
        for (var i = 0; i < indices.Length; i += 3)
        {
            var (a, b, c) = (indices[i], indices[i + 1], indices[i + 2]);
            var (e, f) = (positions[b] - positions[a], positions[c] - positions[a]);
            var (u, v) = (uvs[b] - uvs[a], uvs[c] - uvs[a]);
            var side = MathF.Sign(u.X * v.Y - u.Y * v.X);
            foreach (var corner in (uint[])[a, b, c])
            {
                normals[corner] += Vector3.Cross(e, f);
                along[corner] += side * (v.Y * e - u.Y * f);
                // v counts downwards in the file.
                across[corner] -= side * (u.X * f - v.X * e);
            }
        }
        var tangents = new Vector4[positions.Length];
        for (var i = 0; i < positions.Length; i++)
        {
            normals[i] = Vector3.Normalize(normals[i]);
            var tangent = Vector3.Normalize(along[i] - Vector3.Dot(along[i], normals[i]) * normals[i]);
            tangents[i] = new(tangent, Vector3.Dot(Vector3.Cross(normals[i], tangent), across[i]) < 0 ? -1 : 1);
        }
        return (normals, tangents);
    }

    private JsonObject Accessor<T>(T[] numbers, (int Type, string Shape, int Target) of)
        where T : unmanaged =>
        new()
        {
            ["bufferView"] = View(MemoryMarshal.AsBytes<T>(numbers), of.Target),
            ["componentType"] = of.Type,
            ["count"] = numbers.Length,
            ["type"] = of.Shape,
        };

    private int Kept(JsonNode accessor)
    {
        accessors.Add(accessor);
        return accessors.Count - 1;
    }

    private static JsonArray Three(Vector3 v) => new(v.X, v.Y, v.Z);

    private int View(ReadOnlySpan<byte> bytes, int? target)
    {
        var view = new JsonObject
        {
            ["buffer"] = 0,
            ["byteOffset"] = binary.Length,
            ["byteLength"] = bytes.Length,
        };
        if (target is { } t)
            view["target"] = t;
        binary.Write(bytes);
        while (binary.Length % 4 != 0)
            binary.WriteByte(0);
        views.Add((JsonNode)view);
        return views.Count - 1;
    }

    private int? Texture(string name, byte[]? png)
    {
        if (png is null)
            return null;
        var image = new JsonObject
        {
            ["name"] = name,
            ["mimeType"] = "image/png",
            ["bufferView"] = View(png, null),
        };
        images.Add((JsonNode)image);
        textures.Add((JsonNode)new JsonObject { ["source"] = images.Count - 1 });
        return textures.Count - 1;
    }

    private static JsonNode Material(string name, Func<string, int?> texture)
    {
        static JsonObject At(int index) => new() { ["index"] = index };
        var plain = new JsonObject { ["metallicFactor"] = 0 };
        if (texture("baseColor") is { } colour)
            plain["baseColorTexture"] = At(colour);
        if (texture("packed") is { } packed)
            (plain["metallicRoughnessTexture"], plain["metallicFactor"]) = (At(packed), 1);
        var material = new JsonObject { ["name"] = name, ["pbrMetallicRoughness"] = plain };
        if (texture("normal") is { } normal)
            material["normalTexture"] = At(normal);
        return material;
    }

    private static byte[] Packed(byte[] json, byte[] binary)
    {
        var padded = new byte[(json.Length + 3) / 4 * 4];
        Array.Fill(padded, (byte)' ');
        json.CopyTo(padded, 0);
        var file = new MemoryStream();
        using var writer = new BinaryWriter(file);
        writer.Write(Magic);
        writer.Write(2u);
        writer.Write((uint)(12 + 8 + padded.Length + 8 + binary.Length));
        writer.Write((uint)padded.Length);
        writer.Write(Json);
        writer.Write(padded);
        writer.Write((uint)binary.Length);
        writer.Write(Binary);
        writer.Write(binary);
        writer.Flush();
        return file.ToArray();
    }
}
