using System.Numerics;
using Kiln.Scattering.Interfaces;

namespace Kiln.Scattering.Lobes;

/// <summary>Light that facets mirror: metal and dielectric, each by its share, sampled as one.</summary>
internal readonly struct SpecularLobe(in MetalReflectance metal, float metalShare, float dielectricShare, float glass)
{
    private readonly MetalReflectance metal = metal;

    /// <param name="h">The facet between the two directions.</param>
    /// <param name="below">What the layers above leave.</param>
    public Vector3 Evaluate(in Microfacets facets, in DielectricInterface skin, Vector3 wi, Vector3 h, Vector3 below)
    {
        var oh = Vector3.Dot(facets.Wo, h);
        var lobe = facets.D(h) * facets.G2(wi) / (4f * facets.Wo.Z);
        var sum = Vector3.Zero;
        if (lobe > 0f)
        {
            if (metalShare > 0f)
                sum += metal.At(oh) * (metalShare * lobe) * below;
            if (dielectricShare > 0f)
                sum += skin.Reflectance(oh) * (dielectricShare * lobe * glass) * below;
        }
        return sum;
    }
}
