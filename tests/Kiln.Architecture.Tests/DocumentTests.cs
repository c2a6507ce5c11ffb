using System.Text.RegularExpressions;

namespace Kiln.Architecture.Tests;

/// <summary>What the documents name exists: types and members in code spans, and files and folders by their path.</summary>
public sealed partial class DocumentTests
{
    private static readonly Lazy<string> Everything = new(() =>
        string.Concat(
            SourceFile
                .Source.Concat(SourceFile.Tests)
                .Concat(SourceFile.Below("web/src", "*.ts*"))
                .Concat(SourceFile.Below("bench", "*.*"))
                .Concat(SourceFile.Below("profiles", "*.json"))
                .Concat(SourceFile.Below("scripts", "*.*"))
                .Select(f => f.Text)
        )
    );

    private static IEnumerable<(string Place, string Span)> Spans() =>
        from file in SourceFile.Below("docs", "*.md").Append(new("README.md", File.ReadAllText(Repository.Path("README.md"))))
        from line in file.Text.Split('\n').Select((text, i) => (Text: text, Number: i + 1))
        from span in CodeSpan().Matches(line.Text)
        select ($"{file.Path}, line {line.Number}", span.Groups[1].Value);

    /// <summary>Names of several parts, so that plain words in code spans are no names.</summary>
    [Fact]
    public void TypesInCodeSpansExist()
    {
        var names = Spans().SelectMany(s => TypeName().Matches(s.Span).Select(m => (s.Place, Name: m.Value))).ToList();
        Assert.True(names.Count > 100, $"only {names.Count} names were found");
        Lines.None(names.Where(n => !Regex.IsMatch(Everything.Value, $@"\b{n.Name}\b")).Select(n => $"{n.Place}: {n.Name}"));
    }

    [Fact]
    public void PathsInCodeSpansExist()
    {
        var paths = Spans().Where(s => RepositoryPath().IsMatch(s.Span) && !s.Span.Contains("NAME", StringComparison.Ordinal)).ToList();
        Assert.NotEmpty(paths);
        Lines.None(
            paths
                .Where(p =>
                    !Directory.Exists(Path.Combine(Repository.Root, p.Span))
                    && !File.Exists(Path.Combine(Repository.Root, p.Span))
                    && !Directory.Exists(Path.Combine(Repository.Root, "src", p.Span))
                    && !File.Exists(Path.Combine(Repository.Root, "src", p.Span))
                )
                .Select(p => $"{p.Place}: {p.Span}")
        );
    }

    [Fact]
    public void DecisionRecordsHaveOneForm()
    {
        var records = SourceFile.Below("docs/decisions", "0*.md");
        Assert.NotEmpty(records);
        Lines.None(
            from record in records
            let number = int.Parse(Path.GetFileName(record.Path)[..4])
            where
                !record.Text.StartsWith($"# {number}. ", StringComparison.Ordinal)
                || !Regex.IsMatch(
                    record.Text,
                    @"\n\n\*\*Context\.\*\* .*?\*\*Decision\.\*\* .*?\*\*Consequences\.\*\* ",
                    RegexOptions.Singleline
                )
            select record.Path
        );
    }

    [GeneratedRegex("`([^`]+)`")]
    private static partial Regex CodeSpan();

    [GeneratedRegex(@"(?<![\w./-])[A-Z][a-z]+(?:[A-Z][a-z0-9]+)+(?![\w/-])")]
    private static partial Regex TypeName();

    [GeneratedRegex(@"^(src|tests|docs|bench|scripts|profiles|web|Kiln\.\w+)/[\w./-]+$")]
    private static partial Regex RepositoryPath();
}
