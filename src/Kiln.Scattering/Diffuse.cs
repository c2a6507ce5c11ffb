using System.Numerics;

namespace Kiln.Scattering;

/// <summary>Matt reflection, as BRDF values (without the cosine): of eight places at once, and of one.</summary>
public static class Diffuse
{
    // Fujii's constants, Portsmouth, Kutz, Hill 2024 ("EON: A Practical Energy-Preserving Rough Diffuse BRDF"), equations 11 and 20.
    private const float C1 = 0.5f - 2f / (3f * MathF.PI);
    private const float C2 = 2f / 3f - 28f / (15f * MathF.PI);

    internal static Wide3 Lambert(in Wide3 albedo) => albedo * (1f / MathF.PI);

    /// <summary>
    /// Oren and Nayar's qualitative model (1994, equation 30) as MaterialX 1.39 has it for oren_nayar_diffuse_bsdf without compensation:
    /// roughness is the deviation of slopes, and the term of facets facing away is left out.
    /// </summary>
    public static Vector3 OrenNayar(Vector3 albedo, float roughness, Vector3 wo, Vector3 wi) =>
        OrenNayar(Wide3.Of(albedo), Of(roughness), Wide3.Of(wo), Wide3.Of(wi))[0];

    internal static Wide3 OrenNayar(in Wide3 albedo, Wide roughness, in Wide3 wo, in Wide3 wi)
    {
        var s = Wide3.Dot(wo, wi) - wo.Z * wi.Z;
        var t = s / Max(wo.Z, wi.Z) & Positive(s);
        var variance = roughness * roughness;
        var shape = Wide.One - 0.5f * variance / (variance + Of(0.33f)) + 0.45f * variance / (variance + Of(0.09f)) * t;
        return albedo * (Select(Positive(roughness), shape, Wide.One) * (1f / MathF.PI));
    }

    /// <summary>
    /// The most that <see cref="OrenNayar(Vector3, float, Vector3, Vector3)"/> returns of light from everywhere, towards grazing angles:
    /// A + B/2 (the integral of its second term there). Up to 1.015 at small roughness.
    /// </summary>
    public static float OrenNayarMost(float roughness) => OrenNayarMost(Of(roughness)).ToScalar();

    internal static Wide OrenNayarMost(Wide roughness)
    {
        var variance = roughness * roughness;
        return Wide.One - 0.5f * variance / (variance + Of(0.33f)) + 0.225f * variance / (variance + Of(0.09f));
    }

    /// <summary>EON: the Fujii Oren-Nayar lobe with its multiple scattering; roughness 0..1.</summary>
    public static Vector3 Eon(Vector3 albedo, float roughness, Vector3 wo, Vector3 wi) =>
        Eon(Wide3.Of(albedo), Of(roughness), Wide3.Of(wo), Wide3.Of(wi))[0];

    internal static Wide3 Eon(in Wide3 albedo, Wide roughness, in Wide3 wo, in Wide3 wi)
    {
        if (!Any(Positive(roughness)))
            return Lambert(albedo);
        Wide mo = wo.Z,
            mi = wi.Z;
        var s = Wide3.Dot(wo, wi) - mo * mi;
        var t = Select(Positive(s), s / Max(mo, mi), s);
        var a = Wide.One / (Wide.One + C1 * roughness);
        var single = albedo * (a * (Wide.One + roughness * t) * (1f / MathF.PI));
        Wide eo = EonAlbedo(mo, roughness),
            ei = EonAlbedo(mi, roughness),
            average = a * (Wide.One + C2 * roughness),
            lost = Wide.One - average,
            least = Of(1e-7f);
        var many = albedo * albedo * average / (Wide3.One - albedo * lost);
        var rough = single + many * (Max(Wide.One - eo, least) * Max(Wide.One - ei, least) / (Max(lost, least) * MathF.PI));
        return Wide3.Select(Positive(roughness), rough, Lambert(albedo));
    }

    /// <summary>Directional albedo of the single-scattering lobe for white, in closed form (same paper, equation 14).</summary>
    private static Wide EonAlbedo(Wide mu, Wide roughness)
    {
        mu = Clamp(mu, Of(1e-4f), Wide.One);
        var a = Wide.One / (Wide.One + C1 * roughness);
        var sin = Sqrt(Max(Wide.One - mu * mu, Wide.Zero));
        var g = sin * (Acos(mu) - sin * mu) + 2f / 3f * (sin / mu * (Wide.One - sin * sin * sin) - sin);
        return a + roughness * a * (1f / MathF.PI) * g;
    }
}
