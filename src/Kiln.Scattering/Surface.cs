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
public struct Surface
{
    private SurfaceLayers parts;

    /// <summary>The surface as it is seen from <paramref name="wo"/>.</summary>
    /// <param name="inside">Whether <paramref name="wo"/> lies within the body: only its interface is met there.</param>
    /// <param name="coatFrame">The coat's normal and tangent in the shading frame, its normal on the side of <paramref name="wo"/>; null
    /// where it follows the base.</param>
    public static Surface Of(SurfaceModel model, in SurfaceParameters p, Vector3 wo, bool inside = false, Frame? coatFrame = null)
    {
        Make(out var surface, model, p, wo, inside, coatFrame);
        return surface;
    }

    /// <summary>The same where it will lie: it is several hundred bytes, and a path makes one at every place that it meets.</summary>
    public static void Make(
        out Surface surface,
        SurfaceModel model,
        in SurfaceParameters p,
        Vector3 wo,
        bool inside = false,
        Frame? coatFrame = null
    )
    {
        surface = default;
        if (inside)
            surface.parts.FillInside(model, p, wo);
        else
            surface.parts.FillOutside(model, p, wo, coatFrame);
    }

    /// <summary>Whether light may go on below the surface.</summary>
    public readonly bool IsTransmissive => parts.Chances.Transmission > 0f || parts.Chances.Sheet > 0f;

    /// <summary>What is left of light that the surface emits below coat and fibres, towards the viewer.</summary>
    public readonly Vector3 EmissionShare => parts.Coat.EmissionShare;

    /// <summary>
    /// Reflectance by itself, for a picture of the surface's colour: what it returns under light from everywhere, without the coat's and
    /// the fibres' own.
    /// </summary>
    public readonly Vector3 Albedo =>
        Vector3.Clamp(parts.MetalShare * parts.Metal.At(1f) + parts.DielectricColour, Vector3.Zero, Vector3.One);

    /// <summary>
    /// The distribution times the cosine of <paramref name="wi"/>, and the density of <see cref="Sample"/> over solid angle.
    /// </summary>
    public readonly ScatteredLight Evaluate(Vector3 wi, out float density)
    {
        density = 0f;
        if (parts.Facets.Wo.Z <= 0f || wi.Z == 0f)
            return default;
        return wi.Z > 0f ? Reflected(wi, ref density)
            : IsTransmissive ? Transmitted(wi, ref density)
            : default;
    }

    private readonly ScatteredLight Reflected(Vector3 wi, ref float density)
    {
        var result = default(ScatteredLight);
        var below = new Vector3(parts.Fuzz.Under);
        if (parts.Fuzz.IsThere)
        {
            result.Coat += parts.Fuzz.Evaluate(wi);
            density += parts.Chances.Fuzz * parts.Fuzz.Density(wi);
        }
        if (parts.Coat.IsThere)
        {
            result.Coat += parts.Coat.Evaluate(wi, parts.Chances.Coat, out var coatDensity);
            density += coatDensity;
            below *= parts.Coat.ThereAndBack(wi);
        }
        var h = Vector3.Normalize(parts.Facets.Wo + wi);
        var oh = MathF.Max(0f, Vector3.Dot(parts.Facets.Wo, h));
        if (parts.Chances.Specular > 0f && oh > 0f)
        {
            result.Specular += parts.Specular.Evaluate(parts.Facets, parts.Skin, wi, h, below);
            density += parts.Facets.MirroredDensity(h, oh, parts.Chances.Specular);
        }
        if (parts.Chances.Diffuse > 0f)
        {
            result.Diffuse += parts.Diffuse.Evaluate(parts.Facets.Wo, wi) * below;
            result.Specular += parts.Compensation.Evaluate(wi) * below;
            density += parts.Chances.Diffuse * wi.Z / MathF.PI;
        }
        return result;
    }

    private readonly ScatteredLight Transmitted(Vector3 wi, ref float density)
    {
        var result = default(ScatteredLight);
        var below = parts.Coat.OneWay;
        if (parts.Sheet.IsThere)
        {
            result.Transmission += parts.Sheet.Evaluate(wi) * below;
            density += SheetLobe.Density(wi, parts.Chances.Sheet);
        }
        if (parts.Transmission.IsThere)
        {
            result.Transmission +=
                parts.Transmission.Evaluate(parts.Facets, parts.Skin, wi, parts.Chances.Transmission, out var through) * below;
            density += through;
        }
        return result;
    }

    /// <summary>
    /// Proposes a direction; its density comes with <see cref="Evaluate"/>. Zero where a facet sends light to the wrong side: it is lost.
    /// </summary>
    public readonly Vector3 Sample(float choice, Vector2 u)
    {
        if ((choice -= parts.Chances.Specular) < 0f)
            return parts.Facets.Mirrored(u);
        if ((choice -= parts.Chances.Diffuse) < 0f)
            return Cosine(u);
        if ((choice -= parts.Chances.Coat) < 0f)
            return parts.Coat.Sample(u);
        if ((choice -= parts.Chances.Fuzz) < 0f)
            return parts.Fuzz.Sample(u);
        if (parts.Chances.Sheet > 0f && ((choice -= parts.Chances.Sheet) < 0f || parts.Chances.Transmission <= 0f))
            return SheetLobe.Sample(u);
        return parts.Chances.Transmission <= 0f ? Cosine(u) : parts.Transmission.Sample(parts.Facets, parts.Skin, u);
    }
}
