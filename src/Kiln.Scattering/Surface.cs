using System.Numerics;
using Kiln.Scattering.Interfaces;
using Kiln.Scattering.Lobes;
using static Kiln.Scattering.Interfaces.Directions;

namespace Kiln.Scattering;

/// <summary>
/// A surface of layers, seen from one direction: fibres, a coat, and below them a metal mixed with a dielectric that is matt, lets light
/// through, or both. Each layer is scaled by what those above leave over (albedo scaling, OpenPBR Surface 1.1 "Layering"), so a white
/// surface returns all light and none returns more. Directions are in the shading frame, z along the normal, x along the tangent, pointing
/// away from the surface; wo lies above it. Light that is refracted is not scaled by the squares of the indices: every path that enters a
/// medium leaves it again, where the factors cancel.
/// </summary>
public readonly struct Surface
{
    private readonly Microfacets facets;
    private readonly DielectricInterface skin;
    private readonly MetalReflectance metal;
    private readonly float metalShare;
    private readonly Vector3 dielectricColour;

    private readonly FuzzLobe fuzz;
    private readonly CoatLobe coat;
    private readonly SpecularLobe specular;
    private readonly DiffuseLobe diffuse;
    private readonly MetalCompensation compensation;
    private readonly SheetLobe sheet;
    private readonly TransmissionLobe transmission;
    private readonly LobeChances chances;

    /// <param name="parts">What the layers are made of.</param>
    private Surface(in SurfaceLayers parts)
    {
        (facets, skin, metal, metalShare) = (parts.Facets, parts.Skin, parts.Metal, parts.MetalShare);
        dielectricColour = parts.DielectricColour;
        (fuzz, coat, specular, diffuse) = (parts.Fuzz, parts.Coat, parts.Specular, parts.Diffuse);
        (compensation, sheet, transmission, chances) = (parts.Compensation, parts.Sheet, parts.Transmission, parts.Chances);
    }

    /// <summary>The surface as it is seen from <paramref name="wo"/>.</summary>
    /// <param name="inside">Whether <paramref name="wo"/> lies within the body: only its interface is met there.</param>
    /// <param name="coatFrame">The coat's normal and tangent in the shading frame, its normal on the side of <paramref name="wo"/>; null
    /// where it follows the base.</param>
    public static Surface Of(SurfaceModel model, in SurfaceParameters p, Vector3 wo, bool inside = false, Frame? coatFrame = null) =>
        new(inside ? SurfaceLayers.Inside(model, p, wo) : SurfaceLayers.Outside(model, p, wo, coatFrame));

    /// <summary>Whether light may go on below the surface.</summary>
    public bool IsTransmissive => chances.Transmission > 0f || chances.Sheet > 0f;

    /// <summary>What is left of light that the surface emits below coat and fibres, towards the viewer.</summary>
    public Vector3 EmissionShare => coat.EmissionShare;

    /// <summary>
    /// Reflectance by itself, for a picture of the surface's colour: what it returns under light from everywhere, without the coat's and
    /// the fibres' own.
    /// </summary>
    public Vector3 Albedo => Vector3.Clamp(metalShare * metal.At(1f) + dielectricColour, Vector3.Zero, Vector3.One);

    /// <summary>
    /// The distribution times the cosine of <paramref name="wi"/>, and the density of <see cref="Sample"/> over solid angle.
    /// </summary>
    public ScatteredLight Evaluate(Vector3 wi, out float density)
    {
        density = 0f;
        if (facets.Wo.Z <= 0f || wi.Z == 0f)
            return default;
        return wi.Z > 0f ? Reflected(wi, ref density)
            : IsTransmissive ? Transmitted(wi, ref density)
            : default;
    }

    private ScatteredLight Reflected(Vector3 wi, ref float density)
    {
        var result = default(ScatteredLight);
        var below = new Vector3(fuzz.Under);
        if (fuzz.IsThere)
        {
            result.Coat += fuzz.Evaluate(wi);
            density += chances.Fuzz * fuzz.Density(wi);
        }
        if (coat.IsThere)
        {
            result.Coat += coat.Evaluate(wi, chances.Coat, out var coatDensity);
            density += coatDensity;
            below *= coat.ThereAndBack(wi);
        }
        var h = Vector3.Normalize(facets.Wo + wi);
        var oh = MathF.Max(0f, Vector3.Dot(facets.Wo, h));
        if (chances.Specular > 0f && oh > 0f)
        {
            result.Specular += specular.Evaluate(facets, skin, wi, h, below);
            density += facets.MirroredDensity(h, oh, chances.Specular);
        }
        if (chances.Diffuse > 0f)
        {
            result.Diffuse += diffuse.Evaluate(facets.Wo, wi) * below;
            result.Specular += compensation.Evaluate(wi) * below;
            density += chances.Diffuse * wi.Z / MathF.PI;
        }
        return result;
    }

    private ScatteredLight Transmitted(Vector3 wi, ref float density)
    {
        var result = default(ScatteredLight);
        var below = coat.OneWay;
        if (sheet.IsThere)
        {
            result.Transmission += sheet.Evaluate(wi) * below;
            density += SheetLobe.Density(wi, chances.Sheet);
        }
        if (transmission.IsThere)
        {
            result.Transmission += transmission.Evaluate(facets, skin, wi, chances.Transmission, out var through) * below;
            density += through;
        }
        return result;
    }

    /// <summary>
    /// Proposes a direction; its density comes with <see cref="Evaluate"/>. Zero where a facet sends light to the wrong side: it is lost.
    /// </summary>
    public Vector3 Sample(float choice, Vector2 u)
    {
        if ((choice -= chances.Specular) < 0f)
            return facets.Mirrored(u);
        if ((choice -= chances.Diffuse) < 0f)
            return Cosine(u);
        if ((choice -= chances.Coat) < 0f)
            return coat.Sample(u);
        if ((choice -= chances.Fuzz) < 0f)
            return fuzz.Sample(u);
        if (chances.Sheet > 0f && ((choice -= chances.Sheet) < 0f || chances.Transmission <= 0f))
            return SheetLobe.Sample(u);
        return chances.Transmission <= 0f ? Cosine(u) : transmission.Sample(facets, skin, u);
    }
}
