using Kiln.Scattering.Albedo;

namespace Kiln.Scattering.Interfaces;

/// <summary>The skin of the dielectric: exact by index, or Schlick between two ends, with the film over it.</summary>
internal readonly struct DielectricInterface
{
    private readonly Wide3 f0,
        f90,
        tint;
    private readonly Film film;
    private readonly Wide inside,
        sheet;
    private readonly bool isExact,
        hasInside,
        hasSheet;

    /// <param name="inside">Where the light comes from within the body.</param>
    /// <param name="sheet">Where both faces of a thin sheet are met.</param>
    public DielectricInterface(SurfaceModel model, in WideParameters p, in Film film, Wide inside, Wide sheet)
    {
        this.film = film;
        (this.inside, this.sheet) = (inside, sheet);
        (hasInside, hasSheet) = (Any(inside), Any(sheet));
        isExact = model.Dielectric == DielectricModel.Exact;
        tint = Wide3.Unit(p.SpecularColour);
        var weight = Unit(p.SpecularWeight);
        // The weight scales the reflectance at normal incidence by changing the index (OpenPBR Surface 1.1, "Specular weight").
        var index = Clamp(Select(WideMath.Finite(p.Ior), p.Ior, Of(1.5f)), Wide.One, Of(3.1f));
        var normal = Fresnel.NormalIncidence(index);
        if (isExact)
        {
            Ior = Fresnel.IndexOf(normal * weight);
            if (hasInside)
                tint = Wide3.Select(inside, Wide3.One, tint);
        }
        else
        {
            // glTF 2.0, KHR_materials_specular: f0 = min(f0(ior)·colour, 1)·weight, f90 = weight. Or both ends as colours.
            var asColour = AtLeast(p.ReflectanceAsColour, Of(0.5f));
            f0 = Wide3.Select(asColour, tint, Wide3.Min(tint * normal, Wide3.One)) * weight;
            f90 = Wide3.Select(asColour, Wide3.Unit(p.EdgeColour), Wide3.One) * weight;
            Ior = index;
        }
        if (hasInside)
            Ior = Select(inside, Wide.One / Ior, Ior);
    }

    /// <summary>Index of the far side over the one where the light comes from.</summary>
    public Wide Ior { get; }

    /// <summary>Share that is reflected at a facet.</summary>
    public Wide3 Reflectance(Wide cos)
    {
        var outer = film.IsThere ? Filmed(cos, tint) : Plain(cos, tint);
        if (hasSheet)
            outer = Wide3.Select(sheet, Sheet(outer), outer);
        return outer;
    }

    /// <summary>Share that does not get through a facet: a tint of the reflection lets no more through.</summary>
    public Wide3 Loss(Wide cos) => film.IsThere ? Filmed(cos, Wide3.One) : Plain(cos, Wide3.One);

    /// <summary>What it mirrors of light from everywhere, by which what lies below is scaled.</summary>
    public Wide3 Albedo(in Microfacets facets)
    {
        var face = film.IsThere ? FilmedAlbedo(facets) : PlainAlbedo(facets);
        return hasSheet ? Wide3.Select(sheet, Sheet(face), face) : face;
    }

    private Wide3 Plain(Wide cos, in Wide3 tinted)
    {
        if (isExact)
            return tinted * Fresnel.Dielectric(cos, Ior);
        var schlick = Fresnel.Schlick(cos, f0, f90);
        return hasInside ? Wide3.Select(inside, new Wide3(Fresnel.Dielectric(cos, Ior)), schlick) : schlick;
    }

    private Wide3 Filmed(Wide cos, in Wide3 tinted)
    {
        var index = isExact ? Ior : Min(Fresnel.IndexOf(Wide3.Mean(f0)), Of(3.1f));
        return Wide3.Lerp(Plain(cos, tinted), tinted * film.OverDielectric(cos, index), film.Weight);
    }

    private Wide3 PlainAlbedo(in Microfacets facets) =>
        isExact
            ? tint * AlbedoTables.Dielectric(facets.Distribution, facets.Wo.Z, facets.MeanWidth, Ior)
            : AlbedoTables.Schlick(facets.Distribution, facets.Wo.Z, facets.MeanWidth, f0, f90);

    /// <summary>
    /// With a film the reflectance is no function that a table holds: the table's albedo without it, and the mean over facets at fixed
    /// places of what the film changes.
    /// </summary>
    private Wide3 FilmedAlbedo(in Microfacets facets)
    {
        // A wide lobe meets every angle.
        var narrow = Less(facets.MeanWidth, Of(0.05f));
        int few = 16,
            many = 96,
            places = Bits(narrow) == 0xff ? few : many;
        var sum = Wide3.Zero;
        for (var i = 0; i < places; i++)
        {
            // The additive recurrence of the plastic number, as the tables have it.
            var h = facets.Sample(Of((0.5f + i * 0.75487766f) % 1f), Of((0.5f + i * 0.56984029f) % 1f));
            var (oh, wi) = (Wide3.Dot(facets.Wo, h), facets.Mirror(h));
            var counts = Positive(oh) & Positive(wi.Z);
            if (i >= few)
                counts = Without(counts, narrow);
            var weight = facets.D(h) * facets.G2(wi) * oh / Max(facets.Density(h) * facets.Wo.Z, Of(1e-12f));
            sum += Wide3.Where(counts, (Filmed(oh, tint) - Plain(oh, tint)) * weight);
        }
        return Wide3.Unit(PlainAlbedo(facets) + sum * Select(narrow, Of(1f / few), Of(1f / many)));
    }

    /// <summary>Two faces of a sheet: R + T²R/(1 − R²) = 2R/(1 + R).</summary>
    private static Wide3 Sheet(in Wide3 r) => r * 2f / (Wide3.One + r);
}
