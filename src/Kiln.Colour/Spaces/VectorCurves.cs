using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;
using System.Runtime.Intrinsics;

namespace Kiln.Colour.Spaces;

/// <summary>
/// Logarithms, powers and exponentials of eight numbers at a time by minimax polynomials (Moshier, Methods and Programs for Mathematical
/// Functions, 1989); relative errors below one millionth.
/// The runtime's own are exact to the last bit, work in double precision for it and take several times as long.
/// </summary>
internal static class VectorCurves
{
    /// <summary>The part of the values that comes in eights, to be changed in place; the rest is for one at a time.</summary>
    public static Span<Vector256<float>> Whole(Span<float> values, out Span<float> rest)
    {
        var whole = values.Length / Vector256<float>.Count * Vector256<float>.Count;
        rest = values[whole..];
        return MemoryMarshal.Cast<float, Vector256<float>>(values[..whole]);
    }

    /// <summary>A power of positive numbers; others give what the caller leaves out.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static Vector256<float> Power(Vector256<float> x, float power) => Exp2(Log2(x) * power);

    /// <summary>
    /// The power 2.4 of numbers from 0.0905 to 1, where sRGB's curve is one, in a third of the steps: y² · (√y)^0.8, the last by a
    /// polynomial of degree 7 fitted for the least relative error (reweighted least squares); 9e-7 with rounding.
    /// </summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static Vector256<float> SrgbPower(Vector256<float> y)
    {
        var s = Vector256.Sqrt(y);
        var fourth = y * y;
        var low = Vector256.MultiplyAddEstimate(Line(s, 2.067852497f, -1.294232727f), y, Line(s, 1.434762955f, 0.027665114f));
        var high = Vector256.MultiplyAddEstimate(Line(s, 0.1561315954f, -0.8170573711f), y, Line(s, 1.860134840f, -2.435256243f));
        return fourth * Vector256.MultiplyAddEstimate(high, fourth, low);
    }

    /// <summary>Of positive normal numbers.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static Vector256<float> Log2(Vector256<float> x)
    {
        // A mantissa from √½ to √2, so that the polynomial is small around one.
        var bits = x.AsInt32() - Vector256.Create(0x3f3504f3);
        var exponent = Vector256.ConvertToSingle(Vector256.ShiftRightArithmetic(bits, 23));
        var m = ((bits & Vector256.Create(0x007fffff)) + Vector256.Create(0x3f3504f3)).AsSingle() - Vector256<float>.One;
        // In pairs, so that the multiplications do not all wait for each other.
        var square = m * m;
        var fourth = square * square;
        var p01 = Line(m, -2.4999993993e-1f, 3.3333331174e-1f);
        var p23 = Line(m, -1.6668057665e-1f, 2.0000714765e-1f);
        var p45 = Line(m, -1.2420140846e-1f, 1.4249322787e-1f);
        var p67 = Line(m, -1.1514610310e-1f, 1.1676998740e-1f);
        var high = Vector256.MultiplyAddEstimate(
            fourth,
            Vector256.Create(7.0376836292e-2f),
            Vector256.MultiplyAddEstimate(p67, square, p45)
        );
        var p = Vector256.MultiplyAddEstimate(high, fourth, Vector256.MultiplyAddEstimate(p23, square, p01));
        var natural = Vector256.MultiplyAddEstimate(p * m, square, Vector256.MultiplyAddEstimate(square, Vector256.Create(-0.5f), m));
        return Vector256.MultiplyAddEstimate(natural, Vector256.Create(1.44269504f), exponent);
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static Vector256<float> Exp2(Vector256<float> x)
    {
        x = Vector256.MinNative(Vector256.MaxNative(x, Vector256.Create(-126f)), Vector256.Create(127.99999f));
        var whole = Vector256.Floor(x + Vector256.Create(0.5f));
        var f = x - whole;
        var square = f * f;
        var p = Line(f, 1.535336188319500e-4f, 1.339887440266574e-3f);
        p = Vector256.MultiplyAddEstimate(p, square, Line(f, 9.618437357674640e-3f, 5.550332471162809e-2f));
        p = Vector256.MultiplyAddEstimate(p, square, Line(f, 2.402264791363012e-1f, 6.931472028550421e-1f));
        var mantissa = Vector256.MultiplyAddEstimate(p, f, Vector256<float>.One);
        return (mantissa.AsInt32() + Vector256.ShiftLeft(Vector256.ConvertToInt32Native(whole), 23)).AsSingle();
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static Vector256<float> Line(Vector256<float> x, float slope, float offset) =>
        Vector256.MultiplyAddEstimate(x, Vector256.Create(slope), Vector256.Create(offset));
}
