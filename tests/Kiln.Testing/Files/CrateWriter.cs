using System.Buffers.Binary;
using System.Text;
using K4os.Compression.LZ4;
using Kiln.Usd;

namespace Kiln.Testing.Files;

/// <summary>
/// Writes a layer in its binary form (AOUSD Core Specification, "Crate file format", version 0.8), for tests alone: what it writes is
/// read by tinyusdz and three's loader too. A prim whose name is a choice in braces, such as {size=large}, is a variant.
/// </summary>
public sealed class CrateWriter
{
    private const ulong Array = 1UL << 63,
        Inlined = 1UL << 62,
        Packed = 1UL << 61;

    private sealed record Node(string Element, bool IsProperty, int Kind, List<(string, ulong)> Fields, List<Node> Children);

    private readonly MemoryStream values = new();
    private readonly List<string> words = [""];
    private readonly Dictionary<string, uint> wordNumbers = new() { [""] = 0 };
    private readonly List<uint> texts = [];
    private readonly List<(string Path, Node Node)> order = [];
    private readonly Dictionary<string, uint> pathNumbers = [];

    public static byte[] Of(UsdPrim layer)
    {
        var writer = new CrateWriter();
        writer.values.Write(new byte[88]);
        writer.Number(layer, "");
        return writer.Whole(writer.Layer(layer));
    }

    /// <summary>Every path gets its number before values name it.</summary>
    private void Number(UsdPrim prim, string path)
    {
        pathNumbers[path.Length == 0 ? "/" : path] = (uint)pathNumbers.Count;
        foreach (var name in prim.Properties.Keys)
            pathNumbers[$"{path}.{name}"] = (uint)pathNumbers.Count;
        foreach (var child in prim.Children)
            Number(child, PathOf(path, child.Name));
    }

    private static string PathOf(string above, string name) => name.StartsWith('{') ? above + name : $"{above}/{name}";

    private Node Layer(UsdPrim layer)
    {
        var fields = new List<(string, ulong)> { ("primChildren", Words([.. layer.Children.Select(c => c.Name)])) };
        if (layer.Metadata.TryGetValue("metersPerUnit", out var unit))
            fields.Add(("metersPerUnit", Double(unit.Numbers![0])));
        if (layer.Metadata.TryGetValue("upAxis", out var up))
            fields.Add(("upAxis", Inline(11, Word(up.Text!))));
        return new("", false, 7, fields, Below(layer));
    }

    private List<Node> Below(UsdPrim prim) => [.. prim.Properties.Values.Select(Property), .. prim.Children.Select(Prim)];

    private Node Prim(UsdPrim prim)
    {
        var isSet = prim.Name.StartsWith('{');
        var fields = new List<(string, ulong)>();
        if (isSet && prim.Name.EndsWith("=}", StringComparison.Ordinal))
            return new(prim.Name, false, 11, [("variantChildren", Words([.. prim.Metadata["choices"].Texts!]))], []);
        fields.Add(("specifier", Inline(42, (uint)System.Array.IndexOf(["def", "over", "class"], isSet ? "over" : prim.Specifier))));
        if (prim.Type.Length > 0)
            fields.Add(("typeName", Inline(11, Word(prim.Type))));
        fields.Add(("properties", Words([.. prim.Properties.Keys])));
        fields.Add(("primChildren", Words([.. prim.Children.Where(c => !c.Name.StartsWith('{')).Select(c => c.Name)])));
        if (prim.Metadata.TryGetValue("sets", out var sets))
            fields.Add(("variantSetChildren", Words([.. sets.Texts!])));
        if (prim.Selections.Count > 0)
        {
            var at = Here();
            Eight(prim.Selections.Count);
            foreach (var (set, choice) in prim.Selections)
            {
                Four(Text(set));
                Four(Text(choice));
            }
            fields.Add(("variantSelection", 45UL << 48 | at));
        }
        // Lists without anything are not written.
        if (prim.Properties.Count == 0)
            fields.RemoveAll(f => f.Item1 == "properties");
        if (prim.Children.TrueForAll(c => c.Name.StartsWith('{')))
            fields.RemoveAll(f => f.Item1 == "primChildren");
        return new(prim.Name, false, isSet ? 10 : 6, fields, Below(prim));
    }

    private Node Property(UsdProperty property)
    {
        var fields = new List<(string, ulong)>();
        if (property.Type == "rel")
            fields.Add(("targetPaths", Paths(property.Text is { } one ? [one] : property.Texts ?? [])));
        else
        {
            fields.Add(("typeName", Inline(11, Word(property.Type))));
            // What the parsed text does not say any more.
            if (property.Name is "xformOpOrder" or "subdivisionScheme" or "info:id" or "orientation")
                fields.Add(("variability", Inline(44, 1)));
            if (Value(property) is { } value)
                fields.Add(("default", value));
            if (property.Connection is { } connection)
                fields.Add(("connectionPaths", Paths([connection])));
            foreach (var (name, entry) in property.Metadata.Where(m => m.Key is "interpolation" or "colorSpace"))
                fields.Add((name, Inline(11, Word(entry.Text!))));
        }
        return new(property.Name, true, property.Type == "rel" ? 8 : 1, fields, []);
    }

