using System.Numerics;

namespace Kiln.Scattering;

/// <summary>Where light goes at a facet between two media.</summary>
internal static class Interface
{
    /// <summary>The refracted direction, pointing away from the surface; default where everything is reflected (Snell).</summary>
    /// <param name="ior">Index on the far side of <paramref name="h"/> over the one on the side of <paramref name="wo"/>.</param>
    public static Vector3 Refract(Vector3 wo, Vector3 h, float ior)
    {
        var oh = Vector3.Dot(wo, h);
        var cos2 = 1f - (1f - oh * oh) / (ior * ior);
        return cos2 <= 0f ? default : Vector3.Normalize(h * (oh / ior - MathF.Sqrt(cos2)) - wo / ior);
    }

    /// <summary>
    /// The facet that refracts <paramref name="wo"/> to <paramref name="wi"/>, on the side of wo (Walter et al. 2007, equation 16); default
    /// where there is none.
    /// </summary>
    public static Vector3 RefractingFacet(Vector3 wo, Vector3 wi, float ior)
    {
        var h = wo + wi * ior;
        if (h.LengthSquared() < 1e-12f)
            return default;
        h = Vector3.Normalize(h);
        if (h.Z < 0f)
            h = -h;
        return Vector3.Dot(wo, h) > 0f && Vector3.Dot(wi, h) < 0f ? h : default;
    }

    /// <summary>Solid angle of facets over that of refracted directions (Walter et al. 2007, equation 17).</summary>
    public static float RefractedPart(float oh, float ih, float ior)
    {
        var d = oh + ior * ih;
        return ior * ior * MathF.Abs(ih) / MathF.Max(1e-12f, d * d);
    }
}
