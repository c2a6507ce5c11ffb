using System.Xml;
using Kiln.Dialects.Networks;
using Kiln.Looks.Document;

namespace Kiln.Exchange.MaterialX;

/// <summary>Reads a flat MaterialX document (nodes at the top, one material) back into a network. Entities and includes are never followed.</summary>
public static class MaterialXReader
{
    private const int MaximumNodes = 10_000;

    /// <param name="texture">Finds the file behind a path as written, or null when it is gone.</param>
    /// <exception cref="ExchangeException">The text is no MaterialX document or contradicts itself.</exception>
    public static Network Read(Stream document, string dialect, Func<string, MapFile?> texture)
    {
        var nodes = new List<NetworkNode>();
        string? material = null, surface = null, space = null;
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
                else if (xml.Depth == 1)
                {
                    if (nodes.Count >= MaximumNodes)
                        throw new ExchangeException($"The document has more than {MaximumNodes} nodes.");
                    var node = Node(xml);
                    if (node.Category == "surfacematerial")
                        (material, surface) = (node.Name, node.Port("surfaceshader")?.Node);
                    else
                        nodes.Add(node);
                }
            }
        }
        catch (XmlException e)
        {
            throw new ExchangeException($"The document cannot be read at line {e.LineNumber}: {e.Message}", e);
        }
        if (surface is null || nodes.All(n => n.Name != surface))
            throw new ExchangeException("The document has no material whose surface is in it.");
        var ordered = Ordered(nodes, surface);
        var textures = ordered.SelectMany(n => n.Ports).Where(p => p.Type == "filename").Select(p => p.Value!).Distinct()
            .Select(path => texture(path) is { } file ? new NetworkTexture(path, file, false) : null).Where(t => t is not null);
        return new(dialect, material!, space ?? "lin_rec709", [.. ordered], [.. textures!]);
    }

    private static NetworkNode Node(XmlReader xml)
    {
        var (category, name, type) = (xml.Name, xml.GetAttribute("name") ?? "", xml.GetAttribute("type") ?? "");
        var ports = new List<NetworkPort>();
        if (!xml.IsEmptyElement)
        {
            using var inner = xml.ReadSubtree();
            inner.Read();
            while (inner.Read())
                if (inner.NodeType == XmlNodeType.Element && inner.Name == "input")
                    ports.Add(new(inner.GetAttribute("name") ?? "", inner.GetAttribute("type") ?? "", inner.GetAttribute("value"), inner.GetAttribute("nodename"), inner.GetAttribute("colorspace"), inner.GetAttribute("output")));
        }
        return new(name, category, type, [.. ports]);
    }

    /// <summary>Inputs first, the surface last; what the surface does not need is left out.</summary>
    private static List<NetworkNode> Ordered(List<NetworkNode> nodes, string surface)
    {
        var byName = nodes.GroupBy(n => n.Name).ToDictionary(g => g.Key, g => g.First());
        var result = new List<NetworkNode>();
        var state = new Dictionary<string, bool>();
        void Visit(string name, int depth)
        {
            if (state.TryGetValue(name, out var finished))
            {
                if (!finished)
                    throw new ExchangeException($"The node '{name}' feeds itself.");
                return;
            }
            if (depth > 500)
                throw new ExchangeException("The network is deeper than 500 nodes.");
            if (!byName.TryGetValue(name, out var node))
                throw new ExchangeException($"A connection leads to the node '{name}', which is not in the document.");
            state[name] = false;
            foreach (var port in node.Ports.Where(p => p.Node is not null))
                Visit(port.Node!, depth + 1);
            state[name] = true;
            result.Add(node);
        }
        Visit(surface, 0);
        return result;
    }
}
