using System.Numerics;
using Kiln.Dialects.Lowering;
using Kiln.Dialects.Profiles;
using Kiln.Looks.Graph;
using Kiln.Looks.Maps;
using Kiln.Looks.Readings;

namespace Kiln.Dialects.Tests;

public class ProfileTests
{
    [Theory]
    [InlineData("1 - pow(r, 4/3)", 0.5f, 0.60314f)]
    [InlineData("if(r > 0.4, 2, 3)", 0.5f, 2f)]
    [InlineData("clamp(r * 4, 0, 1) + min(r, 0.2)", 0.5f, 1.2f)]
    [InlineData("lerp(1, 3, r) - (2 - 1)", 0.5f, 1f)]
    public void FormulasFoldForValues(string formula, float r, float expected)
    {
        var graph = new ShadeGraph();
        var node = ExpressionGraph.Build(Expression.Parse(formula), graph, _ => graph.Constant(r))!.Value;
        Assert.True(graph.IsConstant(node));
        Assert.Equal(expected, graph.ValueOf(node).X, 4);
    }

    [Theory]
    [InlineData("1 +")]
    [InlineData("pow(1)")]
    [InlineData("nosuch(1, 2)")]
    [InlineData("(1")]
    [InlineData("1 2")]
    public void WrongFormulasAreSentences(string formula) =>
        Assert.Contains(formula, Assert.Throws<ProfileException>(() => Expression.Parse(formula)).Message);

    [Fact]
    public void WrongProfilesNameTheLine()
    {
        var text = File.ReadAllText(Path.Combine(DialectProfiles.ShippedFolder(), "gltf.json"));
        Assert.Contains(
            "line",
            Assert
                .Throws<ProfileException>(() =>
                    DialectProfile.Read(text.Replace("\"structure\"", "\"strukture\"", StringComparison.Ordinal), "bad.json")
                )
                .Message
        );
        Assert.Contains(
            "no neutral input",
            Assert
                .Throws<ProfileException>(() =>
                    DialectProfile.Read(
                        text.Replace("\"metallic\": \"base_metalness\"", "\"metallic\": \"shininess\"", StringComparison.Ordinal),
                        "bad.json"
                    )
                )
                .Message
        );
    }

    /// <summary>Every fault is found at once, each with the line on which it stands.</summary>
    [Theory]
    [InlineData("\"metallic\": \"base_metalness\"", "\"metallic\": \"shininess\"", "mentions 'shininess', which is no neutral input")]
    [InlineData("\"metallic\": \"base_metalness\"", "\"metallic\": \"base_metalness +\"", "cannot be read")]
    [InlineData("\"metallic\": \"base_metalness\"", "\"metallic\": \"base_metalness / 0\"", "divides by zero")]
    [InlineData("\"metallic\": \"base_metalness\"", "\"metallic\": \"metallic\"", "mentions 'metallic', which is no neutral input")]
    [InlineData("\"metallic\": \"base_metalness\"", "\"rufness\": \"base_metalness\"", "The renderer has no input 'rufness'")]
    [InlineData(
        "\"alongWidth\": \"roughness",
        "\"alongWidth\": \"alongWidth",
        "mentions 'alongWidth', which is neither an input of the renderer nor a term before it"
    )]
    [InlineData(
        "\"alongWidth\": \"roughness",
        "\"alongWidth\": \"stretch + roughness",
        "mentions 'stretch', which is neither an input of the renderer nor a term before it"
    )]
    [InlineData("\"stretch\": \"if", "\"metallic\": \"if", "The term 'metallic' is called as an input is")]
    [InlineData("\"structure\": \"slots\"", "\"structure\": \"heap\"", "'heap' is none of nodes, slots")]
    [InlineData("\"structure\": \"slots\"", "\"strukture\": \"slots\"", "There is no field 'strukture' here")]
    [InlineData("\"structure\": \"slots\"", "\"structure\": 3", "'structure' is of the wrong kind")]
    public void EveryFaultHasItsLine(string right, string wrong, string sentence)
    {
        var text = File.ReadAllText(Path.Combine(DialectProfiles.ShippedFolder(), "gltf.json"));
        var line = text[..text.IndexOf(right, StringComparison.Ordinal)].Count(c => c == '\n') + 1;
        var (_, problems) = ProfileCheck.Read(text.Replace(right, wrong, StringComparison.Ordinal));
        Assert.Contains(problems, p => p.Line == line && p.Sentence.Contains(sentence, StringComparison.Ordinal));
    }

