using System.Collections.Immutable;
using System.Xml;
using Kiln.Dialects.Networks;
using Kiln.Dialects.Profiles;
using Kiln.Looks.Maps;

namespace Kiln.Exchange.MaterialX;

/// <summary>
/// Reads the materials of a MaterialX document into networks: nodes at the top and in node graphs, which are opened. Entities and includes
/// are never followed.
/// </summary>
public static class MaterialXReader
{
    private const int MaximumNodes = 10_000,
        MaximumDepth = 64;

    /// <summary>Every material of the document whose surface is in it, in the document's order, whatever its dialect is called.</summary>
    /// <param name="texture">Finds the file behind a path, which carries the fileprefix in force; null when it is gone.</param>
    /// <exception cref="ExchangeException">The text is no MaterialX document or contradicts itself.</exception>
    public static IReadOnlyList<Network> Read(Stream document, DialectProfile profile, Func<string, MapFile?> texture)
    {
        var (content, space) = Content.Of(document);
        var materials = content.Materials.ToList();
        if (materials.Count == 0)
            throw new ExchangeException("The document has no material whose surface is in it.");
        string Surface(NetworkNode material) => content.Nodes[material.Port("surfaceshader")!.Node!].Category;
        var own = materials.Where(m => Surface(m) == profile.Surface).ToList();
        if (own.Count == 0)
            throw new ExchangeException(
                $"The document has no surface of {profile.Title}; it has "
                    + $"{string.Join(" and ", materials.Select(Surface).Distinct().Take(4))}."
            );
        return [.. own.Select(m => Of(content, m, profile.Id, space ?? "lin_rec709", texture))];
    }

    /// <summary>Categories of the surfaces that the document's materials have, by the materials' names.</summary>
    /// <exception cref="ExchangeException">The text is no MaterialX document.</exception>
    public static IReadOnlyList<(string Material, string Surface)> Surfaces(Stream document)
    {
        var (content, _) = Content.Of(document);
        return [.. content.Materials.Select(m => (m.Name, content.Nodes[m.Port("surfaceshader")!.Node!].Category))];
    }

    private const string Material = "surfacematerial";

    /// <summary>The network of nodes that another document holds.</summary>
    /// <param name="material">The material's name.</param>
    /// <param name="surface">Name of the node that is its surface.</param>
    /// <param name="displacement">Name of the one that moves it; null for none.</param>
    internal static Network Of(
        IEnumerable<NetworkNode> nodes,
        string material,
        string surface,
        string? displacement,
        string dialect,
        string space,
        Func<string, MapFile?> texture
    )
    {
        var content = new Content();
        foreach (var node in nodes)
            content.Add(node);
        NetworkPort[] shaders =
        [
            new("surfaceshader", "surfaceshader", Node: surface),
            .. displacement is null
                ? []
                : new NetworkPort[] { new(Network.DisplacementType, Network.DisplacementType, Node: displacement) },
        ];
        return Of(content, new(material, Material, "material", [.. shaders]), dialect, space, texture);
    }

    private static Network Of(Content content, NetworkNode material, string dialect, string space, Func<string, MapFile?> texture)
    {
        var ordered = new Order(content).Of(material);
        var textures = ordered
            .SelectMany(n => n.Ports)
            .Where(p => p.Type == "filename" && p.Value is not null)
            .Select(p => p.Value!)
            .Distinct()
            .Select(path => texture(path) is { } file ? new NetworkTexture(path, file, false) : null)
            .Where(t => t is not null);
        return new(dialect, material.Name, space, [.. ordered], [.. textures!]);
    }

