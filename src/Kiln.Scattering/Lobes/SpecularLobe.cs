using Kiln.Scattering.Interfaces;

namespace Kiln.Scattering.Lobes;

/// <summary>Light that facets mirror: metal and dielectric, each by its share, sampled as one.</summary>
internal readonly struct SpecularLobe(in MetalReflectance metal, Wide metalShare, Wide dielectricShare, Wide glass)
{
    private readonly MetalReflectance metal = metal;
    private readonly bool hasMetal = Any(Positive(metalShare)),
        hasDielectric = Any(Positive(dielectricShare));

    /// <param name="h">The facet between the two directions.</param>
    /// <param name="below">What the layers above leave.</param>
    public Wide3 Evaluate(in Microfacets facets, in DielectricInterface skin, in Wide3 wi, in Wide3 h, in Wide3 below)
    {
        var oh = Wide3.Dot(facets.Wo, h);
        var lobe = facets.D(h) * facets.G2(wi) / (4f * facets.Wo.Z);
        var sum = Wide3.Zero;
        if (hasMetal)
            sum = metal.At(oh) * (metalShare * lobe);
        if (hasDielectric)
            sum += skin.Reflectance(oh) * (dielectricShare * lobe * glass);
        return Wide3.Where(Positive(lobe), sum * below);
    }
}
