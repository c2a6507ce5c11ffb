using System.Text;
using Kiln.Dialects.Networks;
using Kiln.Exchange.MaterialX;

namespace Kiln.Exchange.Usd;

/// <summary>
/// A MaterialX network as shaders of a USD material, beside the one it has: shaders are called by the standard definitions' names and
/// reached over the outputs that USD keeps for MaterialX (outputs:mtlx:…).
/// Colours say which space they are in, since a layer has no space of its own.
/// </summary>
internal static class UsdMaterialX
{
    /// <summary>Before the names of these shaders, so that they are none of the others'.</summary>
    private const string Before = "mtlx_";

    /// <summary>The output for the surface of MaterialX networks.</summary>
    public const string SurfaceOutput = "outputs:mtlx:surface",
        DisplacementOutput = "outputs:mtlx:displacement";

    /// <summary>Follows the material's name: which MaterialX the definitions are of is said in a property of this schema.</summary>
    public const string Schema = " (\n        prepend apiSchemas = [\"MaterialXConfigAPI\"]\n    )";

    public static void Outputs(StringBuilder text, Network network, string material)
    {
        text.Append("        string config:mtlx:version = \"1.39\"\n");
        text.Append("        token ")
            .Append(SurfaceOutput)
            .Append(".connect = <")
            .Append(PathOf(material, network.Surface.Name))
            .Append(".outputs:out>\n");
        if (network.Displacement is { } displacement)
            text.Append("        token ")
                .Append(DisplacementOutput)
                .Append(".connect = <")
                .Append(PathOf(material, displacement.Name))
                .Append(".outputs:out>\n");
    }

    public static void Shaders(StringBuilder text, Network network, string material)
    {
        foreach (var node in network.Nodes.Reverse())
        {
            text.Append("\n        def Shader \"")
                .Append(Before)
                .Append(node.Name)
                .Append("\"\n        {\n            uniform token info:id = \"")
                .Append(DefinitionNames.Of(node))
                .Append("\"\n");
            foreach (var port in node.Ports)
                Port(text, network, port, material);
            text.Append("            ").Append(TypeOf(node.Type)).Append(" outputs:out\n        }\n");
        }
    }

    private static void Port(StringBuilder text, Network network, NetworkPort port, string material)
    {
        text.Append("            ").Append(TypeOf(port.Type)).Append(" inputs:").Append(port.Name);
        if (port.Node is { } from)
            text.Append(".connect = <").Append(PathOf(material, from)).Append(".outputs:").Append(port.Output ?? "out").Append('>');
        else
            text.Append(" = ").Append(ValueOf(port));
        if (port.Node is null && (port.Space ?? (port.Type is "color3" or "color4" ? network.WorkingSpace : null)) is { } space)
            text.Append(" (\n                colorSpace = ").Append(UsdaWriter.Quoted(space)).Append("\n            )");
        text.Append('\n');
    }

    private static string PathOf(string material, string node) => $"{material}/{Before}{node}";

    private static string TypeOf(string type) =>
        type switch
        {
            "color3" => "color3f",
            "color4" => "color4f",
            "vector2" => "float2",
            "vector3" => "float3",
            "vector4" => "float4",
            "integer" => "int",
            "boolean" => "bool",
            "filename" => "asset",
            "matrix33" => "matrix3d",
            "matrix44" => "matrix4d",
            "surfaceshader" or Network.DisplacementType => "token",
            _ => type,
        };

    private static string ValueOf(NetworkPort port) =>
        port.Type switch
        {
            "filename" => UsdaWriter.Asset(port.Value!),
            "string" => UsdaWriter.Quoted(port.Value!),
            "matrix33" => Rows(port.Value!, 3),
            "matrix44" => Rows(port.Value!, 4),
            "color3" or "color4" or "vector2" or "vector3" or "vector4" => $"({port.Value})",
            _ => port.Value!,
        };

    private static string Rows(string value, int size) =>
        "( "
        + $"{string.Join(", ", value.Split(',', StringSplitOptions.TrimEntries).Chunk(size).Select(row => $"({string.Join(", ", row)})"))} "
        + ")";
}
