using System.Globalization;
using System.Text;
using CsvHelper;
using CsvHelper.Configuration;

namespace Kiln.Exchange.Tables;

/// <summary>Tables as CSV (RFC 4180: CRLF, quotes doubled), in UTF-8.</summary>
public static class CsvText
{
    public const int MostBytes = 2 << 20;

    /// <summary>What a spreadsheet would take for a formula; told to be text by an apostrophe, which reading takes off again.</summary>
    private static readonly char[] Formulas = ['=', '+', '-', '@', '\t', '\r', '\n'];

    /// <summary>Numbers stay numbers, whatever their sign.</summary>
    private static bool IsFormula(string field) =>
        field.Length > 0 && Formulas.Contains(field[0]) && !double.TryParse(field, NumberStyles.Float, CultureInfo.InvariantCulture, out _);

    /// <summary>Text that reading would take an apostrophe from gets one more.</summary>
    private static bool IsMarked(string field) => field.Length > 1 && field[0] == '\'' && (field[1] == '\'' || IsFormula(field[1..]));

    public static string Write(IEnumerable<IEnumerable<string>> rows)
    {
        using var text = new StringWriter();
        using (
            var csv = new CsvWriter(
                text,
                new CsvConfiguration(CultureInfo.InvariantCulture)
                {
                    NewLine = "\r\n",
                    HasHeaderRecord = false,
                    // RFC 4180, 2.6: a carriage return alone too.
                    ShouldQuote = args => ConfigurationFunctions.ShouldQuote(args) || args.Field?.AsSpan().IndexOfAny('\r', '\n') >= 0,
                }
            )
        )
            foreach (var row in rows)
            {
                foreach (var field in row)
                    csv.WriteField(IsFormula(field) || IsMarked(field) ? "'" + field : field);
                csv.NextRecord();
            }
        return text.ToString();
    }

    /// <summary>
    /// The rows, each with the number of its line. Fields are separated by commas, or by what the first line has instead: semicolons or
    /// tabs.
    /// </summary>
    /// <exception cref="ExchangeException">Not UTF-8 or UTF-16, too large, or no such table.</exception>
    public static IReadOnlyList<(int Line, IReadOnlyList<string> Fields)> Read(byte[] bytes)
    {
        if (bytes.Length > MostBytes)
            throw new ExchangeException($"The sheet has {bytes.Length >> 20} MB; at most {MostBytes >> 20} MB are read.");
        var text = Text(bytes);
        var first = text.AsSpan()[..(text.IndexOfAny(['\r', '\n']) is >= 0 and var end ? end : text.Length)];
        var delimiter =
            first.Contains(',') ? ","
            : first.Contains(';') ? ";"
            : first.Contains('\t') ? "\t"
            : ",";
        var rows = new List<(int, IReadOnlyList<string>)>();
        try
        {
            using var csv = new CsvParser(
                new StringReader(text),
                new CsvConfiguration(CultureInfo.InvariantCulture)
                {
                    Delimiter = delimiter,
                    HasHeaderRecord = false,
                    BadDataFound = bad =>
                        throw new ExchangeException($"Line {bad.Context.Parser?.RawRow}: a quote stands where none can be."),
                }
            );
            while (csv.Read())
                rows.Add((csv.RawRow, [.. csv.Record!.Select(f => IsMarked(f) ? f[1..] : f)]));
        }
        catch (CsvHelperException e)
        {
            throw new ExchangeException("The sheet is no CSV: " + e.Message.Split('\n')[0].Trim());
        }
        return rows;
    }

    private static string Text(byte[] bytes)
    {
        if (bytes.AsSpan().StartsWith((ReadOnlySpan<byte>)[0xFF, 0xFE]) || bytes.AsSpan().StartsWith((ReadOnlySpan<byte>)[0xFE, 0xFF]))
            return (bytes[0] == 0xFF ? Encoding.Unicode : Encoding.BigEndianUnicode).GetString(bytes, 2, bytes.Length - 2);
        try
        {
            var text = new UTF8Encoding(false, throwOnInvalidBytes: true).GetString(bytes).TrimStart('\uFEFF');
            return text.Contains('\0') ? throw new ExchangeException("This is no text; save the table as CSV in UTF-8.") : text;
        }
        catch (DecoderFallbackException e)
        {
            throw new ExchangeException($"The sheet is not in UTF-8 (byte {e.Index + 1} cannot be); save it as CSV in UTF-8.");
        }
    }
}
