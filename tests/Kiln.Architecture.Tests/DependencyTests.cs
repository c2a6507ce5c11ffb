using System.Reflection;
using System.Xml.Linq;
using Microsoft.CodeAnalysis;
using Microsoft.CodeAnalysis.CSharp;
using Microsoft.CodeAnalysis.CSharp.Syntax;

namespace Kiln.Architecture.Tests;

/// <summary>The direction of dependencies as docs/architecture.md draws it.</summary>
public class DependencyTests
{
    /// <summary>What a project may refer to directly; what lies below that comes with it.</summary>
    private static readonly Dictionary<string, string[]> Allowed = new()
    {
        ["Kiln.Faults"] = [],
        ["Kiln.Pixels"] = ["Kiln.Faults"],
        ["Kiln.Colour"] = ["Kiln.Pixels"],
        ["Kiln.Simd"] = [],
        ["Kiln.Looks"] = ["Kiln.Colour", "Kiln.Simd"],
        ["Kiln.Intake"] = ["Kiln.Looks"],
        ["Kiln.Dialects"] = ["Kiln.Looks"],
        ["Kiln.Usd"] = ["Kiln.Faults"],
        ["Kiln.Exchange"] = ["Kiln.Dialects", "Kiln.Usd"],
        ["Kiln.Scattering"] = ["Kiln.Simd"],
        ["Kiln.Proof"] = ["Kiln.Scattering", "Kiln.Dialects"],
        ["Kiln.Viewport"] = ["Kiln.Scattering", "Kiln.Looks"],
        ["Kiln.Models"] = ["Kiln.Intake", "Kiln.Usd"],
        ["Kiln.Analysis"] = ["Kiln.Intake", "Kiln.Dialects", "Kiln.Proof", "Kiln.Models"],
        ["Kiln.Store"] = ["Kiln.Looks", "Kiln.Intake", "Kiln.Dialects"],
        ["Kiln.Demo"] = ["Kiln.Pixels", "Kiln.Colour"],
        ["Kiln.Cli"] = ["Kiln.Exchange", "Kiln.Proof", "Kiln.Analysis", "Kiln.Demo", "Kiln.Intake", "Kiln.Store", "Kiln.Models"],
        ["Kiln.Server"] = ["Kiln.Exchange", "Kiln.Proof", "Kiln.Viewport", "Kiln.Analysis", "Kiln.Demo", "Kiln.Intake", "Kiln.Store"],
    };

    private static readonly string[] Core =
    [
        "Kiln.Faults",
        "Kiln.Simd",
        "Kiln.Pixels",
        "Kiln.Colour",
        "Kiln.Looks",
        "Kiln.Intake",
        "Kiln.Dialects",
        "Kiln.Usd",
        "Kiln.Exchange",
        "Kiln.Scattering",
        "Kiln.Proof",
        "Kiln.Viewport",
        "Kiln.Models",
        "Kiln.Analysis",
    ];

    public static TheoryData<string> Projects() => [.. Allowed.Keys];

    private static string[] ReferencesOf(string project) =>
        [
            .. XDocument
                .Load(Repository.Path("src", project, project + ".csproj"))
                .Descendants("ProjectReference")
                .Select(r => Path.GetFileNameWithoutExtension((string)r.Attribute("Include")!)),
        ];

    private static HashSet<string> Below(string project) => [.. ReferencesOf(project).SelectMany(r => Below(r).Append(r))];

    /// <summary>By the project files, which hold whether a reference is used yet or not.</summary>
    [Theory]
    [MemberData(nameof(Projects))]
    public void AProjectRefersOnlyToWhatLiesBelow(string project)
    {
        Assert.Empty(ReferencesOf(project).Except(Allowed[project]));
        Assert.Empty(
            Assembly
                .Load(project)
                .GetReferencedAssemblies()
                .Select(a => a.Name!)
                .Where(n => n.StartsWith("Kiln.", StringComparison.Ordinal))
                .Except(Below(project))
        );
    }

    [Fact]
    public void EveryProjectIsDrawn() =>
        Assert.Equal(Directory.GetDirectories(Repository.Path("src")).Select(Path.GetFileName).Order(), Allowed.Keys.Order());

    [Fact]
    public void TheCoreKnowsNoHttpNoSqlAndNoClock()
    {
        foreach (var project in Core)
        {
            var assembly = Assembly.Load(project);
            Assert.DoesNotContain(assembly.GetReferencedAssemblies(), a =>
                a.Name!.StartsWith("Microsoft.AspNetCore", StringComparison.Ordinal) || a.Name is "Npgsql" or "Dapper" or "System.Net.Http"
            );
            var result = NetArchTest
                .Rules.Types.InAssembly(assembly)
                .ShouldNot()
                .HaveDependencyOnAny("System.Data", "System.Net.Sockets")
                .GetResult();
            Assert.True(result.IsSuccessful, string.Join(", ", result.FailingTypeNames ?? []));
        }
        var clocks =
            from file in SourceFile.Source
            where Core.Any(c => file.Path.StartsWith($"src/{c}/", StringComparison.Ordinal))
            from access in file.Root.DescendantNodes().OfType<MemberAccessExpressionSyntax>()
            where
                access.Expression.ToString() is "DateTime" or "DateTimeOffset"
                && access.Name.Identifier.Text is "Now" or "UtcNow" or "Today"
            select $"{file.Path}: {access}";
        Lines.None(clocks);
    }

    /// <summary>A dialect is data: no text of the core is one's identifier, whatever it is compared or switched by.</summary>
    [Fact]
    public void NoDialectIsNamedInTheCore()
    {
        // What a look is understood by is the neutral model, and "gltf" is a document format too (profiles say which).
        string[] formats = ["gltf"];
        var dialects = Directory
            .GetFiles(Repository.Path("profiles"), "*.json")
            .Select(f => (string)System.Text.Json.Nodes.JsonNode.Parse(File.ReadAllText(f))!["id"]!)
            .ToHashSet();
        Assert.True(dialects.Count >= 8, $"only {dialects.Count} profiles were found");
        var named =
            from file in SourceFile.Source
            where Core.Any(c => file.Path.StartsWith($"src/{c}/", StringComparison.Ordinal))
            from token in file.Root.DescendantTokens().Where(t => t.IsKind(SyntaxKind.StringLiteralToken))
            where dialects.Except(formats).Contains(token.ValueText)
            select $"{file.Path}: {token.Text}";
        Lines.None(named);
    }

    [Fact]
    public void NamespacesAreFolders()
    {
        var wrong =
            from file in SourceFile.Source.Concat(SourceFile.Tests)
            from space in file.Root.Members.OfType<BaseNamespaceDeclarationSyntax>()
            let folder = string.Join('.', file.Folder.Split('/').Skip(1))
            where space.Name.ToString() != folder
            select $"{file.Path} is of {space.Name}";
        Lines.None(wrong);
    }
}
