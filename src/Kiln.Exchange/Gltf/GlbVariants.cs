using System.Buffers.Binary;
using System.Text.Json;
using System.Text.Json.Nodes;

namespace Kiln.Exchange.Gltf;

/// <summary>KHR_materials_variants (Khronos, ratified) on a written .glb: the library that writes it has no word for them.</summary>
internal static class GlbVariants
{
    private const string Extension = "KHR_materials_variants";
    private const int Header = 12,
        ChunkHeader = 8;

    /// <summary>Its first material is what is shown without a variant; those after it are the variants, in order.</summary>
    public static byte[] Added(byte[] glb, IReadOnlyList<string> names)
    {
        var length = BinaryPrimitives.ReadInt32LittleEndian(glb.AsSpan(Header));
        var document = JsonNode.Parse(glb.AsSpan(Header + ChunkHeader, length))!.AsObject();
        Extensions(document)[Extension] = new JsonObject
        {
            ["variants"] = new JsonArray([.. names.Select(n => new JsonObject { ["name"] = n })]),
        };
        if (document["extensionsUsed"] is not JsonArray used)
            document["extensionsUsed"] = used = [];
        used.Add(Extension);
        foreach (var primitive in document["meshes"]!.AsArray().SelectMany(m => m!["primitives"]!.AsArray()))
            Extensions(primitive!.AsObject())[Extension] = new JsonObject
            {
                ["mappings"] = new JsonArray([
                    .. names.Select((_, i) => new JsonObject { ["material"] = i + 1, ["variants"] = new JsonArray(i) }),
                ]),
            };
        return Joined(JsonSerializer.SerializeToUtf8Bytes(document), glb.AsSpan(Header + ChunkHeader + length));
    }

    private static JsonObject Extensions(JsonObject of)
    {
        if (of["extensions"] is not JsonObject there)
            of["extensions"] = there = [];
        return there;
    }

    /// <summary>Chunks are multiples of four bytes; JSON is filled with blanks (glTF 2.0, 4.4.3).</summary>
    private static byte[] Joined(byte[] json, ReadOnlySpan<byte> rest)
    {
        var padded = (json.Length + 3) / 4 * 4;
        var result = new byte[Header + ChunkHeader + padded + rest.Length];
        "glTF"u8.CopyTo(result);
        BinaryPrimitives.WriteInt32LittleEndian(result.AsSpan(4), 2);
        BinaryPrimitives.WriteInt32LittleEndian(result.AsSpan(8), result.Length);
        BinaryPrimitives.WriteInt32LittleEndian(result.AsSpan(Header), padded);
        "JSON"u8.CopyTo(result.AsSpan(Header + 4));
        json.CopyTo(result, Header + ChunkHeader);
        result.AsSpan(Header + ChunkHeader + json.Length, padded - json.Length).Fill((byte)' ');
        rest.CopyTo(result.AsSpan(Header + ChunkHeader + padded));
        return result;
    }
}
