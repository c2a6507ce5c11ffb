using System.Text;
using Kiln.Dialects.Lowering;
using Kiln.Dialects.Networks;
using Kiln.Dialects.Profiles;
using Kiln.Exchange.Gltf;
using Kiln.Exchange.Packages;

namespace Kiln.Exchange.Usd;

/// <summary>
/// Writes a network as a USD text layer: a material of preview shaders (USD preview surface specification 2.6) under a scope of looks,
/// bound to a form so that it can be seen.
/// The same network gives the same bytes.
/// </summary>
public static class UsdaWriter
{
    private const string Root = "Look";

    /// <summary>The variant set that a look's variants are in.</summary>
    private const string VariantSet = "look";

    /// <param name="looks">The look as it is, then its variants: written as a variant set whose first choice is the look as it is.</param>
    /// <param name="form">The mesh that carries the material; null for the material alone.</param>
    public static byte[] Write(IReadOnlyList<NetworkVariant> looks, DialectProfile profile, CarrierForm? form)
    {
        var network = looks[0].Network;
        var text = new StringBuilder();
        text.Append("#usda 1.0\n(\n    defaultPrim = \"").Append(Root).Append("\"\n    metersPerUnit = 1\n    upAxis = \"Y\"\n)\n\n");
        text.Append("def Xform \"").Append(Root).Append("\" (\n    kind = \"component\"\n");
        var all = Choices(looks);
        if (all.Count > 1)
            text.Append("    variants = {\n        string ")
                .Append(VariantSet)
                .Append(" = ")
                .Append(Quoted(all[0].Name))
                .Append("\n    }\n    prepend variantSets = \"")
                .Append(VariantSet)
                .Append("\"\n");
        text.Append(")\n{\n");
        if (form is not null)
            Mesh(text, form.Name, form, $"/{Root}/{network.Material}");
        if (all.Count == 1)
            Material(text, all[0], profile);
        else
        {
            text.Append("    variantSet \"").Append(VariantSet).Append("\" = {\n");
            foreach (var choice in all)
            {
                text.Append("    ").Append(Quoted(choice.Name)).Append(" {\n");
                Material(text, choice, profile);
                text.Append("    }\n");
            }
            text.Append("    }\n");
        }
        text.Append("}\n");
        return new UTF8Encoding(false).GetBytes(text.ToString());
    }

    /// <summary>The look and its variants, all in the place of the one material, by names that a variant set can have.</summary>
    private static List<NetworkVariant> Choices(IReadOnlyList<NetworkVariant> looks)
    {
        var result = new List<NetworkVariant> { looks[0] with { Name = "as_it_is" } };
        foreach (var variant in looks.Skip(1))
        {
            var name = DialectCompiler.MaterialName(variant.Name);
            for (var n = 2; result.Any(r => r.Name == name); n++)
                name = $"{DialectCompiler.MaterialName(variant.Name)}_{n}";
            result.Add(variant with { Name = name, Network = variant.Network with { Material = looks[0].Network.Material } });
        }
        return result;
    }

    /// <param name="root">Where the material lies: a path with a slash before each name.</param>
    internal static void Material(StringBuilder text, NetworkVariant choice, DialectProfile profile, string root = "/" + Root)
    {
        var network = choice.Network;
        text.Append("    def Material \"")
            .Append(network.Material)
            .Append('"')
            .Append(choice.Beside is null ? "" : UsdMaterialX.Schema)
            .Append("\n    {\n");
        text.Append("        token outputs:surface.connect = <")
            .Append(PathOf(root, network, network.Surface.Name))
            .Append(".outputs:surface>\n");
        if (MovedBy(network, profile) is not null)
            text.Append("        token outputs:displacement.connect = <")
                .Append(PathOf(root, network, network.Surface.Name))
                .Append(".outputs:displacement>\n");
        if (choice.Beside is { } beside)
            UsdMaterialX.Outputs(text, beside, $"{root}/{network.Material}");
        foreach (var node in network.Nodes.Reverse())
            Shader(text, network, profile, node, root);
        if (choice.Beside is { } again)
            UsdMaterialX.Shaders(text, again, $"{root}/{network.Material}");
        text.Append("    }\n");
    }

    private static string PathOf(string root, Network network, string node) => $"{root}/{network.Material}/{node}";

