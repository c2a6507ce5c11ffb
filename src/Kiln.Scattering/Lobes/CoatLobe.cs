using System.Numerics;
using Kiln.Scattering.Albedo;
using Kiln.Scattering.Interfaces;

namespace Kiln.Scattering.Lobes;

/// <summary>Light off the coat, and what the coat leaves for what lies below it.</summary>
internal readonly struct CoatLobe
{
    private readonly Vector3 wo,
        normal,
        colour,
        under;
    private readonly float weight,
        ior,
        albedo,
        underFuzz;
    private readonly Facets facets;
    private readonly Frame frame;
    private readonly bool isExact,
        absorbs,
        hasFrame;

    /// <param name="own">The coat's frame in the shading frame; null where it follows the base.</param>
    /// <param name="below">Albedo of what lies below, for the light that the coat throws back down.</param>
    public CoatLobe(SurfaceModel model, in SurfaceParameters p, Vector3 wo, Frame? own, Vector3 below, float underFuzz)
    {
        this.wo = wo;
        this.underFuzz = underFuzz;
        weight = Directions.Unit(p.CoatWeight);
        (colour, under, normal) = (Vector3.One, Vector3.One, Vector3.UnitZ);
        if (weight <= 0f)
            return;
        (isExact, absorbs) = (model.Dielectric == DielectricModel.Exact, model.CoatAbsorbs);
        ior = Math.Clamp(p.CoatIor, 1f, 3f);
        if (own is { } its)
            (frame, hasFrame, normal) = (its, true, its.Normal);
        facets = new(p.CoatWidth, p.CoatAnisotropy, model.Distribution);
        albedo = AlbedoAt(MathF.Max(1e-3f, Vector3.Dot(wo, normal)), model.Distribution);
        colour = Directions.Unit(p.CoatColour);
        under = new(1f - weight * albedo);
        var darkening = weight * Directions.Unit(p.CoatDarkening);
        if (darkening > 0f)
        {
            // Light that the coat throws back down is absorbed again and again (OpenPBR Surface 1.1, "Coat darkening", as its MaterialX
            // graph has it).
            var kept = 1f - (1f - Fresnel.NormalIncidence(ior)) / (ior * ior);
            under *= Vector3.Lerp(Vector3.One, (1f - kept) * Vector3.One / (Vector3.One - below * kept), darkening);
        }
    }

    /// <summary>A coat that is not there, as light within the body meets it.</summary>
    public static CoatLobe None(Vector3 wo) => new(wo);

    private CoatLobe(Vector3 wo)
    {
        this.wo = wo;
        (colour, under, normal, underFuzz) = (Vector3.One, Vector3.One, Vector3.UnitZ, 1f);
    }

    public bool IsThere => weight > 0f;

    /// <summary>What it reflects of light from everywhere, below the fibres.</summary>
    public float Albedo => underFuzz * weight * albedo;

    /// <summary>What reaches what lies below and comes back, on the mean over directions.</summary>
    public float MeanUnder =>
        underFuzz * Directions.Mean(under) * (weight > 0f ? Directions.Mean(Vector3.Lerp(Vector3.One, colour, weight)) : 1f);

    /// <summary>What gets through it from below, once.</summary>
    public Vector3 OneWay => IsThere ? under * underFuzz * Path(Vector3.Dot(wo, normal), 1f, 0.5f) : under * underFuzz;

    /// <summary>What is left of light that the surface emits below the coat.</summary>
    public Vector3 EmissionShare => IsThere ? underFuzz * (1f - weight * albedo) * Path(Vector3.Dot(wo, normal), 1f, 0.5f) : new(underFuzz);

    /// <summary>What it reflects to <paramref name="wi"/>; the density of <see cref="Sample"/> times its chance.</summary>
    public Vector3 Evaluate(Vector3 wi, float chance, out float density)
    {
        density = 0f;
        var h = Vector3.Normalize(wo + wi);
        var oh = Vector3.Dot(wo, h);
        if (Vector3.Dot(h, normal) <= 0f || oh <= 0f)
            return default;
        // Without a frame of its own the coat shares that of the base.
        Vector3 o = wo,
            i = wi,
            m = h;
        if (hasFrame)
            (o, i, m) = (frame.ToLocal(wo), frame.ToLocal(wi), frame.ToLocal(h));
        if (o.Z <= 0f || i.Z <= 0f)
            return default;
        var reflectance = isExact ? Fresnel.Dielectric(oh, ior) : Fresnel.Schlick(oh, new(Fresnel.NormalIncidence(ior)), Vector3.One).X;
        density = chance * facets.Density(o, m) / MathF.Max(1e-7f, 4f * oh);
        return new(weight * underFuzz * reflectance * facets.D(m) * facets.G2(o, i) / (4f * o.Z));
    }

    /// <summary>What it leaves for what lies below, there and back.</summary>
    public Vector3 ThereAndBack(Vector3 wi) =>
        under * Path(MathF.Max(1e-3f, Vector3.Dot(wo, normal)), MathF.Max(1e-3f, Vector3.Dot(wi, normal)), 1f);

    public Vector3 Sample(Vector2 u)
    {
        var h = hasFrame ? frame.ToWorld(facets.Sample(frame.ToLocal(wo), u)) : facets.Sample(wo, u);
        var mirrored = 2f * Vector3.Dot(wo, h) * h - wo;
        return Vector3.Dot(mirrored, normal) > 0f ? Directions.Above(mirrored) : default;
    }

    /// <summary>
    /// Absorption on the ways through the coat: its colour is what is left of white after there and back along the normal.
    /// </summary>
    private Vector3 Path(float cosOut, float cosIn, float ways)
    {
        if (colour == Vector3.One)
            return Vector3.One;
        if (!absorbs)
            return Vector3.Lerp(Vector3.One, colour, weight);
        var length = ways < 1f ? 0.5f * Length(cosOut, ior) : 0.5f * (Length(cosOut, ior) + Length(cosIn, ior));
        Vector3 absorbed = new(MathF.Pow(colour.X, length), MathF.Pow(colour.Y, length), MathF.Pow(colour.Z, length));
        return Vector3.Lerp(Vector3.One, absorbed, weight);
    }

    /// <summary>Within a layer of thickness 1, after refraction.</summary>
    private static float Length(float cos, float ior) =>
        1f / MathF.Sqrt(MathF.Max(1e-3f, 1f - (1f - Math.Clamp(cos * cos, 0f, 1f)) / (ior * ior)));

    private float AlbedoAt(float cos, Distribution distribution) =>
        isExact
            ? AlbedoTables.Dielectric(distribution, cos, facets.MeanWidth, ior)
            : AlbedoTables.Schlick(distribution, cos, facets.MeanWidth, new(Fresnel.NormalIncidence(ior)), Vector3.One).X;
}
