using System.Numerics;
using Kiln.Dialects.Networks;
using SharpGLTF.Schema2;

namespace Kiln.Exchange.Gltf;

/// <summary>A network's plain values as factors of a glTF material, each layer by its extension. A layer that is off has none.</summary>
internal sealed class GltfFactors
{
    private readonly Material material;
    private readonly NetworkNode surface;
    private readonly bool specular,
        coated,
        fuzzy,
        clear,
        thick,
        stretched,
        filmed;
    private readonly float ior,
        dispersion;

    private GltfFactors(Material material, NetworkNode surface)
    {
        (this.material, this.surface) = (material, surface);
        specular =
            Changed("specularFactor", "1")
            || Changed("specularColorFactor", "1, 1, 1")
            || surface.Port("specularTexture") is not null
            || surface.Port("specularColorTexture") is not null;
        ior = Number("ior", 1.5f);
        coated = Changed("clearcoatFactor", "0");
        fuzzy = Changed("sheenColorFactor", "0, 0, 0");
        clear = Changed("transmissionFactor", "0");
        thick = clear && Number("volumeThickness", 0) > 0;
        dispersion = thick ? Number("dispersion", 0) : 0;
        stretched = Changed("anisotropyStrength", "0");
        filmed = Changed("iridescenceFactor", "0");
    }

    /// <param name="alphaMapped">Whether the base colour's picture holds opacity.</param>
    public static void Set(Material material, NetworkNode surface, bool alphaMapped)
    {
        var factors = new GltfFactors(material, surface);
        material.InitializePBRMetallicRoughness([.. factors.Extensions()]);
        factors.Layers();
        factors.Inside();
        factors.Surface(alphaMapped);
    }

    private IEnumerable<string> Extensions()
    {
        (bool Used, string Name)[] all =
        [
            (specular, "Specular"),
            (ior != 1.5f, "IndexOfRefraction"),
            (coated, "ClearCoat"),
            (fuzzy, "Sheen"),
            (clear, "Transmission"),
            (thick, "Volume"),
            (dispersion > 0, "Dispersion"),
            (stretched, "Anisotropy"),
            (filmed, "Iridescence"),
        ];
        return all.Where(e => e.Used).Select(e => e.Name);
    }

    private void Layers()
    {
        if (stretched)
        {
            Channel("Anisotropy").SetFactor("AnisotropyStrength", Number("anisotropyStrength", 0));
            Channel("Anisotropy").SetFactor("AnisotropyRotation", Number("anisotropyRotation", 0));
        }
        if (filmed)
        {
            Channel("Iridescence").SetFactor("IridescenceFactor", Number("iridescenceFactor", 0));
            Channel("Iridescence").SetFactor("IndexOfRefraction", Number("iridescenceIor", 1.3f));
            // Nanometres from where the map is black to where it is white; a plain thickness is the greatest.
            Channel("IridescenceThickness").SetFactor("Minimum", 0);
            Channel("IridescenceThickness").SetFactor("Maximum", 1000 * Number("iridescenceThickest", 0.4f));
        }
        if (coated)
        {
            Channel("ClearCoat").SetFactor("ClearCoatFactor", Number("clearcoatFactor", 0));
            Channel("ClearCoatRoughness").SetFactor("RoughnessFactor", Number("clearcoatRoughnessFactor", 0));
        }
        if (fuzzy)
        {
            Tint("SheenColor", "sheenColorFactor", 0);
            Channel("SheenRoughness").SetFactor("RoughnessFactor", Number("sheenRoughnessFactor", 0));
        }
        if (specular)
        {
            Channel("SpecularFactor").SetFactor("SpecularFactor", Number("specularFactor", 1));
            Tint("SpecularColor", "specularColorFactor", 1);
        }
    }

    private void Inside()
    {
        if (dispersion > 0)
            material.Dispersion = dispersion;
        if (clear)
            Channel("Transmission").SetFactor("TransmissionFactor", Number("transmissionFactor", 0));
        if (thick)
        {
            Channel("VolumeThickness").SetFactor("ThicknessFactor", Number("volumeThickness", 0));
            if (Number("attenuationDistance", 0) is > 0 and var distance)
            {
                Tint("VolumeAttenuation", "attenuationColor", 1);
                Channel("VolumeAttenuation").SetFactor("AttenuationDistance", distance);
            }
        }
        if (ior != 1.5f)
            material.IndexOfRefraction = ior;
    }

    private void Surface(bool alphaMapped)
    {
        var opacity = Number("opacityFactor", 1);
        Tint("BaseColor", "baseColorFactor", 1, opacity);
        Channel("MetallicRoughness").SetFactor("MetallicFactor", Number("metallicFactor", 1));
        Channel("MetallicRoughness").SetFactor("RoughnessFactor", Number("roughnessFactor", 1));
        if (Colour("emissiveFactor", 0) != Vector3.Zero)
        {
            Tint("Emissive", "emissiveFactor", 0);
            if (Number("emissiveStrength", 1) is not 1 and var strength)
                Channel("Emissive").SetFactor("EmissiveStrength", strength);
        }
        if (opacity < 1 || alphaMapped)
        {
            material.Alpha = SharpGLTF.Schema2.AlphaMode.BLEND;
            material.DoubleSided = true;
        }
    }

    private MaterialChannel Channel(string name) => material.FindChannel(name)!.Value;

    private void Tint(string channel, string port, float missing, float alpha = 1)
    {
        var tinted = Channel(channel);
        tinted.Color = new Vector4(Colour(port, missing), alpha);
    }

    private float Number(string port, float missing) => surface.Port(port)?.Value is { } v ? float.Parse(v) : missing;

    private Vector3 Colour(string port, float missing) => surface.Port(port)?.Value is { } v ? GlbWriter.Triple(v) : new(missing);

    private bool Changed(string port, string usual) => surface.Port(port) is { } p && (p.Node is not null || p.Value != usual);
}
