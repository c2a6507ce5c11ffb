namespace Kiln.Exchange.Tests.Conversion;

/// <summary>
/// A table of a document that a test counts: it fails when the document says otherwise; with KILN_RENEW_TABLES=1 it writes the table into
/// the document instead.
/// </summary>
internal static class DocumentedTable
{
    /// <param name="document">Name of a file in docs/.</param>
    /// <param name="mark">Stands in comments before and after the table: &lt;!-- mark --&gt; … &lt;!-- /mark --&gt;.</param>
    public static void Holds(Workshop shop, string document, string mark, string table)
    {
        var path = Path.Combine(shop.Profiles.Folder!, "..", "docs", document);
        var text = File.ReadAllText(path);
        var (open, close) = ($"<!-- {mark} -->\n", $"<!-- /{mark} -->");
        var start = text.IndexOf(open, StringComparison.Ordinal) + open.Length;
        var end = text.IndexOf(close, StringComparison.Ordinal);
        Assert.True(start >= open.Length && end >= start, $"docs/{document} has no place for the table '{mark}'");
        if (Environment.GetEnvironmentVariable("KILN_RENEW_TABLES") == "1")
            File.WriteAllText(path, text[..start] + table + text[end..]);
        else
            Assert.Equal(table, text[start..end]);
    }
}
