using System.Numerics;

namespace Kiln.Scattering;

/// <summary>What a surface sends one way, apart by where it comes from: values of the distribution times the cosine.</summary>
public struct ScatteredLight
{
    /// <summary>From within the surface: matt reflection and light under the skin.</summary>
    public Vector3 Diffuse;

    /// <summary>Off the interface or the metal.</summary>
    public Vector3 Specular;

    /// <summary>Off the coat and the fibres above everything.</summary>
    public Vector3 Coat;

    /// <summary>Through the surface.</summary>
    public Vector3 Transmission;

    public readonly Vector3 Sum => Diffuse + Specular + Coat + Transmission;
}

/// <summary>What eight surfaces send.</summary>
public struct WideScatteredLight
{
    public Wide3 Diffuse,
        Specular,
        Coat,
        Transmission;

    public readonly Wide3 Sum => Diffuse + Specular + Coat + Transmission;

    /// <summary>Of one lane.</summary>
    public readonly ScatteredLight this[int lane] =>
        new()
        {
            Diffuse = Diffuse[lane],
            Specular = Specular[lane],
            Coat = Coat[lane],
            Transmission = Transmission[lane],
        };
}
