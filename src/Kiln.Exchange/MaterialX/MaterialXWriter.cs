using System.Xml;
using Kiln.Dialects.Networks;
using Kiln.Dialects.Profiles;

namespace Kiln.Exchange.MaterialX;

/// <summary>Writes a network as a MaterialX 1.39 document: the same network gives the same bytes.</summary>
public static class MaterialXWriter
{
    /// <param name="definitions">Name of the file with the stand-in's node definitions, included first; null for standard nodes
    /// only.</param>
    public static byte[] Write(Network network, DialectProfile profile, string? definitions = null) =>
        MaterialXText.Of(xml =>
        {
            xml.WriteAttributeString("colorspace", network.WorkingSpace);
            if (definitions is not null)
                MaterialXText.Include(xml, definitions);
            foreach (var node in network.Nodes)
                Node(xml, node);
            xml.WriteStartElement("surfacematerial");
            xml.WriteAttributeString("name", network.Material);
            xml.WriteAttributeString("type", "material");
            Shader(xml, network.Surface);
            if (network.Displacement is { } displacement)
                Shader(xml, displacement);
            xml.WriteEndElement();
        });

    /// <summary>The material's connection to a shader: the input is called as the shader's type is.</summary>
    private static void Shader(XmlWriter xml, NetworkNode shader)
    {
        xml.WriteStartElement("input");
        xml.WriteAttributeString("name", shader.Type);
        xml.WriteAttributeString("type", shader.Type);
        xml.WriteAttributeString("nodename", shader.Name);
        xml.WriteEndElement();
    }

    private static void Node(XmlWriter xml, NetworkNode node)
    {
        xml.WriteStartElement(node.Category);
        xml.WriteAttributeString("name", node.Name);
        xml.WriteAttributeString("type", node.Type);
        foreach (var port in node.Ports)
        {
            xml.WriteStartElement("input");
            xml.WriteAttributeString("name", port.Name);
            xml.WriteAttributeString("type", port.Type);
            if (port.Node is not null)
                xml.WriteAttributeString("nodename", port.Node);
            if (port.Output is not null)
                xml.WriteAttributeString("output", port.Output);
            if (port.Node is null)
                xml.WriteAttributeString("value", port.Value);
            if (port.Space is not null)
                xml.WriteAttributeString("colorspace", port.Space);
            xml.WriteEndElement();
        }
        xml.WriteEndElement();
    }
}
