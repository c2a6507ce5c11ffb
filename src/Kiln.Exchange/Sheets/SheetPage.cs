using System.Net;
using System.Text;

namespace Kiln.Exchange.Sheets;

/// <summary>Sheets as one HTML file that needs nothing beside it, made to be printed: A4, a page for each look, or a grid of all.</summary>
public static class SheetPage
{
    private const string Style = """
        @page { size: A4; margin: 12mm }
        * { box-sizing: border-box }
        body { font: 9.5pt/1.35 "IBM Plex Sans", system-ui, sans-serif; color: #222; background: #fff; margin: 0 auto;
          max-width: 186mm; padding: 6mm 0 }
        h1 { font-size: 15pt; font-weight: 500; margin: 0 } h2 { font-size: 10pt; font-weight: 600; margin: 4mm 0 1mm }
        p { margin: 0 } .soft { color: #555 } figure { margin: 0 } figcaption { font-size: 8pt; overflow-wrap: anywhere }
        .shots { display: grid; grid-template-columns: repeat(4, 1fr); gap: 3mm; margin-top: 3mm }
        .grid { display: grid; grid-template-columns: repeat(5, 1fr); gap: 3mm; margin-top: 3mm }
        .variants { display: grid; grid-template-columns: repeat(10, 1fr); gap: 2mm }
        img { display: block; width: 100%; aspect-ratio: 1; background: #777 }
        table { border-collapse: collapse; width: 100%; font-size: 8.5pt }
        th { text-align: left; font-weight: 400; color: #555; border-bottom: .3mm solid #222 }
        td { border-bottom: .1mm solid #bbb; vertical-align: top; overflow-wrap: anywhere }
        td, th { padding: .6mm 2mm .6mm 0 }
        .chip { display: inline-block; width: 7mm; height: 3mm; border: .1mm solid #999; margin-right: 1.5mm; vertical-align: middle }
        section { break-after: page } section:last-child { break-after: auto }
        figure, tr { break-inside: avoid } ul { margin: 0; padding-left: 4mm }
        @media screen { section + section { margin-top: 12mm; border-top: .3mm solid #222; padding-top: 4mm } }
        """;

    /// <summary>All looks in a grid.</summary>
    public static byte[] Contact(SheetContents sheet) => Page(sheet.Title, text =>
        {
            text.Append($"<h1>{Safe(sheet.Title)}</h1><p class=\"soft\">{Safe(sheet.Under)}</p><div class=\"grid\">");
            foreach (var look in sheet.Looks)
                Figure(text, look.Shots[0].Jpeg, look.Name, look.Line);
            text.Append("</div>");
        });

    /// <summary>A page for each look.</summary>
    public static byte[] Looks(SheetContents sheet) => Page(sheet.Title, text =>
        {
            foreach (var look in sheet.Looks)
            {
                text.Append(
                    $"<section><h1>{Safe(look.Name)}</h1><p>{Safe(look.Line)}</p><p "
                        + $"class=\"soft\">{Safe($"{sheet.Title}; {sheet.Under}")}</p><div class=\"shots\">"
                );
                foreach (var shot in look.Shots)
                    Figure(text, shot.Jpeg, shot.Caption, "");
                text.Append("</div>");
                Table(
                    text,
                    "Lanes",
                    ["input", "begins with", "steps"],
                    look.Lanes.Select(l =>
                        (string[])
                            [
                                Safe(l.Input),
                                (l.Hex is null ? "" : $"<span class=\"chip\" style=\"background:{l.Hex}\"></span>") + Safe(l.Begins),
                                Safe(l.Steps),
                            ]
                    )
                );
                Table(
                    text,
                    "Maps",
                    ["role", "file", "size", "read as", "MB"],
                    look.Maps.Select(m => (string[])[Safe(m.Role), Safe(m.File), Safe(m.Size), Safe(m.Reading), Safe(m.Megabytes)])
                );
                if (look.Variants.Count > 0)
                {
                    text.Append("<h2>Variants</h2><div class=\"variants\">");
                    foreach (var variant in look.Variants)
                        Figure(text, variant.Jpeg, variant.Caption, "");
                    text.Append("</div>");
                }
                List(text, "Versions", look.Versions);
                if (look.Rules is { } rules)
                    List(text, "Rules of its collections", rules.Count == 0 ? ["All are kept."] : rules);
                text.Append("</section>");
            }
        });

    private static byte[] Page(string title, Action<StringBuilder> body)
    {
        var text = new StringBuilder(
            "<!doctype html><html lang=\"en\"><head><meta "
                + $"charset=\"utf-8\"><title>{Safe(title)}</title><style>{Style}</style></head><body>"
        );
        body(text);
        return Encoding.UTF8.GetBytes(text.Append("</body></html>\n").ToString());
    }

    private static void Figure(StringBuilder text, byte[] jpeg, string words, string below)
    {
        text.Append($"<figure><img alt=\"{Safe(words)}\" src=\"data:image/jpeg;base64,{Convert.ToBase64String(jpeg)}\">");
        text.Append($"<figcaption>{Safe(words)}");
        if (below.Length > 0)
            text.Append($"<br><span class=\"soft\">{Safe(below)}</span>");
        text.Append("</figcaption></figure>");
    }

    /// <param name="rows">Safe already.</param>
    private static void Table(StringBuilder text, string title, string[] columns, IEnumerable<string[]> rows)
    {
        text.Append($"<h2>{title}</h2><table><thead><tr>");
        foreach (var column in columns)
            text.Append($"<th>{column}</th>");
        text.Append("</tr></thead><tbody>");
        foreach (var row in rows)
            text.Append("<tr>").AppendJoin("", row.Select(c => $"<td>{c}</td>")).Append("</tr>");
        text.Append("</tbody></table>");
    }

    private static void List(StringBuilder text, string title, IReadOnlyList<string> lines)
    {
        if (lines.Count > 0)
            text.Append($"<h2>{title}</h2><ul>").AppendJoin("", lines.Select(l => $"<li>{Safe(l)}</li>")).Append("</ul>");
    }

    private static string Safe(string text) => WebUtility.HtmlEncode(text);
}
