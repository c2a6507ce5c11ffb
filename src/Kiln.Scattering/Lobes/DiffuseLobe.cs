namespace Kiln.Scattering.Lobes;

/// <summary>
/// Light from below the skin, and what rough metal sends back after several facets: both are wide, and are sampled by the cosine.
/// </summary>
internal readonly struct DiffuseLobe(DiffuseModel model, in Wide3 colour, Wide roughness, Wide share, in Wide3 underInterface)
{
    private readonly Wide3 colour = colour,
        underInterface = underInterface;

    public Wide3 Evaluate(in Wide3 wo, in Wide3 wi) => Lobe(wo, wi) * underInterface * (share * wi.Z);

    /// <summary>Whether any of the eight sends light from below its skin.</summary>
    public bool IsThere { get; } = Any(Positive(share));

    /// <summary>Albedo without the layers above.</summary>
    public Wide Albedo => share * Wide3.Mean(colour * underInterface);

    private Wide3 Lobe(in Wide3 wo, in Wide3 wi) =>
        model switch
        {
            DiffuseModel.Eon => Diffuse.Eon(colour, roughness, wo, wi),
            // Nothing returns more light than it gets, not even this model.
            DiffuseModel.OrenNayar => Diffuse.OrenNayar(colour, roughness, wo, wi) / Max(Diffuse.OrenNayarMost(roughness), Wide.One),
            _ => Diffuse.Lambert(colour),
        };
}
