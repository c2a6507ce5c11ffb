using System.Numerics;
using System.Runtime.CompilerServices;
using System.Runtime.Intrinsics;
using static Kiln.Simd.WideMath;

namespace Kiln.Simd;

/// <summary>Eight vectors or colours of three components.</summary>
public struct Wide3(Wide x, Wide y, Wide z)
{
    public Wide X = x,
        Y = y,
        Z = z;

    /// <summary>The same number in all components.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public Wide3(Wide all)
        : this(all, all, all) { }

    public static Wide3 Zero => default;

    public static Wide3 One => new(Wide.One);

    public static Wide3 UnitZ => new(Wide.Zero, Wide.Zero, Wide.One);

    /// <summary>One vector in every lane.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static Wide3 Of(Vector3 v) => new(Vector256.Create(v.X), Vector256.Create(v.Y), Vector256.Create(v.Z));

    /// <summary>The vector of one lane.</summary>
    public Vector3 this[int lane]
    {
        readonly get => new(X[lane], Y[lane], Z[lane]);
        set => (X, Y, Z) = (X.WithElement(lane, value.X), Y.WithElement(lane, value.Y), Z.WithElement(lane, value.Z));
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static Wide3 operator +(Wide3 a, Wide3 b) => new(a.X + b.X, a.Y + b.Y, a.Z + b.Z);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static Wide3 operator -(Wide3 a, Wide3 b) => new(a.X - b.X, a.Y - b.Y, a.Z - b.Z);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static Wide3 operator *(Wide3 a, Wide3 b) => new(a.X * b.X, a.Y * b.Y, a.Z * b.Z);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static Wide3 operator /(Wide3 a, Wide3 b) => new(a.X / b.X, a.Y / b.Y, a.Z / b.Z);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static Wide3 operator *(Wide3 a, Wide b) => new(a.X * b, a.Y * b, a.Z * b);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static Wide3 operator *(Wide3 a, float b) => a * Vector256.Create(b);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static Wide3 operator /(Wide3 a, Wide b) => a * (Wide.One / b);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static Wide3 operator -(Wide3 a) => new(Negative(a.X), Negative(a.Y), Negative(a.Z));

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static Wide Dot(in Wide3 a, in Wide3 b) => Vector256.FusedMultiplyAdd(a.Z, b.Z, Vector256.FusedMultiplyAdd(a.Y, b.Y, a.X * b.X));

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static Wide3 Cross(in Wide3 a, in Wide3 b) =>
        new(Difference(a.Y, b.Z, a.Z, b.Y), Difference(a.Z, b.X, a.X, b.Z), Difference(a.X, b.Y, a.Y, b.X));

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static Wide Difference(Wide a, Wide b, Wide c, Wide d) => Vector256.FusedMultiplyAdd(a, b, Negative(c * d));

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static Wide3 Normalize(in Wide3 v) => v * (Wide.One / WideMath.Sqrt(Dot(v, v)));

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static Wide3 Min(in Wide3 a, in Wide3 b) => new(WideMath.Min(a.X, b.X), WideMath.Min(a.Y, b.Y), WideMath.Min(a.Z, b.Z));

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static Wide3 Max(in Wide3 a, in Wide3 b) => new(WideMath.Max(a.X, b.X), WideMath.Max(a.Y, b.Y), WideMath.Max(a.Z, b.Z));

    /// <summary>Brought to 0..1; 0 where it is no number.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static Wide3 Unit(in Wide3 v) => new(WideMath.Unit(v.X), WideMath.Unit(v.Y), WideMath.Unit(v.Z));

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static Wide3 Sqrt(in Wide3 v) => new(WideMath.Sqrt(v.X), WideMath.Sqrt(v.Y), WideMath.Sqrt(v.Z));

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static Wide3 Lerp(in Wide3 a, in Wide3 b, Wide t) =>
        new(WideMath.Lerp(a.X, b.X, t), WideMath.Lerp(a.Y, b.Y, t), WideMath.Lerp(a.Z, b.Z, t));

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static Wide3 Select(Wide condition, in Wide3 yes, in Wide3 no) =>
        new(WideMath.Select(condition, yes.X, no.X), WideMath.Select(condition, yes.Y, no.Y), WideMath.Select(condition, yes.Z, no.Z));

    /// <summary>What lies in the lanes of the condition; 0 elsewhere.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static Wide3 Where(Wide condition, in Wide3 v) => new(v.X & condition, v.Y & condition, v.Z & condition);

    public static Wide3 Exp(in Wide3 v) => new(WideMath.Exp(v.X), WideMath.Exp(v.Y), WideMath.Exp(v.Z));

    /// <summary>The mean of the three.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static Wide Mean(in Wide3 v) => (v.X + v.Y + v.Z) * (1f / 3f);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static Wide Greatest(in Wide3 v) => WideMath.Max(v.X, WideMath.Max(v.Y, v.Z));

    /// <summary>Lanes where all three are finite numbers.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static Wide Finite(in Wide3 v) => WideMath.Finite(v.X + v.Y + v.Z);
}
