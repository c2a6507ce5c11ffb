using System.Numerics;

namespace Kiln.Scattering;

public enum DiffuseModel
{
    Eon,
    Lambert,
}

public enum DielectricModel
{
    Exact,
    Schlick,
}

public enum MetalModel
{
    F82,
    Schlick,
}

/// <summary>Which formulas stand for a dialect's surface.</summary>
/// <param name="Compensation">Whether the energy that rough metal loses to light bouncing between facets is given back (Kulla and Conty 2017).</param>
public sealed record SurfaceModel(DiffuseModel Diffuse, DielectricModel Dielectric, MetalModel Metal, bool Compensation);

/// <summary>The parameters at one point. Colours linear; width is GGX alpha, 0..1; ior 1..3; emission in the scene's units.</summary>
public struct SurfaceParameters
{
    public Vector3 BaseColour;
    public float DiffuseRoughness;
    public float Metalness;
    public float Width;
    public float Ior;
    public float SpecularWeight;
    public Vector3 SpecularColour;
    public Vector3 Emission;
    public float Opacity;
}

/// <summary>
/// The base of the surface: a dielectric interface over a matt base, mixed with a metal by metalness. The matt base is scaled by what the
/// interface leaves over (albedo scaling, OpenPBR Surface 1.1 "Layering"), so a white surface returns all light and none returns more.
/// Directions are in the shading frame, z along the normal, pointing away from the surface.
/// </summary>
public readonly struct BaseSurface
{
    private readonly SurfaceModel model;
    private readonly SurfaceParameters p;
    private readonly Vector3 wo;
    private readonly float ior;
    private readonly Vector3 f0, f90;
    private readonly Vector3 interfaceAlbedo;
    private readonly float reflectionAlbedo;
    private readonly Vector3 metalMany;
    private readonly float specularChance;

    public BaseSurface(SurfaceModel model, in SurfaceParameters parameters, Vector3 wo)
    {
        this.model = model;
        this.wo = wo;
        p = parameters;
        p.BaseColour = Vector3.Clamp(p.BaseColour, Vector3.Zero, Vector3.One);
        p.SpecularColour = Vector3.Clamp(p.SpecularColour, Vector3.Zero, Vector3.One);
        p.Metalness = Math.Clamp(p.Metalness, 0f, 1f);
        p.DiffuseRoughness = Math.Clamp(p.DiffuseRoughness, 0f, 1f);
        p.SpecularWeight = Math.Clamp(p.SpecularWeight, 0f, 1f);
        p.Width = Math.Clamp(p.Width, Microfacet.LeastWidth, 1f);
        reflectionAlbedo = AlbedoTables.Reflection(wo.Z, p.Width);
        var normal = Fresnel.NormalIncidence(Math.Clamp(p.Ior, 1f, 3.1f));
        if (model.Dielectric == DielectricModel.Exact)
        {
            // The weight scales the reflectance at normal incidence by changing the index (OpenPBR Surface 1.1, "Specular weight").
            var s = MathF.Sqrt(normal * p.SpecularWeight);
            ior = (1f + s) / (1f - s);
            (f0, f90) = (default, default);
            interfaceAlbedo = p.SpecularColour * AlbedoTables.Dielectric(wo.Z, p.Width, ior);
        }
        else
        {
            // glTF 2.0, KHR_materials_specular: f0 = min(f0(ior)·colour, 1)·weight, f90 = weight.
            ior = 1f;
            f0 = Vector3.Min(normal * p.SpecularColour, Vector3.One) * p.SpecularWeight;
            f90 = new(p.SpecularWeight);
            interfaceAlbedo = AlbedoTables.Schlick(wo.Z, p.Width, f0, f90);
        }
        metalMany = default;
        if (model.Compensation && p.Metalness > 0f)
        {
            var average = AlbedoTables.Average(p.Width);
            var reflectance = MetalAverage();
            metalMany = reflectance * reflectance * average / (Vector3.One - reflectance * (1f - average)) / (MathF.PI * MathF.Max(1e-4f, 1f - average));
        }
        var specular = p.Metalness * reflectionAlbedo * Mean(MetalReflectance(wo.Z)) + (1f - p.Metalness) * Mean(interfaceAlbedo);
        var matt = (1f - p.Metalness) * (1f - Greatest(interfaceAlbedo)) * Mean(p.BaseColour) + p.Metalness * Mean(metalMany) * MathF.PI * (1f - reflectionAlbedo) * 0.5f;
        specularChance = Math.Clamp(specular / MathF.Max(1e-6f, specular + matt), 0.1f, matt > 1e-5f ? 0.95f : 1f);
    }

    /// <summary>BRDF times the cosine of <paramref name="wi"/>.</summary>
    public Vector3 Evaluate(Vector3 wi)
    {
        if (wi.Z <= 0f || wo.Z <= 0f)
            return Vector3.Zero;
        var h = Vector3.Normalize(wo + wi);
        var oh = MathF.Max(0f, Vector3.Dot(wo, h));
        var lobe = Microfacet.D(h.Z, p.Width) * Microfacet.G2(wo.Z, wi.Z, p.Width) / (4f * wo.Z);
        var result = Vector3.Zero;
        if (p.Metalness > 0f)
        {
            var metal = MetalReflectance(oh) * lobe;
            if (model.Compensation)
                metal += metalMany * ((1f - reflectionAlbedo) * (1f - AlbedoTables.Reflection(wi.Z, p.Width)) * wi.Z);
            result += metal * p.Metalness * p.SpecularWeight;
        }
        if (p.Metalness < 1f)
        {
            var interfaceReflectance = model.Dielectric == DielectricModel.Exact ? p.SpecularColour * Fresnel.Dielectric(oh, ior) : Fresnel.Schlick(oh, f0, f90);
            var matt = model.Diffuse == DiffuseModel.Eon ? Diffuse.Eon(p.BaseColour, p.DiffuseRoughness, wo, wi) : Diffuse.Lambert(p.BaseColour);
            result += (interfaceReflectance * lobe + matt * ((1f - Greatest(interfaceAlbedo)) * wi.Z)) * (1f - p.Metalness);
        }
        return result;
    }

    /// <summary>Density of <see cref="Sample"/> over solid angle.</summary>
    public float Pdf(Vector3 wi)
    {
        if (wi.Z <= 0f || wo.Z <= 0f)
            return 0f;
        var h = Vector3.Normalize(wo + wi);
        return specularChance * Microfacet.ReflectionPdf(wo, h, p.Width) + (1f - specularChance) * wi.Z / MathF.PI;
    }

    /// <summary>Proposes a direction; its density is <see cref="Pdf"/>. A direction below the surface means: absorbed.</summary>
    public Vector3 Sample(float choice, Vector2 u)
    {
        if (choice < specularChance)
        {
            var h = Microfacet.SampleVisible(wo, p.Width, u);
            return 2f * Vector3.Dot(wo, h) * h - wo;
        }
        var r = MathF.Sqrt(u.X);
        var (sin, cos) = MathF.SinCos(2f * MathF.PI * u.Y);
        return new(r * cos, r * sin, MathF.Sqrt(MathF.Max(0f, 1f - u.X)));
    }

    private Vector3 MetalReflectance(float cos) => Vector3.Max(Vector3.Zero, model.Metal == MetalModel.F82 ? Fresnel.F82(cos, p.BaseColour, p.SpecularColour) : Fresnel.Schlick(cos, p.BaseColour, Vector3.One));

    private Vector3 MetalAverage() => model.Metal == MetalModel.F82 ? Fresnel.F82Average(p.BaseColour, p.SpecularColour) : p.BaseColour + (Vector3.One - p.BaseColour) / 21f;

    private static float Mean(Vector3 v) => (v.X + v.Y + v.Z) / 3f;

    private static float Greatest(Vector3 v) => MathF.Max(v.X, MathF.Max(v.Y, v.Z));
}
