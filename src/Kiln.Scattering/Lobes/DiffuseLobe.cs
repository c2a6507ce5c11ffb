using System.Numerics;
using Kiln.Scattering.Interfaces;

namespace Kiln.Scattering.Lobes;

/// <summary>
/// Light from below the skin, and what rough metal sends back after several facets: both are wide, and are sampled by the cosine.
/// </summary>
internal readonly struct DiffuseLobe(DiffuseModel model, Vector3 colour, float roughness, float share, Vector3 underInterface)
{
    public Vector3 Evaluate(Vector3 wo, Vector3 wi) => share > 0f ? Lobe(wo, wi) * (share * wi.Z) * underInterface : default;

    /// <summary>Albedo without the layers above.</summary>
    public float Albedo => share * Directions.Mean(colour * underInterface);

    private Vector3 Lobe(Vector3 wo, Vector3 wi) =>
        model switch
        {
            DiffuseModel.Eon => Diffuse.Eon(colour, roughness, wo, wi),
            // Nothing returns more light than it gets, not even this model.
            DiffuseModel.OrenNayar => Diffuse.OrenNayar(colour, roughness, wo, wi) / MathF.Max(1f, Diffuse.OrenNayarMost(roughness)),
            _ => Diffuse.Lambert(colour),
        };
}
