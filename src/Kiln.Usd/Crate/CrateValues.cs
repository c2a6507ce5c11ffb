using System.Buffers.Binary;

namespace Kiln.Usd.Crate;

/// <summary>Values of fields, as far as prims, properties and metadata have them: numbers, texts, paths, lists of both.</summary>
/// <param name="most">Numbers that are read of all values together.</param>
internal sealed class CrateValues(CrateTables tables, int most)
{
    private const ulong Array = 1UL << 63,
        Inlined = 1UL << 62,
        Packed = 1UL << 61;

    /// <summary>Arrays that are shorter are not packed though they say so.</summary>
    private const int FewestPacked = 16;

    private long numbers;

    private enum Kind
    {
        Bool = 1,
        UChar = 2,
        Int = 3,
        UInt = 4,
        Int64 = 5,
        UInt64 = 6,
        Half = 7,
        Float = 8,
        Double = 9,
        Text = 10,
        Word = 11,
        Asset = 12,
        Matrix2 = 13,
        Matrix3 = 14,
        Matrix4 = 15,
        WordListOp = 32,
        TextListOp = 33,
        PathListOp = 34,
        Paths = 40,
        Words = 41,
        Specifier = 42,
        Permission = 43,
        Variability = 44,
        Selections = 45,
        Samples = 46,
        Doubles = 48,
        Texts = 50,
        TimeCode = 56,
    }

    /// <summary>Of kinds that are several numbers: which number, and how many.</summary>
    private static readonly Dictionary<Kind, (Kind Of, int Count)> Several = new()
    {
        [Kind.Matrix2] = (Kind.Double, 4),
        [Kind.Matrix3] = (Kind.Double, 9),
        [Kind.Matrix4] = (Kind.Double, 16),
        [(Kind)16] = (Kind.Double, 4),
        [(Kind)17] = (Kind.Float, 4),
        [(Kind)18] = (Kind.Half, 4),
        [(Kind)19] = (Kind.Double, 2),
        [(Kind)20] = (Kind.Float, 2),
        [(Kind)21] = (Kind.Half, 2),
        [(Kind)22] = (Kind.Int, 2),
        [(Kind)23] = (Kind.Double, 3),
        [(Kind)24] = (Kind.Float, 3),
        [(Kind)25] = (Kind.Half, 3),
        [(Kind)26] = (Kind.Int, 3),
        [(Kind)27] = (Kind.Double, 4),
        [(Kind)28] = (Kind.Float, 4),
        [(Kind)29] = (Kind.Half, 4),
        [(Kind)30] = (Kind.Int, 4),
        [Kind.TimeCode] = (Kind.Double, 1),
    };

    private static bool IsQuaternion(Kind kind) => (int)kind is 16 or 17 or 18;

    private static int SizeOf(Kind kind) =>
        kind switch
        {
            Kind.Bool or Kind.UChar => 1,
            Kind.Half => 2,
            Kind.Int or Kind.UInt or Kind.Float => 4,
            Kind.Int64 or Kind.UInt64 or Kind.Double => 8,
            _ => 0,
        };

    private CrateBytes Bytes => tables.Bytes;

    /// <summary>Puts a field's value into a property; one of a kind that has no place there stays without.</summary>
    public UsdProperty Into(UsdProperty property, ulong value)
    {
        var kind = (Kind)(value >> 48 & 0xff);
        var payload = (long)(value & (1UL << 48) - 1);
        if ((value & Array) != 0)
            return Many(property, kind, payload, (value & Packed) != 0);
        if ((value & Inlined) != 0)
            return Within(property, kind, payload);
        Bytes.Go(payload);
        switch (kind)
        {
            case Kind.Text:
                return property with { Text = tables.Text(Bytes.Four()) };
            case Kind.Word or Kind.Asset:
                return property with { Text = tables.Word(Bytes.Four()) };
            case Kind.Words:
                return property with { Texts = List(Bytes.Count(4), tables.Word) };
            case Kind.Texts:
                return property with { Texts = List(Bytes.Count(4), tables.Text) };
            case Kind.Paths:
                return property with { Texts = List(Bytes.Count(4), tables.Path) };
            case Kind.WordListOp:
                return property with { Texts = Listed(tables.Word) };
            case Kind.TextListOp:
                return property with { Texts = Listed(tables.Text) };
            case Kind.PathListOp:
                return property with { Texts = Listed(tables.Path) };
            case Kind.Doubles:
                return property with { Numbers = Plain(Kind.Double, Bytes.Count(8), 1) };
            default:
                var (of, count) = Several.GetValueOrDefault(kind, (kind, 1));
                return SizeOf(of) == 0 ? property : property with { Numbers = Ordered(kind, Plain(of, 1, count)) };
        }
    }

