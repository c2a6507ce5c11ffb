using System.Numerics;
using Kiln.Scattering.Interfaces;

namespace Kiln.Scattering.Lobes;

/// <summary>Light that goes through the skin: refracted, or straight on as wide as the mirrored lobe.</summary>
/// <param name="straight">Both faces of a thin sheet, or media that hardly differ: a refracting facet cannot be told there.</param>
/// <param name="gain">What light between facets adds to glass (Turquin 2019); 1 for none.</param>
internal readonly struct TransmissionLobe(Vector3 tint, float share, bool straight, float gain)
{
    public bool IsThere => share > 0f;

    /// <summary>What it returns of light from everywhere, where the layers above leave <paramref name="below"/>.</summary>
    public float Albedo(float below, Vector3 underInterface) => below * share * Directions.Mean(tint * underInterface);

    /// <summary>What goes to <paramref name="wi"/> below the surface; the density of <see cref="Sample"/> times its chance.</summary>
    public Vector3 Evaluate(in Microfacets facets, in DielectricInterface skin, Vector3 wi, float chance, out float density)
    {
        density = 0f;
        if (straight)
        {
            var mirrored = wi with { Z = -wi.Z };
            var h = Vector3.Normalize(facets.Wo + mirrored);
            var oh = Vector3.Dot(facets.Wo, h);
            density = facets.MirroredDensity(h, oh, chance);
            return tint * (Vector3.One - skin.Reflectance(oh)) * (share * facets.D(h) * facets.G2(mirrored) / (4f * facets.Wo.Z));
        }
        var facet = Interface.RefractingFacet(facets.Wo, wi, skin.Ior);
        if (facet == Vector3.Zero)
            return default;
        float o = Vector3.Dot(facets.Wo, facet),
            part = Interface.RefractedPart(o, Vector3.Dot(wi, facet), skin.Ior);
        density = chance * facets.Density(facet) * part;
        return tint * (Vector3.One - skin.Loss(o)) * (share * gain * facets.D(facet) * facets.G2(wi) * o / facets.Wo.Z * part);
    }

    /// <summary>A direction below the surface; zero where a facet sends light to the wrong side.</summary>
    public Vector3 Sample(in Microfacets facets, in DielectricInterface skin, Vector2 u)
    {
        if (straight)
            return facets.Mirrored(u) is { Z: > 0f } mirrored ? mirrored with { Z = -mirrored.Z } : default;
        var h = facets.Sample(u);
        return Vector3.Dot(facets.Wo, h) > 0f && Interface.Refract(facets.Wo, h, skin.Ior) is { Z: < 0f } refracted ? refracted : default;
    }
}
