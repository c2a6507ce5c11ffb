using Kiln.Scattering.Interfaces;

namespace Kiln.Scattering.Lobes;

/// <summary>Light that goes through the skin: refracted, or straight on as wide as the mirrored lobe.</summary>
/// <param name="straight">Both faces of a thin sheet, or media that hardly differ: a refracting facet cannot be told there.</param>
/// <param name="gain">What light between facets adds to glass (Turquin 2019); 1 for none.</param>
internal readonly struct TransmissionLobe(in Wide3 tint, Wide share, Wide straight, Wide gain)
{
    private readonly Wide3 tint = tint;
    private readonly bool hasStraight = Any(straight & Positive(share)),
        hasBent = Any(Without(Positive(share), straight));

    /// <summary>Whether any of the eight lets light through.</summary>
    public bool IsThere => hasStraight || hasBent;

    /// <summary>Where light goes through.</summary>
    public Wide There => Positive(share);

    /// <summary>What it returns of light from everywhere, where the layers above leave <paramref name="below"/>.</summary>
    public Wide Albedo(Wide below, in Wide3 underInterface) => below * share * Wide3.Mean(tint * underInterface);

    /// <summary>What goes to <paramref name="wi"/> below the surface; the density of <see cref="Sample"/> times its chance.</summary>
    public Wide3 Evaluate(in Microfacets facets, in DielectricInterface skin, in Wide3 wi, Wide chance, out Wide density)
    {
        density = Wide.Zero;
        var sent = Wide3.Zero;
        if (hasStraight)
            sent = Straight(facets, skin, wi, chance, out density);
        if (hasBent)
        {
            var bent = Bent(facets, skin, wi, chance, out var bentDensity);
            sent = hasStraight ? Wide3.Select(straight, sent, bent) : bent;
            density = hasStraight ? Select(straight, density, bentDensity) : bentDensity;
        }
        return sent;
    }

    private Wide3 Straight(in Microfacets facets, in DielectricInterface skin, in Wide3 wi, Wide chance, out Wide density)
    {
        var mirrored = new Wide3(wi.X, wi.Y, Negative(wi.Z));
        var h = Wide3.Normalize(facets.Wo + mirrored);
        var oh = Wide3.Dot(facets.Wo, h);
        density = facets.MirroredDensity(h, oh, chance);
        return tint * (Wide3.One - skin.Reflectance(oh)) * (share * facets.D(h) * facets.G2(mirrored) / (4f * facets.Wo.Z));
    }

    private Wide3 Bent(in Microfacets facets, in DielectricInterface skin, in Wide3 wi, Wide chance, out Wide density)
    {
        var facet = Interface.RefractingFacet(facets.Wo, wi, skin.Ior);
        Wide o = Wide3.Dot(facets.Wo, facet),
            part = Interface.RefractedPart(o, Wide3.Dot(wi, facet), skin.Ior);
        var there = Positive(o);
        density = chance * facets.Density(facet) * part & there;
        var sent = tint * (Wide3.One - skin.Loss(o)) * (share * gain * facets.D(facet) * facets.G2(wi) * o / facets.Wo.Z * part);
        return Wide3.Where(there, sent);
    }

    /// <summary>A direction below the surface; zero where a facet sends light to the wrong side.</summary>
    public Wide3 Sample(in Microfacets facets, in DielectricInterface skin, Wide u, Wide turns)
    {
        var h = facets.Sample(u, turns);
        var through = Wide3.Zero;
        if (hasStraight)
        {
            var mirrored = facets.Mirror(h);
            through = Wide3.Where(Positive(mirrored.Z), new(mirrored.X, mirrored.Y, Negative(mirrored.Z)));
        }
        if (hasBent)
        {
            var refracted = Interface.Refract(facets.Wo, h, skin.Ior);
            refracted = Wide3.Where(Positive(Wide3.Dot(facets.Wo, h)) & Less(refracted.Z, Wide.Zero), refracted);
            through = hasStraight ? Wide3.Select(straight, through, refracted) : refracted;
        }
        return through;
    }
}
