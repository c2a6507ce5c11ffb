using System.Numerics;
using System.Runtime.CompilerServices;
using System.Runtime.Intrinsics;
using System.Runtime.Intrinsics.X86;

namespace Kiln.Simd;

/// <summary>
/// Arithmetic on eight numbers at once. A condition is a <see cref="Wide"/> whose lanes have all bits set or none. Where a lane is no
/// number, <see cref="Max"/> and <see cref="Min"/> give their second argument.
/// </summary>
public static class WideMath
{
    public const int Lanes = 8;

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static Wide Of(float v) => Vector256.Create(v);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static Wide Min(Wide a, Wide b) => Vector256.MinNative(a, b);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static Wide Max(Wide a, Wide b) => Vector256.MaxNative(a, b);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static Wide Clamp(Wide x, Wide low, Wide high) => Min(Max(x, low), high);

    /// <summary>Brought to 0..1; 0 where it is no number.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static Wide Unit(Wide x) => Min(Max(x, Wide.Zero), Wide.One);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static Wide Sqrt(Wide x) => Vector256.Sqrt(x);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static Wide Abs(Wide x) => Vector256.Abs(x);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static Wide Floor(Wide x) => Vector256.Floor(x);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static Wide Lerp(Wide a, Wide b, Wide t) => Vector256.FusedMultiplyAdd(b - a, t, a);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static Wide Select(Wide condition, Wide yes, Wide no) => Vector256.ConditionalSelect(condition, yes, no);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static Wide Greater(Wide a, Wide b) => Vector256.GreaterThan(a, b);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static Wide AtLeast(Wide a, Wide b) => Vector256.GreaterThanOrEqual(a, b);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static Wide Less(Wide a, Wide b) => Vector256.LessThan(a, b);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static Wide AtMost(Wide a, Wide b) => Vector256.LessThanOrEqual(a, b);

    /// <summary>Lanes above 0.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static Wide Positive(Wide x) => Vector256.GreaterThan(x, Wide.Zero);

    /// <summary>Lanes that are numbers and not infinite.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static Wide Finite(Wide x) => Vector256.LessThanOrEqual(Vector256.Abs(x), Of(float.MaxValue));

    /// <summary>Lanes of <paramref name="a"/> that are not in <paramref name="b"/>.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static Wide Without(Wide a, Wide b) => Vector256.AndNot(a, b);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static bool Any(Wide condition) => condition.ExtractMostSignificantBits() != 0;

    /// <summary>One bit a lane.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static uint Bits(Wide condition) => condition.ExtractMostSignificantBits();

