using System.Numerics;
using System.Numerics.Tensors;

namespace Kiln.Colour.Spaces;

/// <summary>
/// From the numbers that files hold to another space: 8 and 16 bit codes and half floats, any run of whole pixels at a time, so by row or
/// tile as well.
/// A curve is one look-up a code where the source has few codes; a linear source only needs its codes scaled.
/// </summary>
public sealed class CodedPixels(ColourTransform transform)
{
    /// <summary>Samples that stay in the nearest cache between look-up, matrix and encoding.</summary>
    private const int Block = 3 * 1024;

    private readonly ColourTransform afterwards =
        transform.IsIdentity || transform.From.IsLinear ? transform : ColourTransform.Between(transform.From.Linear, transform.To);
    private readonly Lazy<float[]?> bytes = new(() => Table(transform, byte.MaxValue)),
        words = new(() => Table(transform, ushort.MaxValue));

    /// <summary>Interleaved RGB codes of 8 bits to interleaved RGB.</summary>
    /// <exception cref="ArgumentException">The lengths differ or are no whole pixels.</exception>
    public void Apply(ReadOnlySpan<byte> codes, Span<float> pixels) => Apply(codes, pixels, bytes.Value, byte.MaxValue);

    /// <summary>Interleaved RGB codes of 16 bits to interleaved RGB.</summary>
    /// <exception cref="ArgumentException">The lengths differ or are no whole pixels.</exception>
    public void Apply(ReadOnlySpan<ushort> codes, Span<float> pixels) => Apply(codes, pixels, words.Value, ushort.MaxValue);

    private void Apply<T>(ReadOnlySpan<T> codes, Span<float> pixels, float[]? table, int most)
        where T : unmanaged, IBinaryInteger<T>
    {
        Check(codes.Length, pixels.Length);
        for (var at = 0; at < codes.Length; at += Block)
        {
            var length = Math.Min(Block, codes.Length - at);
            var from = codes.Slice(at, length);
            var to = pixels.Slice(at, length);
            if (table is not null)
                for (var i = 0; i < from.Length; i++)
                    to[i] = table[int.CreateTruncating(from[i])];
            else
            {
                TensorPrimitives.ConvertTruncating(from, to);
                TensorPrimitives.Multiply(to, 1f / most, to);
            }
            afterwards.Apply(to);
        }
    }

    /// <summary>Interleaved RGB half floats, in place.</summary>
    public void Apply(Span<Half> pixels)
    {
        Check(pixels.Length, pixels.Length);
        Span<float> block = stackalloc float[Block];
        for (var at = 0; at < pixels.Length; at += Block)
        {
            var some = pixels[at..Math.Min(at + Block, pixels.Length)];
            TensorPrimitives.ConvertToSingle(some, block[..some.Length]);
            transform.Apply(block[..some.Length]);
            TensorPrimitives.ConvertToHalf(block[..some.Length], some);
        }
    }

    private static float[]? Table(ColourTransform transform, int most)
    {
        if (transform.IsIdentity || transform.From.IsLinear)
            return null;
        var table = new float[most + 1];
        for (var code = 0; code <= most; code++)
            table[code] = transform.From.Encoding.Decode(code / (float)most);
        return table;
    }

    private static void Check(int codes, int pixels)
    {
        if (codes != pixels || codes % 3 != 0)
            throw new ArgumentException($"{codes} codes and {pixels} samples are not the same number of whole RGB pixels.");
    }
}
