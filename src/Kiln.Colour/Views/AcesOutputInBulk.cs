using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;
using System.Runtime.Intrinsics;
using Kiln.Colour.Spaces;
using V = System.Runtime.Intrinsics.Vector256<float>;

namespace Kiln.Colour.Views;

/// <summary>
/// <see cref="AcesOutput"/> for eight pixels at a time. The two tone curves follow each other without anything between, so they are one
/// table over stops; the rest is worked out.
/// </summary>
internal static class AcesOutputInBulk
{
    private static readonly StopTable Tone = new(-14, 16, x => AcesOutput.Odt(ToneScale.Rrt(x))),
        Dim = new(-24, 4, y => MathF.Pow(y, 0.9811f - 1f));
    private static readonly Matrix3 ToRendered = AcesOutput.RrtDesaturation,
        ToDisplay = AcesOutput.OdtToDisplay * AcesOutput.OdtDesaturation;

    /// <summary>Interleaved ACES2065-1 to display-linear Rec.709, in place.</summary>
    public static void Apply(Span<float> pixels)
    {
        var whole = MemoryMarshal.Cast<float, V>(pixels[..(pixels.Length / 24 * 24)]);
        for (var i = 0; i + 2 < whole.Length; i += 3)
        {
            var (r, g, b) = InterleavedPixels.Sorted(whole[i], whole[i + 1], whole[i + 2]);
            Eight(ref r, ref g, ref b);
            (whole[i], whole[i + 1], whole[i + 2]) = InterleavedPixels.Joined(r, g, b);
        }
        for (var i = whole.Length * 8; i + 2 < pixels.Length; i += 3)
            AcesOutput.Apply(new System.Numerics.Vector3(pixels[i], pixels[i + 1], pixels[i + 2])).CopyTo(pixels[i..]);
    }

    // Compiled again once the constants above are known, which makes it three times as fast.
    private static void Eight(ref V r, ref V g, ref V b)
    {
        V one = V.One,
            zero = V.Zero,
            half = Vector256.Create(0.5f);
        // Glow.
        var saturation = Saturation(r, g, b);
        var x = (saturation - Vector256.Create(0.4f)) * 5f;
        var t = Vector256.MaxNative(one - Vector256.Abs(x) * 0.5f, zero);
        var bump = one - t * t;
        var sigmoid = (one + Vector256.ConditionalSelect(Vector256.LessThan(x, zero), -bump, bump)) * half;
        var chroma = Vector256.Sqrt(Vector256.MaxNative(zero, b * (b - g) + g * (g - r) + r * (r - b)));
        var yc = (r + g + b + chroma * 1.75f) * (1f / 3f);
        var gain = sigmoid * 0.05f;
        const float mid = 0.08f;
        var glow = Vector256.ConditionalSelect(
            Vector256.LessThanOrEqual(yc, Vector256.Create(2f / 3f * mid)),
            gain,
            Vector256.ConditionalSelect(
                Vector256.GreaterThanOrEqual(yc, Vector256.Create(2f * mid)),
                zero,
                gain * (Vector256.Create(mid) / yc - half)
            )
        );
        var factor = one + glow;
        (r, g, b) = (r * factor, g * factor, b * factor);
        // Red modifier: a bump of the hue around red, and of the hue only its size counts.
        var degrees = Angle(Vector256.Abs(g - b) * 1.7320508f, r + r - g - b) * (180f / MathF.PI);
        var u = degrees * (4f / 135f);
        var far = Vector256.Create(2f) - u;
        var weight =
            Vector256.ConditionalSelect(
                Vector256.LessThan(u, one),
                ((u * 3f - Vector256.Create(6f)) * u * u + Vector256.Create(4f)) * (1f / 6f),
                Vector256.ConditionalSelect(Vector256.GreaterThan(far, zero), far * far * far * (1f / 6f), zero)
            ) * 1.5f;
        r += weight * Saturation(r, g, b) * (Vector256.Create(0.03f) - r) * (1f - 0.82f);
        (r, g, b) = (Limited(r), Limited(g), Limited(b));
        Multiply(AcesOutput.Ap0ToAp1, ref r, ref g, ref b);
        (r, g, b) = (Limited(r), Limited(g), Limited(b));
        Multiply(ToRendered, ref r, ref g, ref b);
        (r, g, b) = (Tone.At(r), Tone.At(g), Tone.At(b));
        // Dim surround.
        var y = r * AcesOutput.Ap1Luminance.X + g * AcesOutput.Ap1Luminance.Y + b * AcesOutput.Ap1Luminance.Z;
        var dim = Vector256.ConditionalSelect(Vector256.GreaterThan(y, zero), Dim.At(y), one);
        (r, g, b) = (r * dim, g * dim, b * dim);
        Multiply(ToDisplay, ref r, ref g, ref b);
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static V Saturation(V r, V g, V b)
    {
        V max = Vector256.MaxNative(r, Vector256.MaxNative(g, b)),
            min = Vector256.MinNative(r, Vector256.MinNative(g, b)),
            little = Vector256.Create(1e-10f);
        return (Vector256.MaxNative(max, little) - Vector256.MaxNative(min, little)) / Vector256.MaxNative(max, Vector256.Create(1e-2f));
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static V Limited(V v) => Vector256.MinNative(Vector256.MaxNative(v, V.Zero), Vector256.Create(65504f));

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static void Multiply(in Matrix3 m, ref V r, ref V g, ref V b) =>
        (r, g, b) = (
            r * (float)m.M11 + g * (float)m.M12 + b * (float)m.M13,
            r * (float)m.M21 + g * (float)m.M22 + b * (float)m.M23,
            r * (float)m.M31 + g * (float)m.M32 + b * (float)m.M33
        );

    /// <summary>The angle of (x, y), y not negative, 0 to π; to a few millionths (Abramowitz and Stegun 4.4.49).</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static V Angle(V y, V x)
    {
        V side = Vector256.Abs(x),
            most = Vector256.MaxNative(Vector256.MaxNative(side, y), Vector256.Create(1e-30f)),
            a = Vector256.MinNative(side, y) / most,
            s = a * a;
        var p = Vector256.Create(0.0028662257f);
        p = p * s + Vector256.Create(-0.0161657367f);
        p = p * s + Vector256.Create(0.0429096138f);
        p = p * s + Vector256.Create(-0.0752896400f);
        p = p * s + Vector256.Create(0.1065626393f);
        p = p * s + Vector256.Create(-0.1420889944f);
        p = p * s + Vector256.Create(0.1999355085f);
        p = p * s + Vector256.Create(-0.3333314528f);
        p = (p * s + V.One) * a;
        p = Vector256.ConditionalSelect(Vector256.GreaterThan(y, side), Vector256.Create(MathF.PI / 2) - p, p);
        return Vector256.ConditionalSelect(Vector256.LessThan(x, V.Zero), Vector256.Create(MathF.PI) - p, p);
    }
}
