using System.Numerics;

namespace Kiln.Scattering;

/// <summary>Reflectances at an interface.</summary>
public static class Fresnel
{
    private const float F82Cosine = 1f / 7f;

    /// <summary>
    /// Unpolarised reflectance of a dielectric (Fresnel equations; Walter et al. 2007, equation 22); 1 beyond the angle of total reflection.
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
        float a = (g - c) / (g + c), b = (c * (g + c) - 1f) / (c * (g - c) + 1f);
        return MathF.Min(1f, 0.5f * a * a * (1f + b * b));
    }

    /// <summary>Amplitudes reflected, parallel and perpendicular to the plane of incidence (Fresnel equations); real where nothing is totally reflected.</summary>
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
    public static Vector3 F82(float cos, Vector3 f0, Vector3 tint) => Vector3.Max(Vector3.Zero, Schlick(cos, f0, Vector3.One) - F82Dip(f0, tint) * (cos * Power6(1f - cos)));

    /// <summary>2∫F·μ dμ of <see cref="F82"/>: the Schlick part is f0 + (1 − f0)/21, and 2∫μ²(1 − μ)⁶ dμ = 1/126.</summary>
    public static Vector3 F82Average(Vector3 f0, Vector3 tint) => f0 + (Vector3.One - f0) / 21f - F82Dip(f0, tint) / 126f;

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
