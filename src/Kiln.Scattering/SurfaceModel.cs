using System.Numerics;

namespace Kiln.Scattering;

public enum DiffuseModel
{
    Eon,
    Lambert,
    OrenNayar,
}

public enum DielectricModel
{
    /// <summary>Fresnel equations.</summary>
    Exact,

    /// <summary>Schlick between a reflectance at 0° and one at 90°.</summary>
    Schlick,
}

public enum MetalModel
{
    F82,
    Schlick,

    /// <summary>Complex index from a reflectance and an edge colour (Gulbrandsen 2014).</summary>
    Conductor,
}

/// <summary>Which formulas stand for a dialect's surface.</summary>
/// <param name="Compensation">Whether the energy that rough metal and glass lose to light bouncing between facets is given back (Kulla and
/// Conty 2017; Turquin 2019 for glass).</param>
/// <param name="CoatAbsorbs">Whether the coat's colour deepens with the way through it; else it is one tint from every side.</param>
public sealed record SurfaceModel(
    DiffuseModel Diffuse,
    DielectricModel Dielectric,
    MetalModel Metal,
    bool Compensation,
    Distribution Distribution = Distribution.Ggx,
    FuzzModel Fuzz = FuzzModel.Zeltner,
    bool CoatAbsorbs = true
)
{
    /// <summary>
    /// XYZ of equal-energy light to the primaries that colours are in, rows summing to 1; transposed as System.Numerics multiplies rows.
    /// </summary>
    public Matrix4x4 FromXyz { get; init; } = Matrix4x4.Identity;
}

/// <summary>
/// The parameters of a surface at one point, the same for every dialect. Colours are linear; widths are alpha (root-mean-square slope
/// scale), 0..1;
/// indices of refraction 1..3; thickness in nanometres; depth in metres; emission in the scene's units.
/// </summary>
public struct SurfaceParameters
{
    public Vector3 BaseColour;
    public float DiffuseRoughness;
    public float Metalness;
    public float Width;
    public float Anisotropy;
    public float Ior;
    public float SpecularWeight;
    public Vector3 SpecularColour;

    /// <summary>
    /// Reflectance at 90° of a Schlick dielectric whose two ends are given as colours; used when <see cref="ReflectanceAsColour"/> is 1.
    /// </summary>
    public Vector3 EdgeColour;

    /// <summary>1 where <see cref="SpecularColour"/> is itself the reflectance at normal incidence, and no index is asked for.</summary>
    public float ReflectanceAsColour;

    public float Transmission;
    public Vector3 TransmissionColour;

    /// <summary>Distance after which white light has the transmission colour; 0 where the colour tints at the surface.</summary>
    public float TransmissionDepth;

    /// <summary>1 over the Abbe number of the body; 0 where it bends all colours alike.</summary>
    public float Dispersion;

    /// <summary>1 for a sheet without an inside.</summary>
    public float ThinWalled;

    /// <summary>Approximated: light under the skin leaves where it came in, without a direction of its own.</summary>
    public float Subsurface;
    public Vector3 SubsurfaceColour;

    public float CoatWeight;
    public Vector3 CoatColour;
    public float CoatWidth;
    public float CoatAnisotropy;
    public float CoatIor;
    public float CoatDarkening;

    public float FuzzWeight;
    public Vector3 FuzzColour;
    public float FuzzRoughness;

    public float FilmWeight;
    public float FilmThickness;
    public float FilmIor;

    public Vector3 Emission;
    public float Opacity;

    /// <summary>A plain surface: everything beyond base, interface and metal is off.</summary>
    public static SurfaceParameters Plain =>
        new()
        {
            BaseColour = new(0.8f),
            Width = 0.09f,
            Ior = 1.5f,
            SpecularWeight = 1,
            SpecularColour = Vector3.One,
            EdgeColour = Vector3.One,
            TransmissionColour = Vector3.One,
            SubsurfaceColour = new(0.8f),
            CoatColour = Vector3.One,
            CoatIor = 1.6f,
            CoatDarkening = 1,
            FuzzColour = Vector3.One,
            FuzzRoughness = 0.5f,
            FilmThickness = 500,
            FilmIor = 1.4f,
            Opacity = 1,
        };
}
