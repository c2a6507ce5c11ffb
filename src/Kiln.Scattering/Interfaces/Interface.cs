using System.Numerics;

namespace Kiln.Scattering.Interfaces;

/// <summary>Where light goes at a facet between two media.</summary>
internal static class Interface
{
    /// <summary>The refracted direction, pointing away from the surface; default where everything is reflected (Snell).</summary>
    /// <param name="ior">Index on the far side of <paramref name="h"/> over the one on the side of <paramref name="wo"/>.</param>
    public static Vector3 Refract(Vector3 wo, Vector3 h, float ior) => Refract(Wide3.Of(wo), Wide3.Of(h), Of(ior))[0];

    public static Wide3 Refract(in Wide3 wo, in Wide3 h, Wide ior)
    {
        var oh = Wide3.Dot(wo, h);
        var per = Wide.One / ior;
        var cos2 = Wide.One - (Wide.One - oh * oh) * per * per;
        var refracted = Wide3.Normalize(h * (oh * per - Sqrt(Max(cos2, Wide.Zero))) - wo * per);
        return Wide3.Where(Positive(cos2), refracted);
    }

    /// <summary>
    /// The facet that refracts <paramref name="wo"/> to <paramref name="wi"/>, on the side of wo (Walter et al. 2007, equation 16); default
    /// where there is none.
    /// </summary>
    public static Wide3 RefractingFacet(in Wide3 wo, in Wide3 wi, Wide ior)
    {
        var h = wo + wi * ior;
        var length2 = Wide3.Dot(h, h);
        h *= CopySign(Wide.One, h.Z) / Sqrt(Max(length2, Of(1e-12f)));
        var there = Greater(length2, Of(1e-12f)) & Positive(Wide3.Dot(wo, h)) & Less(Wide3.Dot(wi, h), Wide.Zero);
        return Wide3.Where(there, h);
    }

    /// <summary>Solid angle of facets over that of refracted directions (Walter et al. 2007, equation 17).</summary>
    public static Wide RefractedPart(Wide oh, Wide ih, Wide ior)
    {
        var d = oh + ior * ih;
        return ior * ior * Abs(ih) / Max(d * d, Of(1e-12f));
    }
}
