using System.Text;
using System.Xml;
using Kiln.Dialects.Profiles;

namespace Kiln.Exchange.MaterialX;

/// <summary>
/// The MaterialX 1.39 node definitions of a dialect whose nodes are its own, made from its profile, so that any MaterialX library can read
/// its networks.
/// The same profile gives the same bytes.
/// </summary>
public static class NodeDefinitions
{
    private const string Colour = "color3",
        Number = "float",
        Vector = "vector3";

    /// <summary>Null where the document needs none.</summary>
    public static byte[]? Write(DialectProfile profile)
    {
        if (profile is not { Document: DocumentKind.MaterialX, Definitions: NodeDefinitionSource.Own })
            return null;
        return MaterialXText.Of(xml =>
        {
            xml.WriteComment($" Node definitions of {profile.Title}, made from its profile. ");
            Surface(xml, profile);
            Picture(xml, profile);
            if (profile.Placement is { Node: { } place } rule)
                Definition(xml, place, place, "procedural2d", PlacementPorts(rule), "vector2");
            // A node that adds reliefs may be the one that decodes a single one too: it is defined once, with all its ports.
            foreach (
                var (operation, node) in profile.Nodes.Where(n =>
                    n.Key != "decodeNormal" || profile.Nodes.GetValueOrDefault("addReliefs")?.Node != n.Value.Node
                )
            )
            foreach (var (suffix, ports, output) in Forms(profile, operation, node))
                Definition(xml, suffix.Length == 0 ? node.Node : $"{node.Node}_{suffix}", node.Node, Group(operation), ports, output);
        });
    }

    private static void Surface(XmlWriter xml, DialectProfile profile)
    {
        var inputs = profile
            .Inputs.Where(i => !i.IsOfDisplacement && (profile.Structure == NetworkStructure.Nodes || i.Type != Vector))
            .Select(i =>
                (
                    i.Name,
                    i.Type == "token" ? "string" : i.Type,
                    i.Default is { } d
                        ? i.TakesMaps
                            ? string.Join(", ", d)
                            : i.Choice(d[0])
                        : null
                )
            );
        Definition(
            xml,
            profile.Surface,
            profile.Surface,
            "pbr",
            [.. inputs, .. profile.Slots.Select(s => (s.Name, s.PictureType, (string?)null))],
            "surfaceshader"
        );
    }

    private static void Picture(XmlWriter xml, DialectProfile profile)
    {
        if (profile.Image is not { } image)
            return;
        var ports = new List<(string, string, string?)> { (image.FilePort, "filename", "") };
        if (image.SpacePort is { } space)
            ports.Add(
                (
                    space,
                    image.SpaceType,
                    image.SpaceType switch
                    {
                        "string" => "",
                        "boolean" => "false",
                        _ => "1",
                    }
                )
            );
        if (image.KindPort is { } kind)
            ports.Add((kind, "string", image.Kinds!["scalar"]));
        foreach (var (name, value) in image.Fixed ?? [])
            ports.Add((name, "string", value));
        ports.AddRange(profile.Placement is { Node: null } rule ? PlacementPorts(rule) : [(image.TexcoordPort, "vector2", null)]);
        var types =
            profile.Structure == NetworkStructure.Slots ? profile.Slots.Select(s => s.PictureType).Distinct()
            : profile.Nodes.ContainsKey("channel") ? [Number, Colour, Vector, "vector4"]
            : [Number, Colour, Vector];
        foreach (var type in types)
            Definition(xml, $"{image.Node}_{type}", image.Node, "texture2d", ports, type);
    }

    private static (string, string, string?)[] PlacementPorts(PlacementRule rule) =>
        [
            (rule.ScalePort, "vector2", "1, 1"),
            (rule.RotatePort, Number, "0"),
            (rule.ShiftPort, "vector2", "0, 0"),
            .. (rule.Fixed ?? []).Select(f => (f.Key, "integer", (string?)f.Value)),
        ];

