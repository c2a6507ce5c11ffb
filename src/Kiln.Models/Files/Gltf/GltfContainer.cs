using System.Buffers.Binary;
using System.Text.Json;

namespace Kiln.Models.Files.Gltf;

/// <summary>The JSON of a glTF file and the bytes it points at: within .glb, in data URIs, or in files below its folder.</summary>
internal sealed class GltfContainer
{
    private const uint Magic = 0x46546c67,
        JsonChunk = 0x4e4f534a,
        BinaryChunk = 0x004e4942;

    private readonly string path;
    private readonly byte[]? within;
    private readonly Dictionary<int, byte[]> buffers = [];

    private GltfContainer(string path, JsonElement root, byte[]? within) => (this.path, Root, this.within) = (path, root, within);

    public JsonElement Root { get; }

    /// <exception cref="ModelException">It is no glTF 2.0, or damaged.</exception>
    public static GltfContainer Open(string path)
    {
        var bytes = File.ReadAllBytes(path);
        var (json, within) =
            bytes.Length >= 12 && BinaryPrimitives.ReadUInt32LittleEndian(bytes) == Magic ? Chunks(path, bytes) : (bytes, null);
        JsonElement root;
        try
        {
            root = JsonDocument.Parse(WithoutMark(json), new() { MaxDepth = 64 }).RootElement;
        }
        catch (JsonException e)
        {
            throw Damaged(path, "its JSON is broken", e);
        }
        if (root.Object("asset")?.Text("version") is not { } version || !version.StartsWith("2.", StringComparison.Ordinal))
            throw new ModelException($"'{Path.GetFileName(path)}' is no glTF 2.0.");
        return new(path, root, within);
    }

    internal static ModelException Damaged(string path, string why, Exception? inner = null) =>
        new($"'{Path.GetFileName(path)}' cannot be read as glTF: {why}.", inner);

    private static ReadOnlyMemory<byte> WithoutMark(byte[] json) => json is [0xef, 0xbb, 0xbf, ..] ? json.AsMemory(3) : json;

    private static (byte[] Json, byte[]? Within) Chunks(string path, byte[] bytes)
    {
        byte[]? json = null,
            within = null;
        for (long at = 12; at + 8 <= bytes.Length; )
        {
            var length = BinaryPrimitives.ReadUInt32LittleEndian(bytes.AsSpan((int)at));
            var kind = BinaryPrimitives.ReadUInt32LittleEndian(bytes.AsSpan((int)at + 4));
            if (at + 8 + length > bytes.Length)
                throw Damaged(path, "it ends too early");
            var chunk = bytes.AsSpan((int)at + 8, (int)length);
            if (kind == JsonChunk)
                json ??= chunk.ToArray();
            else if (kind == BinaryChunk)
                within ??= chunk.ToArray();
            // Chunks begin at multiples of four.
            at += 8 + (length + 3L & ~3L);
        }
        return (json ?? throw Damaged(path, "it has no JSON"), within);
    }

    /// <summary>Bytes of a buffer view.</summary>
    /// <exception cref="ModelException">It is not there, or ends too early.</exception>
    public ReadOnlyMemory<byte> View(int index, out int? stride)
    {
        var view = Root.Item("bufferViews", index) ?? throw Damaged(path, $"there is no buffer view {index}");
        stride = view.Number("byteStride");
        int offset = view.Number("byteOffset") ?? 0,
            length = view.Number("byteLength") ?? -1;
        var buffer = Buffer(view.Number("buffer") ?? -1);
        if (offset < 0 || length < 0 || (long)offset + length > buffer.Length)
            throw Damaged(path, $"buffer view {index} ends beyond its buffer");
        return buffer.AsMemory(offset, length);
    }

    private byte[] Buffer(int index)
    {
        if (buffers.TryGetValue(index, out var known))
            return known;
        var buffer = Root.Item("buffers", index) ?? throw Damaged(path, $"there is no buffer {index}");
        return buffers[index] = buffer.Text("uri") is { } uri ? Beside(uri) : within ?? throw Damaged(path, $"buffer {index} is nowhere");
    }

    private byte[] Beside(string uri)
    {
        if (uri.StartsWith("data:", StringComparison.Ordinal))
        {
            try
            {
                return Convert.FromBase64String(uri[(uri.IndexOf(',') + 1)..]);
            }
            catch (FormatException e)
            {
                throw Damaged(path, "a buffer within it is broken", e);
            }
        }
        var folder = Path.GetDirectoryName(Path.GetFullPath(path))!;
        var found = new TextureSearch(folder).Find(Uri.UnescapeDataString(uri))
            ?? throw Damaged(path, $"it names '{uri}', which is not there");
        var file = new FileInfo(Path.Combine(folder, found));
        if (file.Length > ModelFiles.LargestFile)
            throw Damaged(path, $"'{uri}' is larger than 2 GB");
        return File.ReadAllBytes(file.FullName);
    }
}

/// <summary>Members of JSON that may be missing, or be something else than they should.</summary>
internal static class GltfJson
{
    public static JsonElement? Object(this JsonElement of, string name) =>
        of.ValueKind == JsonValueKind.Object && of.TryGetProperty(name, out var value) && value.ValueKind == JsonValueKind.Object
            ? value
            : null;

    public static JsonElement? Item(this JsonElement of, string list, int index) =>
        of.List(list) is { } items && index >= 0 && index < items.GetArrayLength() && items[index].ValueKind == JsonValueKind.Object
            ? items[index]
            : null;

    public static JsonElement? List(this JsonElement of, string name) =>
        of.ValueKind == JsonValueKind.Object && of.TryGetProperty(name, out var value) && value.ValueKind == JsonValueKind.Array
            ? value
            : null;

    public static string? Text(this JsonElement of, string name) =>
        of.ValueKind == JsonValueKind.Object && of.TryGetProperty(name, out var value) && value.ValueKind == JsonValueKind.String
            ? value.GetString()
            : null;

    /// <summary>A whole number that fits; null for anything else.</summary>
    public static int? Number(this JsonElement of, string name) =>
        of.ValueKind == JsonValueKind.Object && of.TryGetProperty(name, out var value) ? value.Whole() : null;

    public static int? Whole(this JsonElement value) => value.ValueKind == JsonValueKind.Number && value.TryGetInt32(out var n) ? n : null;

    public static float? Real(this JsonElement of, string name) =>
        of.ValueKind == JsonValueKind.Object
        && of.TryGetProperty(name, out var value)
        && value.ValueKind == JsonValueKind.Number
        && value.TryGetSingle(out var n)
        && float.IsFinite(n)
            ? n
            : null;

    /// <summary>So many numbers; null where there are others, fewer or more.</summary>
    public static float[]? Reals(this JsonElement of, string name, int count)
    {
        if (of.List(name) is not { } list || list.GetArrayLength() != count)
            return null;
        var numbers = list.EnumerateArray().Where(v => v.ValueKind == JsonValueKind.Number).Select(v => (float)v.GetDouble()).ToArray();
        return numbers.Length == count && numbers.All(float.IsFinite) ? numbers : null;
    }
}
