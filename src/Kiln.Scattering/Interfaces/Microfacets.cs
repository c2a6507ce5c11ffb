using System.Numerics;

namespace Kiln.Scattering.Interfaces;

/// <summary>The facets of base metal and dielectric, seen from one direction: what the lobes off and through them share.</summary>
internal readonly struct Microfacets
{
    private readonly Facets facets;
    private readonly Facets.Viewed viewed;

    public Microfacets(in SurfaceParameters p, Distribution distribution, Vector3 wo)
    {
        Wo = wo;
        Distribution = distribution;
        facets = new(p.Width, p.Anisotropy, distribution);
        viewed = facets.From(wo);
        MeanWidth = facets.MeanWidth;
    }

    public Vector3 Wo { get; }

    public Distribution Distribution { get; }

    /// <summary>The width of a round lobe that is about as wide.</summary>
    public float MeanWidth { get; }

    public float D(Vector3 h) => facets.D(h);

    public float G2(Vector3 wi) => facets.G2(viewed, wi);

    /// <summary>Density over normals of <see cref="Sample"/>.</summary>
    public float Density(Vector3 h) => facets.Density(viewed, h);

    /// <summary>Density over mirrored directions, times the chance that one is proposed.</summary>
    public float MirroredDensity(Vector3 h, float oh, float chance) => chance * Density(h) / MathF.Max(1e-7f, 4f * oh);

    public Vector3 Sample(Vector2 u) => facets.Sample(Wo, u);

    public Vector3 Mirror(Vector3 h) => 2f * Vector3.Dot(Wo, h) * h - Wo;

    /// <summary>A mirrored direction; zero where it would go into the surface.</summary>
    public Vector3 Mirrored(Vector2 u) => Directions.Above(Mirror(Sample(u)));
}
