using System.Numerics;
using Kiln.Colour.Configs;

namespace Kiln.Colour.Operations;

/// <summary>What a power does with negative numbers.</summary>
public enum NegativeStyle
{
    /// <summary>They become zero.</summary>
    Clamp,

    /// <summary>The curve is mirrored about zero.</summary>
    Mirror,

    /// <summary>They stay as they are.</summary>
    Pass,
}

/// <summary>A curve for each channel. Alpha has a curve of its own where a subclass says so.</summary>
public abstract record CurveOp : ColourOp
{
    protected abstract float Curve(float x, int channel);

    public override void Apply(Span<Vector4> pixels)
    {
        foreach (ref var p in pixels)
            p = new(Curve(p.X, 0), Curve(p.Y, 1), Curve(p.Z, 2), Alpha(p.W));
    }

    protected virtual float Alpha(float x) => x;
}

/// <summary>A power for each channel and alpha.</summary>
public sealed record ExponentOp(double[] Powers, NegativeStyle Style) : CurveOp
{
    private readonly float[] powers = [.. Powers.Select(p => (float)p)];

    public override bool IsIdentity => Style != NegativeStyle.Clamp && Powers.All(p => p == 1);

    protected override float Curve(float x, int channel) =>
        Style switch
        {
            NegativeStyle.Clamp => MathF.Pow(MathF.Max(0, x), powers[channel]),
            NegativeStyle.Mirror => MathF.CopySign(MathF.Pow(MathF.Abs(x), powers[channel]), x),
            _ => x > 0 ? MathF.Pow(x, powers[channel]) : x,
        };

    protected override float Alpha(float x) => powers[3] == 1 ? x : Curve(x, 3);

    public override ColourOp Inverse() =>
        Powers.All(p => p != 0)
            ? new ExponentOp([.. Powers.Select(p => 1 / p)], Style)
            : throw new ConfigException("a power of zero is asked for backwards");
}

/// <summary>A power with a straight piece near zero, as sRGB has it: the piece ends where both meet with the same slope.</summary>
public sealed record ExponentWithLinearOp : CurveOp
{
    private readonly double[] gamma,
        offset;
    private readonly bool mirror,
        inverse;
    private readonly float[] power = new float[4],
        scale = new float[4],
        shift = new float[4],
        bend = new float[4],
        slope = new float[4];

    /// <param name="gamma">Of red, green, blue, alpha; forwards the code value is raised to it.</param>
    /// <param name="offset">Of the same, 0 to below 1.</param>
    public ExponentWithLinearOp(double[] gamma, double[] offset, bool mirror, bool inverse = false)
    {
        (this.gamma, this.offset, this.mirror, this.inverse) = (gamma, offset, mirror, inverse);
        for (var c = 0; c < 4; c++)
        {
            // A gamma of exactly one and an offset of zero have no bend; a little more has, far below what is seen.
            double g = Math.Max(gamma[c], 1.000001),
                o = Math.Max(offset[c], 1e-6);
            (power[c], scale[c], shift[c]) = (
                (float)(inverse ? 1 / g : g),
                (float)(inverse ? 1 + o : 1 / (1 + o)),
                (float)(inverse ? o : o / (1 + o))
            );
            var codeBend = o / (g - 1);
            var linearBend = Math.Pow(o * g / ((g - 1) * (1 + o)), g);
            bend[c] = (float)(inverse ? linearBend : codeBend);
            slope[c] = (float)(inverse ? codeBend / linearBend : linearBend / codeBend);
        }
    }

    public override bool IsIdentity => gamma.All(g => g == 1) && offset.All(o => o == 0);

    protected override float Curve(float x, int channel)
    {
        if (gamma[channel] == 1 && offset[channel] == 0)
            return x;
        var v = mirror ? MathF.Abs(x) : x;
        var y =
            v <= bend[channel] ? v * slope[channel]
            : inverse ? scale[channel] * MathF.Pow(v, power[channel]) - shift[channel]
            : MathF.Pow(v * scale[channel] + shift[channel], power[channel]);
        return mirror ? MathF.CopySign(y, x) : y;
    }

    protected override float Alpha(float x) => Curve(x, 3);

    public override ColourOp Inverse() => new ExponentWithLinearOp(gamma, offset, mirror, !inverse);
}

/// <summary>A logarithm with gain and offset before and after, for each of three channels.</summary>
/// <param name="Lead">The base of the logarithm.</param>
public sealed record LogCurve(double Lead, double[] LogSlope, double[] LogOffset, double[] LinSlope, double[] LinOffset)
{
    /// <summary>Where a straight piece ends, in linear light; null without one.</summary>
    public double[]? LineBreak { get; init; }

    /// <summary>Its slope; null for one that meets the curve with the same slope.</summary>
    public double[]? LineSlope { get; init; }
}

/// <summary>
/// A logarithm with gain and offset before and after, and optionally a straight piece below a break, as camera logs have it. Forwards is
/// linear to log.
/// </summary>
public sealed record LogOp : CurveOp
{
    private readonly LogCurve curve;
    private readonly bool inverse;
    private readonly float[] breakAt = new float[3],
        logBreak = new float[3],
        slope = new float[3],
        lineOffset = new float[3];
    private readonly float logScale;

