using System.Buffers.Binary;
using System.Text;
using K4os.Compression.LZ4;

namespace Kiln.Usd.Crate;

/// <summary>Numbers of a crate file from a place on; what goes beyond the file is a sentence.</summary>
internal sealed class CrateBytes(byte[] file)
{
    public static readonly UsdException CutOff = new("The binary layer is cut off or damaged.");

    public int Length => file.Length;

    public long At { get; private set; }

    public void Go(long to)
    {
        if (to < 0 || to > file.Length)
            throw CutOff;
        At = to;
    }

    public ReadOnlySpan<byte> Take(long count)
    {
        if (count < 0 || count > file.Length - At)
            throw CutOff;
        var bytes = file.AsSpan((int)At, (int)count);
        At += count;
        return bytes;
    }

    public byte Byte() => Take(1)[0];

    public uint Four() => BinaryPrimitives.ReadUInt32LittleEndian(Take(4));

    public long Eight() => BinaryPrimitives.ReadInt64LittleEndian(Take(8));

    /// <summary>A count of things that have at least so many bytes each.</summary>
    public int Count(double size)
    {
        var count = Eight();
        return count >= 0 && count * size <= file.Length && count <= int.MaxValue ? (int)count : throw CutOff;
    }

    /// <summary>Text up to a zero.</summary>
    public static string Text(ReadOnlySpan<byte> bytes) =>
        Encoding.UTF8.GetString(bytes.IndexOf((byte)0) is >= 0 and var end ? bytes[..end] : bytes);

    /// <summary>Blocks of LZ4: how many there are in the first byte, none for a single one without a head.</summary>
    /// <param name="most">More than it can become.</param>
    /// <returns>What it became.</returns>
    public static Span<byte> Unpacked(ReadOnlySpan<byte> packed, long most)
    {
        // Nothing becomes more than 255 times as long.
        most = Math.Min(most, packed.Length * 255L + 64);
        if (packed.IsEmpty || most < 0 || most > Array.MaxLength)
            throw CutOff;
        var whole = new byte[most];
        var blocks = packed[0];
        var rest = packed[1..];
        if (blocks == 0)
            return whole.AsSpan(0, Block(rest, whole));
        var filled = 0;
        for (var i = 0; i < blocks; i++)
        {
            if (rest.Length < 4 || BinaryPrimitives.ReadInt32LittleEndian(rest) is var length && (length < 0 || length > rest.Length - 4))
                throw CutOff;
            filled += Block(rest.Slice(4, length), whole.AsSpan(filled));
            rest = rest[(4 + length)..];
        }
        return whole.AsSpan(0, filled);
    }

    private static int Block(ReadOnlySpan<byte> packed, Span<byte> into) =>
        LZ4Codec.Decode(packed, into) is >= 0 and var count ? count : throw CutOff;

    /// <summary>
    /// Packed whole numbers of 32 bits: each is the one before and a difference, which is the commonest one or has one, two or four
    /// bytes.
    /// </summary>
    public int[] Wholes(long count)
    {
        var packed = Take(Eight());
        if (count < 0 || count > packed.Length * 1024L)
            throw CutOff;
        if (count == 0)
            return [];
        var codes = (count * 2 + 7) / 8;
        var bytes = Unpacked(packed, 4 + codes + count * 4);
        if (bytes.Length < 4 + codes)
            throw CutOff;
        var common = BinaryPrimitives.ReadInt32LittleEndian(bytes);
        var numbers = new int[count];
        var (at, now) = ((int)(4 + codes), 0);
        for (var i = 0; i < numbers.Length; i++)
        {
            var code = bytes[4 + i / 4] >> (i % 4 * 2) & 3;
            var size = code == 3 ? 4 : code;
            if (at + size > bytes.Length)
                throw CutOff;
            now = unchecked(
                now
                + code switch
                {
                    0 => common,
                    1 => (sbyte)bytes[at],
                    2 => BinaryPrimitives.ReadInt16LittleEndian(bytes[at..]),
                    _ => BinaryPrimitives.ReadInt32LittleEndian(bytes[at..]),
                }
            );
            numbers[i] = now;
            at += size;
        }
        return numbers;
    }
}
