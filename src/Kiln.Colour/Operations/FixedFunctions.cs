using System.Numerics;
using Kiln.Colour.Configs;
using Kiln.Colour.Views;

namespace Kiln.Colour.Operations;

/// <summary>A function of three channels that no matrix, curve or table describes.</summary>
public sealed record FunctionOp(string Name, Func<Vector3, Vector3> Forward, Func<Vector3, Vector3>? Backward) : ColourOp
{
    public override void Apply(Span<Vector4> pixels)
    {
        foreach (ref var p in pixels)
            p = new(Forward(p.AsVector3()), p.W);
    }

    public override ColourOp Inverse() =>
        Backward is { } back
            ? new FunctionOp(Name + " backwards", back, Forward)
            : throw new ConfigException($"{Name} is asked for backwards, which is not supported");
}

/// <summary>The fixed functions of ACES, by the names that configs give them.</summary>
public static class FixedFunctions
{
    public static ColourOp? Find(string style, double[] parameters) =>
        style.ToLowerInvariant() switch
        {
            "aces_redmod03" => new FunctionOp(style, v => RedModifier(v, 0.85f, 120f, true), null),
            "aces_redmod10" => new FunctionOp(style, v => RedModifier(v, 0.82f, 135f, false), RedModifierBack),
            "aces_glow03" => Glow(style, 0.075f, 0.1f),
            "aces_glow10" => Glow(style, 0.05f, 0.08f),
            "aces_darktodim10" => new FunctionOp(style, v => Surround(v, 0.9811f), v => Surround(v, 1 / 0.9811f)),
            "aces_gamutcomp13" when parameters.Length == 7 => GamutCompression(parameters),
            "aces_gamutcomp13" => throw new ConfigException($"{style} needs 7 parameters, not {parameters.Length}"),
            _ => null,
        };

    /// <summary>The ACES 1.3 Reference Gamut Compression on AP1 values (Academy S-2020-001, LMT.Academy.GamutCompress).</summary>
    public static ColourOp ReferenceGamutCompression { get; } = GamutCompression([1.147, 1.264, 1.312, 0.815, 0.803, 0.880, 1.2]);

    private static FunctionOp GamutCompression(double[] p)
    {
        var power = (float)p[6];
        var limits = new float[3];
        var thresholds = new float[3];
        var scales = new float[3];
        for (var c = 0; c < 3; c++)
        {
            (limits[c], thresholds[c]) = ((float)p[c], (float)p[c + 3]);
            scales[c] = (float)((p[c] - p[c + 3]) / Math.Pow(Math.Pow((1 - p[c + 3]) / (p[c] - p[c + 3]), -p[6]) - 1, 1 / p[6]));
        }
        float Compressed(float d, int c)
        {
            if (d < thresholds[c])
                return d;
            var n = (d - thresholds[c]) / scales[c];
            return thresholds[c] + scales[c] * n / MathF.Pow(1 + MathF.Pow(n, power), 1 / power);
        }
        float Opened(float d, int c)
        {
            if (d < thresholds[c] || d >= thresholds[c] + scales[c])
                return d;
            var n = MathF.Pow((d - thresholds[c]) / scales[c], power);
            return thresholds[c] + scales[c] * MathF.Pow(-(n / (n - 1)), 1 / power);
        }
        Vector3 Apply(Vector3 v, Func<float, int, float> distance)
        {
            var most = MathF.Max(v.X, MathF.Max(v.Y, v.Z));
            if (most == 0)
                return v;
            var size = MathF.Abs(most);
            return new(
                most - distance((most - v.X) / size, 0) * size,
                most - distance((most - v.Y) / size, 1) * size,
                most - distance((most - v.Z) / size, 2) * size
            );
        }
        return new("ACES_GamutComp13", v => Apply(v, Compressed), v => Apply(v, Opened));
    }

    private static FunctionOp Glow(string name, float gain, float mid) =>
        new(
            name,
            v =>
                v
                * (
                    1
                    + AcesOutput.GlowGain(
                        AcesOutput.Yc(v),
                        gain * AcesOutput.SigmoidShaper((AcesOutput.SaturationOf(v) - 0.4f) / 0.2f),
                        mid
                    )
                ),
            v =>
            {
                var amount = gain * AcesOutput.SigmoidShaper((AcesOutput.SaturationOf(v) - 0.4f) / 0.2f);
                var y = AcesOutput.Yc(v);
                var back =
                    y <= (1 + amount) * 2f / 3f * mid ? -amount / (1 + amount)
                    : y >= 2 * mid ? 0
                    : amount * (mid / y - 0.5f) / (amount / 2 - 1);
                return v * (1 + back);
            }
        );

    private static Vector3 RedModifier(Vector3 v, float scale, float width, bool keepHue)
    {
        var weight = AcesOutput.CubicBasis(AcesOutput.CentredHue(v), width);
        if (weight <= 0)
            return v;
        var red = v.X + weight * AcesOutput.SaturationOf(v) * (0.03f - v.X) * (1 - scale);
        if (!keepHue)
            return new(red, v.Y, v.Z);
        if (v.Y >= v.Z)
            return new(red, (v.Y - v.Z) / MathF.Max(1e-10f, v.X - v.Z) * (red - v.Z) + v.Z, v.Z);
        return new(red, v.Y, (v.Z - v.Y) / MathF.Max(1e-10f, v.X - v.Y) * (red - v.Y) + v.Y);
    }

    /// <summary>ACESlib.RRT_Common: the quadratic that undoes the modifier.</summary>
    private static Vector3 RedModifierBack(Vector3 v)
    {
        var hue = AcesOutput.CentredHue(v);
        var weight = AcesOutput.CubicBasis(hue, 135f);
        if (weight <= 0)
            return v;
        const float rest = 1 - 0.82f,
            pivot = 0.03f;
        var least = hue < 0 ? v.Y : v.Z;
        float a = weight * rest - 1,
            b = v.X - weight * (pivot + least) * rest,
            c = weight * pivot * least * rest;
        return new((-b - MathF.Sqrt(MathF.Max(0, b * b - 4 * a * c))) / (2 * a), v.Y, v.Z);
    }

    private static Vector3 Surround(Vector3 v, float power)
    {
        var y = MathF.Max(1e-10f, Vector3.Dot(v, AcesOutput.Ap1Luminance));
        return v * MathF.Pow(y, power - 1);
    }
}
