using System.Numerics;
using Kiln.Scattering.Albedo;
using Kiln.Scattering.Interfaces;

namespace Kiln.Scattering.Lobes;

/// <summary>The light that bounces between the facets of rough metal and comes out in the end (Kulla and Conty 2017).</summary>
internal readonly struct MetalCompensation
{
    private readonly Vector3 many;
    private readonly float weight,
        width;
    private readonly Distribution distribution;

    public MetalCompensation(in Microfacets facets, in MetalReflectance metal, float metalShare, float reflectionAlbedo)
    {
        (distribution, width) = (facets.Distribution, facets.MeanWidth);
        var average = AlbedoTables.Average(distribution, width);
        var reflectance = metal.Average;
        var returned = reflectance * reflectance * average / (Vector3.One - reflectance * (1f - average));
        many = returned / (MathF.PI * MathF.Max(1e-4f, 1f - average));
        Albedo = Directions.Mean(returned) * (1f - reflectionAlbedo);
        weight = metalShare * (1f - reflectionAlbedo);
    }

    /// <summary>Of the metal alone, its share left aside.</summary>
    public float Albedo { get; }

    public Vector3 Evaluate(Vector3 wi) =>
        many == Vector3.Zero ? default : many * (weight * (1f - AlbedoTables.Reflection(distribution, wi.Z, width)) * wi.Z);
}
