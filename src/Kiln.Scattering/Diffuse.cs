using System.Numerics;

namespace Kiln.Scattering;

/// <summary>Matt reflection, as BRDF values (without the cosine).</summary>
public static class Diffuse
{
    // Fujii's constants, Portsmouth, Kutz, Hill 2024 ("EON: A Practical Energy-Preserving Rough Diffuse BRDF"), equations 11 and 20.
    private const float C1 = 0.5f - 2f / (3f * MathF.PI);
    private const float C2 = 2f / 3f - 28f / (15f * MathF.PI);

    public static Vector3 Lambert(Vector3 albedo) => albedo / MathF.PI;

    /// <summary>
    /// Oren and Nayar's qualitative model (1994, equation 30) as MaterialX 1.39 has it for oren_nayar_diffuse_bsdf without compensation:
    /// roughness is the deviation of slopes, and the term of facets facing away is left out.
    /// </summary>
    public static Vector3 OrenNayar(Vector3 albedo, float roughness, Vector3 wo, Vector3 wi)
    {
        if (roughness <= 0f)
            return Lambert(albedo);
        var s = Vector3.Dot(wo, wi) - wo.Z * wi.Z;
        var t = s > 0f ? s / MathF.Max(wo.Z, wi.Z) : 0f;
        var variance = roughness * roughness;
        return albedo * ((1f - 0.5f * variance / (variance + 0.33f) + 0.45f * variance / (variance + 0.09f) * t) / MathF.PI);
    }

    /// <summary>
    /// The most that <see cref="OrenNayar"/> returns of light from everywhere, towards grazing angles: A + B/2 (the integral of its second
    /// term there). Up to 1.015 at small roughness.
    /// </summary>
    public static float OrenNayarMost(float roughness)
    {
        var variance = roughness * roughness;
        return 1f - 0.5f * variance / (variance + 0.33f) + 0.225f * variance / (variance + 0.09f);
    }

    /// <summary>EON: the Fujii Oren-Nayar lobe with its multiple scattering; roughness 0..1.</summary>
    public static Vector3 Eon(Vector3 albedo, float roughness, Vector3 wo, Vector3 wi)
    {
        if (roughness <= 0f)
            return Lambert(albedo);
        float mo = wo.Z,
            mi = wi.Z;
        var s = Vector3.Dot(wo, wi) - mo * mi;
        var t = s > 0f ? s / MathF.Max(mo, mi) : s;
        var a = 1f / (1f + C1 * roughness);
        var single = albedo * (a * (1f + roughness * t) / MathF.PI);
        float eo = EonAlbedo(mo, roughness),
            ei = EonAlbedo(mi, roughness),
            average = a * (1f + C2 * roughness);
        var many = albedo * albedo * average / (Vector3.One - albedo * (1f - average));
        return single + many * (MathF.Max(1e-7f, 1f - eo) * MathF.Max(1e-7f, 1f - ei) / (MathF.PI * MathF.Max(1e-7f, 1f - average)));
    }

    /// <summary>Directional albedo of the single-scattering lobe for white, in closed form (same paper, equation 14).</summary>
    public static float EonAlbedo(float mu, float roughness)
    {
        mu = Math.Clamp(mu, 1e-4f, 1f);
        var a = 1f / (1f + C1 * roughness);
        var sin = MathF.Sqrt(MathF.Max(0f, 1f - mu * mu));
        var g = sin * (MathF.Acos(mu) - sin * mu) + 2f / 3f * (sin / mu * (1f - sin * sin * sin) - sin);
        return a + roughness * a / MathF.PI * g;
    }
}
