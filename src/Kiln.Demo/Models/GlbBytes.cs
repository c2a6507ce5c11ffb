using System.Numerics;
using System.Runtime.InteropServices;
using System.Text.Json;
using System.Text.Json.Nodes;

namespace Kiln.Demo.Models;

/// <summary>A demo model as one file of glTF 2.0 with its pictures in it.</summary>
internal static class GlbBytes
{
    private const uint Magic = 0x46546C67,
        Json = 0x4E4F534A,
        Binary = 0x004E4942;

    private const int Floats = 5126,
        Integers = 5125,
        VertexData = 34962,
        IndexData = 34963;

    /// <param name="pictures">PNG by material and role: baseColor, packed (roughness in green, metalness in blue), normal; null for none.</param>
    public static byte[] Of(IReadOnlyList<DemoPart> parts, IReadOnlyList<string> materials, Func<string, string, byte[]?> pictures)
    {
        var (binary, views, accessors) = (new MemoryStream(), new JsonArray(), new JsonArray());
        int View(ReadOnlySpan<byte> bytes, int? target)
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
        int Accessor(int view, int type, int count, string shape, Vector3[]? bounded = null)
        {
            var accessor = new JsonObject
            {
                ["bufferView"] = view,
                ["componentType"] = type,
                ["count"] = count,
                ["type"] = shape,
            };
            if (bounded is not null)
            {
                var (min, max) = (bounded.Aggregate(Vector3.Min), bounded.Aggregate(Vector3.Max));
                accessor["min"] = new JsonArray(min.X, min.Y, min.Z);
                accessor["max"] = new JsonArray(max.X, max.Y, max.Z);
            }
            accessors.Add((JsonNode)accessor);
            return accessors.Count - 1;
        }

        var (meshes, nodes) = (new JsonArray(), new JsonArray());
        foreach (var part in parts)
        {
            // A corner for each pair of position and place; faces are convex.
            var corners = part.Faces.SelectMany(f => f).Distinct().ToList();
            var number = corners.Index().ToDictionary(c => c.Item, c => (uint)c.Index);
            var positions = corners.Select(c => part.Positions[c.Position]).ToArray();
            var uvs = corners.Select(c => part.Uvs[c.Place] with { Y = 1 - part.Uvs[c.Place].Y }).ToArray();
            var indices = part
                .Faces.SelectMany(f => Enumerable.Range(1, f.Count - 2).SelectMany(i => new[] { f[0], f[i], f[i + 1] }))
                .Select(c => number[c])
                .ToArray();
            meshes.Add(
                (JsonNode)
                    new JsonObject
                    {
                        ["name"] = part.Name,
                        ["primitives"] = new JsonArray(
                            new JsonObject
                            {
                                ["attributes"] = new JsonObject
                                {
                                    ["POSITION"] = Accessor(
                                        View(Bytes(positions), VertexData),
                                        Floats,
                                        positions.Length,
                                        "VEC3",
                                        positions
                                    ),
                                    ["TEXCOORD_0"] = Accessor(View(Bytes(uvs), VertexData), Floats, uvs.Length, "VEC2"),
                                },
                                ["indices"] = Accessor(View(Bytes(indices), IndexData), Integers, indices.Length, "SCALAR"),
                                ["material"] = materials.Index().First(m => m.Item == part.Material).Index,
                            }
                        ),
                    }
            );
            nodes.Add((JsonNode)new JsonObject { ["name"] = part.Name, ["mesh"] = meshes.Count - 1 });
        }
        var (images, textures) = (new JsonArray(), new JsonArray());
        int? Texture(string material, string role)
        {
            if (pictures(material, role) is not { } png)
                return null;
            images.Add(
                (JsonNode)
                    new JsonObject
                    {
                        ["name"] = $"{material}_{role}",
                        ["mimeType"] = "image/png",
                        ["bufferView"] = View(png, null),
                    }
            );
            textures.Add((JsonNode)new JsonObject { ["source"] = images.Count - 1 });
            return textures.Count - 1;
        }
        var made = new JsonArray([.. materials.Select(name => Material(name, role => Texture(name, role)))]);
        var root = new JsonObject
        {
            ["asset"] = new JsonObject { ["version"] = "2.0", ["generator"] = "demo data" },
            ["scene"] = 0,
            ["scenes"] = new JsonArray(new JsonObject { ["nodes"] = new JsonArray([.. parts.Select((_, n) => (JsonNode)n)]) }),
            ["nodes"] = nodes,
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

    private static ReadOnlySpan<byte> Bytes<T>(T[] numbers)
        where T : unmanaged => MemoryMarshal.AsBytes<T>(numbers);

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
