using Kiln.Scattering.Albedo;
using Kiln.Scattering.Interfaces;

namespace Kiln.Scattering.Lobes;

/// <summary>Puts the lobes of eight surfaces together: who lies above whom, and what is left for each.</summary>
internal struct SurfaceLayers
{
    private const float LeastBend = 0.02f;

    public Microfacets Facets;
    public DielectricInterface Skin;
    public MetalReflectance Metal;
    public Wide MetalShare;
    public Wide3 DielectricColour;
    public FuzzLobe Fuzz;
    public CoatLobe Coat;
    public SpecularLobe Specular;
    public DiffuseLobe Diffuse;
    public MetalCompensation Compensation;
    public SheetLobe Sheet;
    public TransmissionLobe Transmission;
    public LobeChances Chances;

    /// <param name="inside">Where the light comes from within the body: nothing but its skin is met there.</param>
    /// <param name="coatFrame">The coat's normal and tangent in the shading frame; null where it follows the base.</param>
    public void Fill(SurfaceModel model, in WideParameters given, in Wide3 wo, Wide inside, in WideFrame? coatFrame)
    {
        if (Any(inside))
            FillOf(model, given.Inside(inside), wo, inside, coatFrame);
        else
            FillOf(model, given, wo, inside, coatFrame);
    }

    private void FillOf(SurfaceModel model, in WideParameters p, in Wide3 wo, Wide inside, in WideFrame? coatFrame)
    {
        var thin = AtLeast(p.ThinWalled, Of(0.5f));
        var metalness = Unit(p.Metalness);
        Wide dielectric = Wide.One - metalness,
            through = dielectric * Unit(p.Transmission);
        var baseColour = Wide3.Unit(p.BaseColour);
        var film = new Film(model, p, inside);
        Facets = new(p, model.Distribution, wo);
        Skin = new(model, p, film, inside, thin & Positive(through));
        Metal = new(model.Metal, baseColour, Wide3.Unit(p.SpecularColour), film);
        MetalShare = metalness * Unit(p.SpecularWeight);
        var skinAlbedo = Wide3.Where(Positive(dielectric), Skin.Albedo(Facets));
        // A film sends on what it does not reflect, colour by colour; a tint is no interference, and must not colour what lies below.
        var underSkin = new Wide3(Wide.One - Wide3.Greatest(skinAlbedo));
        if (film.IsThere)
            underSkin = Wide3.Select(Positive(film.Weight), Wide3.One - skinAlbedo, underSkin);
        var hasMetal = Any(Positive(metalness));
        var metalAlbedo = hasMetal ? AlbedoTables.Reflection(model.Distribution, wo.Z, Facets.MeanWidth) : Wide.Zero;
        Compensation = model.Compensation && hasMetal ? new(Facets, Metal, MetalShare, metalAlbedo) : default;
        FillThrough(model, p, dielectric, through, thin | inside);
        FillBelowSkin(model, p, baseColour, dielectric * (Wide.One - Unit(p.Transmission)), thin, underSkin);
        DielectricColour *= dielectric;
        Fuzz = new(model, p, wo);
        var belowDielectric = Wide3.Lerp(baseColour, Wide3.Unit(p.SubsurfaceColour), Unit(p.Subsurface));
        Coat = new(model, p, wo, coatFrame, baseColour * MetalShare + belowDielectric * dielectric, Fuzz.Under);
        var mirroring = dielectric * Wide3.Mean(skinAlbedo);
        if (hasMetal)
            mirroring += MetalShare * metalAlbedo * Wide3.Mean(Metal.At(wo.Z));
        FillChances(Positive(metalness) | Positive(Wide3.Greatest(skinAlbedo)), mirroring, underSkin);
        if (Any(inside))
            Chances = WithinTheBody(wo).Where(inside, Chances);
    }

    /// <summary>What mirrors, and what light goes through the skin.</summary>
    private void FillThrough(SurfaceModel model, in WideParameters p, Wide dielectric, Wide through, Wide tinted)
    {
        var (glass, there) = (Wide.One, Positive(through));
        Transmission = default;
        if (Any(there))
        {
            // Between media that hardly differ a refracting facet cannot be told in single precision.
            var straight = AtLeast(p.ThinWalled, Of(0.5f)) | Less(Abs(Skin.Ior - Wide.One), Of(LeastBend));
            var gain = model.Compensation ? Gain(through, straight) : Wide.One;
            // The gain of the part of a dielectric that is glass, for what all of it mirrors.
            glass = Select(there, Wide.One + (gain - Wide.One) * through / dielectric, Wide.One);
            var atSurface = tinted | AtMost(p.TransmissionDepth, Wide.Zero);
            Transmission = new(Wide3.Select(atSurface, Wide3.Unit(p.TransmissionColour), Wide3.One), through, straight, gain);
        }
        Specular = new(Metal, MetalShare, dielectric, glass);
    }

    /// <summary>What leaves from below the skin, on this side and, of a thin sheet, on the other.</summary>
    private void FillBelowSkin(SurfaceModel model, in WideParameters p, in Wide3 baseColour, Wide share, Wide thin, in Wide3 underSkin)
    {
        var subsurface = Unit(p.Subsurface);
        DielectricColour = baseColour;
        Sheet = default;
        if (Any(Positive(subsurface)))
        {
            var subsurfaceColour = Wide3.Unit(p.SubsurfaceColour);
            // A thin sheet scatters half of what goes under its skin to the other side.
            Sheet = new(subsurfaceColour, share * subsurface * 0.5f & thin, underSkin);
            var half = baseColour * (Wide.One - subsurface) + subsurfaceColour * (subsurface * 0.5f);
            DielectricColour = Wide3.Select(thin, half, Wide3.Lerp(baseColour, subsurfaceColour, subsurface));
        }
        Diffuse = new(model.Diffuse, DielectricColour, Unit(p.DiffuseRoughness), share, underSkin);
    }

    private void FillChances(Wide mirrors, Wide mirroring, in Wide3 underSkin)
    {
        var below = Coat.MeanUnder;
        var scattering = below * (Compensation.IsThere ? Diffuse.Albedo + MetalShare * Compensation.Albedo : Diffuse.Albedo);
        Chances = LobeChances.InProportion(
            new(
                Specular: LobeChances.Part(mirrors, below * mirroring),
                Diffuse: LobeChances.Part(Positive(scattering), scattering),
                Coat: LobeChances.Part(Coat.There, Coat.Albedo),
                Fuzz: LobeChances.Part(Fuzz.There, Fuzz.Albedo),
                Sheet: LobeChances.Part(Sheet.There, Sheet.Albedo(below)),
                Transmission: LobeChances.Part(Transmission.There, Transmission.Albedo(below, underSkin))
            )
        );
    }

    private readonly LobeChances WithinTheBody(in Wide3 wo)
    {
        var reflected = Fresnel.Dielectric(wo.Z, Skin.Ior);
        var all = AtLeast(reflected, Wide.One) & Less(Facets.MeanWidth, Of(0.05f));
        var mirrors = Clamp(reflected, Of(0.1f), Select(all, Wide.One, Of(0.9f)));
        return new(mirrors, Wide.Zero, Wide.Zero, Wide.Zero, Wide.Zero, Wide.One - mirrors);
    }

    /// <summary>What light between the facets of glass adds (Turquin 2019).</summary>
    private readonly Wide Gain(Wide through, Wide straight)
    {
        var sent = Max(AlbedoTables.Glass(Facets.Wo.Z, Facets.MeanWidth, Skin.Ior), Of(0.2f));
        return Select(Without(Positive(through), straight), Wide.One / sent, Wide.One);
    }
}
