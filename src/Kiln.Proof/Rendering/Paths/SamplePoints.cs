using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;
using System.Runtime.Intrinsics;

namespace Kiln.Proof.Rendering.Paths;

/// <summary>Four numbers 0..1 for each of eight paths.</summary>
internal readonly record struct FourNumbers(Wide First, Wide Second, Wide Third, Wide Fourth);

/// <summary>
/// Owen-scrambled Sobol points, four dimensions at a time, padded with fresh seeds (Burley 2020, "Practical Hash-based Owen Scrambling").
/// A number depends on pixel, sample, group of dimensions and seed alone, so pictures are the same whatever the number of threads.
/// </summary>
internal static class SamplePoints
{
    private const int Dimensions = 4;

    // For each dimension and each byte of the index, the exclusive or of its direction numbers, their bits reversed.
    private static readonly float[] Bytes = Expand(Build());

    /// <summary>The seed of a pixel.</summary>
    public static uint Seed(uint pixel, uint seed) => Hash(pixel * 0x9e3779b9u ^ Hash(seed));

    /// <param name="group">Which four dimensions.</param>
    public static FourNumbers At(Vector256<uint> seed, Vector256<uint> index, Vector256<uint> group)
    {
        var key = Hash(seed ^ group * 0x9e3779b9u);
        var at = Reverse(Scramble(Reverse(index), key));
        // The first dimension reverses the bits, which the scrambling takes back.
        return new(
            Number(Scramble(at, Hash(key))),
            Number(Scramble(Pascal(at), Hash(key + Vector256.Create(0x85ebca6bu)))),
            Number(Scramble(Bits(at, 2), Hash(key + Vector256.Create(unchecked(2 * 0x85ebca6bu))))),
            Number(Scramble(Bits(at, 3), Hash(key + Vector256.Create(unchecked(3 * 0x85ebca6bu)))))
        );
    }

    private static Wide Number(Vector256<uint> reversed) =>
        Float(Vector256.ShiftRightLogical(Reverse(reversed), 8).AsInt32()) * (1f / 16777216f);

    /// <summary>
    /// The second dimension, its bits reversed: its direction numbers are Pascal's triangle of even and odd, by which every bit becomes the
    /// exclusive or of those whose places hold its own.
    /// </summary>
    private static Vector256<uint> Pascal(Vector256<uint> x)
    {
        x ^= Vector256.ShiftRightLogical(x, 16);
        x ^= Vector256.ShiftRightLogical(x & Vector256.Create(0xff00ff00u), 8);
        x ^= Vector256.ShiftRightLogical(x & Vector256.Create(0xf0f0f0f0u), 4);
        x ^= Vector256.ShiftRightLogical(x & Vector256.Create(0xccccccccu), 2);
        return x ^ Vector256.ShiftRightLogical(x & Vector256.Create(0xaaaaaaaau), 1);
    }

    /// <summary>The third and fourth dimension, their bits reversed.</summary>
    private static Vector256<uint> Bits(Vector256<uint> index, int dimension)
    {
        var begin = dimension << 10;
        return Byte(index, begin)
            ^ Byte(Vector256.ShiftRightLogical(index, 8), begin + 256)
            ^ Byte(Vector256.ShiftRightLogical(index, 16), begin + 512)
            ^ Byte(Vector256.ShiftRightLogical(index, 24), begin + 768);
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static Vector256<uint> Byte(Vector256<uint> index, int begin) =>
        Gather(ref MemoryMarshal.GetArrayDataReference(Bytes), (index & Vector256.Create(255u)).AsInt32() + Vector256.Create(begin))
            .AsUInt32();

    /// <summary>Nested uniform scrambling of reversed bits by a Laine-Karras hash (constants of Vegdahl 2021).</summary>
    private static Vector256<uint> Scramble(Vector256<uint> x, Vector256<uint> seed)
    {
        x ^= x * 0x3d20adeau;
        x += seed;
        x *= Vector256.ShiftRightLogical(seed, 16) | Vector256<uint>.One;
        x ^= x * 0x05526c56u;
        x ^= x * 0x53a22864u;
        return x;
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static Vector256<uint> Reverse(Vector256<uint> x)
    {
        // Bytes first, then the bits of each byte.
        x = Vector256
            .ShuffleNative(
                x.AsByte(),
                Vector256.Create(
                    (byte)3,
                    2,
                    1,
                    0,
                    7,
                    6,
                    5,
                    4,
                    11,
                    10,
                    9,
                    8,
                    15,
                    14,
                    13,
                    12,
                    19,
                    18,
                    17,
                    16,
                    23,
                    22,
                    21,
                    20,
                    27,
                    26,
                    25,
                    24,
                    31,
                    30,
                    29,
                    28
                )
            )
            .AsUInt32();
        x = Swap(x, 4, 0xf0f0f0f0u);
        x = Swap(x, 2, 0xccccccccu);
        return Swap(x, 1, 0xaaaaaaaau);
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static Vector256<uint> Swap(Vector256<uint> x, int by, uint upper) =>
        Vector256.ShiftRightLogical(x & Vector256.Create(upper), by) | Vector256.ShiftLeft(x & Vector256.Create(~upper), by);

    private static Vector256<uint> Hash(Vector256<uint> x)
    {
        x ^= Vector256.ShiftRightLogical(x, 16);
        x *= 0x21f0aaadu;
        x ^= Vector256.ShiftRightLogical(x, 15);
        x *= 0xd35a2d97u;
        return x ^ Vector256.ShiftRightLogical(x, 15);
    }

    private static uint Hash(uint x) => Hash(Vector256.Create(x))[0];

    private static float[] Expand(uint[][] directions)
    {
        var bytes = GC.AllocateArray<float>(Dimensions * 4 * 256, pinned: true);
        var words = MemoryMarshal.Cast<float, uint>(bytes.AsSpan());
        for (var i = 0; i < words.Length; i++)
        for (var bit = 0; bit < 8; bit++)
            if ((i & (1 << bit)) != 0)
                words[i] ^= Reverse(Vector256.Create(directions[i >> 10][(i >> 8 & 3) * 8 + bit]))[0];
        return bytes;
    }

    /// <summary>The first four Sobol dimensions (Joe and Kuo 2008: s, a, m of dimensions 2 to 4).</summary>
    private static uint[][] Build()
    {
        var tables = new uint[Dimensions][];
        tables[0] = [.. Enumerable.Range(0, 32).Select(i => 1u << (31 - i))];
        (int S, uint A, uint[] M)[] polynomials = [(1, 0, [1]), (2, 1, [1, 3]), (3, 1, [1, 3, 1])];
        for (var d = 0; d < Dimensions - 1; d++)
        {
            var (s, a, m) = polynomials[d];
            var v = new uint[32];
            for (var i = 0; i < 32; i++)
            {
                if (i < s)
                {
                    v[i] = m[i] << (31 - i);
                    continue;
                }
                v[i] = v[i - s] ^ (v[i - s] >> s);
                for (var k = 1; k < s; k++)
                    v[i] ^= ((a >> (s - 1 - k)) & 1) * v[i - k];
            }
            tables[d + 1] = v;
        }
        return tables;
    }
}
