using System.Buffers.Binary;

namespace Kiln.Usd.Crate;

/// <summary>
/// The tables of a crate file (AOUSD Core Specification, "Crate file format"): words, texts, fields, sets of fields, paths and what stands
/// at each. Versions 0.4 and later, whose tables are packed.
/// </summary>
internal sealed class CrateTables
{
    private const int Head = 88;
    private const uint EndOfSet = uint.MaxValue;

    /// <summary>What stands at a path.</summary>
    /// <param name="FieldSet">Where its fields begin.</param>
    public sealed record Spec(string Path, int FieldSet, SpecKind Kind);

    public enum SpecKind
    {
        Attribute = 1,
        Prim = 6,
        Layer = 7,
        Relationship = 8,
        Variant = 10,
        VariantSet = 11,
    }

    private readonly CrateBytes bytes;
    private readonly Dictionary<string, (long Start, long Size)> sections = [];

    private CrateTables(byte[] file, UsdLimits limits)
    {
        bytes = new(file);
        if (file.Length < Head || !file.AsSpan().StartsWith("PXR-USDC"u8))
            throw new UsdException("The file is no binary USD layer: PXR-USDC and its head are missing or cut off.");
        Minor = file[9];
        if (file[8] != 0 || Minor < 4)
            throw new UsdException($"The binary layer is of version {file[8]}.{Minor}.{file[10]}; from 0.4 on they are read.");
        bytes.Go(16);
        bytes.Go(bytes.Eight());
        for (var i = bytes.Count(32); i > 0; i--)
            sections[CrateBytes.Text(bytes.Take(16))] = (bytes.Eight(), bytes.Eight());
        Words = ReadWords();
        Texts = ReadTexts();
        (FieldNames, FieldValues) = ReadFields();
        Sets = ReadSets();
        Paths = ReadPaths(limits);
        Specs = ReadSpecs();
    }

    /// <summary>The second number of the version.</summary>
    public int Minor { get; }

    public CrateBytes Bytes => bytes;

    /// <summary>Tokens.</summary>
    public string[] Words { get; }

    /// <summary>Numbers of words.</summary>
    private uint[] Texts { get; }

    public int[] FieldNames { get; }

    public ulong[] FieldValues { get; }

    private int[] Sets { get; }

    public string[] Paths { get; }

    public IReadOnlyList<Spec> Specs { get; }

    /// <exception cref="UsdException">It is none that is read.</exception>
    public static CrateTables Read(byte[] file, UsdLimits limits) => new(file, limits);

    public string Word(long index) => index >= 0 && index < Words.Length ? Words[index] : throw CrateBytes.CutOff;

    public string Text(long index) => index >= 0 && index < Texts.Length ? Word(Texts[index]) : throw CrateBytes.CutOff;

    public string Path(long index) => index >= 0 && index < Paths.Length ? Paths[index] : throw CrateBytes.CutOff;

    /// <summary>The fields of a set by name.</summary>
    public IEnumerable<(string Name, ulong Value)> Fields(Spec spec)
    {
        for (var i = spec.FieldSet; ; i++)
        {
            if (i < 0 || i >= Sets.Length)
                throw CrateBytes.CutOff;
            if ((uint)Sets[i] == EndOfSet)
                yield break;
            if (Sets[i] < 0 || Sets[i] >= FieldNames.Length)
                throw CrateBytes.CutOff;
            yield return (Word(FieldNames[Sets[i]]), FieldValues[Sets[i]]);
        }
    }

    private void Section(string name) => bytes.Go(sections.TryGetValue(name, out var section) ? section.Start : throw CrateBytes.CutOff);

    private string[] ReadWords()
    {
        Section("TOKENS");
        var (count, whole) = (bytes.Eight(), bytes.Eight());
        var rest = CrateBytes.Unpacked(bytes.Take(bytes.Eight()), whole);
        // Each ends with a zero.
        if (count < 0 || count > rest.Length)
            throw CrateBytes.CutOff;
        var words = new string[count];
        for (var i = 0; i < words.Length; i++)
        {
            var end = rest.IndexOf((byte)0);
            words[i] = CrateBytes.Text(rest);
            rest = end < 0 ? [] : rest[(end + 1)..];
        }
        return words;
    }

    private uint[] ReadTexts()
    {
        Section("STRINGS");
        var texts = new uint[bytes.Count(4)];
        for (var i = 0; i < texts.Length; i++)
            texts[i] = bytes.Four();
        return texts;
    }

    private (int[] Names, ulong[] Values) ReadFields()
    {
        Section("FIELDS");
        var names = bytes.Wholes(bytes.Eight());
        var values = CrateBytes.Unpacked(bytes.Take(bytes.Eight()), names.Length * 8L);
        if (values.Length < names.Length * 8)
            throw CrateBytes.CutOff;
        var all = new ulong[names.Length];
        for (var i = 0; i < all.Length; i++)
            all[i] = BinaryPrimitives.ReadUInt64LittleEndian(values[(8 * i)..]);
        return (names, all);
    }

    private int[] ReadSets()
    {
        Section("FIELDSETS");
        return bytes.Wholes(bytes.Eight());
    }

    private string[] ReadPaths(UsdLimits limits)
    {
        Section("PATHS");
        var all = bytes.Eight();
        var count = bytes.Eight();
        // A prim has a dozen properties or so.
        if (all < 0 || all > 64L * limits.Prims)
            throw new UsdException($"The binary layer has more than {64L * limits.Prims} paths.");
        var (numbers, words, jumps) = (bytes.Wholes(count), bytes.Wholes(count), bytes.Wholes(count));
        var paths = new string[all];
        Array.Fill(paths, "");
        if (count == 0)
            return paths;
        var open = new Stack<(int At, string Above, int Depth)>([(0, "", 0)]);
        var seen = new bool[count];
        while (open.TryPop(out var now))
        {
            var (at, above, depth) = now;
            while (true)
            {
                if (at < 0 || at >= count || seen[at] || numbers[at] < 0 || numbers[at] >= all || depth > 256)
                    throw CrateBytes.CutOff;
                seen[at] = true;
                var path = at == 0 ? "/" : Below(above, words[at]);
                paths[numbers[at]] = path;
                var (hasChild, hasSibling) = (jumps[at] is > 0 or -1, jumps[at] >= 0);
                if (!hasChild && !hasSibling)
                    break;
                if (hasChild && hasSibling)
                    open.Push((at + jumps[at], above, depth));
                if (hasChild)
                    (above, depth) = (path, depth + 1);
                at++;
            }
        }
        return paths;
    }

    /// <summary>A property's word is negative; a choice of a variant stands at the prim's own path.</summary>
    private string Below(string above, int word)
    {
        var name = Word(Math.Abs((long)word));
        return word < 0 ? $"{above}.{name}"
            : name.StartsWith('{') || name.StartsWith('[') ? above + name
            : above == "/" ? "/" + name
            : $"{above}/{name}";
    }

    private List<Spec> ReadSpecs()
    {
        Section("SPECS");
        var count = bytes.Eight();
        var (paths, sets, kinds) = (bytes.Wholes(count), bytes.Wholes(count), bytes.Wholes(count));
        return [.. paths.Select((p, i) => new Spec(Path(p), sets[i], (SpecKind)kinds[i]))];
    }
}
