using System.Numerics;

namespace Kiln.Scattering;

/// <summary>Reflectances at an interface.</summary>
public static class Fresnel
{
    private const float F82Cosine = 1f / 7f;

    /// <summary>
    /// Unpolarised reflectance of a dielectric (Fresnel equations; Walter et al. 2007, equation 22); 1 beyond the angle of total
    /// reflection.
    /// </summary>
    /// <param name="cos">Of the angle between ray and normal, on the side the ray comes from.</param>
    /// <param name="ior">Index behind the surface over the index before it; below 1 where light leaves the denser side.</param>
    public static float Dielectric(float cos, float ior)
    {
        var c = MathF.Abs(cos);
        var g2 = ior * ior - 1f + c * c;
        if (g2 <= 0f)
            return 1f;
        var g = MathF.Sqrt(g2);
        float a = (g - c) / (g + c),
            b = (c * (g + c) - 1f) / (c * (g - c) + 1f);
        return MathF.Min(1f, 0.5f * a * a * (1f + b * b));
    }

    /// <summary>
    /// Amplitudes reflected, parallel and perpendicular to the plane of incidence (Fresnel equations); real where nothing is totally
    /// reflected.
    /// </summary>
    public static (float Parallel, float Perpendicular) Amplitudes(float cos, float ior)
    {
        var cosT = MathF.Sqrt(MathF.Max(0f, 1f - (1f - cos * cos) / (ior * ior)));
        return ((ior * cos - cosT) / (ior * cos + cosT), (cos - ior * cosT) / (cos + ior * cosT));
    }

    /// <summary>Reflectance at normal incidence: ((n − 1)/(n + 1))².</summary>
    public static float NormalIncidence(float ior)
    {
        var s = (ior - 1f) / (ior + 1f);
        return s * s;
    }

    /// <summary>The index of refraction that reflects a share at normal incidence.</summary>
    public static float IndexOf(float normalIncidence)
    {
        var s = MathF.Sqrt(Math.Clamp(normalIncidence, 0f, 0.999f));
        return (1f + s) / (1f - s);
    }

    public static Vector3 Schlick(float cos, Vector3 f0, Vector3 f90) => f0 + (f90 - f0) * Power5(1f - cos);

    /// <summary>Metals by reflectance at 0° and tint at about 82° (Kutz, Hasan, Edmondson 2021; OpenPBR Surface 1.1, "Metal").</summary>
    public static Vector3 F82(float cos, Vector3 f0, Vector3 tint) =>
        Vector3.Max(Vector3.Zero, Schlick(cos, f0, Vector3.One) - F82Dip(f0, tint) * (cos * Power6(1f - cos)));

    /// <summary>2∫F·μ dμ of <see cref="F82"/>: the Schlick part is f0 + (1 − f0)/21, and 2∫μ²(1 − μ)⁶ dμ = 1/126.</summary>
    public static Vector3 F82Average(Vector3 f0, Vector3 tint) => f0 + (Vector3.One - f0) / 21f - F82Dip(f0, tint) / 126f;

    /// <summary>
    /// A metal by its reflectance at 0° and an edge colour, of which a complex index is made (Gulbrandsen 2014, "Artist Friendly Metallic
    /// Fresnel", equations 1, 2 and 8),
    /// and the reflectance that the index has in unpolarised light (Fresnel equations).
    /// </summary>
    public static Vector3 Conductor(float cos, Vector3 reflectance, Vector3 edge)
    {
        var r = Vector3.Clamp(reflectance, Vector3.Zero, new(MostConducting));
        Vector3 root = Vector3.SquareRoot(r),
            one = Vector3.One;
        var n = Vector3.Lerp((one + root) / (one - root), (one - r) / (one + r), Vector3.Clamp(edge, Vector3.Zero, one));
        var k2 = Vector3.Max(Vector3.Zero, (r * (n + one) * (n + one) - (n - one) * (n - one)) / (one - r));
        float c2 = Math.Clamp(cos * cos, 0f, 1f),
            s2 = 1f - c2;
        var n2 = n * n;
        var t = n2 - k2 - new Vector3(s2);
        var ab = Vector3.SquareRoot(t * t + 4f * n2 * k2);
        var a = Vector3.SquareRoot(Vector3.Max(Vector3.Zero, 0.5f * (ab + t)));
        Vector3 sum = ab + new Vector3(c2),
            twice = 2f * MathF.Sqrt(c2) * a;
        var perpendicular = (sum - twice) / (sum + twice);
        Vector3 sum2 = c2 * ab + new Vector3(s2 * s2),
            twice2 = twice * s2;
        return 0.5f * perpendicular * (one + (sum2 - twice2) / Vector3.Max(new(1e-12f), sum2 + twice2));
    }

    /// <summary>2∫F·μ dμ of <see cref="Conductor"/> by four points (Gauss and Legendre).</summary>
    public static Vector3 ConductorAverage(Vector3 reflectance, Vector3 edge)
    {
        var sum = Vector3.Zero;
        foreach (var (at, weight) in FourPoints)
            sum += 2f * at * weight * Conductor(at, reflectance, edge);
        return sum;
    }

    // A reflectance of 1 has no finite index.
    private const float MostConducting = 0.999f;

    // Abramowitz and Stegun, table 25.4, n = 4, brought to 0..1.
    private static readonly (float At, float Weight)[] FourPoints =
    [
        (0.0694318442f, 0.1739274226f),
        (0.3300094782f, 0.3260725774f),
        (0.6699905218f, 0.3260725774f),
        (0.9305681558f, 0.1739274226f),
    ];

    private static Vector3 F82Dip(Vector3 f0, Vector3 tint) =>
        Schlick(F82Cosine, f0, Vector3.One) * (Vector3.One - tint) / (F82Cosine * Power6(1f - F82Cosine));

    private static float Power5(float x)
    {
        x = Math.Clamp(x, 0f, 1f);
        var x2 = x * x;
        return x2 * x2 * x;
    }

    private static float Power6(float x) => Power5(x) * Math.Clamp(x, 0f, 1f);
}