    /// <summary>The lanes whose bits are set.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static Wide LanesOf(uint bits)
    {
        var each = Vector256.Create(1u, 2, 4, 8, 16, 32, 64, 128);
        return Vector256.Equals(Vector256.Create(bits) & each, each).AsSingle();
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static Wide Exp(Wide x) => Vector256.Exp(x);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static Wide Log(Wide x) => Vector256.Log(x);

    /// <summary>Of a base above 0; 0 at a base of 0 where the exponent is above 0.</summary>
    public static Wide Pow(Wide x, Wide y) => Select(Positive(x), Exp(y * Log(Max(x, Of(1e-37f)))), Wide.Zero);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static Wide Negative(Wide x) => x ^ Of(-0f);

    /// <summary><paramref name="size"/> with the sign of <paramref name="sign"/>.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static Wide CopySign(Wide size, Wide sign) => Select(Of(-0f), sign, size);

    /// <summary>a + b x + c x² + d x³ + e x⁴.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static Wide Series(Wide x, float a, float b, float c, float d, float e) =>
        Vector256.FusedMultiplyAdd(
            Vector256.FusedMultiplyAdd(Vector256.FusedMultiplyAdd(Vector256.FusedMultiplyAdd(Of(e), x, Of(d)), x, Of(c)), x, Of(b)),
            x,
            Of(a)
        );

    /// <summary>
    /// Sine and cosine of whole turns, to 2e-7: Taylor's series on the eighth turn around zero (Abramowitz and Stegun 4.3.65, 4.3.66).
    /// </summary>
    public static (Wide Sin, Wide Cos) SinCosTurns(Wide turns)
    {
        var t = turns - Vector256.Round(turns);
        var quarter = Vector256.Round(t * 4f);
        var x = (t - quarter * 0.25f) * (2f * MathF.PI);
        var x2 = x * x;
        var s = x * Series(x2, 1f, -1f / 6, 1f / 120, -1f / 5040, 1f / 362880);
        var c = Series(x2, 1f, -0.5f, 1f / 24, -1f / 720, 1f / 40320);
        var q = Vector256.ConvertToInt32(quarter);
        var swap = Vector256.Equals(q & Vector256<int>.One, Vector256<int>.One).AsSingle();
        var (sin, cos) = (Select(swap, c, s), Select(swap, s, c));
        // Quarters 2 and 3 turn the sine, 1 and 2 the cosine.
        var sinSign = Vector256.ShiftLeft(q & Vector256.Create(2), 30).AsSingle();
        var cosSign = Vector256.ShiftLeft((q + Vector256<int>.One) & Vector256.Create(2), 30).AsSingle();
        return (sin ^ sinSign, cos ^ cosSign);
    }

    /// <summary>atan2 in turns, −0.5 to 0.5, to 2e-6 of a turn: the polynomial of Abramowitz and Stegun 4.4.47 on the octant.</summary>
    public static Wide Atan2Turns(Wide y, Wide x)
    {
        Wide ax = Abs(x),
            ay = Abs(y),
            t = Min(ax, ay) / Max(Max(ax, ay), Of(1e-30f)),
            s = t * t;
        var a = t * Series(s, 0.9998660f, -0.3302995f, 0.1801410f, -0.0851330f, 0.0208351f) * (0.5f / MathF.PI);
        a = Select(Greater(ay, ax), Of(0.25f) - a, a);
        a = Select(Less(x, Wide.Zero), Of(0.5f) - a, a);
        return Select(Less(y, Wide.Zero), Negative(a), a);
    }

    /// <summary>The angle of a cosine of −1..1 in radians, to 2e-8 (Abramowitz and Stegun 4.4.46).</summary>
    public static Wide Acos(Wide cos)
    {
        var x = Min(Abs(cos), Wide.One);
        var high = Series(x, 0.0308918810f, -0.0170881256f, 0.0066700901f, -0.0012624911f, 0f);
        var p = Vector256.FusedMultiplyAdd(
            high,
            x * x * x * x,
            Series(x, 1.5707963050f, -0.2145988016f, 0.0889789874f, -0.0501743046f, 0f)
        );
        var angle = Sqrt(Wide.One - x) * p;
        return Select(Less(cos, Wide.Zero), Of(MathF.PI) - angle, angle);
    }

    /// <summary>
    /// Numbers of a table by their places, which are not checked. Eight plain loads: the processor's own instruction for it takes twice as
    /// long where it is held back against leaks between programs, and gains little elsewhere.
    /// </summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static Wide Gather(ref readonly float table, in Vector256<int> at)
    {
        ref var first = ref Unsafe.AsRef(in table);
        ref var place = ref Unsafe.As<Vector256<int>, int>(ref Unsafe.AsRef(in at));
        return Vector256.Create(
            Unsafe.Add(ref first, place),
            Unsafe.Add(ref first, Unsafe.Add(ref place, 1)),
            Unsafe.Add(ref first, Unsafe.Add(ref place, 2)),
            Unsafe.Add(ref first, Unsafe.Add(ref place, 3)),
            Unsafe.Add(ref first, Unsafe.Add(ref place, 4)),
            Unsafe.Add(ref first, Unsafe.Add(ref place, 5)),
            Unsafe.Add(ref first, Unsafe.Add(ref place, 6)),
            Unsafe.Add(ref first, Unsafe.Add(ref place, 7))
        );
    }

    /// <summary>Whole numbers, cut off towards 0.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static Vector256<int> Whole(Wide x) => Vector256.ConvertToInt32(x);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static Wide Float(Vector256<int> x) => Vector256.ConvertToSingle(x);
}
