using System.Numerics;
using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;

namespace Kiln.Proof.Rendering;

/// <summary>
/// Owen-scrambled Sobol points, four dimensions at a time, padded with fresh seeds (Burley 2020, "Practical Hash-based Owen Scrambling").
/// A sample depends on pixel, index, dimension and seed alone, so pictures are the same whatever the number of threads.
/// </summary>
public struct Sampler(uint seed, uint index)
{
    // For each dimension and each byte of the index, the exclusive or of its direction numbers.
    private static readonly uint[] Bytes = Expand(Build());
    private uint dimension;

    public Vector2 Next2()
    {
        var pair = Group(dimension);
        var within = (int)(dimension & 3);
        dimension += 2;
        return new(At(pair.Index, within, pair.Seed), At(pair.Index, within + 1, pair.Seed));
    }

    /// <summary>One number; takes up two dimensions, so that pairs stay pairs.</summary>
    public float Next() => Next2().X;

    private readonly (uint Index, uint Seed) Group(uint at)
    {
        var key = Hash(seed ^ (at >> 2) * 0x9e3779b9u);
        return (Reverse(Scramble(Reverse(index), key)), key);
    }

    private static float At(uint index, int dimension, uint seed)
    {
        ref var table = ref MemoryMarshal.GetArrayDataReference(Bytes);
        var at = dimension << 10;
        var bits =
            Unsafe.Add(ref table, at + (int)(index & 255))
            ^ Unsafe.Add(ref table, at + 256 + (int)(index >> 8 & 255))
            ^ Unsafe.Add(ref table, at + 512 + (int)(index >> 16 & 255))
            ^ Unsafe.Add(ref table, at + 768 + (int)(index >> 24));
        var scrambled = Reverse(Scramble(Reverse(bits), Hash(seed + (uint)dimension * 0x85ebca6bu)));
        return MathF.Min((scrambled >> 8) * (1f / 16777216f), 0.99999994f);
    }

    /// <summary>Nested uniform scrambling of reversed bits by a Laine-Karras hash (constants of Vegdahl 2021).</summary>
    private static uint Scramble(uint x, uint seed)
    {
        x ^= x * 0x3d20adeau;
        x += seed;
        x *= (seed >> 16) | 1;
        x ^= x * 0x05526c56u;
        x ^= x * 0x53a22864u;
        return x;
    }

    private static uint Reverse(uint x)
    {
        x = (x >> 16) | (x << 16);
        x = ((x & 0xff00ff00u) >> 8) | ((x & 0x00ff00ffu) << 8);
        x = ((x & 0xf0f0f0f0u) >> 4) | ((x & 0x0f0f0f0fu) << 4);
        x = ((x & 0xccccccccu) >> 2) | ((x & 0x33333333u) << 2);
        return ((x & 0xaaaaaaaau) >> 1) | ((x & 0x55555555u) << 1);
    }

    public static uint Hash(uint x)
    {
        x ^= x >> 16;
        x *= 0x21f0aaadu;
        x ^= x >> 15;
        x *= 0xd35a2d97u;
        return x ^ (x >> 15);
    }

    private static uint[] Expand(uint[][] directions)
    {
        var bytes = new uint[4 * 4 * 256];
        for (var i = 0; i < bytes.Length; i++)
        for (var bit = 0; bit < 8; bit++)
            if ((i & (1 << bit)) != 0)
                bytes[i] ^= directions[i >> 10][(i >> 8 & 3) * 8 + bit];
        return bytes;
    }

    /// <summary>The first four Sobol dimensions (Joe and Kuo 2008: s, a, m of dimensions 2 to 4).</summary>
    private static uint[][] Build()
    {
        var tables = new uint[4][];
        tables[0] = [.. Enumerable.Range(0, 32).Select(i => 1u << (31 - i))];
        (int S, uint A, uint[] M)[] polynomials = [(1, 0, [1]), (2, 1, [1, 3]), (3, 1, [1, 3, 1])];
        for (var d = 0; d < 3; d++)
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
