namespace Kiln.Scattering.Interfaces;

/// <summary>
/// Microfacets of eight surfaces, each in a frame whose z axis is the normal and whose x axis is the tangent, with height-correlated Smith
/// masking. Equations: Walter et al. 2007 (25 to 35) for Beckmann and GGX; Heitz 2014 (85, 86, 99) for unequal widths and
/// masking-shadowing; Dupuy and Benyoub 2023, listing 1, for the visible normals.
/// </summary>
internal readonly struct WideFacets
{
    private readonly Wide ax,
        ay,
        perX,
        perY,
        perArea;
    private readonly bool beckmann;

    /// <param name="width">Root-mean-square slope scale (alpha), 0..1.</param>
    /// <param name="anisotropy">0 (round) to 1.</param>
    public WideFacets(Wide width, Wide anisotropy, Distribution distribution)
    {
        beckmann = distribution == Distribution.Beckmann;
        width = Clamp(width, Of(Facets.LeastWidth), Wide.One);
        (ax, ay, MeanWidth) = (width, width, width);
        if (Any(Positive(anisotropy)))
        {
            var squeeze = Wide.One - Unit(anisotropy);
            var stretched = Positive(anisotropy);
            ax = Select(stretched, Min(width * Sqrt(Of(2f) / (Wide.One + squeeze * squeeze)), Wide.One), width);
            ay = Select(stretched, Max(squeeze * ax, Of(Facets.LeastWidth)), width);
            MeanWidth = Select(stretched, Sqrt(ax * ay), width);
        }
        (perX, perY) = (Wide.One / ax, Wide.One / ay);
        perArea = perX * perY * (1f / MathF.PI);
    }

    /// <summary>The width of a round lobe that is about as wide.</summary>
    public Wide MeanWidth { get; }

    /// <summary>Density of facets with the normal <paramref name="h"/>, per area and solid angle.</summary>
    public Wide D(in Wide3 h)
    {
        Wide x = h.X * perX,
            y = h.Y * perY,
            z2 = h.Z * h.Z;
        if (beckmann)
            return Exp(Negative(x * x + y * y) / z2) * perArea / (z2 * z2) & Positive(h.Z);
        // 1 − z² is taken from x and y, which are exact where a lobe is narrow.
        var d = x * x + y * y + z2;
        return perArea / (d * d) & Positive(h.Z);
    }

    /// <summary>Squared tangent of the angle to the normal, times the width that way.</summary>
    private Wide Stretched(in Wide3 w)
    {
        Wide x = ax * w.X,
            y = ay * w.Y;
        return (x * x + y * y) / Max(w.Z * w.Z, Of(1e-14f));
    }

    private static Wide GgxLambda(Wide stretched) => 0.5f * (Sqrt(Wide.One + stretched) - Wide.One);

    /// <summary>Walter et al. 2007, the rational fit below equation 27, as Λ.</summary>
    private static Wide BeckmannLambda(Wide stretched)
    {
        var a = Wide.One / Sqrt(Max(stretched, Of(1e-14f)));
        var fit = (Wide.One - 1.259f * a + 0.396f * a * a) / (3.535f * a + 2.181f * a * a);
        return fit & Less(a, Of(1.6f));
    }

    private Wide Lambda(in Wide3 w) => beckmann ? BeckmannLambda(Stretched(w)) : GgxLambda(Stretched(w));

    /// <summary>Share of facets seen from <paramref name="w"/>.</summary>
    public Wide G1(in Wide3 w) => Wide.One / (Wide.One + Lambda(w));

    /// <summary>What <see cref="G2"/> and <see cref="Density"/> need of the viewer's direction, worked out once: Λ, and Λ of GGX.</summary>
    public (Wide Lambda, Wide GgxLambda) From(in Wide3 wo)
    {
        var stretched = Stretched(wo);
        var ggx = GgxLambda(stretched);
        return (beckmann ? BeckmannLambda(stretched) : ggx, ggx);
    }

    /// <summary>
    /// Share seen from both sides; the second may lie below the surface, then the two are hidden independently (Heitz 2014, 5.4: a Beta
    /// function there, approximated here by its separable bound).
    /// </summary>
    public Wide G2((Wide Lambda, Wide GgxLambda) viewed, in Wide3 wi)
    {
        var other = Lambda(wi);
        var apart = (Wide.One + viewed.Lambda) * (Wide.One + other);
        return Wide.One / Select(Less(wi.Z, Wide.Zero), apart, Wide.One + viewed.Lambda + other);
    }

    /// <summary>
    /// A facet's normal as seen from <paramref name="wo"/>; its density is <see cref="Density"/>. Beckmann's are proposed by the visible
    /// normals of GGX of the same widths, whose tail is longer: at most 4/e times too rarely.
    /// </summary>
    public Wide3 Sample(in Wide3 wo, Wide u, Wide turns)
    {
        var (sin, cos) = SinCosTurns(turns);
        var v = Wide3.Normalize(new Wide3(ax * wo.X, ay * wo.Y, wo.Z));
        var z = (Wide.One - u) * (Wide.One + v.Z) - v.Z;
        var r = Sqrt(Unit(Wide.One - z * z));
        return Wide3.Normalize(new Wide3(ax * (r * cos + v.X), ay * (r * sin + v.Y), Max(z + v.Z, Of(1e-7f))));
    }

    /// <summary>Density over normals of <see cref="Sample"/>.</summary>
    public Wide Density(in Wide3 wo, (Wide Lambda, Wide GgxLambda) viewed, in Wide3 h)
    {
        Wide x = h.X * perX,
            y = h.Y * perY,
            d = x * x + y * y + h.Z * h.Z;
        var seen = Max(Wide3.Dot(wo, h), Wide.Zero) * perArea;
        return seen / (d * d * Max(wo.Z, Of(1e-7f)) * (Wide.One + viewed.GgxLambda)) & Positive(h.Z);
    }
}
