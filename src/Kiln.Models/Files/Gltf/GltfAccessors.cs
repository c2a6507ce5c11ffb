using System.Buffers.Binary;
using System.Text.Json;

namespace Kiln.Models.Files.Gltf;

/// <summary>Arrays of numbers, of every type that the format has, sparse ones too.</summary>
internal sealed class GltfAccessors(GltfContainer container, string path)
{
    private const int Byte = 5120,
        UByte = 5121,
        Short = 5122,
        UShort = 5123,
        UInt = 5125,
        Float = 5126;

    private const int MostNumbers = 400_000_000;

    /// <summary>Numbers one after another, those that stand for shares as shares.</summary>
    /// <param name="components">How many an element has.</param>
    /// <exception cref="ModelException">It is not there, has elements of another kind, or ends too early.</exception>
    public float[] Floats(int index, int components)
    {
        var accessor = Of(index, components, out var count);
        var isShare = accessor.TryGetProperty("normalized", out var n) && n.ValueKind == JsonValueKind.True;
        var kind = accessor.Number("componentType") ?? 0;
        var numbers = new float[count * components];
        Fill(accessor, index, components, (at, bytes) => numbers[at] = Real(bytes, kind, isShare));
        return numbers;
    }

    /// <summary>Whole numbers; -1 for one beyond the largest.</summary>
    public int[] Indices(int index)
    {
        var accessor = Of(index, 1, out var count);
        var kind = accessor.Number("componentType") ?? 0;
        if (kind is not (UByte or UShort or UInt))
            throw Broken(index, "has no whole numbers");
        var numbers = new int[count];
        Fill(accessor, index, 1, (at, bytes) => numbers[at] = Whole(bytes, kind));
        return numbers;
    }

    private ModelException Broken(int index, string why) => GltfContainer.Damaged(path, $"accessor {index} {why}");

    private JsonElement Of(int index, int components, out int count)
    {
        var accessor = container.Root.Item("accessors", index) ?? throw GltfContainer.Damaged(path, $"there is no accessor {index}");
        var has = accessor.Text("type") switch
        {
            "SCALAR" => 1,
            "VEC2" => 2,
            "VEC3" => 3,
            "VEC4" => 4,
            _ => 0,
        };
        count = accessor.Number("count") ?? -1;
        if (has != components || Size(accessor.Number("componentType") ?? 0) == 0)
            throw Broken(index, "is of another kind than it should be");
        if (count < 0 || (long)count * components > MostNumbers)
            throw Broken(index, "has a count that cannot be");
        return accessor;
    }

    private static int Size(int kind) =>
        kind switch
        {
            Byte or UByte => 1,
            Short or UShort => 2,
            UInt or Float => 4,
            _ => 0,
        };

    private delegate void Put(int at, ReadOnlySpan<byte> bytes);

    private void Fill(JsonElement accessor, int index, int components, Put put)
    {
        var count = accessor.Number("count")!.Value;
        var size = Size(accessor.Number("componentType")!.Value);
        if (accessor.Number("bufferView") is { } view)
            Elements(view, (accessor.Number("byteOffset") ?? 0, count, size, components, index), (at, c, bytes) =>
                put(at * components + c, bytes)
            );
        if (accessor.Object("sparse") is not { } sparse)
            return;
        var few = sparse.Number("count") ?? 0;
        if (
            sparse.Object("indices") is not { } where
            || sparse.Object("values") is not { } what
            || where.Number("bufferView") is not { } whereView
            || what.Number("bufferView") is not { } whatView
            || few < 0
            || few > count
        )
            throw Broken(index, "is sparse in a way that cannot be");
        var places = new int[few];
        var kind = where.Number("componentType") ?? 0;
        if (kind is not (UByte or UShort or UInt))
            throw Broken(index, "is sparse in a way that cannot be");
        Elements(whereView, (where.Number("byteOffset") ?? 0, few, Size(kind), 1, index), (at, _, bytes) =>
            places[at] = Whole(bytes, kind)
        );
        if (places.Any(p => p < 0 || p >= count))
            throw Broken(index, "is sparse beyond its end");
        Elements(whatView, (what.Number("byteOffset") ?? 0, few, size, components, index), (at, c, bytes) =>
            put(places[at] * components + c, bytes)
        );
    }

    private delegate void Each(int element, int component, ReadOnlySpan<byte> bytes);

    private void Elements(int view, (int Offset, int Count, int Size, int Components, int Index) of, Each each)
    {
        var bytes = container.View(view, out var apart).Span;
        var stride = apart ?? of.Size * of.Components;
        if (of.Count == 0)
            return;
        if (of.Offset < 0 || stride <= 0 || of.Offset + (long)stride * (of.Count - 1) + (long)of.Size * of.Components > bytes.Length)
            throw Broken(of.Index, "ends beyond its buffer");
        for (var i = 0; i < of.Count; i++)
        for (var c = 0; c < of.Components; c++)
            each(i, c, bytes.Slice(of.Offset + i * stride + c * of.Size, of.Size));
    }

    private static int Whole(ReadOnlySpan<byte> bytes, int kind) =>
        kind switch
        {
            UByte => bytes[0],
            UShort => BinaryPrimitives.ReadUInt16LittleEndian(bytes),
            _ => BinaryPrimitives.ReadUInt32LittleEndian(bytes) is <= int.MaxValue and var n ? (int)n : -1,
        };

    /// <summary>glTF 2.0, 3.6.2.2: what a normalised integer stands for.</summary>
    private static float Real(ReadOnlySpan<byte> bytes, int kind, bool isShare) =>
        kind switch
        {
            Float => BinaryPrimitives.ReadSingleLittleEndian(bytes),
            Byte => isShare ? Math.Max((sbyte)bytes[0] / 127f, -1) : (sbyte)bytes[0],
            UByte => isShare ? bytes[0] / 255f : bytes[0],
            Short => BinaryPrimitives.ReadInt16LittleEndian(bytes) is var s && isShare ? Math.Max(s / 32767f, -1) : s,
            UShort => BinaryPrimitives.ReadUInt16LittleEndian(bytes) is var u && isShare ? u / 65535f : u,
            _ => BinaryPrimitives.ReadUInt32LittleEndian(bytes),
        };
}
