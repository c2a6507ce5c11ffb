using System.Runtime.CompilerServices;
using System.Runtime.Intrinsics;

namespace Kiln.Colour.Spaces;

/// <summary>The curve between linear light and stored values.</summary>
public abstract record ColourEncoding
{
    /// <summary>Stored value to linear.</summary>
    public abstract float Decode(float stored);

    /// <summary>Linear to stored value.</summary>
    public abstract float Encode(float linear);

    /// <summary>Of a pure power: the exponent from stored values to linear; null of every other curve.</summary>
    public virtual double? Exponent => null;

    /// <summary>Stored values to linear, in place.</summary>
    public virtual void Decode(Span<float> values)
    {
        foreach (ref var v in values)
            v = Decode(v);
    }

    /// <summary>Linear to stored values, in place.</summary>
    public virtual void Encode(Span<float> values)
    {
        foreach (ref var v in values)
            v = Encode(v);
    }

    public static readonly ColourEncoding Linear = new LinearEncoding();
    public static readonly ColourEncoding Srgb = new SrgbEncoding();
    public static readonly ColourEncoding AcesCct = new AcesCctEncoding();
    public static readonly ColourEncoding AcesCc = new AcesCcEncoding();

    /// <summary>A pure power; negative values become zero, as OpenColorIO does by default.</summary>
    public static ColourEncoding Power(double exponent) => new PowerEncoding(exponent);

    private sealed record LinearEncoding : ColourEncoding
    {
        public override float Decode(float stored) => stored;

        public override float Encode(float linear) => linear;

        public override void Decode(Span<float> values) { }

        public override void Encode(Span<float> values) { }
    }

    /// <summary>IEC 61966-2-1; the linear segment goes on below zero.</summary>
    private sealed record SrgbEncoding : ColourEncoding
    {
        public override float Decode(float stored) =>
            stored <= 0.04045f ? stored * (1f / 12.92f) : MathF.Pow((stored + 0.055f) * (1f / 1.055f), 2.4f);

        public override float Encode(float linear) =>
            linear <= 0.0031308f ? linear * 12.92f : 1.055f * MathF.Pow(linear, 1f / 2.4f) - 0.055f;

        [MethodImpl(MethodImplOptions.AggressiveOptimization)]
        public override void Decode(Span<float> values)
        {
            var whole = VectorCurves.Whole(values, out var rest);
            foreach (ref var v in whole)
            {
                var shifted = (v + Vector256.Create(0.055f)) * (1f / 1.055f);
                // Numbers above 1 are rare and take the long way.
                var power = Vector256.GreaterThanAny(v, Vector256<float>.One)
                    ? VectorCurves.Power(shifted, 2.4f)
                    : VectorCurves.SrgbPower(shifted);
                v = Vector256.ConditionalSelect(Vector256.LessThanOrEqual(v, Vector256.Create(0.04045f)), v * (1f / 12.92f), power);
            }
            base.Decode(rest);
        }

        [MethodImpl(MethodImplOptions.AggressiveOptimization)]
        public override void Encode(Span<float> values)
        {
            var whole = VectorCurves.Whole(values, out var rest);
            foreach (ref var v in whole)
                v = Vector256.ConditionalSelect(
                    Vector256.LessThanOrEqual(v, Vector256.Create(0.0031308f)),
                    v * 12.92f,
                    VectorCurves.Power(v, 1f / 2.4f) * 1.055f - Vector256.Create(0.055f)
                );
            base.Encode(rest);
        }
    }

    private sealed record PowerEncoding(double Gamma) : ColourEncoding
    {
        private readonly float up = (float)Gamma;
        private readonly float down = (float)(1 / Gamma);

        public override double? Exponent => Gamma;

        public override float Decode(float stored) => stored > 0 ? MathF.Pow(stored, up) : 0;

        public override float Encode(float linear) => linear > 0 ? MathF.Pow(linear, down) : 0;

        [MethodImpl(MethodImplOptions.AggressiveOptimization)]
        public override void Decode(Span<float> values)
        {
            var whole = VectorCurves.Whole(values, out var rest);
            foreach (ref var v in whole)
                v = Raised(v, up);
            base.Decode(rest);
        }

        [MethodImpl(MethodImplOptions.AggressiveOptimization)]
        public override void Encode(Span<float> values)
        {
            var whole = VectorCurves.Whole(values, out var rest);
            foreach (ref var v in whole)
                v = Raised(v, down);
            base.Encode(rest);
        }

        private static Vector256<float> Raised(Vector256<float> v, float power) =>
            Vector256.ConditionalSelect(
                Vector256.GreaterThan(v, Vector256<float>.Zero),
                VectorCurves.Power(v, power),
                Vector256<float>.Zero
            );
    }

    /// <summary>Academy S-2016-001, equations 1 and 2.</summary>
    private sealed record AcesCctEncoding : ColourEncoding
    {
        private const float Break = 0.155251141552511f,
            Slope = 10.5402377416545f,
            Offset = 0.0729055341958355f;

        public override float Decode(float stored) =>
            stored <= Break ? (stored - Offset) / Slope : MathF.Min(MathF.Pow(2, stored * 17.52f - 9.72f), 65504f);

        public override float Encode(float linear) =>
            linear <= 0.0078125f ? Slope * linear + Offset : (MathF.Log2(linear) + 9.72f) / 17.52f;

        [MethodImpl(MethodImplOptions.AggressiveOptimization)]
        public override void Decode(Span<float> values)
        {
            var whole = VectorCurves.Whole(values, out var rest);
            foreach (ref var v in whole)
                v = Vector256.ConditionalSelect(
                    Vector256.LessThanOrEqual(v, Vector256.Create(Break)),
                    (v - Vector256.Create(Offset)) * (1 / Slope),
                    Vector256.Min(VectorCurves.Exp2(v * 17.52f - Vector256.Create(9.72f)), Vector256.Create(65504f))
                );
            base.Decode(rest);
        }

        [MethodImpl(MethodImplOptions.AggressiveOptimization)]
        public override void Encode(Span<float> values)
        {
            var whole = VectorCurves.Whole(values, out var rest);
            foreach (ref var v in whole)
                v = Vector256.ConditionalSelect(
                    Vector256.LessThanOrEqual(v, Vector256.Create(0.0078125f)),
                    v * Slope + Vector256.Create(Offset),
                    (VectorCurves.Log2(v) + Vector256.Create(9.72f)) * (1 / 17.52f)
                );
            base.Encode(rest);
        }
    }

    /// <summary>Academy S-2014-003, equations 1 and 2.</summary>
    private sealed record AcesCcEncoding : ColourEncoding
    {
        private const float Least = 1f / 65536f;

        public override float Decode(float stored)
        {
            if (stored <= (9.72f - 15f) / 17.52f)
                return (MathF.Pow(2, stored * 17.52f - 9.72f) - Least) * 2f;
            return MathF.Min(MathF.Pow(2, stored * 17.52f - 9.72f), 65504f);
        }

        public override float Encode(float linear)
        {
            if (linear <= 0)
                return (-16f + 9.72f) / 17.52f;
            return linear < 2 * Least ? (MathF.Log2(Least + linear * 0.5f) + 9.72f) / 17.52f : (MathF.Log2(linear) + 9.72f) / 17.52f;
        }
    }
}