    /// <summary>
    /// The forms of an operation that networks use: for numbers, colours and vectors, and with plain numbers beside a colour.
    /// </summary>
    private static IEnumerable<(string Suffix, (string, string, string?)[] Ports, string Output)> Forms(
        DialectProfile profile,
        string operation,
        NodeRule node
    )
    {
        var p = node.Ports;
        (string, string, string?) Port(int i, string type) => Typed(p[i], type);
        switch (operation)
        {
            case "channel":
                foreach (var type in new[] { Colour, Vector, "vector4" })
                    yield return (type, [Port(0, type), (p[1], "integer", "0")], Number);
                break;
            case "luminance":
                yield return ("", [Port(0, Colour), ("lumacoeffs", Colour, "0.2722287, 0.6740818, 0.0536895")], Colour);
                break;
            case "splat":
                yield return ("", [Port(0, Number)], Colour);
                break;
            case "decodeNormal":
                yield return ("", [(p[0], Vector, "0.5, 0.5, 1"), (p[1], Number, "1")], Vector);
                break;
            case "addReliefs":
                var usual = profile.Nodes.GetValueOrDefault("decodeNormal")?.Node == node.Node ? "0.5, 0.5, 1" : "0, 0, 1";
                yield return (
                    "",
                    [.. p.Select((name, i) => i % 2 == 0 ? (name, Vector, usual) : (name, Number, i == 1 ? "1" : "0"))],
                    Vector
                );
                break;
            case "turn":
                yield return ("", [Port(0, Vector), (p[1], "matrix33", "1, 0, 0, 0, 1, 0, 0, 0, 1")], Vector);
                break;
            case "normalise":
                yield return ("", [(p[0], Vector, "0, 0, 1")], Vector);
                break;
            case "curve":
                foreach (var type in new[] { Number, Colour })
                    yield return (type, [Port(0, type), .. Enumerable.Range(1, 3).Select(i => (p[i], "floatarray", (string?)null))], type);
                break;
            default:
                foreach (var form in Arithmetic(p, operation))
                    yield return form;
                break;
        }
    }

    /// <summary>Of an operation that works by component.</summary>
    private static IEnumerable<(string Suffix, (string, string, string?)[] Ports, string Output)> Arithmetic(string[] p, string operation)
    {
        var main = Enumerable
            .Range(0, p.Length)
            .Select(i => operation == "ifGreater" ? i >= 2 : i == 0 || operation == "mix" && i == 1)
            .ToArray();
        (string, string, string?)[] All(string type) => [.. p.Select(name => Typed(name, type))];
        (string, string, string?)[] Main(string type) => [.. p.Select((name, i) => Typed(name, main[i] ? type : Number))];
        foreach (var type in new[] { Number, Colour, Vector })
            if (type == Number || operation is "clamp" or "remap" or "mix" or "ifGreater" or "invert" or "squareRoot")
            {
                yield return (type, Main(type), type);
                if (type == Colour && operation is "clamp" or "remap")
                    yield return ("color3_color3", All(Colour), Colour);
            }
            else
            {
                yield return (type, All(type), type);
                yield return (type + "FA", Main(type), type);
            }
    }

    private static (string Name, string Type, string? Usual) Typed(string name, string type) =>
        (
            name,
            type,
            type switch
            {
                Number => "0",
                Colour or Vector => "0, 0, 0",
                "vector4" => "0, 0, 0, 0",
                _ => null,
            }
        );

    private static string Group(string operation) =>
        operation switch
        {
            "mix" => "compositing",
            "ifGreater" => "conditional",
            "channel" or "splat" => "channel",
            "luminance" or "curve" => "adjustment",
            _ => "math",
        };

    private static void Definition(
        XmlWriter xml,
        string name,
        string node,
        string group,
        IEnumerable<(string Name, string Type, string? Value)> inputs,
        string output
    )
    {
        xml.WriteStartElement("nodedef");
        xml.WriteAttributeString("name", "ND_" + name);
        xml.WriteAttributeString("node", node);
        xml.WriteAttributeString("nodegroup", group);
        foreach (var input in inputs)
        {
            xml.WriteStartElement("input");
            xml.WriteAttributeString("name", input.Name);
            xml.WriteAttributeString("type", input.Type);
            if (input.Value is not null)
                xml.WriteAttributeString("value", input.Value);
            else if (input.Type == "vector2")
                // Coordinates that are not connected are the surface's own, as of the standard's image nodes.
                xml.WriteAttributeString("defaultgeomprop", "UV0");
            xml.WriteEndElement();
        }
        xml.WriteStartElement("output");
        xml.WriteAttributeString("name", "out");
        xml.WriteAttributeString("type", output);
        xml.WriteEndElement();
        xml.WriteEndElement();
    }
}
