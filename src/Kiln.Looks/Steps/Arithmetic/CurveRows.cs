using System.Numerics;
using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;

namespace Kiln.Looks.Steps.Arithmetic;

/// <summary>
/// A curve over many numbers. With few points every piece is worked out for a whole vector and the right one kept; with many, one number at
/// a time.
/// </summary>
internal static class CurveRows
{
    private const int Stride = 3,
        MostPieces = 12;

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public static void Apply(ReadOnlySpan<float> curve, ReadOnlySpan<float> x, Span<float> to)
    {
        var pieces = curve.Length / Stride - 1;
        var i = 0;
        if (pieces <= MostPieces)
        {
            Span<Vector<float>> terms = stackalloc Vector<float>[pieces * 6];
            for (var k = 0; k < pieces; k++)
                Terms(curve[(k * Stride)..]).CopyTo(terms[(6 * k)..]);
            Vector<float> low = new(curve[0]),
                high = new(curve[^3]);
            var from = MemoryMarshal.Cast<float, Vector<float>>(x);
            var into = MemoryMarshal.Cast<float, Vector<float>>(to[..x.Length]);
            for (var v = 0; v < from.Length; v++)
            {
                // What is no number stands at the low end, as a single value does.
                var value = Vector.ConditionalSelect(Vector.GreaterThan(from[v], low), Vector.Min(from[v], high), low);
                var result = Piece(value, terms);
                for (var k = 1; k < pieces; k++)
                    result = Vector.ConditionalSelect(
                        Vector.GreaterThanOrEqual(value, terms[6 * k]),
                        Piece(value, terms[(6 * k)..]),
                        result
                    );
                into[v] = result;
            }
            i = from.Length * Vector<float>.Count;
        }
        for (; i < x.Length; i++)
            to[i] = MonotoneCurve.At(curve, x[i]);
    }

    /// <summary>Start, 1 / length, and the four coefficients of the Hermite piece in Horner's order.</summary>
    private static Vector<float>[] Terms(ReadOnlySpan<float> p)
    {
        float h = p[Stride] - p[0],
            y0 = p[1],
            y1 = p[Stride + 1],
            m0 = h * p[2],
            m1 = h * p[Stride + 2];
        return [new(p[0]), new(1 / h), new(y0), new(m0), new(3 * (y1 - y0) - 2 * m0 - m1), new(2 * (y0 - y1) + m0 + m1)];
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static Vector<float> Piece(Vector<float> x, ReadOnlySpan<Vector<float>> t)
    {
        var at = (x - t[0]) * t[1];
        return t[2] + at * (t[3] + at * (t[4] + at * t[5]));
    }
}
