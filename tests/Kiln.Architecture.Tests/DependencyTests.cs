using System.Reflection;

namespace Kiln.Architecture.Tests;

/// <summary>The direction of dependencies as docs/architecture.md draws it.</summary>
public class DependencyTests
{
    private static readonly Dictionary<string, string[]> Allowed = new()
    {
        ["Kiln.Pixels"] = [],
        ["Kiln.Colour"] = ["Kiln.Pixels"],
        ["Kiln.Looks"] = ["Kiln.Colour", "Kiln.Pixels"],
        ["Kiln.Dialects"] = ["Kiln.Looks", "Kiln.Colour", "Kiln.Pixels"],
        ["Kiln.Exchange"] = ["Kiln.Dialects", "Kiln.Looks", "Kiln.Colour", "Kiln.Pixels"],
        ["Kiln.Scattering"] = [],
        ["Kiln.Proof"] = ["Kiln.Scattering", "Kiln.Dialects", "Kiln.Looks", "Kiln.Colour", "Kiln.Pixels"],
        ["Kiln.Analysis"] = ["Kiln.Proof", "Kiln.Dialects", "Kiln.Looks", "Kiln.Colour", "Kiln.Pixels", "Kiln.Scattering"],
        ["Kiln.Store"] = ["Kiln.Looks", "Kiln.Dialects", "Kiln.Colour", "Kiln.Pixels"],
        ["Kiln.Demo"] = ["Kiln.Pixels", "Kiln.Colour"],
    };

    private static readonly string[] Core =
    [
        "Kiln.Pixels",
        "Kiln.Colour",
        "Kiln.Looks",
        "Kiln.Dialects",
        "Kiln.Exchange",
        "Kiln.Scattering",
        "Kiln.Proof",
        "Kiln.Analysis",
    ];

    public static TheoryData<string> Projects() => [.. Allowed.Keys];

    [Theory]
    [MemberData(nameof(Projects))]
    public void DependsOnlyOnWhatLiesBelow(string project) =>
        Assert.Empty(
            Assembly
                .Load(project)
                .GetReferencedAssemblies()
                .Select(a => a.Name!)
                .Where(n => n.StartsWith("Kiln.", StringComparison.Ordinal))
                .Except(Allowed[project])
        );

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
    }

    [Fact]
    public void NoDialectIsNamedInTheCompiler()
    {
        foreach (
            var file in Directory
                .GetFiles(Repository.Path("src", "Kiln.Dialects"), "*.cs", SearchOption.AllDirectories)
                .Where(f => !f.Contains("/obj/", StringComparison.Ordinal))
        )
            Assert.DoesNotMatch("== \"(openpbr|gltf|bisque|usd_preview|standard_surface)\"", File.ReadAllText(file));
    }
}
