using Kiln.Scattering.Albedo;
using Kiln.Scattering.Interfaces;

namespace Kiln.Scattering.Lobes;

/// <summary>The light that bounces between the facets of rough metal and comes out in the end (Kulla and Conty 2017).</summary>
internal readonly struct MetalCompensation
{
    private readonly Wide3 many;
    private readonly Wide weight,
        width;
    private readonly Distribution distribution;

    public MetalCompensation(in Microfacets facets, in MetalReflectance metal, Wide metalShare, Wide reflectionAlbedo)
    {
        IsThere = true;
        (distribution, width) = (facets.Distribution, facets.MeanWidth);
        var average = AlbedoTables.Average(distribution, width);
        var lost = Wide.One - average;
        var reflectance = metal.Average;
        var returned = reflectance * reflectance * average / (Wide3.One - reflectance * lost);
        many = returned / (Max(lost, Of(1e-4f)) * MathF.PI);
        Albedo = Wide3.Mean(returned) * (Wide.One - reflectionAlbedo);
        weight = metalShare * (Wide.One - reflectionAlbedo);
    }

    /// <summary>Whether any of the eight is a metal that is compensated.</summary>
    public bool IsThere { get; }

    /// <summary>Of the metal alone, its share left aside.</summary>
    public Wide Albedo { get; }

    public Wide3 Evaluate(in Wide3 wi) => many * (weight * (Wide.One - AlbedoTables.Reflection(distribution, wi.Z, width)) * wi.Z);
}