    /// <summary>A node graph's nodes, under its name; its inputs and outputs stand for what they are connected to.</summary>
    private static void Graph(XmlReader xml, Content content, Scope outer)
    {
        var graph = xml.GetAttribute("name") ?? "";
        var scope = outer.Within(xml);
        if (xml.IsEmptyElement)
            return;
        var faces = new Dictionary<string, NetworkPort>();
        var inner = new List<NetworkNode>();
        using var within = xml.ReadSubtree();
        within.Read();
        while (within.Read())
        {
            TooDeep(within);
            if (within.NodeType != XmlNodeType.Element)
                continue;
            if (within.Name == "input")
                faces[within.GetAttribute("name") ?? ""] = Port(within, "", scope);
            else
                inner.Add(Element(within, graph + "/", scope));
        }
        foreach (var node in inner)
            content.Add(
                node with
                {
                    Ports =
                    [
                        .. node.Ports.Select(p =>
                            p.Node == Face && faces.TryGetValue(p.Output!, out var face) ? face with { Name = p.Name, Type = p.Type }
                            : p.Node == Face ? p with { Node = null, Output = null }
                            : p
                        ),
                    ],
                }
            );
    }

    /// <summary>
    /// What elements inherit from those around them: the nearest prefix of file names and colour space count, as in the MaterialX library
    /// (getActiveFilePrefix, getActiveColorSpace).
    /// </summary>
    private sealed record Scope(string Prefix, string? Space)
    {
        public static readonly Scope None = new("", null);

        public Scope Within(XmlReader xml) => new(xml.GetAttribute("fileprefix") ?? Prefix, xml.GetAttribute("colorspace") ?? Space);
    }

    private static void TooDeep(XmlReader xml)
    {
        if (xml.Depth > MaximumDepth)
            throw new ExchangeException($"The document is nested more than {MaximumDepth} elements deep.");
    }

    /// <summary>Stands for the inputs of a graph until they are known.</summary>
    private const string Face = "\u0001";

    private static NetworkNode Element(XmlReader xml, string prefix, Scope outer)
    {
        var scope = outer.Within(xml);
        var (category, name, type) = (xml.Name, prefix + (xml.GetAttribute("name") ?? ""), xml.GetAttribute("type") ?? "");
        if (category == "output")
            return new(name, category, type, [Port(xml, prefix, outer) with { Name = "in" }]);
        var ports = new List<NetworkPort>();
        if (!xml.IsEmptyElement)
        {
            using var inner = xml.ReadSubtree();
            inner.Read();
            while (inner.Read())
            {
                TooDeep(inner);
                if (inner.NodeType == XmlNodeType.Element && inner.Name == "input")
                    ports.Add(Port(inner, prefix, scope));
            }
        }
        return new(name, category, type, [.. ports]);
    }

    private static NetworkPort Port(XmlReader xml, string prefix, Scope outer)
    {
        string? From(string attribute) => xml.GetAttribute(attribute);
        var (type, value, scope) = (From("type") ?? "", From("value"), outer.Within(xml));
        if (type == "filename" && !string.IsNullOrEmpty(value))
            value = scope.Prefix + value;
        // Numbers have no colour space, whatever stands around them.
        var port = new NetworkPort(
            From("name") ?? "",
            type,
            value,
            Space: type is "filename" or "color3" or "color4" ? scope.Space : From("colorspace")
        );
        if (From("interfacename") is { } face)
            return port with { Value = null, Node = Face, Output = face };
        if (From("nodegraph") is { } graph)
            return port with { Value = null, Node = $"{graph}/{From("output") ?? "out"}" };
        return From("nodename") is { } node ? port with { Value = null, Node = prefix + node, Output = From("output") } : port;
    }

    private sealed class Content
    {
        public Dictionary<string, NetworkNode> Nodes { get; } = [];

        /// <summary>Materials whose surface is in the document. A surface in a graph is reached through the graph's output.</summary>
        public IEnumerable<NetworkNode> Materials =>
            Nodes.Values.Where(n => n.Category == Material && n.Port("surfaceshader")?.Node is { } s && Nodes.ContainsKey(s));