    /// <summary>The choices in sets of variants, where none is made yet.</summary>
    public void Selections(ulong value, Dictionary<string, string> into)
    {
        if ((Kind)(value >> 48 & 0xff) != Kind.Selections || (value & Inlined) != 0)
            return;
        Bytes.Go((long)(value & (1UL << 48) - 1));
        for (var i = Bytes.Count(8); i > 0; i--)
        {
            var name = tables.Text(Bytes.Four());
            into.TryAdd(name, tables.Text(Bytes.Four()));
        }
    }

    /// <summary>The first of the values at times.</summary>
    public UsdProperty First(UsdProperty property, ulong value)
    {
        if ((Kind)(value >> 48 & 0xff) != Kind.Samples)
            return property;
        // Times, then values: each where the number before says, counted from there.
        Bytes.Go((long)(value & (1UL << 48) - 1));
        Bytes.Go(Bytes.At + Bytes.Eight());
        Bytes.Eight();
        var at = Bytes.At;
        Bytes.Go(at + Bytes.Eight());
        if (Bytes.Eight() <= 0)
            return property;
        var first = (ulong)Bytes.Eight();
        return (Kind)(first >> 48 & 0xff) == Kind.Samples ? property : Into(property, first);
    }

    private UsdProperty Within(UsdProperty property, Kind kind, long payload)
    {
        var four = (uint)payload;
        if (Several.TryGetValue(kind, out var several) && kind != Kind.TimeCode)
            return property with { Numbers = Small(kind, several.Count, four) };
        return kind switch
        {
            Kind.Word or Kind.Asset => property with { Text = tables.Word(four) },
            Kind.Text => property with { Text = tables.Text(four) },
            Kind.Float or Kind.Double or Kind.TimeCode => property with { Numbers = [BitConverter.UInt32BitsToSingle(four)] },
            Kind.Half => property with { Numbers = [(double)BitConverter.UInt16BitsToHalf((ushort)four)] },
            Kind.UInt or Kind.UInt64 => property with { Numbers = [four] },
            Kind.Int or Kind.Int64 => property with { Numbers = [(int)four] },
            Kind.Bool or Kind.UChar or Kind.Specifier or Kind.Permission or Kind.Variability => property with { Numbers = [(byte)four] },
            _ => property,
        };
    }

    /// <summary>Whole numbers of one byte each; those of a matrix are its diagonal. Two halves are there as they are.</summary>
    private static double[] Small(Kind kind, int count, uint four)
    {
        if ((int)kind == 21)
            return [(double)BitConverter.UInt16BitsToHalf((ushort)four), (double)BitConverter.UInt16BitsToHalf((ushort)(four >> 16))];
        double One(int i) => (sbyte)(byte)(four >> 8 * i);
        if (kind is not (Kind.Matrix2 or Kind.Matrix3 or Kind.Matrix4))
            return [.. Enumerable.Range(0, count).Select(One)];
        var side = (int)Math.Sqrt(count);
        var all = new double[count];
        for (var i = 0; i < side; i++)
            all[i * (side + 1)] = One(i);
        return all;
    }

    private static string[] List(int count, Func<long, string> at, Func<long> next)
    {
        var list = new string[count];
        for (var i = 0; i < count; i++)
            list[i] = at(next());
        return list;
    }

    private string[] List(int count, Func<long, string> at) => List(count, at, () => Bytes.Four());

