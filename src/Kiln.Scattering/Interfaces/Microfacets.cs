namespace Kiln.Scattering.Interfaces;

/// <summary>The facets of base metal and dielectric, seen from one direction: what the lobes off and through them share.</summary>
internal readonly struct Microfacets
{
    private readonly WideFacets facets;
    private readonly (Wide Lambda, Wide GgxLambda) viewed;

    public Microfacets(in WideParameters p, Distribution distribution, in Wide3 wo)
    {
        Wo = wo;
        Distribution = distribution;
        facets = new(p.Width, p.Anisotropy, distribution);
        viewed = facets.From(wo);
    }

    public Wide3 Wo { get; }

    public Distribution Distribution { get; }

    /// <summary>The width of a round lobe that is about as wide.</summary>
    public Wide MeanWidth => facets.MeanWidth;

    public Wide D(in Wide3 h) => facets.D(h);

    public Wide G2(in Wide3 wi) => facets.G2(viewed, wi);

    /// <summary>Density over normals of <see cref="Sample"/>.</summary>
    public Wide Density(in Wide3 h) => facets.Density(Wo, viewed, h);

    /// <summary>Density over mirrored directions, times the chance that one is proposed.</summary>
    public Wide MirroredDensity(in Wide3 h, Wide oh, Wide chance) => chance * Density(h) / Max(4f * oh, Of(1e-7f));

    public Wide3 Sample(Wide u, Wide turns) => facets.Sample(Wo, u, turns);

    public Wide3 Mirror(in Wide3 h) => h * (2f * Wide3.Dot(Wo, h)) - Wo;

    /// <summary>A mirrored direction; zero where it would go into the surface.</summary>
    public Wide3 Mirrored(Wide u, Wide turns) => Directions.Above(Mirror(Sample(u, turns)));
}
