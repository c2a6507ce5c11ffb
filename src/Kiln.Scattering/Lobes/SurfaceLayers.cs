using System.Numerics;
using Kiln.Scattering.Albedo;
using Kiln.Scattering.Interfaces;
using static Kiln.Scattering.Interfaces.Directions;

namespace Kiln.Scattering.Lobes;

/// <summary>Puts the lobes of a surface together: who lies above whom, and what is left for each.</summary>
internal struct SurfaceLayers
{
    private const float LeastBend = 0.02f;

    /// <summary>What a lobe returns that is not there.</summary>
    private const float Absent = -1f;

    public Microfacets Facets;
    public DielectricInterface Skin;
    public MetalReflectance Metal;
    public float MetalShare;
    public Vector3 DielectricColour;
    public FuzzLobe Fuzz;
    public CoatLobe Coat;
    public SpecularLobe Specular;
    public DiffuseLobe Diffuse;
    public MetalCompensation Compensation;
    public SheetLobe Sheet;
    public TransmissionLobe Transmission;
    public LobeChances Chances;

    /// <summary>Light within the body meets nothing but its skin.</summary>
    public void FillInside(SurfaceModel model, in SurfaceParameters p, Vector3 wo)
    {
        var film = new Film(model, p);
        Facets = new(p, model.Distribution, wo);
        Skin = new(model, p, film, inside: true, sheet: false);
        Coat = CoatLobe.None(wo);
        Fuzz = FuzzLobe.None;
        var (straight, gain) = Bending(model, p, Facets, Skin);
        Specular = new(default, 0f, 1f, Glass(gain, 1f, 1f));
        Transmission = new(p.TransmissionDepth > 0f ? Vector3.One : Unit(p.TransmissionColour), 1f, straight, gain);
        var reflected = Fresnel.Dielectric(wo.Z, Skin.Ior);
        var mirrors = Math.Clamp(reflected, 0.1f, reflected >= 1f && Facets.MeanWidth < 0.05f ? 1f : 0.9f);
        Chances = new(mirrors, 0f, 0f, 0f, 0f, 1f - mirrors);
    }

    public void FillOutside(SurfaceModel model, in SurfaceParameters p, Vector3 wo, Frame? coatFrame)
    {
        var thin = p.ThinWalled >= 0.5f;
        var metalness = Unit(p.Metalness);
        float dielectric = 1f - metalness,
            specularWeight = Unit(p.SpecularWeight),
            transmits = Unit(p.Transmission),
            through = dielectric * transmits;
        var baseColour = Unit(p.BaseColour);
        var film = new Film(model, p);
        Facets = new(p, model.Distribution, wo);
        Skin = new(model, p, film, inside: false, sheet: thin && through > 0f);
        Metal = new(model.Metal, baseColour, Unit(p.SpecularColour), film);
        MetalShare = metalness * specularWeight;
        var skinAlbedo = dielectric > 0f ? Skin.Albedo(Facets) : default;
        // A film sends on what it does not reflect, colour by colour; a tint is no interference, and must not colour what lies below.
        var underSkin = film.IsThere ? Vector3.One - skinAlbedo : new(1f - Greatest(skinAlbedo));

        var metalAlbedo = metalness > 0f ? AlbedoTables.Reflection(model.Distribution, wo.Z, Facets.MeanWidth) : 0f;
        if (model.Compensation && metalness > 0f)
            Compensation = new(Facets, Metal, MetalShare, metalAlbedo);
        var (straight, gain) = Bending(model, p, Facets, Skin);
        Specular = new(Metal, MetalShare, dielectric, through > 0f ? Glass(gain, through, dielectric) : 1f);
        Transmission = new(thin || p.TransmissionDepth <= 0f ? Unit(p.TransmissionColour) : Vector3.One, through, straight, gain);

        float subsurface = Unit(p.Subsurface),
            diffuseShare = dielectric * (1f - transmits);
        var subsurfaceColour = Unit(p.SubsurfaceColour);
        // A thin sheet scatters half of what goes under its skin to the other side.
        Sheet = new(subsurfaceColour, thin ? diffuseShare * subsurface * 0.5f : 0f, underSkin);
        var diffuseColour = thin
            ? baseColour * (1f - subsurface) + subsurfaceColour * (subsurface * 0.5f)
            : Vector3.Lerp(baseColour, subsurfaceColour, subsurface);
        Diffuse = new(model.Diffuse, diffuseColour, Unit(p.DiffuseRoughness), diffuseShare, underSkin);
        DielectricColour = dielectric * diffuseColour;

        Fuzz = new(model, p, wo);
        var belowCoat = metalness * baseColour * specularWeight + dielectric * Vector3.Lerp(baseColour, subsurfaceColour, subsurface);
        Coat = new(model, p, wo, coatFrame, belowCoat, Fuzz.Under);

        var below = Coat.MeanUnder;
        var metalPart = MetalShare > 0f ? MetalShare * metalAlbedo * Mean(Metal.At(wo.Z)) : 0f;
        var mirrored = below * (metalPart + dielectric * Mean(skinAlbedo));
        var scattered = below * (Diffuse.Albedo + MetalShare * Compensation.Albedo);
        Chances = Proportioned(
            this,
            below,
            mirrored: metalness > 0f || Greatest(skinAlbedo) > 0f ? mirrored : Absent,
            scattered: scattered > 0f ? scattered : Absent,
            underSkin
        );
    }

    private static LobeChances Proportioned(in SurfaceLayers layers, float below, float mirrored, float scattered, Vector3 underSkin) =>
        LobeChances.InProportion(
            new(
                Specular: mirrored,
                Diffuse: scattered,
                Coat: layers.Coat.IsThere ? layers.Coat.Albedo : Absent,
                Fuzz: layers.Fuzz.IsThere ? layers.Fuzz.Albedo : Absent,
                Sheet: layers.Sheet.IsThere ? layers.Sheet.Albedo(below) : Absent,
                Transmission: layers.Transmission.IsThere ? layers.Transmission.Albedo(below, underSkin) : Absent
            )
        );

    /// <summary>Whether light goes straight through, and what light between the facets of glass adds.</summary>
    private static (bool Straight, float Gain) Bending(
        SurfaceModel model,
        in SurfaceParameters p,
        in Microfacets facets,
        in DielectricInterface skin
    )
    {
        // Between media that hardly differ a refracting facet cannot be told in single precision.
        var straight = p.ThinWalled >= 0.5f || MathF.Abs(skin.Ior - 1f) < LeastBend;
        var gain =
            Unit(p.Transmission) > 0f && !straight && model.Compensation
                ? 1f / MathF.Max(0.2f, AlbedoTables.Glass(facets.Wo.Z, facets.MeanWidth, skin.Ior))
                : 1f;
        return (straight, gain);
    }

    /// <summary>The gain of the part of a dielectric that is glass, for what all of it mirrors.</summary>
    private static float Glass(float gain, float through, float dielectric) => 1f + (gain - 1f) * through / dielectric;
}
