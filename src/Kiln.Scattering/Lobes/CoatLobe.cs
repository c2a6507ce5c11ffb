using Kiln.Scattering.Albedo;
using Kiln.Scattering.Interfaces;

namespace Kiln.Scattering.Lobes;

/// <summary>Light off the coat, and what the coat leaves for what lies below it.</summary>
internal readonly struct CoatLobe
{
    private readonly Wide3 wo,
        normal,
        colour,
        under;
    private readonly Wide weight,
        ior,
        albedo,
        underFuzz;
    private readonly WideFacets facets;
    private readonly WideFrame frame;
    private readonly Wide3 own;
    private readonly (Wide Lambda, Wide GgxLambda) viewed;
    private readonly bool isExact,
        absorbs,
        hasFrame,
        hasColour;

    /// <param name="own">The coat's frame in the shading frame; null where it follows the base.</param>
    /// <param name="below">Albedo of what lies below, for the light that the coat throws back down.</param>
    public CoatLobe(SurfaceModel model, in WideParameters p, in Wide3 wo, in WideFrame? own, in Wide3 below, Wide underFuzz)
    {
        this.wo = this.own = wo;
        this.underFuzz = underFuzz;
        weight = Unit(p.CoatWeight);
        (colour, under, normal) = (Wide3.One, Wide3.One, Wide3.UnitZ);
        IsThere = Any(Positive(weight));
        if (!IsThere)
            return;
        (isExact, absorbs) = (model.Dielectric == DielectricModel.Exact, model.CoatAbsorbs);
        ior = Clamp(p.CoatIor, Wide.One, Of(3f));
        if (own is { } its)
        {
            (frame, hasFrame, normal) = (its, true, its.Normal);
            this.own = frame.ToLocal(wo);
        }
        facets = new(p.CoatWidth, p.CoatAnisotropy, model.Distribution);
        viewed = facets.From(this.own);
        albedo = AlbedoAt(Max(Wide3.Dot(wo, normal), Of(1e-3f)), model.Distribution);
        colour = Wide3.Unit(p.CoatColour);
        hasColour = Any(Less(Min(colour.X, Min(colour.Y, colour.Z)), Wide.One));
        under = new(Wide.One - weight * albedo);
        var darkening = weight * Unit(p.CoatDarkening);
        if (Any(Positive(darkening)))
        {
            // Light that the coat throws back down is absorbed again and again (OpenPBR Surface 1.1, "Coat darkening", as its MaterialX
            // graph has it).
            var kept = Wide.One - (Wide.One - Fresnel.NormalIncidence(ior)) / (ior * ior);
            under *= Wide3.Lerp(Wide3.One, new Wide3(Wide.One - kept) / (Wide3.One - below * kept), darkening);
        }
    }

    /// <summary>Whether any of the eight has one.</summary>
    public bool IsThere { get; }

    /// <summary>Where there is one.</summary>
    public Wide There => Positive(weight);

    /// <summary>What it reflects of light from everywhere, below the fibres.</summary>
    public Wide Albedo => underFuzz * weight * albedo;

    /// <summary>What reaches what lies below and comes back, on the mean over directions.</summary>
    public Wide MeanUnder => IsThere ? underFuzz * Wide3.Mean(under) * Wide3.Mean(Wide3.Lerp(Wide3.One, colour, weight)) : underFuzz;

    /// <summary>What gets through it from below, once.</summary>
    public Wide3 OneWay => IsThere ? under * underFuzz * Path(Wide3.Dot(wo, normal), Wide.One, 0.5f) : new Wide3(underFuzz);

    /// <summary>What is left of light that the surface emits below the coat.</summary>
    public Wide3 EmissionShare =>
        IsThere ? Path(Wide3.Dot(wo, normal), Wide.One, 0.5f) * (underFuzz * (Wide.One - weight * albedo)) : new Wide3(underFuzz);

    /// <summary>What it reflects to <paramref name="wi"/>; the density of <see cref="Sample"/> times its chance.</summary>
    public Wide Evaluate(in Wide3 wi, in Wide3 h, Wide chance, out Wide density)
    {
        var oh = Wide3.Dot(wo, h);
        // Without a frame of its own the coat shares that of the base.
        var (i, m) = (wi, h);
        if (hasFrame)
            (i, m) = (frame.ToLocal(wi), frame.ToLocal(h));
        var counts = Positive(m.Z) & Positive(oh) & Positive(own.Z) & Positive(i.Z);
        var reflectance = isExact ? Fresnel.Dielectric(oh, ior) : Fresnel.Schlick(oh, new(Fresnel.NormalIncidence(ior)), Wide3.One).X;
        density = chance * facets.Density(own, viewed, m) / Max(4f * oh, Of(1e-7f)) & counts;
        return weight * underFuzz * reflectance * facets.D(m) * facets.G2(viewed, i) / (4f * own.Z) & counts;
    }

    /// <summary>What it leaves for what lies below, there and back.</summary>
    public Wide3 ThereAndBack(in Wide3 wi)
    {
        var least = Of(1e-3f);
        return under * Path(Max(Wide3.Dot(wo, normal), least), Max(Wide3.Dot(wi, normal), least), 1f);
    }

    public Wide3 Sample(Wide u, Wide turns)
    {
        var h = facets.Sample(own, u, turns);
        if (hasFrame)
            h = frame.ToWorld(h);
        var mirrored = h * (2f * Wide3.Dot(wo, h)) - wo;
        return Wide3.Where(Positive(Wide3.Dot(mirrored, normal)), Directions.Above(mirrored));
    }

    /// <summary>
    /// Absorption on the ways through the coat: its colour is what is left of white after there and back along the normal.
    /// </summary>
    private Wide3 Path(Wide cosOut, Wide cosIn, float ways)
    {
        if (!hasColour)
            return Wide3.One;
        if (!absorbs)
            return Wide3.Lerp(Wide3.One, colour, weight);
        var length = 0.5f * (ways < 1f ? Length(cosOut) : Length(cosOut) + Length(cosIn));
        return Wide3.Lerp(Wide3.One, new(Pow(colour.X, length), Pow(colour.Y, length), Pow(colour.Z, length)), weight);
    }

    /// <summary>Within a layer of thickness 1, after refraction.</summary>
    private Wide Length(Wide cos) => Wide.One / Sqrt(Max(Wide.One - (Wide.One - Unit(cos * cos)) / (ior * ior), Of(1e-3f)));

    private Wide AlbedoAt(Wide cos, Distribution distribution) =>
        isExact
            ? AlbedoTables.Dielectric(distribution, cos, facets.MeanWidth, ior)
            : AlbedoTables.Schlick(distribution, cos, facets.MeanWidth, new(Fresnel.NormalIncidence(ior)), Wide3.One).X;
}
