using System.Numerics;
using Kiln.Scattering.Albedo;

namespace Kiln.Scattering.Interfaces;

/// <summary>The skin of the dielectric: exact by index, or Schlick between two ends, with the film over it.</summary>
internal readonly struct DielectricInterface
{
    private readonly Vector3 f0,
        f90,
        tint;
    private readonly Film film;
    private readonly bool isExact,
        isInside,
        isSheet;

    /// <param name="inside">Whether the light comes from within the body.</param>
    /// <param name="sheet">Whether both faces of a thin sheet are met.</param>
    public DielectricInterface(SurfaceModel model, in SurfaceParameters p, in Film film, bool inside, bool sheet)
    {
        this.film = film;
        isInside = inside;
        isSheet = sheet;
        isExact = model.Dielectric == DielectricModel.Exact;
        tint = Directions.Unit(p.SpecularColour);
        var weight = Directions.Unit(p.SpecularWeight);
        // The weight scales the reflectance at normal incidence by changing the index (OpenPBR Surface 1.1, "Specular weight").
        var index = Math.Clamp(float.IsFinite(p.Ior) ? p.Ior : 1.5f, 1f, 3.1f);
        var normal = Fresnel.NormalIncidence(index);
        Ior = Fresnel.IndexOf(normal * weight);
        if (model.Dielectric == DielectricModel.Schlick)
        {
            // glTF 2.0, KHR_materials_specular: f0 = min(f0(ior)·colour, 1)·weight, f90 = weight. Or both ends as colours.
            var asColour = p.ReflectanceAsColour >= 0.5f;
            f0 = (asColour ? tint : Vector3.Min(normal * tint, Vector3.One)) * weight;
            f90 = (asColour ? Directions.Unit(p.EdgeColour) : Vector3.One) * weight;
            Ior = index;
        }
        if (inside)
            Ior = 1f / Ior;
    }

    /// <summary>Index of the far side over the one where the light comes from.</summary>
    public float Ior { get; }

    /// <summary>Share that is reflected at a facet.</summary>
    public Vector3 Reflectance(float cos)
    {
        if (isInside)
            return new(Fresnel.Dielectric(cos, Ior));
        var outer = film.IsThere ? Filmed(cos, tint) : Plain(cos, tint);
        return isSheet ? Sheet(outer) : outer;
    }

    /// <summary>Share that does not get through a facet: a tint of the reflection lets no more through.</summary>
    public Vector3 Loss(float cos) =>
        isInside ? new(Fresnel.Dielectric(cos, Ior))
        : film.IsThere ? Filmed(cos, Vector3.One)
        : Plain(cos, Vector3.One);

    /// <summary>What it mirrors of light from everywhere, by which what lies below is scaled.</summary>
    public Vector3 Albedo(in Microfacets facets)
    {
        var face = film.IsThere ? FilmedAlbedo(facets) : PlainAlbedo(facets);
        return isSheet ? Sheet(face) : face;
    }

    private Vector3 Plain(float cos, Vector3 tinted) => isExact ? tinted * Fresnel.Dielectric(cos, Ior) : Fresnel.Schlick(cos, f0, f90);

    private Vector3 Filmed(float cos, Vector3 tinted)
    {
        var index = isExact ? Ior : MathF.Min(3.1f, Fresnel.IndexOf(Directions.Mean(f0)));
        return Vector3.Lerp(Plain(cos, tinted), tinted * film.OverDielectric(cos, index), film.Weight);
    }

    private Vector3 PlainAlbedo(in Microfacets facets) =>
        isExact
            ? tint * AlbedoTables.Dielectric(facets.Distribution, facets.Wo.Z, facets.MeanWidth, Ior)
            : AlbedoTables.Schlick(facets.Distribution, facets.Wo.Z, facets.MeanWidth, f0, f90);

    /// <summary>
    /// With a film the reflectance is no function that a table holds: the table's albedo without it, and the mean over facets at fixed
    /// places of what the film changes.
    /// </summary>
    private Vector3 FilmedAlbedo(in Microfacets facets)
    {
        // A wide lobe meets every angle.
        var places = facets.MeanWidth < 0.05f ? 16 : 96;
        var sum = Vector3.Zero;
        for (var i = 0; i < places; i++)
        {
            // The additive recurrence of the plastic number, as the tables have it.
            var h = facets.Sample(new((0.5f + i * 0.75487766f) % 1f, (0.5f + i * 0.56984029f) % 1f));
            var (oh, wi) = (Vector3.Dot(facets.Wo, h), facets.Mirror(h));
            if (oh <= 0f || wi.Z <= 0f)
                continue;
            sum +=
                (Filmed(oh, tint) - Plain(oh, tint))
                * (facets.D(h) * facets.G2(wi) * oh / MathF.Max(1e-12f, facets.Density(h) * facets.Wo.Z));
        }
        return Vector3.Clamp(PlainAlbedo(facets) + sum / places, Vector3.Zero, Vector3.One);
    }

    /// <summary>Two faces of a sheet: R + T²R/(1 − R²) = 2R/(1 + R).</summary>
    private static Vector3 Sheet(Vector3 r) => 2f * r / (Vector3.One + r);
}
