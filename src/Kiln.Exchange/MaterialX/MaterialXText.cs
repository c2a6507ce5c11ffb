using System.Text;
using System.Xml;

namespace Kiln.Exchange.MaterialX;

/// <summary>A MaterialX 1.39 document as text: the same content gives the same bytes.</summary>
internal static class MaterialXText
{
    /// <param name="fill">Writes what stands in the document's element, after its version.</param>
    public static byte[] Of(Action<XmlWriter> fill)
    {
        using var memory = new MemoryStream();
        var settings = new XmlWriterSettings
        {
            Indent = true,
            IndentChars = "  ",
            Encoding = new UTF8Encoding(false),
            NewLineChars = "\n",
        };
        using (var xml = XmlWriter.Create(memory, settings))
        {
            xml.WriteStartDocument();
            xml.WriteStartElement("materialx");
            xml.WriteAttributeString("version", "1.39");
            fill(xml);
            xml.WriteEndElement();
        }
        memory.WriteByte((byte)'\n');
        return memory.ToArray();
    }

    public static void Include(XmlWriter xml, string file)
    {
        xml.WriteStartElement("xi", "include", "http://www.w3.org/2001/XInclude");
        xml.WriteAttributeString("href", file);
        xml.WriteEndElement();
    }
}
