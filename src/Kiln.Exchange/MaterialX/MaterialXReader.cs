using System.Collections.Immutable;
using System.Xml;
using Kiln.Dialects.Networks;
using Kiln.Looks.Document;

namespace Kiln.Exchange.MaterialX;

/// <summary>Reads the first material of a MaterialX document back into a network: nodes at the top and in node graphs, which are opened. Entities and includes are never followed.</summary>
public static class MaterialXReader
{
    private const int MaximumNodes = 10_000;

    /// <param name="texture">Finds the file behind a path as written, or null when it is gone.</param>
    /// <exception cref="ExchangeException">The text is no MaterialX document or contradicts itself.</exception>
    public static Network Read(Stream document, string dialect, Func<string, MapFile?> texture)
    {
        var content = new Content();
        string? space = null;
        try
        {
            using var xml = XmlReader.Create(document, new XmlReaderSettings { DtdProcessing = DtdProcessing.Prohibit, XmlResolver = null, MaxCharactersInDocument = 32 << 20, IgnoreWhitespace = true, IgnoreComments = true });
            while (xml.Read())
            {
                if (xml.NodeType != XmlNodeType.Element || xml.Prefix == "xi")
                    continue;
                if (xml.Depth == 0)
                {
                    if (xml.Name != "materialx")
                        throw new ExchangeException("The document is no MaterialX document: its first element is not 'materialx'.");
                    space = xml.GetAttribute("colorspace");
                }
                else if (xml.Name is "nodedef" or "typedef" or "look" or "implementation" or "geominfo")
                {
                    xml.Skip();
                }
                else if (xml.Name == "nodegraph")
                {
                    Graph(xml, content);
                }
                else
                {
                    content.Add(Element(xml, ""));
                }
            }
        }
        catch (XmlException e)
        {
            throw new ExchangeException($"The document cannot be read at line {e.LineNumber}: {e.Message}", e);
        }
        if (content.Nodes.Values.FirstOrDefault(n => n.Category == Material && n.Port("surfaceshader")?.Node is { } s && content.Nodes.ContainsKey(s)) is not { } material)
            throw new ExchangeException("The document has no material whose surface is in it.");
        return Of(content, material, dialect, space ?? "lin_rec709", texture);
    }

    private const string Material = "surfacematerial";

    /// <summary>The network of nodes that another document holds.</summary>
    /// <param name="material">The material's name.</param>
    /// <param name="surface">Name of the node that is its surface.</param>
    /// <param name="displacement">Name of the one that moves it; null for none.</param>
    internal static Network Of(IEnumerable<NetworkNode> nodes, string material, string surface, string? displacement, string dialect, string space, Func<string, MapFile?> texture)
    {
        var content = new Content();
        foreach (var node in nodes)
            content.Add(node);
        NetworkPort[] shaders = [new("surfaceshader", "surfaceshader", Node: surface), .. displacement is null ? [] : new NetworkPort[] { new(Network.DisplacementType, Network.DisplacementType, Node: displacement) }];
        return Of(content, new(material, Material, "material", [.. shaders]), dialect, space, texture);
    }

    private static Network Of(Content content, NetworkNode material, string dialect, string space, Func<string, MapFile?> texture)
    {
        var ordered = new Order(content).Of(material);
        var textures = ordered.SelectMany(n => n.Ports).Where(p => p.Type == "filename" && p.Value is not null).Select(p => p.Value!).Distinct()
            .Select(path => texture(path) is { } file ? new NetworkTexture(path, file, false) : null).Where(t => t is not null);
        return new(dialect, material.Name, space, [.. ordered], [.. textures!]);
    }

    /// <summary>A node graph's nodes, under its name; its inputs and outputs stand for what they are connected to.</summary>
    private static void Graph(XmlReader xml, Content content)
    {
        var graph = xml.GetAttribute("name") ?? "";
        if (xml.IsEmptyElement)
            return;
        var faces = new Dictionary<string, NetworkPort>();
        var inner = new List<NetworkNode>();
        using var within = xml.ReadSubtree();
        within.Read();
        while (within.Read())
        {
            if (within.NodeType != XmlNodeType.Element)
                continue;
            if (within.Name == "input")
                faces[within.GetAttribute("name") ?? ""] = Port(within, "");
            else
                inner.Add(Element(within, graph + "/"));
        }
        foreach (var node in inner)
            content.Add(node with { Ports = [.. node.Ports.Select(p => p.Node == Face && faces.TryGetValue(p.Output!, out var face) ? face with { Name = p.Name, Type = p.Type } : p.Node == Face ? p with { Node = null, Output = null } : p)] });
    }

    /// <summary>Stands for the inputs of a graph until they are known.</summary>
    private const string Face = "\u0001";

    private static NetworkNode Element(XmlReader xml, string prefix)
    {
        var (category, name, type) = (xml.Name, prefix + (xml.GetAttribute("name") ?? ""), xml.GetAttribute("type") ?? "");
        if (category == "output")
            return new(name, category, type, [Port(xml, prefix) with { Name = "in" }]);
        var ports = new List<NetworkPort>();
        if (!xml.IsEmptyElement)
        {
            using var inner = xml.ReadSubtree();
            inner.Read();
            while (inner.Read())
                if (inner.NodeType == XmlNodeType.Element && inner.Name == "input")
                    ports.Add(Port(inner, prefix));
        }
        return new(name, category, type, [.. ports]);
    }

    private static NetworkPort Port(XmlReader xml, string prefix)
    {
        string? From(string attribute) => xml.GetAttribute(attribute);
        var port = new NetworkPort(From("name") ?? "", From("type") ?? "", From("value"), Space: From("colorspace"));
        if (From("interfacename") is { } face)
            return port with { Value = null, Node = Face, Output = face };
        if (From("nodegraph") is { } graph)
            return port with { Value = null, Node = $"{graph}/{From("output") ?? "out"}" };
        return From("nodename") is { } node ? port with { Value = null, Node = prefix + node, Output = From("output") } : port;
    }

    private sealed class Content
    {
        public Dictionary<string, NetworkNode> Nodes { get; } = [];

        public void Add(NetworkNode node)
        {
            if (Nodes.Count >= MaximumNodes)
                throw new ExchangeException($"The document has more than {MaximumNodes} nodes.");
            Nodes.TryAdd(node.Name, node);
        }
    }

    /// <summary>Inputs first, the surface last; what the material does not need is left out, and nodes that only pass on are passed over.</summary>
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
