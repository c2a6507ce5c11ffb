using Kiln.Scattering.Interfaces;
using Kiln.Scattering.Lobes;

namespace Kiln.Scattering;

/// <summary>
/// Eight surfaces of layers, each seen from one direction: fibres, a coat, and below them a metal mixed with a dielectric that is matt,
/// lets
/// light through, or both. Each layer is scaled by what those above leave over (albedo scaling, OpenPBR Surface 1.1 "Layering"), so a white
/// surface returns all light and none returns more. Directions are in the shading frame, z along the normal, x along the tangent, pointing
/// away from the surface; wo lies above it. Light that is refracted is not scaled by the squares of the indices: every path that enters a
/// medium leaves it again, where the factors cancel. A lobe that none of the eight has costs nothing. Filled anew for the next eight; one
/// for each thread.
/// </summary>
public sealed class WideSurface
{
    private SurfaceLayers parts;
    private Wide seen;

    /// <summary>The surfaces as they are seen from <paramref name="wo"/>.</summary>
    /// <param name="inside">Where <paramref name="wo"/> lies within the body: only its interface is met there.</param>
    /// <param name="coatFrame">The coats' normals and tangents in the shading frames, the normals on the side of <paramref name="wo"/>;
    /// null
    /// where they follow the base.</param>
    public void Fill(SurfaceModel model, in WideParameters p, in Wide3 wo, Wide inside, in WideFrame? coatFrame = null)
    {
        parts.Fill(model, p, wo, inside, coatFrame);
        seen = Positive(wo.Z);
    }

    /// <summary>Where light may go on below the surface.</summary>
    public Wide IsTransmissive => Positive(parts.Chances.Transmission) | Positive(parts.Chances.Sheet);

    /// <summary>What is left of light that the surface emits below coat and fibres, towards the viewer.</summary>
    public Wide3 EmissionShare => parts.Coat.EmissionShare;

    /// <summary>
    /// Reflectance by itself, for a picture of the surface's colour: what it returns under light from everywhere, without the coat's and
    /// the fibres' own.
    /// </summary>
    public Wide3 Albedo => Wide3.Unit(parts.Metal.At(Wide.One) * parts.MetalShare + parts.DielectricColour);

    /// <summary>
    /// The distribution times the cosine of <paramref name="wi"/>, and the density of <see cref="Sample"/> over solid angle.
    /// </summary>
    public void Evaluate(in Wide3 wi, out WideScatteredLight light, out Wide density)
    {
        light = default;
        density = Wide.Zero;
        var above = Positive(wi.Z) & seen;
        var below = Less(wi.Z, Wide.Zero) & seen & IsTransmissive;
        if (Any(above))
            Reflected(wi, above, ref light, ref density);
        if (Any(below))
            Transmitted(wi, below, ref light, ref density);
    }

    private void Reflected(in Wide3 wi, Wide above, ref WideScatteredLight light, ref Wide density)
    {
        var under = new Wide3(parts.Fuzz.Under);
        var coat = Wide3.Zero;
        if (parts.Fuzz.IsThere)
        {
            coat = parts.Fuzz.Evaluate(wi);
            density = parts.Chances.Fuzz * parts.Fuzz.Density(wi);
        }
        var h = Wide3.Normalize(parts.Facets.Wo + wi);
        if (parts.Coat.IsThere)
        {
            coat += new Wide3(parts.Coat.Evaluate(wi, h, parts.Chances.Coat, out var coatDensity));
            density += coatDensity;
            under *= parts.Coat.ThereAndBack(wi);
        }
        var oh = Max(Wide3.Dot(parts.Facets.Wo, h), Wide.Zero);
        var specular = Wide3.Zero;
        var mirrors = Positive(parts.Chances.Specular) & Positive(oh);
        if (Any(mirrors))
        {
            specular = Wide3.Where(mirrors, parts.Specular.Evaluate(parts.Facets, parts.Skin, wi, h, under));
            density += parts.Facets.MirroredDensity(h, oh, parts.Chances.Specular) & mirrors;
        }
        var wide = Positive(parts.Chances.Diffuse);
        if (Any(wide))
        {
            if (parts.Diffuse.IsThere)
                light.Diffuse = Wide3.Where(above & wide, parts.Diffuse.Evaluate(parts.Facets.Wo, wi) * under);
            if (parts.Compensation.IsThere)
                specular += Wide3.Where(wide, parts.Compensation.Evaluate(wi) * under);
            density += parts.Chances.Diffuse * wi.Z * (1f / MathF.PI);
        }
        (light.Specular, light.Coat) = (Wide3.Where(above, specular), Wide3.Where(above, coat));
        density &= above;
    }

    private void Transmitted(in Wide3 wi, Wide below, ref WideScatteredLight light, ref Wide density)
    {
        var (sent, its) = (Wide3.Zero, Wide.Zero);
        if (parts.Sheet.IsThere)
        {
            sent = parts.Sheet.Evaluate(wi);
            its = SheetLobe.Density(wi, parts.Chances.Sheet);
        }
        if (parts.Transmission.IsThere)
        {
            sent += parts.Transmission.Evaluate(parts.Facets, parts.Skin, wi, parts.Chances.Transmission, out var through);
            its += through;
        }
        light.Transmission = Wide3.Where(below, sent * parts.Coat.OneWay);
        density |= its & below;
    }

    /// <summary>
    /// Proposes a direction; its density comes with <see cref="Evaluate"/>. Zero where a facet sends light to the wrong side: it is lost.
    /// </summary>
    public Wide3 Sample(Wide choice, Wide u, Wide turns)
    {
        ref readonly var chances = ref parts.Chances;
        var left = choice - chances.Specular;
        var open = AtLeast(left, Wide.Zero);
        var result = Bits(open) == 0xff ? Wide3.Zero : parts.Facets.Mirrored(u, turns);
        if (!Any(open))
            return result;
        var cosine = Directions.Cosine(u, turns);
        result = Wide3.Select(open, cosine, result);
        Take(ref left, ref open, chances.Diffuse);
        if (parts.Coat.IsThere)
        {
            var before = open;
            Take(ref left, ref open, chances.Coat);
            result = Wide3.Select(Without(before, open), parts.Coat.Sample(u, turns), result);
        }
        if (parts.Fuzz.IsThere)
        {
            var before = open;
            Take(ref left, ref open, chances.Fuzz);
            result = Wide3.Select(Without(before, open), parts.Fuzz.Sample(u, turns), result);
        }
        if (parts.Sheet.IsThere)
        {
            var before = open & Positive(chances.Sheet);
            Take(ref left, ref open, chances.Sheet);
            // The last lobe takes what rounding leaves over.
            var taken = before & (Less(left, Wide.Zero) | AtMost(chances.Transmission, Wide.Zero));
            open = Without(open, taken);
            result = Wide3.Select(taken, -cosine, result);
        }
        if (parts.Transmission.IsThere)
        {
            var rest = open & Positive(chances.Transmission);
            result = Wide3.Select(rest, parts.Transmission.Sample(parts.Facets, parts.Skin, u, turns), result);
        }
        return result;
    }

    private static void Take(ref Wide left, ref Wide open, Wide chance)
    {
        left -= chance;
        open &= AtLeast(left, Wide.Zero);
    }
}