    private ulong? Value(UsdProperty property) =>
        property switch
        {
            { Texts: { } many } => Many(11, [.. many.Select(Word)]),
            { Text: { } text } => property.Type == "string"
                ? Inline(10, Text(text))
                : Inline(property.Type == "asset" ? 12 : 11u, Word(text)),
            { Numbers: { } numbers } => Numbers(property.Type, numbers),
            _ => null,
        };

    private ulong Numbers(string type, double[] numbers)
    {
        var isMany = type.EndsWith("[]", StringComparison.Ordinal);
        var (kind, each, write) = (isMany ? type[..^2] : type) switch
        {
            "bool" => (1u, 1, (Action<double>)(n => values.WriteByte((byte)n))),
            "int" => (3u, 1, n => Four((uint)(int)n)),
            "float" => (8u, 1, Float),
            "double" => (9u, 1, Long),
            "half2" or "texCoord2h" => (21u, 2, Half),
            "float2" or "texCoord2f" => (20u, 2, Float),
            "double2" or "texCoord2d" => (19u, 2, Long),
            "float3" or "point3f" or "normal3f" or "color3f" => (24u, 3, Float),
            "double3" => (23u, 3, Long),
            "float4" => (28u, 4, Float),
            "quatf" => (17u, 4, Float),
            "matrix4d" => (15u, 16, Long),
            _ => throw new NotSupportedException(type),
        };
        if (kind == 17)
            // The real part is last.
            numbers = [.. numbers.Chunk(4).SelectMany(q => (double[])[q[1], q[2], q[3], q[0]])];
        if (!isMany && Short(kind, numbers) is { } within)
            return within;
        if (isMany && numbers.Length == 0)
            return Array | (ulong)kind << 48;
        if (isMany && kind is 3 or 8 && numbers.Length >= 16)
            return InPacks(kind, numbers);
        var at = Here();
        if (isMany)
            Eight(numbers.Length / each);
        foreach (var n in numbers)
            write(n);
        return (isMany ? Array : 0) | (ulong)kind << 48 | at;
    }

    /// <summary>What four bytes can hold.</summary>
    private static ulong? Short(uint kind, double[] n) =>
        kind switch
        {
            1 or 3 => Inline(kind, (uint)(int)n[0]),
            8 => Inline(kind, BitConverter.SingleToUInt32Bits((float)n[0])),
            9 when (float)n[0] == n[0] => Inline(kind, BitConverter.SingleToUInt32Bits((float)n[0])),
            15 => null,
            17 or 21 => null,
            _ when n.Length <= 4 && n.All(v => v == (sbyte)v) => Inline(
                kind,
                n.Select((v, i) => (uint)(byte)(sbyte)v << 8 * i).Aggregate(0u, (a, b) => a | b)
            ),
            _ => null,
        };

    /// <summary>Whole ones as differences; others by a table of the different ones.</summary>
    private ulong InPacks(uint kind, double[] numbers)
    {
        var at = Here();
        Eight(numbers.Length);
        if (kind == 3)
            Wholes([.. numbers.Select(n => (int)n)]);
        else if (numbers.All(n => n == (int)n))
        {
            values.WriteByte((byte)'i');
            Wholes([.. numbers.Select(n => (int)n)]);
        }
        else
        {
            values.WriteByte((byte)'t');
            var table = numbers.Distinct().ToList();
            Four((uint)table.Count);
            table.ForEach(Float);
            Wholes([.. numbers.Select(n => table.IndexOf(n))]);
        }
        return Array | Packed | (ulong)kind << 48 | at;
    }

    private static ulong Inline(uint kind, uint payload) => Inlined | (ulong)kind << 48 | payload;

    private ulong Double(double n)
    {
        if ((float)n == n)
            return Inline(9, BitConverter.SingleToUInt32Bits((float)n));
        var at = Here();
        Long(n);
        return 9UL << 48 | at;
    }

    private ulong Many(uint kind, uint[] all)
    {
        var at = Here();
        Eight(all.Length);
        foreach (var n in all)
            Four(n);
        return Array | (ulong)kind << 48 | at;
    }

    private ulong Words(string[] all)
    {
        var at = Here();
        Eight(all.Length);
        foreach (var word in all)
            Four(Word(word));
        return 41UL << 48 | at;
    }

    /// <summary>An explicit list.</summary>
    private ulong Paths(IReadOnlyList<string> paths)
    {
        var at = Here();
        values.WriteByte(1 | 2);
        Eight(paths.Count);
        foreach (var path in paths)
            Four(pathNumbers.TryGetValue(path, out var n) ? n : 0);
        return 34UL << 48 | at;
    }

    private ulong Here() => (ulong)values.Position;

    private uint Word(string word)
    {
        if (!wordNumbers.TryGetValue(word, out var n))
        {
            wordNumbers[word] = n = (uint)words.Count;
            words.Add(word);
        }
        return n;
    }

    private uint Text(string text)
    {
        texts.Add(Word(text));
        return (uint)texts.Count - 1;
    }

