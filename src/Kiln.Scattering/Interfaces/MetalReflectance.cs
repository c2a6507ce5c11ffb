using System.Numerics;

namespace Kiln.Scattering.Interfaces;

/// <summary>What a metal's facets reflect.</summary>
internal readonly struct MetalReflectance(MetalModel model, Vector3 colour, Vector3 edge, in Film film)
{
    private readonly Film film = film;

    public Vector3 At(float cos)
    {
        var plain = model switch
        {
            MetalModel.F82 => Fresnel.F82(cos, colour, edge),
            MetalModel.Conductor => Fresnel.Conductor(cos, colour, edge),
            _ => Fresnel.Schlick(cos, colour, Vector3.One),
        };
        return film.IsThere
            ? Vector3.Lerp(plain, film.OverMetal(cos, colour, model == MetalModel.F82 ? edge : Vector3.One), film.Weight)
            : plain;
    }

    /// <summary>The mean over all angles, each as often as a facet lit from everywhere meets it.</summary>
    public Vector3 Average =>
        model switch
        {
            MetalModel.F82 => Fresnel.F82Average(colour, edge),
            MetalModel.Conductor => Fresnel.ConductorAverage(colour, edge),
            _ => colour + (Vector3.One - colour) / 21f,
        };
}