    public LogOp(LogCurve curve, bool inverse = false)
    {
        (this.curve, this.inverse) = (curve, inverse);
        var lead = curve.Lead;
        logScale = (float)(1 / Math.Log2(lead));
        for (var c = 0; c < 3 && curve.LineBreak is not null; c++)
        {
            var inside = curve.LinSlope[c] * curve.LineBreak[c] + curve.LinOffset[c];
            var y = curve.LogSlope[c] * Math.Log(inside, lead) + curve.LogOffset[c];
            var steep = curve.LineSlope?[c] ?? curve.LogSlope[c] * curve.LinSlope[c] / (inside * Math.Log(lead));
            (breakAt[c], logBreak[c], slope[c], lineOffset[c]) = (
                (float)curve.LineBreak[c],
                (float)y,
                (float)steep,
                (float)(y - steep * curve.LineBreak[c])
            );
        }
    }

    /// <summary>A plain logarithm.</summary>
    public static LogOp Plain(double lead) => new(new LogCurve(lead, [1, 1, 1], [0, 0, 0], [1, 1, 1], [0, 0, 0]));

    protected override float Curve(float x, int c)
    {
        float logSlope = (float)curve.LogSlope[c],
            logOffset = (float)curve.LogOffset[c],
            linSlope = (float)curve.LinSlope[c],
            linOffset = (float)curve.LinOffset[c];
        if (inverse)
            return curve.LineBreak is not null && x <= logBreak[c]
                ? (x - lineOffset[c]) / slope[c]
                : (MathF.Pow((float)curve.Lead, (x - logOffset) / logSlope) - linOffset) / linSlope;
        if (curve.LineBreak is not null && x <= breakAt[c])
            return slope[c] * x + lineOffset[c];
        // The smallest normal float stands in for what has no logarithm, as OpenColorIO does.
        return logSlope * MathF.Log2(MathF.Max(1.17549435e-38f, linSlope * x + linOffset)) * logScale + logOffset;
    }

    public override ColourOp Inverse() => new LogOp(curve, !inverse);
}

/// <summary>A straight map of a range, with or without clamping at its ends.</summary>
public sealed record RangeOp(double? LowIn, double? HighIn, double? LowOut, double? HighOut, bool Clamp) : ColourOp
{
    public override bool IsIdentity => !Clamp && LowIn == LowOut && HighIn == HighOut;

    public override void Apply(Span<Vector4> pixels)
    {
        var scale = LowIn is { } a && HighIn is { } b ? (HighOut!.Value - LowOut!.Value) / (b - a) : 1;
        var offset =
            LowIn is { } low ? LowOut!.Value - scale * low
            : HighIn is { } high ? HighOut!.Value - scale * high
            : 0;
        var (s, o) = ((float)scale, new Vector3((float)offset));
        Vector3 least = new(Clamp && LowOut is { } l ? (float)l : float.NegativeInfinity),
            most = new(Clamp && HighOut is { } h ? (float)h : float.PositiveInfinity);
        foreach (ref var p in pixels)
            p = new(Vector3.Min(Vector3.Max(p.AsVector3() * s + o, least), most), p.W);
    }

    public override ColourOp Inverse() => new RangeOp(LowOut, HighOut, LowIn, HighIn, Clamp);
}

/// <summary>The colour decision list of the American Society of Cinematographers, version 1.2: slope, offset, power, saturation.</summary>
public sealed record CdlOp(double[] Slope, double[] Offset, double[] Power, double Saturation, bool Clamp, bool Backwards = false)
    : ColourOp
{
    private static readonly Vector3 Luma = new(0.2126f, 0.7152f, 0.0722f);

    public override bool IsIdentity =>
        !Clamp && Slope.All(s => s == 1) && Offset.All(o => o == 0) && Power.All(p => p == 1) && Saturation == 1;

    public override void Apply(Span<Vector4> pixels)
    {
        Vector3 slope = Vector(Slope),
            offset = Vector(Offset),
            power = Vector(Backwards ? [.. Power.Select(p => 1 / p)] : Power);
        var saturation = (float)(Backwards ? 1 / Saturation : Saturation);
        foreach (ref var p in pixels)
        {
            var v = p.AsVector3();
            if (Backwards)
            {
                v = Saturate(Ends(v), saturation);
                v = (Raise(Ends(v), power) - offset) / slope;
                p = new(Ends(v), p.W);
            }
            else
            {
                v = Raise(Ends(v * slope + offset), power);
                p = new(Ends(Saturate(v, saturation)), p.W);
            }
        }
    }

    private static Vector3 Saturate(Vector3 v, float amount)
    {
        var luma = new Vector3(Vector3.Dot(v, Luma));
        return luma + (v - luma) * amount;
    }

    private static Vector3 Raise(Vector3 v, Vector3 power) => new(Raise(v.X, power.X), Raise(v.Y, power.Y), Raise(v.Z, power.Z));

    private static float Raise(float x, float power) => x > 0 && power != 1 ? MathF.Pow(x, power) : x;

    private Vector3 Ends(Vector3 v) => Clamp ? Vector3.Clamp(v, Vector3.Zero, Vector3.One) : v;

    private static Vector3 Vector(double[] v) => new((float)v[0], (float)v[1], (float)v[2]);

    public override ColourOp Inverse() =>
        Slope.All(s => s != 0) && Saturation != 0
            ? this with
            {
                Backwards = !Backwards,
            }
            : throw new ConfigException("a colour decision list with a slope or saturation of zero is asked for backwards");
}