    private static void Shader(StringBuilder text, Network network, DialectProfile profile, NetworkNode node, string root)
    {
        var isSurface = ReferenceEquals(node, network.Surface);
        text.Append("\n        def Shader \"")
            .Append(node.Name)
            .Append("\"\n        {\n            uniform token info:id = \"")
            .Append(node.Category)
            .Append("\"\n");
        if (node.Category == profile.Placement!.TexcoordNode)
            text.Append("            string inputs:varname = \"st\"\n");
        foreach (var port in node.Ports)
        {
            var name = node.Category == profile.Placement.Node && port.Name == profile.Placement.TexcoordPort ? "in" : port.Name;
            text.Append("            ").Append(TypeOf(port, node, isSurface)).Append(" inputs:").Append(name);
            if (port.Node is { } from)
                text.Append(".connect = <")
                    .Append(PathOf(root, network, from))
                    .Append(".outputs:")
                    .Append(port.Output ?? "result")
                    .Append(">\n");
            else
                text.Append(" = ").Append(ValueOf(port)).Append('\n');
        }
        foreach (var output in Outputs(network, profile, node, isSurface))
            text.Append("            ").Append(output).Append('\n');
        text.Append("        }\n");
    }

    private static string TypeOf(NetworkPort port, NetworkNode node, bool isSurface) =>
        (port.Type, port.Name) switch
        {
            ("color3", _) => "color3f",
            ("color4", _) => "float4",
            ("vector3", _) => isSurface ? "normal3f" : "float3",
            ("vector2", _) => "float2",
            ("integer", _) => "int",
            ("boolean", _) => "bool",
            ("filename", _) => "asset",
            ("string", _) => "token",
            var (type, _) => type,
        };

    private static string ValueOf(NetworkPort port) =>
        port.Type switch
        {
            "filename" => Asset(port.Value!),
            "string" or "token" => Quoted(port.Value!),
            "color3" or "color4" or "vector3" or "vector2" => $"({port.Value})",
            _ => port.Value!,
        };

    internal static string Asset(string path) =>
        path.Contains('@') ? throw new ExchangeException($"The file name '{path}' has an @, which a USD path cannot hold.") : $"@./{path}@";

    internal static string Quoted(string value) =>
        '"'
        + value
            .Replace("\\", "\\\\", StringComparison.Ordinal)
            .Replace("\"", "\\\"", StringComparison.Ordinal)
            .Replace("\n", "\\n", StringComparison.Ordinal)
        + '"';

    /// <summary>The port by which the surface is moved, where it is written.</summary>
    private static NetworkPort? MovedBy(Network network, DialectProfile profile) =>
        profile.DisplacementFormulas.GetValueOrDefault("metres") is { } metres
            ? metres.Names.Select(network.Surface.Port).FirstOrDefault(p => p?.Node is not null)
            : null;

    private static IEnumerable<string> Outputs(Network network, DialectProfile profile, NetworkNode node, bool isSurface)
    {
        if (isSurface)
            return MovedBy(network, profile) is null ? ["token outputs:surface"] : ["token outputs:displacement", "token outputs:surface"];
        var used = network
            .Nodes.SelectMany(n => n.Ports)
            .Where(p => p.Node == node.Name)
            .Select(p => p.Output ?? "result")
            .Distinct()
            .Order(StringComparer.Ordinal);
        return used.Select(o =>
            o switch
            {
                "result" => "float2 outputs:result",
                "rgb" => "float3 outputs:rgb",
                _ => $"float outputs:{o}",
            }
        );
    }

    /// <param name="material">Its path; null for none.</param>
    internal static void Mesh(StringBuilder text, string name, CarrierForm form, string? material)
    {
        text.Append("    def Mesh \"").Append(name).Append('"');
        if (material is not null)
            text.Append(" (\n        prepend apiSchemas = [\"MaterialBindingAPI\"]\n    )");
        text.Append("\n    {\n");
        if (material is not null)
            text.Append("        rel material:binding = <").Append(material).Append(">\n");
        text.Append("        uniform token subdivisionScheme = \"none\"\n");
        text.Append("        int[] faceVertexCounts = [").AppendJoin(", ", Enumerable.Repeat(3, form.Indices.Length / 3)).Append("]\n");
        text.Append("        int[] faceVertexIndices = [").AppendJoin(", ", form.Indices).Append("]\n");
        text.Append("        point3f[] points = [")
            .AppendJoin(", ", form.Positions.Select(p => $"({p.X:R}, {p.Y:R}, {p.Z:R})"))
            .Append("]\n");
        text.Append("        normal3f[] normals = [")
            .AppendJoin(", ", form.Normals.Select(p => $"({p.X:R}, {p.Y:R}, {p.Z:R})"))
            .Append("] (\n            interpolation = \"vertex\"\n        )\n");
        text.Append("        texCoord2f[] primvars:st = [")
            .AppendJoin(", ", form.Uvs.Select(p => $"({p.X:R}, {p.Y:R})"))
            .Append("] (\n            interpolation = \"vertex\"\n        )\n    }\n\n");
    }
}
