using System.Text;

namespace Kiln.Architecture.Tests;

/// <summary>
/// The measures of craft.md, held by every build: lines of at most 140 columns, functions of at most 60 lines, seven parameters (four
/// for what handles a route), twelve files a folder.
/// What is beyond stands in exceptions.txt with its figure; a figure there may fall, never rise, and goes when it is within the measure.
/// </summary>
public sealed class CodeMeasures
{
    private const int MostColumns = 140,
        MostLines = 60,
        MostParameters = 7,
        MostFiles = 12,
        MostOfHandler = 4;

    private static readonly Lazy<Dictionary<string, int>> Exceptions = new(() =>
        File.ReadLines(Repository.Path("tests", "Kiln.Architecture.Tests", "exceptions.txt"))
            .Where(l => l.Length > 0 && l[0] != '#')
            .Select(l => l.Split(' ', 3))
            .ToDictionary(l => l[0] + " " + l[2], l => int.Parse(l[1]))
    );

    private static IEnumerable<(string Place, int Figure)> Columns() =>
        from file in SourceFile
            .Source.Concat(SourceFile.Tests)
            .Concat(SourceFile.Below("web/src", "*.ts*"))
            .Concat(SourceFile.Below("bench"))
        where !file.Path.EndsWith("api/schema.d.ts", StringComparison.Ordinal)
        let longest = file.Text.Split('\n').Max(l => l.Length)
        select (file.Path, longest);

    private static IEnumerable<MeasuredFunction> Functions() => SourceFile.Source.SelectMany(MeasuredFunction.Of);

    private static IEnumerable<(string Place, int Figure)> ByPlace(Func<MeasuredFunction, int> figure) =>
        Functions().GroupBy(f => f.Place).Select(g => (g.Key, g.Max(figure)));

    private static IEnumerable<(string Place, int Figure)> Handlers() =>
        SourceFile.Source.SelectMany(MeasuredHandler.Of).GroupBy(h => h.Place).Select(g => (g.Key, g.Max(h => h.Parameters)));

    private static IEnumerable<(string Place, int Figure)> Files() =>
        SourceFile.Source.GroupBy(f => f.Folder).Select(g => (g.Key, g.Count()));

    public static TheoryData<string> Measures() => ["columns", "lines", "parameters", "handlers", "files"];

    private static (IEnumerable<(string Place, int Figure)> Found, int Most) Measured(string measure) =>
        measure switch
        {
            "columns" => (Columns(), MostColumns),
            "lines" => (ByPlace(f => f.Lines), MostLines),
            "parameters" => (ByPlace(f => f.Parameters), MostParameters),
            "handlers" => (Handlers(), MostOfHandler),
            "files" => (Files(), MostFiles),
            _ => throw new ArgumentException(measure),
        };

    [Theory]
    [MemberData(nameof(Measures))]
    public void NothingIsBeyondTheMeasureButWhatIsListed(string measure)
    {
        var (found, most) = Measured(measure);
        var beyond = found.Where(f => f.Figure > most).ToDictionary(f => $"{measure} {f.Place}", f => f.Figure);
        if (Environment.GetEnvironmentVariable("KILN_SHOW_TABLE") is { Length: > 0 } table)
            File.AppendAllLines(
                table,
                beyond.OrderByDescending(b => b.Value).Select(b => $"{measure} {b.Value} {b.Key[(measure.Length + 1)..]}")
            );
        Assert.NotEmpty(found);
        var listed = Exceptions.Value.Where(e => e.Key.StartsWith(measure + " ", StringComparison.Ordinal)).ToDictionary();
        var wrong = new StringBuilder();
        foreach (var (place, figure) in beyond.Where(b => b.Value > listed.GetValueOrDefault(b.Key)))
            wrong.AppendLine($"{place} has {figure}; at most {Math.Max(most, listed.GetValueOrDefault(place))}");
        foreach (var (place, figure) in listed.Where(e => beyond.GetValueOrDefault(e.Key) < e.Value))
            wrong.AppendLine(
                $"{place} has {(beyond.TryGetValue(place, out var now) ? now : "no more than the measure")}; exceptions.txt still "
                    + $"says {figure}"
            );
        Assert.True(wrong.Length == 0, wrong.ToString());
    }
}
