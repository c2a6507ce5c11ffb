using System.Numerics;

namespace Kiln.Scattering;

/// <summary>How the slopes of microfacets are distributed.</summary>
public enum Distribution
{
    Ggx,
    Beckmann,
}

/// <summary>
/// Microfacets of a surface in a frame whose z axis is the normal and whose x axis is the tangent, with height-correlated Smith masking.
/// Equations: Walter et al. 2007 (25 to 35) for Beckmann and GGX; Heitz 2014 (85, 86, 99) for unequal widths and masking-shadowing;
/// Dupuy and Benyoub 2023, listing 1, for the visible normals.
/// </summary>
public readonly struct Facets
{
    /// <summary>Widths below this are rendered as this: a lobe must stay wider than single precision can resolve.</summary>
    public const float LeastWidth = 0.0004f;

    private readonly float ax,
        ay;
    private readonly bool beckmann;

    /// <param name="width">Root-mean-square slope scale (alpha), 0..1.</param>
    /// <param name="anisotropy">0 (round) to 1; stretched as OpenPBR Surface 1.1 does: αx² + αy² = 2 width², αy = (1 − anisotropy)
    /// αx.</param>
    public Facets(float width, float anisotropy = 0, Distribution distribution = Distribution.Ggx)
    {
        width = Math.Clamp(width, LeastWidth, 1f);
        (ax, ay) = (width, width);
        if (anisotropy > 0f)
        {
            var squeeze = 1f - MathF.Min(anisotropy, 1f);
            ax = MathF.Min(1f, width * MathF.Sqrt(2f / (1f + squeeze * squeeze)));
            ay = MathF.Max(LeastWidth, squeeze * ax);
        }
        beckmann = distribution == Distribution.Beckmann;
    }

    public Distribution Distribution => beckmann ? Distribution.Beckmann : Distribution.Ggx;

    /// <summary>The width of a round lobe that is about as wide.</summary>
    public float MeanWidth => ax == ay ? ax : MathF.Sqrt(ax * ay);

    /// <summary>Density of facets with the normal <paramref name="h"/>, per area and solid angle.</summary>
    public float D(Vector3 h)
    {
        if (h.Z <= 0f)
            return 0f;
        float x = h.X / ax,
            y = h.Y / ay,
            z2 = h.Z * h.Z;
        if (beckmann)
            return MathF.Exp(-(x * x + y * y) / z2) / (MathF.PI * ax * ay * z2 * z2);
        // 1 − z² is taken from x and y, which are exact where a lobe is narrow.
        var d = x * x + y * y + z2;
        return 1f / (MathF.PI * ax * ay * d * d);
    }

    /// <summary>Squared tangent of the angle to the normal, times the width that way.</summary>
    private float Stretched(Vector3 w)
    {
        float x = ax * w.X,
            y = ay * w.Y;
        return (x * x + y * y) / MathF.Max(w.Z * w.Z, 1e-14f);
    }

    private float GgxLambda(Vector3 w) => 0.5f * (MathF.Sqrt(1f + Stretched(w)) - 1f);

    private float Lambda(Vector3 w)
    {
        if (!beckmann)
            return GgxLambda(w);
        var tan2 = Stretched(w);
        if (tan2 < 1e-14f)
            return 0f;
        // Walter et al. 2007, the rational fit below equation 27, as Λ.
        var a = 1f / MathF.Sqrt(tan2);
        return a >= 1.6f ? 0f : (1f - 1.259f * a + 0.396f * a * a) / (3.535f * a + 2.181f * a * a);
    }

    /// <summary>Share of facets seen from <paramref name="w"/>.</summary>
    public float G1(Vector3 w) => 1f / (1f + Lambda(w));

    /// <summary>What <see cref="G2"/> and <see cref="Density"/> need of the viewer's direction, worked out once.</summary>
    public readonly record struct Viewed(Vector3 Wo, float Lambda, float GgxLambda);

    public Viewed From(Vector3 wo)
    {
        var ggx = GgxLambda(wo);
        return new(wo, beckmann ? Lambda(wo) : ggx, ggx);
    }

    /// <summary>
    /// Share seen from both sides; the second may lie below the surface, then the two are hidden independently (Heitz 2014, 5.4: a Beta
    /// function there, approximated here by its separable bound).
    /// </summary>
    public float G2(in Viewed wo, Vector3 wi) => wi.Z >= 0f ? 1f / (1f + wo.Lambda + Lambda(wi)) : G1(wi) / (1f + wo.Lambda);

    public float G2(Vector3 wo, Vector3 wi) => G2(From(wo), wi);

    /// <summary>
    /// A facet's normal as seen from <paramref name="wo"/>; its density is <see cref="Density"/>. Beckmann's are proposed by the visible
    /// normals of GGX of the same widths, whose tail is longer: at most 4/e times too rarely.
    /// </summary>
    public Vector3 Sample(Vector3 wo, Vector2 u)
    {
        var (sin, cos) = MathF.SinCos(2f * MathF.PI * u.Y);
        var v = Vector3.Normalize(new Vector3(ax * wo.X, ay * wo.Y, wo.Z));
        var z = (1f - u.X) * (1f + v.Z) - v.Z;
        var r = MathF.Sqrt(Math.Clamp(1f - z * z, 0f, 1f));
        return Vector3.Normalize(new Vector3(ax * (r * cos + v.X), ay * (r * sin + v.Y), MathF.Max(1e-7f, z + v.Z)));
    }

    /// <summary>Density over normals of <see cref="Sample"/>.</summary>
    public float Density(Vector3 wo, Vector3 h) => Density(From(wo), h);

    public float Density(in Viewed wo, Vector3 h)
    {
        if (h.Z <= 0f)
            return 0f;
        float x = h.X / ax,
            y = h.Y / ay,
            d = x * x + y * y + h.Z * h.Z;
        return MathF.Max(0f, Vector3.Dot(wo.Wo, h)) / (MathF.PI * ax * ay * d * d * MathF.Max(1e-7f, wo.Wo.Z) * (1f + wo.GgxLambda));
    }
}
