using System.Numerics;
using Kiln.Colour.Spaces;

namespace Kiln.Colour.Views;

/// <summary>
/// The ACES 1 Reference Rendering Transform followed by the Output Device Transform for an sRGB display at 100 cd/m², dim surround.
/// Constants and steps: Academy ACES 1.x CTL (ACESlib.RRT_Common, ACESlib.Tonescales, ACESlib.ODT_Common, ODT.Academy.sRGB_100nits_dim).
/// </summary>
public static class AcesOutput
{
    private const float HalfMax = 65504f;

    internal static readonly Matrix3 Ap0ToAp1 = Primaries.Ap0.To(Primaries.Ap1);
    internal static readonly Matrix3 RrtDesaturation = Saturation(0.96);

    // Desaturation, then AP1 to linear Rec.709 under D65 (Bradford), in one matrix.
    internal static readonly Matrix3 OdtToDisplay = Primaries.Ap1.To(Primaries.Rec709);
    internal static readonly Matrix3 OdtDesaturation = Saturation(0.93);
    internal static readonly Vector3 Ap1Luminance = Luminance();

    /// <summary>ACES2065-1 to display-linear Rec.709, 1 = display white; not yet clamped to the display.</summary>
    public static Vector3 Apply(Vector3 aces)
    {
        var rendered = Render(aces);
        rendered = new(Odt(rendered.X), Odt(rendered.Y), Odt(rendered.Z));
        rendered = OdtDesaturation.Apply(DimSurround(rendered));
        return OdtToDisplay.Apply(rendered);
    }

    /// <summary>
    /// The same for a cinema, which is dark: ACES2065-1 to AP1 display light, neither dimmed nor desaturated (ODT.Academy of 48 cd/m²).
    /// </summary>
    public static Vector3 Cinema(Vector3 aces)
    {
        var rendered = Render(aces);
        return new(Odt(rendered.X), Odt(rendered.Y), Odt(rendered.Z));
    }

    /// <summary>Interleaved pixels of three samples, in place.</summary>
    public static void Apply(Span<float> pixels) => AcesOutputInBulk.Apply(pixels);

    private static Vector3 Render(Vector3 aces)
    {
        var saturation = SaturationOf(aces);
        var s = SigmoidShaper((saturation - 0.4f) / 0.2f);
        aces *= 1f + GlowGain(Yc(aces), 0.05f * s, 0.08f);
        var hue = CentredHue(aces);
        aces.X += CubicBasis(hue, 135f) * SaturationOf(aces) * (0.03f - aces.X) * (1f - 0.82f);
        aces = Vector3.Clamp(aces, Vector3.Zero, new(HalfMax));
        var ap1 = Vector3.Clamp(Ap0ToAp1.Apply(aces), Vector3.Zero, new(HalfMax));
        ap1 = RrtDesaturation.Apply(ap1);
        return new(ToneScale.Rrt(ap1.X), ToneScale.Rrt(ap1.Y), ToneScale.Rrt(ap1.Z));
    }

    internal static float Odt(float oces) => (ToneScale.Odt48(oces) - 0.02f) / (48f - 0.02f);

    /// <summary>Dark to dim surround: luminance to the power 0.9811.</summary>
    private static Vector3 DimSurround(Vector3 ap1)
    {
        var y = Vector3.Dot(ap1, Ap1Luminance);
        return y <= 0 ? ap1 : ap1 * MathF.Pow(y, 0.9811f - 1f);
    }

    internal static float SaturationOf(Vector3 c)
    {
        var max = MathF.Max(c.X, MathF.Max(c.Y, c.Z));
        var min = MathF.Min(c.X, MathF.Min(c.Y, c.Z));
        return (MathF.Max(max, 1e-10f) - MathF.Max(min, 1e-10f)) / MathF.Max(max, 1e-2f);
    }

    internal static float Yc(Vector3 c)
    {
        var chroma = MathF.Sqrt(MathF.Max(0f, c.Z * (c.Z - c.Y) + c.Y * (c.Y - c.X) + c.X * (c.X - c.Z)));
        return (c.Z + c.Y + c.X + 1.75f * chroma) / 3f;
    }

    internal static float SigmoidShaper(float x)
    {
        var t = MathF.Max(1f - MathF.Abs(x / 2f), 0f);
        return (1f + MathF.Sign(x) * (1f - t * t)) / 2f;
    }

    internal static float GlowGain(float yc, float gain, float mid)
    {
        if (yc <= 2f / 3f * mid)
            return gain;
        return yc >= 2f * mid ? 0f : gain * (mid / yc - 0.5f);
    }

    internal static float CentredHue(Vector3 c)
    {
        if (c.X == c.Y && c.Y == c.Z)
            return 0f;
        return 180f / MathF.PI * MathF.Atan2(MathF.Sqrt(3f) * (c.Y - c.Z), 2f * c.X - c.Y - c.Z);
    }

    /// <summary>A cubic B-spline bump of the given width around zero, scaled to peak at one.</summary>
    internal static float CubicBasis(float x, float width)
    {
        var at = (x + width / 2f) * 4f / width;
        if (at is <= 0f or >= 4f)
            return 0f;
        var j = (int)at;
        var t = at - j;
        var y = j switch
        {
            3 => (1f - t) * (1f - t) * (1f - t) / 6f,
            2 => (3f * t * t * t - 6f * t * t + 4f) / 6f,
            1 => (-3f * t * t * t + 3f * t * t + 3f * t + 1f) / 6f,
            _ => t * t * t / 6f,
        };
        return y * 1.5f;
    }

    private static Vector3 Luminance()
    {
        var m = Primaries.Ap1.ToXyz();
        return new((float)m.M21, (float)m.M22, (float)m.M23);
    }

    private static Matrix3 Saturation(double amount)
    {
        var m = Primaries.Ap1.ToXyz();
        double r = (1 - amount) * m.M21,
            g = (1 - amount) * m.M22,
            b = (1 - amount) * m.M23;
        return new(r + amount, g, b, r, g + amount, b, r, g, b + amount);
    }
}
