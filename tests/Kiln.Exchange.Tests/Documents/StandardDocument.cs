using System.Globalization;
using System.Numerics;
using System.Text.RegularExpressions;
using System.Xml.Linq;

namespace Kiln.Exchange.Tests.Documents;

/// <summary>
/// A written MaterialX document worked out node by node by the MaterialX 1.39.4 library's own definitions: an input that is not connected
/// has the definition's default and
/// nothing kinder, a node that the library builds of others is worked out through the library's graph. Nothing of ours takes part.
/// </summary>
internal sealed class StandardDocument
{
    private static readonly Lazy<string> Library = new(() =>
        File.ReadAllText(Path.Combine(Workshop.Outside(), "node_modules/@needle-tools/materialx/bin/JsMaterialXGenShader.data.txt"))
    );
    private static readonly Dictionary<string, XElement> Known = [];

    private readonly Dictionary<string, XElement> nodes;
    private readonly Func<string, string?, Vector2, double[]> picture;

    /// <param name="picture">Looks a picture up: its path, the colour space written beside it, and coordinates with v up.</param>
    public StandardDocument(string path, Func<string, string?, Vector2, double[]> picture)
    {
        nodes = XDocument
            .Load(path)
            .Root!.Elements()
            .Where(e => e.Attribute("name") is not null)
            .ToDictionary(e => e.Attribute("name")!.Value);
        this.picture = picture;
    }

    /// <summary>An input of the surface at a point of UV.</summary>
    public double[] Surface(string category, string input, Vector2 uv) =>
        Port(nodes, nodes.Values.Single(n => n.Name.LocalName == category), input, uv, null);

    /// <summary>The definition of a node by its category, type and, where several fit, the types of its inputs.</summary>
    private static XElement Definition(XElement node)
    {
        var (category, type) = (node.Name.LocalName, node.Attribute("type")!.Value);
        var key =
            $"{category}/{type}/"
            + string.Join(",", node.Elements("input").Select(i => i.Attribute("name")!.Value + ":" + i.Attribute("type")!.Value));
        if (Known.TryGetValue(key, out var known))
            return known;
        foreach (
            Match match in Regex.Matches(Library.Value, $"<nodedef [^>]*node=\"{category}\"[^>]*>.*?</nodedef>", RegexOptions.Singleline)
        )
        {
            var definition = XElement.Parse(match.Value);
            if (
                definition.Elements("output").First().Attribute("type")!.Value == type
                && node.Elements("input")
                    .All(i =>
                        definition
                            .Elements("input")
                            .Any(d =>
                                d.Attribute("name")!.Value == i.Attribute("name")!.Value
                                && d.Attribute("type")!.Value == i.Attribute("type")!.Value
                            )
                    )
            )
                return Known[key] = definition;
        }
        throw new NotSupportedException($"The library defines no {category} of type {type} with the inputs {key}.");
    }

    private double[] Port(Dictionary<string, XElement> scope, XElement node, string name, Vector2 uv, Func<string, double[]>? outer)
    {
        if (node.Elements("input").FirstOrDefault(i => i.Attribute("name")!.Value == name) is { } port)
        {
            if (port.Attribute("interfacename") is { } face)
                return outer!(face.Value);
            return port.Attribute("nodename") is { } from
                ? Value(scope, scope[from.Value], uv, outer)
                : Numbers(port.Attribute("value")!.Value);
        }
        var standard = Definition(node).Elements("input").First(i => i.Attribute("name")!.Value == name);
        return standard.Attribute("defaultgeomprop")?.Value == "UV0" ? [uv.X, uv.Y] : Numbers(standard.Attribute("value")!.Value);
    }

    private static double[] Numbers(string text) => [.. text.Split(',').Select(v => double.Parse(v, CultureInfo.InvariantCulture))];

    private static double[] Each(double[] a, double[] b, Func<double, double, double> f) =>
        [.. Enumerable.Range(0, Math.Max(a.Length, b.Length)).Select(i => f(a[a.Length == 1 ? 0 : i], b[b.Length == 1 ? 0 : i]))];

    private double[] Value(Dictionary<string, XElement> scope, XElement node, Vector2 uv, Func<string, double[]>? outer)
    {
        double[] In(string port) => Port(scope, node, port, uv, outer);
        switch (node.Name.LocalName)
        {
            case "image":
                var at = In("texcoord");
                var file = node.Elements("input").First(i => i.Attribute("name")!.Value == "file");
                return picture(file.Attribute("value")!.Value, file.Attribute("colorspace")?.Value, new((float)at[0], (float)at[1]));
            case "texcoord":
                return [uv.X, uv.Y];
            case "add":
                return Each(In("in1"), In("in2"), (a, b) => a + b);
            case "subtract":
                return Each(In("in1"), In("in2"), (a, b) => a - b);
            case "multiply":
                return Each(In("in1"), In("in2"), (a, b) => a * b);
            case "divide":
                return Each(In("in1"), In("in2"), (a, b) => a / b);
            case "switch":
                return In("which")[0] == 0 ? In("in1") : In("in2");
            case "rotate2d":
                // mx_rotate_vector2.glsl of the same library.
                var (sin, cos) = Math.SinCos(In("amount")[0] * Math.PI / 180);
                return In("in") is var r ? [cos * r[0] + sin * r[1], -sin * r[0] + cos * r[1]] : [];
            default:
                return Graph(node, uv, In);
        }
    }

    /// <summary>A node that the library builds of others.</summary>
    private double[] Graph(XElement node, Vector2 uv, Func<string, double[]> given)
    {
        var name = Definition(node).Attribute("name")!.Value;
        var match = Regex.Match(Library.Value, $"<nodegraph [^>]*nodedef=\"{name}\"[^>]*>.*?</nodegraph>", RegexOptions.Singleline);
        if (!match.Success)
            throw new NotSupportedException($"'{node.Name.LocalName}' is not worked out here.");
        var graph = XElement.Parse(match.Value);
        var inner = graph.Elements().Where(e => e.Name.LocalName != "output").ToDictionary(e => e.Attribute("name")!.Value);
        return Value(inner, inner[graph.Elements("output").First().Attribute("nodename")!.Value], uv, given);
    }
}