        /// <summary>A document's nodes, and the colour space that it names for its values.</summary>
        public static (Content Content, string? Space) Of(Stream document)
        {
            var content = new Content();
            string? space = null;
            var scope = Scope.None;
            try
            {
                using var xml = XmlReader.Create(
                    document,
                    new XmlReaderSettings
                    {
                        DtdProcessing = DtdProcessing.Prohibit,
                        XmlResolver = null,
                        MaxCharactersInDocument = 32 << 20,
                        IgnoreWhitespace = true,
                        IgnoreComments = true,
                    }
                );
                while (xml.Read())
                {
                    TooDeep(xml);
                    if (xml.NodeType != XmlNodeType.Element || xml.Prefix == "xi")
                        continue;
                    if (xml.Depth == 0)
                    {
                        if (xml.Name != "materialx")
                            throw new ExchangeException("The document is no MaterialX document: its first element is not 'materialx'.");
                        // The document's own space is the network's; only what lies nearer is said of a value.
                        (space, scope) = (xml.GetAttribute("colorspace"), scope.Within(xml) with { Space = null });
                    }
                    else if (xml.Name is "nodedef" or "typedef" or "look" or "implementation" or "geominfo")
                    {
                        Passed(xml);
                    }
                    else if (xml.Name == "nodegraph")
                    {
                        Graph(xml, content, scope);
                    }
                    else
                    {
                        content.Add(Element(xml, "", scope));
                    }
                }
            }
            catch (XmlException e)
            {
                throw new ExchangeException($"The document cannot be read at line {e.LineNumber}: {e.Message}", e);
            }
            return (content, space);
        }

        private static void Passed(XmlReader xml)
        {
            using var within = xml.ReadSubtree();
            while (within.Read())
                TooDeep(within);
        }

        public void Add(NetworkNode node)
        {
            if (Nodes.Count >= MaximumNodes)
                throw new ExchangeException($"The document has more than {MaximumNodes} nodes.");
            Nodes.TryAdd(node.Name, node);
        }
    }

    /// <summary>
    /// Inputs first, the surface last; what the material does not need is left out, and nodes that only pass on are passed over.
    /// </summary>
    private sealed class Order(Content content)
    {
        private readonly List<NetworkNode> result = [];
        private readonly Dictionary<string, bool> finished = [];
        private readonly Dictionary<string, string> names = [];

        public List<NetworkNode> Of(NetworkNode material)
        {
            if (material.Port(Network.DisplacementType)?.Node is { } displacement && content.Nodes.ContainsKey(displacement))
                Visit(displacement, 0);
            Visit(material.Port("surfaceshader")!.Node!, 0);
            return result;
        }

        private void Visit(string name, int depth)
        {
            if (finished.TryGetValue(name, out var done))
            {
                if (!done)
                    throw new ExchangeException($"The node '{name}' feeds itself.");
                return;
            }
            if (depth > 500)
                throw new ExchangeException("The network is deeper than 500 nodes.");
            if (!content.Nodes.TryGetValue(name, out var node))
                throw new ExchangeException($"A connection leads to the node '{name}', which is not in the document.");
            finished[name] = false;
            var ports = ImmutableArray.CreateBuilder<NetworkPort>();
            foreach (var port in node.Ports)
                ports.Add(port.Node is null ? port : Connected(port, depth));
            finished[name] = true;
            // Names of graphs have a stroke in them, which no document's own names may have.
            var plain = names[name] = Unique(name.Replace('/', '_'));
            result.AddRange(StandardNodes.Plain(node with { Name = plain, Ports = ports.ToImmutable() }));
        }

        /// <summary>The connection past what only passes on: outputs of graphs, and nodes that hold a value or nothing.</summary>
        private NetworkPort Connected(NetworkPort port, int depth)
        {
            for (var steps = 0; content.Nodes.TryGetValue(port.Node!, out var from) && StandardNodes.PassesOn(from) is { } passed; steps++)
            {
                if (steps > 500)
                    throw new ExchangeException($"The node '{from.Name}' feeds itself.");
                port = port with { Node = passed.Node, Value = passed.Value, Space = passed.Space ?? port.Space, Output = passed.Output };
                if (port.Node is null)
                    return port;
            }
            Visit(port.Node!, depth + 1);
            return port with { Node = names[port.Node!] };
        }

        private string Unique(string wanted)
        {
            var name = wanted;
            for (var i = 2; result.Any(n => n.Name == name); i++)
                name = $"{wanted}_{i}";
            return name;
        }
    }
}
