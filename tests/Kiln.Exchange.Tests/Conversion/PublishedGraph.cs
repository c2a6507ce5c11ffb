using System.Globalization;
using System.Xml.Linq;

namespace Kiln.Exchange.Tests.Conversion;

/// <summary>A node graph of the MaterialX library's own files, worked out for plain values. Numbers are lists of one or three.</summary>
internal sealed class PublishedGraph
{
    private readonly Dictionary<string, XElement> nodes;
    private readonly Func<string, double[]> given;
    private readonly Dictionary<string, double[]> done = [];

    public PublishedGraph(string name, Func<string, double[]> given)
    {
        this.given = given;
        var library = File.ReadAllText(
            Path.Combine(Workshop.Outside(), "node_modules/@needle-tools/materialx/bin/JsMaterialXGenShader.data.txt")
        );
        var start = library.IndexOf($"<nodegraph name=\"{name}\"", StringComparison.Ordinal);
        Assert.True(start >= 0, $"the library has no graph {name}");
        var end = library.IndexOf("</nodegraph>", start, StringComparison.Ordinal) + "</nodegraph>".Length;
        nodes = XElement
            .Parse(library[start..end])
            .Elements()
            .ToDictionary(e => (e.Name.LocalName == "output" ? "output " : "") + e.Attribute("name")!.Value);
    }

    public IEnumerable<string> Outputs => nodes.Keys.Where(k => k.StartsWith("output ", StringComparison.Ordinal)).Select(k => k[7..]);

    public double[] Output(string name) =>
        Node(nodes["output " + name].Attribute("nodename")!.Value, nodes["output " + name].Attribute("output")?.Value);

    private double[] Node(string name, string? output)
    {
        var key = name + "/" + output;
        return done.TryGetValue(key, out var known) ? known : done[key] = Value(nodes[name], output);
    }

    private double[] Port(XElement node, string name, double missing = 0)
    {
        var port = node.Elements("input").FirstOrDefault(i => i.Attribute("name")!.Value == name);
        if (port is null)
            return [missing];
        if (port.Attribute("interfacename") is { } outer)
            return given(outer.Value);
        return port.Attribute("nodename") is { } from
            ? Node(from.Value, port.Attribute("output")?.Value)
            :
            [
                .. port.Attribute("value")!
                    .Value.Split(',')
                    .Select(v =>
                        v.Trim() switch
                        {
                            "true" => 1,
                            "false" => 0,
                            var t => double.Parse(t, CultureInfo.InvariantCulture),
                        }
                    ),
            ];
    }

    private static double[] Each(double[] a, double[] b, Func<double, double, double> f) =>
        [.. Enumerable.Range(0, Math.Max(a.Length, b.Length)).Select(i => f(a[a.Length == 1 ? 0 : i], b[b.Length == 1 ? 0 : i]))];

    private double[] Value(XElement node, string? output)
    {
        double[] In(string port, double missing = 0) => Port(node, port, missing);
        bool Wide() => node.Attribute("type")!.Value is "color3" or "vector3";
        switch (node.Name.LocalName)
        {
            case "add":
                return Each(In("in1"), In("in2"), (a, b) => a + b);
            case "subtract":
                return Each(In("in1"), In("in2"), (a, b) => a - b);
            case "multiply":
                return Each(In("in1"), In("in2", 1), (a, b) => a * b);
            case "divide":
                return Each(In("in1"), In("in2", 1), (a, b) => a / b);
            case "power":
                return Each(In("in1"), In("in2", 1), Math.Pow);
            case "max":
                return Each(In("in1"), In("in2"), Math.Max);
            case "min":
                return Each(In("in1"), In("in2"), Math.Min);
            case "sqrt":
                return Each(In("in"), [0], (a, _) => Math.Sqrt(Math.Max(0, a)));
            case "dot":
                return In("in");
            case "switch":
                return In("which")[0] == 0 ? In("in1") : In("in2");
            case "rotate2d":
                // mx_rotate_vector2.glsl of the same library.
                var (sin, cos) = Math.SinCos(In("amount")[0] * Math.PI / 180);
                return In("in") is var r ? [cos * r[0] + sin * r[1], -sin * r[0] + cos * r[1]] : [];
            case "constant":
                return In("value");
            case "convert":
                return Wide() && In("in") is { Length: 1 } one ? [one[0], one[0], one[0]] : In("in");
            case "extract":
                return [In("in") is var v && v.Length > 1 ? v[(int)In("index")[0]] : v[0]];
            case "dotproduct":
                return [Each(In("in1"), In("in2"), (a, b) => a * b).Sum()];
            case "mix":
                return Each(
                    Each(In("bg"), Each([1], In("mix"), (a, b) => a - b), (a, b) => a * b),
                    Each(In("fg"), In("mix"), (a, b) => a * b),
                    (a, b) => a + b
                );
            case "ifgreater":
                return In("value1", 1)[0] > In("value2")[0] ? In("in1") : In("in2");
            case "ifgreatereq":
                return In("value1", 1)[0] >= In("value2")[0] ? In("in1") : In("in2");
            case "ifequal":
                return In("value1")[0] == In("value2")[0] ? In("in1") : In("in2");
            case "roughness_anisotropy":
                // The library's own graph of the node: aspect = √(1 − 0.98 a…) over squared roughness; only the isotropic case is asked for
                // here.
                Assert.Equal(0, In("anisotropy")[0]);
                return Each(In("roughness"), In("roughness"), (a, b) => a * b) is var w ? [w[0], w[0]] : [];
            case "separate2":
                return [In("in")[output == "outy" ? 1 : 0]];
            default:
                throw new NotSupportedException($"'{node.Name.LocalName}' of the library's graph is not worked out here.");
        }
    }
}
