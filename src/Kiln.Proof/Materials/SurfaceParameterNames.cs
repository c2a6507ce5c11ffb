using System.Numerics;
using Kiln.Scattering;

namespace Kiln.Proof.Materials;

/// <summary>
/// The names by which a profile's scattering formulas give the parameters of a surface. "normal", "coatNormal", "tangent" and "coatTangent"
/// are directions and no parameters.
/// </summary>
public static class SurfaceParameterNames
{
    public delegate void Setter(ref SurfaceParameters p, Vector3 value);

    public delegate void WideSetter(ref WideParameters p, in Wide3 value);

    public static readonly IReadOnlyDictionary<string, Setter> All = new Dictionary<string, Setter>
    {
        ["baseColour"] = (ref p, v) => p.BaseColour = v,
        ["diffuseRoughness"] = (ref p, v) => p.DiffuseRoughness = v.X,
        ["metalness"] = (ref p, v) => p.Metalness = v.X,
        ["width"] = (ref p, v) => p.Width = v.X,
        ["anisotropy"] = (ref p, v) => p.Anisotropy = v.X,
        ["ior"] = (ref p, v) => p.Ior = v.X,
        ["specularWeight"] = (ref p, v) => p.SpecularWeight = v.X,
        ["specularColour"] = (ref p, v) => p.SpecularColour = v,
        ["edgeColour"] = (ref p, v) => p.EdgeColour = v,
        ["reflectanceAsColour"] = (ref p, v) => p.ReflectanceAsColour = v.X,
        ["transmission"] = (ref p, v) => p.Transmission = v.X,
        ["transmissionColour"] = (ref p, v) => p.TransmissionColour = v,
        ["transmissionDepth"] = (ref p, v) => p.TransmissionDepth = v.X,
        ["dispersion"] = (ref p, v) => p.Dispersion = v.X,
        ["thinWalled"] = (ref p, v) => p.ThinWalled = v.X,
        ["subsurface"] = (ref p, v) => p.Subsurface = v.X,
        ["subsurfaceColour"] = (ref p, v) => p.SubsurfaceColour = v,
        ["coatWeight"] = (ref p, v) => p.CoatWeight = v.X,
        ["coatColour"] = (ref p, v) => p.CoatColour = v,
        ["coatWidth"] = (ref p, v) => p.CoatWidth = v.X,
        ["coatAnisotropy"] = (ref p, v) => p.CoatAnisotropy = v.X,
        ["coatIor"] = (ref p, v) => p.CoatIor = v.X,
        ["coatDarkening"] = (ref p, v) => p.CoatDarkening = v.X,
        ["fuzzWeight"] = (ref p, v) => p.FuzzWeight = v.X,
        ["fuzzColour"] = (ref p, v) => p.FuzzColour = v,
        ["fuzzRoughness"] = (ref p, v) => p.FuzzRoughness = v.X,
        ["filmWeight"] = (ref p, v) => p.FilmWeight = v.X,
        ["filmThickness"] = (ref p, v) => p.FilmThickness = v.X,
        ["filmIor"] = (ref p, v) => p.FilmIor = v.X,
        ["emission"] = (ref p, v) => p.Emission = Vector3.Max(Vector3.Zero, v),
        ["opacity"] = (ref p, v) => p.Opacity = v.X,
    };

    /// <summary>The same for eight places.</summary>
    internal static readonly IReadOnlyDictionary<string, WideSetter> Eight = new Dictionary<string, WideSetter>
    {
        ["baseColour"] = (ref p, in v) => p.BaseColour = v,
        ["diffuseRoughness"] = (ref p, in v) => p.DiffuseRoughness = v.X,
        ["metalness"] = (ref p, in v) => p.Metalness = v.X,
        ["width"] = (ref p, in v) => p.Width = v.X,
        ["anisotropy"] = (ref p, in v) => p.Anisotropy = v.X,
        ["ior"] = (ref p, in v) => p.Ior = v.X,
        ["specularWeight"] = (ref p, in v) => p.SpecularWeight = v.X,
        ["specularColour"] = (ref p, in v) => p.SpecularColour = v,
        ["edgeColour"] = (ref p, in v) => p.EdgeColour = v,
        ["reflectanceAsColour"] = (ref p, in v) => p.ReflectanceAsColour = v.X,
        ["transmission"] = (ref p, in v) => p.Transmission = v.X,
        ["transmissionColour"] = (ref p, in v) => p.TransmissionColour = v,
        ["transmissionDepth"] = (ref p, in v) => p.TransmissionDepth = v.X,
        ["dispersion"] = (ref p, in v) => p.Dispersion = v.X,
        ["thinWalled"] = (ref p, in v) => p.ThinWalled = v.X,
        ["subsurface"] = (ref p, in v) => p.Subsurface = v.X,
        ["subsurfaceColour"] = (ref p, in v) => p.SubsurfaceColour = v,
        ["coatWeight"] = (ref p, in v) => p.CoatWeight = v.X,
        ["coatColour"] = (ref p, in v) => p.CoatColour = v,
        ["coatWidth"] = (ref p, in v) => p.CoatWidth = v.X,
        ["coatAnisotropy"] = (ref p, in v) => p.CoatAnisotropy = v.X,
        ["coatIor"] = (ref p, in v) => p.CoatIor = v.X,
        ["coatDarkening"] = (ref p, in v) => p.CoatDarkening = v.X,
        ["fuzzWeight"] = (ref p, in v) => p.FuzzWeight = v.X,
        ["fuzzColour"] = (ref p, in v) => p.FuzzColour = v,
        ["fuzzRoughness"] = (ref p, in v) => p.FuzzRoughness = v.X,
        ["filmWeight"] = (ref p, in v) => p.FilmWeight = v.X,
        ["filmThickness"] = (ref p, in v) => p.FilmThickness = v.X,
        ["filmIor"] = (ref p, in v) => p.FilmIor = v.X,
        ["emission"] = (ref p, in v) => p.Emission = Wide3.Max(v, Wide3.Zero),
        ["opacity"] = (ref p, in v) => p.Opacity = v.X,
    };
}
