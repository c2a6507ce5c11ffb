using System.Numerics;
using Kiln.Scattering.Interfaces;

namespace Kiln.Scattering;

/// <summary>How the slopes of microfacets are distributed.</summary>
public enum Distribution
{
    Ggx,
    Beckmann,
}

/// <summary>The microfacets of one surface: <see cref="WideFacets"/> with the same in every lane.</summary>
public readonly struct Facets
{
    /// <summary>Widths below this are rendered as this: a lobe must stay wider than single precision can resolve.</summary>
    public const float LeastWidth = 0.0004f;

    private readonly WideFacets facets;

    /// <param name="width">Root-mean-square slope scale (alpha), 0..1.</param>
    /// <param name="anisotropy">0 (round) to 1; stretched as OpenPBR Surface 1.1 does: αx² + αy² = 2 width², αy = (1 − anisotropy)
    /// αx.</param>
    public Facets(float width, float anisotropy = 0, Distribution distribution = Distribution.Ggx) =>
        facets = new(Of(width), Of(anisotropy), distribution);

    /// <summary>The width of a round lobe that is about as wide.</summary>
    public float MeanWidth => facets.MeanWidth.ToScalar();

    /// <summary>Density of facets with the normal <paramref name="h"/>, per area and solid angle.</summary>
    public float D(Vector3 h) => facets.D(Wide3.Of(h)).ToScalar();

    /// <summary>Share of facets seen from <paramref name="w"/>.</summary>
    public float G1(Vector3 w) => facets.G1(Wide3.Of(w)).ToScalar();

    /// <summary>Share seen from both sides; the second may lie below the surface.</summary>
    public float G2(Vector3 wo, Vector3 wi)
    {
        var from = Wide3.Of(wo);
        return facets.G2(facets.From(from), Wide3.Of(wi)).ToScalar();
    }

    /// <summary>A facet's normal as seen from <paramref name="wo"/>; its density is <see cref="Density"/>.</summary>
    public Vector3 Sample(Vector3 wo, Vector2 u) => facets.Sample(Wide3.Of(wo), Of(u.X), Of(u.Y))[0];

    /// <summary>Density over normals of <see cref="Sample"/>.</summary>
    public float Density(Vector3 wo, Vector3 h)
    {
        var from = Wide3.Of(wo);
        return facets.Density(from, facets.From(from), Wide3.Of(h)).ToScalar();
    }
}
