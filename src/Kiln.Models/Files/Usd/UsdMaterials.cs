using Kiln.Looks.Readings;
using Kiln.Usd;

namespace Kiln.Models.Files.Usd;

/// <summary>
/// Materials of a USD layer: the pictures and values of their preview surface (UsdPreviewSurface, specification 2.6), in the roles of its
/// inputs.
/// </summary>
/// <param name="prims">All of the layer by path.</param>
/// <param name="within">The bytes of a picture in the same archive; null for none.</param>
internal sealed class UsdMaterials(
    Dictionary<string, UsdPrim> prims,
    TextureSearch search,
    Func<string, byte[]?> within,
    List<string> remarks
)
{
    private const int MaximumDepth = 64;

    private static readonly (string Input, MapRole Role, string? Value)[] Inputs =
    [
        ("diffuseColor", MapRole.BaseColor, "base_color"),
        ("roughness", MapRole.Roughness, "specular_roughness"),
        ("metallic", MapRole.Metalness, "base_metalness"),
        ("normal", MapRole.Normal, null),
        ("occlusion", MapRole.AmbientOcclusion, null),
        ("opacity", MapRole.Opacity, "geometry_opacity"),
        ("emissiveColor", MapRole.Emission, "emission_color"),
        ("clearcoat", MapRole.Coat, "coat_weight"),
        ("clearcoatRoughness", MapRole.CoatRoughness, "coat_roughness"),
        ("displacement", MapRole.Height, null),
        ("specularColor", MapRole.SpecularColor, null),
    ];

    /// <summary>What stands in the specification for a value that is left out, where ours is another.</summary>
    private static readonly Dictionary<string, float[]> Usual = new()
    {
        ["base_color"] = [0.18f, 0.18f, 0.18f],
        ["specular_roughness"] = [0.5f],
    };

    public ModelMaterial Read(UsdPrim material)
    {
        var surface = Source(material.Find("outputs:surface"), 0).Shader;
        if (surface?.Find("info:id")?.Text != "UsdPreviewSurface")
        {
            var id = surface?.Find("info:id")?.Text;
            remarks.Add(
                $"Material {material.Name}: {(id is null ? "it has no preview surface" : $"its surface is {id}, no preview surface")}; "
                    + "its name alone comes in."
            );
            return new(material.Name, [], new Dictionary<string, float[]>());
        }
        var textures = new List<ModelTexture>();
        var values = new Dictionary<string, float[]>(Usual);
        var metal = surface.Find("inputs:useSpecularWorkflow")?.Numbers is [not 0, ..];
        foreach (var (input, role, value) in Inputs)
        {
            if (surface.Find("inputs:" + input) is not { } property || input == "specularColor" && !metal)
                continue;
            var (source, output) = Source(property, 0);
            if (source is not null && source.Find("info:id")?.Text == "UsdUVTexture")
                Picture(material, source, output, role, textures);
            else if (source is not null)
                remarks.Add($"Material {material.Name}: {source.Path} at {input} is no picture and is left out.");
            else if (value is not null && output is null && Resolved(property, 0)?.Numbers is { Length: 1 or 3 } numbers)
                if (numbers.All(double.IsFinite))
                    values[value] = [.. numbers.Select(n => (float)n)];
        }
        if (surface.Find("inputs:ior")?.Numbers is [var ior] && double.IsFinite(ior))
            values["specular_ior"] = [(float)ior];
        return new(material.Name, textures, values);
    }

    private static string PrimOf(string connection) => connection.LastIndexOf('.') is > 0 and var dot ? connection[..dot] : connection;

    private static string PropertyOf(string connection) => connection.LastIndexOf('.') is > 0 and var dot ? connection[(dot + 1)..] : "";

    /// <summary>The property that a value stands at, through the inputs of materials and node graphs.</summary>
    private UsdProperty? Resolved(UsdProperty? property, int depth) =>
        property?.Connection is { } to && depth < MaximumDepth
            ? Resolved(prims.GetValueOrDefault(PrimOf(to))?.Find(PropertyOf(to)), depth + 1)
            : property;

    /// <summary>The shader that feeds an input, and which of its outputs; null for a value.</summary>
    private (UsdPrim? Shader, string? Output) Source(UsdProperty? property, int depth)
    {
        if (property?.Connection is not { } to || depth > MaximumDepth || prims.GetValueOrDefault(PrimOf(to)) is not { } prim)
            return (null, null);
        var name = PropertyOf(to);
        return prim.Type == "Shader" && name.StartsWith("outputs:", StringComparison.Ordinal)
            ? (prim, name["outputs:".Length..])
            : Source(prim.Find(name), depth + 1);
    }

    private void Picture(UsdPrim material, UsdPrim shader, string? output, MapRole role, List<ModelTexture> textures)
    {
        if (Resolved(shader.Find("inputs:file"), 0)?.Text is not { Length: > 0 } written)
        {
            remarks.Add($"Material {material.Name}: {shader.Path} names no file.");
            return;
        }
        if (Changes(shader, role))
            remarks.Add($"Material {material.Name}: scale and bias of {shader.Path} are left out.");
        if (Source(shader.Find("inputs:st"), 0).Shader is { } place && place.Find("info:id")?.Text == "UsdTransform2d")
            remarks.Add($"Material {material.Name}: the placement {place.Path} is left out.");
        var plain = written.StartsWith("./", StringComparison.Ordinal) ? written[2..] : written;
        MapChannel? channel = output switch
        {
            "r" => MapChannel.R,
            "g" => MapChannel.G,
            "b" => MapChannel.B,
            "a" => MapChannel.A,
            _ => null,
        };
        var bytes = within(plain);
        textures.Add(
            new(role, written, bytes is null ? search.Find(plain) : null)
            {
                Within = bytes is null ? null : (ReadOnlyMemory<byte>?)bytes,
                Channel = channel,
            }
        );
    }

    /// <summary>Whether the picture's numbers are not taken as they are; a normal map's are unpacked from 0..1.</summary>
    private static bool Changes(UsdPrim shader, MapRole role)
    {
        double[] scale = shader.Find("inputs:scale")?.Numbers ?? [1, 1, 1, 1],
            bias = shader.Find("inputs:bias")?.Numbers ?? [0, 0, 0, 0];
        return role == MapRole.Normal
            ? !(scale is [2, 2, 2, ..] && bias is [-1, -1, -1, ..]) && !(scale.All(s => s == 1) && bias.All(b => b == 0))
            : scale.Any(s => s != 1) || bias.Any(b => b != 0);
    }
}