    /// <summary>What a list is in the end where nothing weaker is known: explicit, or prepended, added and appended.</summary>
    private List<string> Listed(Func<long, string> at)
    {
        var head = Bytes.Byte();
        var all = new List<string>();
        // In the order of the file: explicit, added, prepended, appended; what is deleted and reordered changes nothing here.
        foreach (var bit in (int[])[2, 4, 32, 64])
            if ((head & bit) != 0)
                all.AddRange(List(Bytes.Count(4), at));
        return all;
    }

    private UsdProperty Many(UsdProperty property, Kind kind, long payload, bool isPacked)
    {
        if (payload == 0)
            return property with { Numbers = [] };
        Bytes.Go(payload);
        if (tables.Minor < 5)
            // How many dimensions it has: always one.
            Bytes.Four();
        var count = tables.Minor < 7 ? Bytes.Four() : Bytes.Eight();
        if (kind is Kind.Word or Kind.Asset or Kind.Text)
        {
            if (count < 0 || count * 4 > Bytes.Length)
                throw CrateBytes.CutOff;
            return property with { Texts = List((int)count, kind == Kind.Text ? tables.Text : tables.Word) };
        }
        var (of, each) = Several.GetValueOrDefault(kind, (kind, 1));
        if (SizeOf(of) == 0)
            return property;
        return property with
        {
            Numbers = isPacked && count >= FewestPacked && each == 1 ? Unpacked(kind, count) : Ordered(kind, Plain(of, count, each)),
        };
    }

    private void Counted(long count)
    {
        if (count < 0 || (numbers += count) > most)
            throw new UsdException($"The binary layer has more than {most} numbers.");
    }

    private double[] Plain(Kind of, long count, int each)
    {
        if (count < 0 || count > Bytes.Length)
            throw CrateBytes.CutOff;
        Counted(count * each);
        var size = SizeOf(of);
        var from = Bytes.Take(count * each * size);
        var all = new double[count * each];
        for (var i = 0; i < all.Length; i++)
        {
            var at = from.Slice(i * size, size);
            all[i] = of switch
            {
                Kind.Bool or Kind.UChar => at[0],
                Kind.Half => (double)BinaryPrimitives.ReadHalfLittleEndian(at),
                Kind.Float => BinaryPrimitives.ReadSingleLittleEndian(at),
                Kind.Double => BinaryPrimitives.ReadDoubleLittleEndian(at),
                Kind.Int => BinaryPrimitives.ReadInt32LittleEndian(at),
                Kind.UInt => BinaryPrimitives.ReadUInt32LittleEndian(at),
                Kind.Int64 => BinaryPrimitives.ReadInt64LittleEndian(at),
                _ => BinaryPrimitives.ReadUInt64LittleEndian(at),
            };
        }
        return all;
    }

    /// <summary>Quaternions have their real part last here, and first in the text form.</summary>
    private static double[] Ordered(Kind kind, double[] all)
    {
        if (IsQuaternion(kind))
            for (var i = 0; i + 3 < all.Length; i += 4)
                (all[i], all[i + 1], all[i + 2], all[i + 3]) = (all[i + 3], all[i], all[i + 1], all[i + 2]);
        return all;
    }

    private double[] Unpacked(Kind kind, long count)
    {
        Counted(count);
        switch (kind)
        {
            case Kind.Int:
                return [.. Bytes.Wholes(count).Select(n => (double)n)];
            case Kind.UInt:
                return [.. Bytes.Wholes(count).Select(n => (double)(uint)n)];
            case Kind.Half or Kind.Float or Kind.Double:
                var how = Bytes.Byte();
                if (how == 'i')
                    return [.. Bytes.Wholes(count).Select(n => (double)n)];
                if (how != 't')
                    throw CrateBytes.CutOff;
                var table = Plain(kind, Bytes.Four(), 1);
                return [.. Bytes.Wholes(count).Select(n => n >= 0 && n < table.Length ? table[n] : throw CrateBytes.CutOff)];
            default:
                throw new UsdException("The binary layer has packed whole numbers of 64 bits, which are not read.");
        }
    }
}
