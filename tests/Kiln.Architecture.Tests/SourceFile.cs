using Microsoft.CodeAnalysis.CSharp;
using Microsoft.CodeAnalysis.CSharp.Syntax;

namespace Kiln.Architecture.Tests;

/// <summary>One C# file of the repository, parsed when asked.</summary>
/// <param name="Path">From the repository's root, with <c>/</c>.</param>
public sealed record SourceFile(string Path, string Text)
{
    private readonly Lazy<CompilationUnitSyntax> root = new(() => CSharpSyntaxTree.ParseText(Text).GetCompilationUnitRoot());

    public CompilationUnitSyntax Root => root.Value;

    public string Folder => System.IO.Path.GetDirectoryName(Path)!;

    public static IReadOnlyList<SourceFile> Source { get; } = Below("src");

    public static IReadOnlyList<SourceFile> Tests { get; } = Below("tests");

    /// <summary>Every file that people wrote below a folder, in order of path.</summary>
    public static IReadOnlyList<SourceFile> Below(string folder, string pattern = "*.cs") =>
        [
            .. Directory
                .GetFiles(Repository.Path(folder), pattern, SearchOption.AllDirectories)
                .Select(f => System.IO.Path.GetRelativePath(Repository.Root, f))
                .Where(f => !f.Split('/').Intersect(["obj", "bin", "node_modules", "wwwroot", "dist"]).Any())
                .Order(StringComparer.Ordinal)
                .Select(f => new SourceFile(f, File.ReadAllText(System.IO.Path.Combine(Repository.Root, f)))),
        ];
}
