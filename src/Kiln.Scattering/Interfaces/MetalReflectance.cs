namespace Kiln.Scattering.Interfaces;

/// <summary>What a metal's facets reflect.</summary>
internal readonly struct MetalReflectance(MetalModel model, in Wide3 colour, in Wide3 edge, in Film film)
{
    private readonly Wide3 colour = colour,
        edge = edge;
    private readonly Film film = film;

    public Wide3 At(Wide cos)
    {
        var plain = model switch
        {
            MetalModel.F82 => Fresnel.F82(cos, colour, edge),
            MetalModel.Conductor => Fresnel.Conductor(cos, colour, edge),
            _ => Fresnel.Schlick(cos, colour, Wide3.One),
        };
        return film.IsThere
            ? Wide3.Lerp(plain, film.OverMetal(cos, colour, model == MetalModel.F82 ? edge : Wide3.One), film.Weight)
            : plain;
    }

    /// <summary>The mean over all angles, each as often as a facet lit from everywhere meets it.</summary>
    public Wide3 Average =>
        model switch
        {
            MetalModel.F82 => Fresnel.F82Average(colour, edge),
            MetalModel.Conductor => Fresnel.ConductorAverage(colour, edge),
            _ => colour + (Wide3.One - colour) * (1f / 21f),
        };
}
