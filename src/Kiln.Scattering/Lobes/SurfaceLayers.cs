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
    public static SurfaceLayers Inside(SurfaceModel model, in SurfaceParameters p, Vector3 wo)
    {
        var film = new Film(model, p);
        var layers = new SurfaceLayers
        {
            Facets = new(p, model.Distribution, wo),
            Skin = new(model, p, film, inside: true, sheet: false),
            Coat = CoatLobe.None(wo),
            Fuzz = FuzzLobe.None,
        };
        var (straight, gain) = Bending(model, p, layers.Facets, layers.Skin);
        layers.Specular = new(default, 0f, 1f, Glass(gain, 1f, 1f));
        layers.Transmission = new(p.TransmissionDepth > 0f ? Vector3.One : Unit(p.TransmissionColour), 1f, straight, gain);
        var reflected = Fresnel.Dielectric(wo.Z, layers.Skin.Ior);
        var mirrors = Math.Clamp(reflected, 0.1f, reflected >= 1f && layers.Facets.MeanWidth < 0.05f ? 1f : 0.9f);
        layers.Chances = new(mirrors, 0f, 0f, 0f, 0f, 1f - mirrors);
        return layers;
    }

    public static SurfaceLayers Outside(SurfaceModel model, in SurfaceParameters p, Vector3 wo, Frame? coatFrame)
    {
        var thin = p.ThinWalled >= 0.5f;
        var metalness = Unit(p.Metalness);
        float dielectric = 1f - metalness,
            specularWeight = Unit(p.SpecularWeight),
            transmits = Unit(p.Transmission),
            through = dielectric * transmits;
        var baseColour = Unit(p.BaseColour);
        var film = new Film(model, p);
        var layers = new SurfaceLayers
        {
            Facets = new(p, model.Distribution, wo),
            Skin = new(model, p, film, inside: false, sheet: thin && through > 0f),
            Metal = new(model.Metal, baseColour, Unit(p.SpecularColour), film),
            MetalShare = metalness * specularWeight,
        };
        ref readonly var facets = ref layers.Facets;
        var skinAlbedo = dielectric > 0f ? layers.Skin.Albedo(facets) : default;
        // A film sends on what it does not reflect, colour by colour; a tint is no interference, and must not colour what lies below.
        var underSkin = film.IsThere ? Vector3.One - skinAlbedo : new(1f - Greatest(skinAlbedo));

        var metalAlbedo = metalness > 0f ? AlbedoTables.Reflection(model.Distribution, wo.Z, facets.MeanWidth) : 0f;
        if (model.Compensation && metalness > 0f)
            layers.Compensation = new(facets, layers.Metal, layers.MetalShare, metalAlbedo);
        var (straight, gain) = Bending(model, p, facets, layers.Skin);
        layers.Specular = new(layers.Metal, layers.MetalShare, dielectric, through > 0f ? Glass(gain, through, dielectric) : 1f);
        layers.Transmission = new(thin || p.TransmissionDepth <= 0f ? Unit(p.TransmissionColour) : Vector3.One, through, straight, gain);

        float subsurface = Unit(p.Subsurface),
            diffuseShare = dielectric * (1f - transmits);
        var subsurfaceColour = Unit(p.SubsurfaceColour);
        // A thin sheet scatters half of what goes under its skin to the other side.
        layers.Sheet = new(subsurfaceColour, thin ? diffuseShare * subsurface * 0.5f : 0f, underSkin);
        var diffuseColour = thin
            ? baseColour * (1f - subsurface) + subsurfaceColour * (subsurface * 0.5f)
            : Vector3.Lerp(baseColour, subsurfaceColour, subsurface);
        layers.Diffuse = new(model.Diffuse, diffuseColour, Unit(p.DiffuseRoughness), diffuseShare, underSkin);
        layers.DielectricColour = dielectric * diffuseColour;

        layers.Fuzz = new(model, p, wo);
        var belowCoat = metalness * baseColour * specularWeight + dielectric * Vector3.Lerp(baseColour, subsurfaceColour, subsurface);
        layers.Coat = new(model, p, wo, coatFrame, belowCoat, layers.Fuzz.Under);

        var below = layers.Coat.MeanUnder;
        var metalPart = layers.MetalShare > 0f ? layers.MetalShare * metalAlbedo * Mean(layers.Metal.At(wo.Z)) : 0f;
        var mirrored = below * (metalPart + dielectric * Mean(skinAlbedo));
        var scattered = below * (layers.Diffuse.Albedo + layers.MetalShare * layers.Compensation.Albedo);
        layers.Chances = Proportioned(
            layers,
            below,
            mirrored: metalness > 0f || Greatest(skinAlbedo) > 0f ? mirrored : Absent,
            scattered: scattered > 0f ? scattered : Absent,
            underSkin
        );
        return layers;
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