    [Fact]
    public void TheShippedSchemaIsThatOfTheRecords() =>
        Assert.Equal(File.ReadAllText(Path.Combine(DialectProfiles.ShippedFolder(), "profile.schema.json")), ProfileSchema.Text());

    /// <summary>Each term twice the one before: forty of them would be a formula of a million million parts.</summary>
    [Fact]
    public void TermsThatGrowWithoutEndAreASentence()
    {
        var text = File.ReadAllText(Path.Combine(DialectProfiles.ShippedFolder(), "gltf.json"));
        var terms = string.Concat(Enumerable.Range(1, 40).Select(i => $"\"grow{i}\": \"grow{i - 1} + grow{i - 1}\", "));
        var (_, problems) = ProfileCheck.Read(
            text.Replace("\"terms\": {", "\"terms\": { \"grow0\": \"metallic + metallic\", " + terms, StringComparison.Ordinal)
        );
        Assert.Contains(problems, p => p.Sentence.Contains("has more than 20000 parts", StringComparison.Ordinal));
    }

    [Fact]
    public void SeveralFaultsAreSaidTogether()
    {
        var text = File.ReadAllText(Path.Combine(DialectProfiles.ShippedFolder(), "bisque.json"));
        var (_, problems) = ProfileCheck.Read(
            text.Replace("\"bend\": \"seenIor\"", "\"bend\": \"nothing\"", StringComparison.Ordinal)
                .Replace("\"diffuse\": \"eon\"", "\"diffuse\": \"matt\"", StringComparison.Ordinal)
        );
        Assert.Equal(2, problems.Count);
        Assert.True(problems[0].Line < problems[1].Line);
    }

    [Theory]
    [InlineData("")]
    [InlineData("null")]
    [InlineData("[]")]
    [InlineData("{")]
    [InlineData("{}")]
    [InlineData("{ \"id\": \"x\", \"id\": 7 }")]
    public void WhatIsNoProfileIsASentence(string text)
    {
        var (_, problems) = ProfileCheck.Read(text);
        Assert.NotEmpty(problems);
        Assert.All(problems, p => Assert.DoesNotContain("Kiln.", p.Sentence));
    }

    public static TheoryData<string> Dialects() =>
        ["openpbr", "standard_surface", "gltf", "usd_preview", "bisque", "celadon", "tenmoku", "saggar"];

    [Theory]
    [MemberData(nameof(Dialects))]
    public void PlacementsComeBackFromADialectsTerms(string dialect)
    {
        var rule = DialectProfiles.Load(DialectProfiles.ShippedFolder()).Find(dialect).Placement!;
        Placement[] placements =
        [
            new(2, 3, 0, 0.1f, 0.2f),
            new(2, 2, 33, 0.4f, -0.3f),
            new(1, 3, 90),
            new(3, 2, 25, 0.2f, 0, MirrorU: true),
            new(2, 2, -70, MirrorU: true, MirrorV: true),
        ];
        foreach (var placement in placements.Where(p => PlacementTerms.CanSay(rule, p)))
        {
            var back = PlacementTerms.Of(rule, placement).ToPlacement(rule);
            foreach (var uv in new Vector2[] { new(0, 0), new(0.3f, 0.9f), new(1, 0.2f) })
                Assert.True(
                    (placement.Apply(uv) - back.Apply(uv)).Length() < 1e-4f,
                    $"{dialect} {placement}: {placement.Apply(uv)} against {back.Apply(uv)}"
                );
        }
    }

    [Fact]
    public void InvertOfInvertIsNothing()
    {
        var graph = new ShadeGraph();
        var map = graph.Image(
            new(
                new(Hashes.Named("c"), "g.png", 4, 4, 8, false, "png", ["Y"], null),
                new(Looks.Readings.ReadingKind.Scalar, "raw", MapChannel.Luminance),
                Placement.Identity
            )
        );
        Assert.Equal(map, graph.Add(ShadeOp.Invert, graph.Add(ShadeOp.Invert, map)));
    }
}