    private void Four(uint n)
    {
        Span<byte> bytes = stackalloc byte[4];
        BinaryPrimitives.WriteUInt32LittleEndian(bytes, n);
        values.Write(bytes);
    }

    private void Eight(long n)
    {
        Span<byte> bytes = stackalloc byte[8];
        BinaryPrimitives.WriteInt64LittleEndian(bytes, n);
        values.Write(bytes);
    }

    private void Half(double n) => values.Write(BitConverter.GetBytes((Half)n));

    private void Float(double n) => Four(BitConverter.SingleToUInt32Bits((float)n));

    private void Long(double n) => Eight(BitConverter.DoubleToInt64Bits(n));

    private void Block(byte[] bytes)
    {
        var packed = new byte[LZ4Codec.MaximumOutputSize(bytes.Length)];
        var length = LZ4Codec.Encode(bytes, packed);
        Eight(length + 1);
        values.WriteByte(0);
        values.Write(packed.AsSpan(0, length));
    }

    private void Wholes(int[] numbers)
    {
        var differences = numbers.Select((n, i) => i == 0 ? n : n - numbers[i - 1]).ToList();
        var common = differences.GroupBy(d => d).OrderByDescending(g => g.Count()).Select(g => g.Key).FirstOrDefault();
        var codes = new byte[(numbers.Length * 2 + 7) / 8];
        using var rest = new MemoryStream();
        for (var i = 0; i < differences.Count; i++)
        {
            var d = differences[i];
            var (code, bytes) =
                d == common ? (0, (byte[])[])
                : d == (sbyte)d ? (1, [(byte)(sbyte)d])
                : d == (short)d ? (2, BitConverter.GetBytes((short)d))
                : (3, BitConverter.GetBytes(d));
            codes[i / 4] |= (byte)(code << i % 4 * 2);
            rest.Write(bytes);
        }
        Block([.. BitConverter.GetBytes(common), .. codes, .. rest.ToArray()]);
    }

    private byte[] Whole(Node root)
    {
        var (paths, elements, jumps) = (new List<int>(), new List<int>(), new List<int>());
        void Visit(Node node, string path, bool hasSibling)
        {
            var at = paths.Count;
            order.Add((path, node));
            paths.Add((int)pathNumbers[path]);
            elements.Add(node.IsProperty ? -(int)Word(node.Element) : (int)Word(node.Element));
            jumps.Add(0);
            for (var i = 0; i < node.Children.Count; i++)
            {
                var child = node.Children[i];
                var above = path == "/" ? "" : path;
                Visit(child, child.IsProperty ? $"{above}.{child.Element}" : PathOf(above, child.Element), i + 1 < node.Children.Count);
            }
            var hasChild = node.Children.Count > 0;
            jumps[at] =
                hasChild && hasSibling ? paths.Count - at
                : hasChild ? -1
                : hasSibling ? 0
                : -2;
        }
        Visit(root, "/", false);
        var (names, reps, sets, starts) = (new List<int>(), new List<byte>(), new List<int>(), new List<int>());
        foreach (var (_, node) in order)
        {
            starts.Add(sets.Count);
            foreach (var (name, rep) in node.Fields)
            {
                sets.Add(names.Count);
                names.Add((int)Word(name));
                reps.AddRange(BitConverter.GetBytes(rep));
            }
            sets.Add(-1);
        }
        var sections = new List<(string, long, long)>();
        void Section(string name, Action write)
        {
            var start = values.Position;
            write();
            sections.Add((name, start, values.Position - start));
        }
        Section("TOKENS", () =>
        {
            var all = Encoding.UTF8.GetBytes(string.Concat(words.Select(w => w + "\0")));
            Eight(words.Count);
            Eight(all.Length);
            Block(all);
        });
        Section("STRINGS", () =>
        {
            Eight(texts.Count);
            texts.ForEach(Four);
        });
        Section("FIELDS", () =>
        {
            Eight(names.Count);
            Wholes([.. names]);
            Block([.. reps]);
        });
        Section("FIELDSETS", () =>
        {
            Eight(sets.Count);
            Wholes([.. sets]);
        });
        Section("PATHS", () =>
        {
            Eight(paths.Count);
            Eight(paths.Count);
            Wholes([.. paths]);
            Wholes([.. elements]);
            Wholes([.. jumps]);
        });
        Section("SPECS", () =>
        {
            Eight(order.Count);
            Wholes([.. order.Select(o => (int)pathNumbers[o.Path])]);
            Wholes([.. starts]);
            Wholes([.. order.Select(o => o.Node.Kind)]);
        });
        var contents = values.Position;
        Eight(sections.Count);
        foreach (var (name, start, size) in sections)
        {
            values.Write(Encoding.ASCII.GetBytes(name.PadRight(16, '\0')));
            Eight(start);
            Eight(size);
        }
        values.Position = 0;
        values.Write("PXR-USDC"u8);
        values.Write([0, 8, 0, 0, 0, 0, 0, 0]);
        Eight(contents);
        return values.ToArray();
    }
}
