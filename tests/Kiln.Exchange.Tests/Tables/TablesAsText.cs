using System.Text;
using Kiln.Exchange.Tables;

namespace Kiln.Exchange.Tests.Tables;

/// <summary>
/// What a spreadsheet would take for a formula is told to be text (OWASP, CSV injection: = + - @, tab, CR), and comes back as it was.
/// </summary>
public class TablesAsText
{
    [Theory]
    [InlineData("=1+1", "'=1+1")]
    [InlineData("-cmd", "'-cmd")]
    [InlineData("-2+3", "'-2+3")]
    [InlineData("\rx", "\"'\rx\"")]
    [InlineData("'=x", "''=x")]
    [InlineData("-0.5", "-0.5")]
    [InlineData("+3", "+3")]
    [InlineData("-", "'-")]
    [InlineData("it's", "it's")]
    [InlineData("''", "'''")]
    public void FormulasAreText(string field, string written)
    {
        var text = CsvText.Write([
            ["name", field],
        ]);
        Assert.Equal($"name,{written}\r\n", text);
        Assert.Equal(field, Assert.Single(CsvText.Read(Encoding.UTF8.GetBytes(text))).Fields[1]);
    }
}
