using System.Text.RegularExpressions;
using Microsoft.CodeAnalysis;
using Microsoft.CodeAnalysis.CSharp;

namespace Kiln.Architecture.Tests;

/// <summary>
/// The benchmarks are programs of one file, which no build of the solution reads: each is compiled here against today's assemblies, so that
/// a figure can be measured again whenever it is asked for.
/// </summary>
public sealed partial class BenchmarkTests
{
    private const string ImplicitUsings = """
        global using System; global using System.Collections.Generic; global using System.IO; global using System.Linq;
        global using System.Net.Http; global using System.Threading; global using System.Threading.Tasks;
        """;

    private static readonly MetadataReference[] References =
    [
        .. ((string)AppContext.GetData("TRUSTED_PLATFORM_ASSEMBLIES")!)
            .Split(Path.PathSeparator)
            .Concat(Directory.GetFiles(AppContext.BaseDirectory, "Kiln.*.dll"))
            .DistinctBy(Path.GetFileName)
            .Select(path => MetadataReference.CreateFromFile(path)),
    ];

    public static TheoryData<string> Benchmarks => [.. SourceFile.Below("bench").Select(f => f.Path)];

    [Theory]
    [MemberData(nameof(Benchmarks))]
    public void ItCompiles(string path)
    {
        // The first lines speak to the build: which project is referred to.
        var text = Directive().Replace(File.ReadAllText(Repository.Path(path)), "");
        var options = new CSharpParseOptions(LanguageVersion.Preview);
        var compiled = CSharpCompilation.Create(
            Path.GetFileNameWithoutExtension(path),
            [CSharpSyntaxTree.ParseText(text, options), CSharpSyntaxTree.ParseText(ImplicitUsings, options)],
            References,
            new(OutputKind.ConsoleApplication, allowUnsafe: true, nullableContextOptions: NullableContextOptions.Enable)
        );
        Assert.Empty(compiled.GetDiagnostics().Where(d => d.Severity == DiagnosticSeverity.Error).Select(d => d.ToString()));
    }

    [GeneratedRegex("^#:.*$", RegexOptions.Multiline)]
    private static partial Regex Directive();
}
