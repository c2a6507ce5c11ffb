using System.Reflection;
using System.Text.Json;
using Kiln.Analysis.Consistency;
using Kiln.Looks.Document;
using Kiln.Looks.Readings;

namespace Kiln.Analysis.Tests;

/// <summary>The rules that a form shows are those that are held against looks: none is forgotten on either side.</summary>
public sealed class RuleFieldTests
{
    private static readonly LookMeasures Dielectric = new(0.3f, 0.2f, [60, 0, 0], 0, 0.5f, 0.3f, 1024, 64, 4096, ["baseColor"]);

    private static readonly Look Look = Planted.With(MapRole.BaseColor, "base_color", Planted.File("body.png"), Planted.InColour) with
    {
        Name = "brass reed plate",
    };

    private static LookKnowledge Known(LookMeasures? measures, long bytes = 3 * 1024 * 1024) =>
        new(measures, new Dictionary<string, string> { ["gltf"] = "glTF 2.0" }, bytes);

    private static string[] Broken(string rules, LookMeasures? measures = null) =>
        [.. RuleCheck.Of(CollectionRules.Read(rules), Look, Known(measures ?? Dielectric)).Select(b => b.Rule)];

    [Fact]
    public void EveryPartOfTheRulesHasAFieldAndEveryFieldAPart()
    {
        var parts = typeof(CollectionRules)
            .GetProperties(BindingFlags.Public | BindingFlags.Instance)
            .Where(p => p.CanWrite && p.Name != nameof(CollectionRules.Pattern))
            .SelectMany(p =>
            {
                var name = JsonNamingPolicy.CamelCase.ConvertName(p.Name);
                return p.PropertyType == typeof(ByClass) ? new[] { $"{name}.dielectric", $"{name}.metal" } : [name];
            });
        Assert.Equal(parts.Order(StringComparer.Ordinal), RuleFields.All.Select(f => f.Id).Order(StringComparer.Ordinal));
        Assert.All(RuleFields.All, f => Assert.True(f.Label.Length > 0 && f.Asks.EndsWith('.')));
    }

    /// <summary>A rule that the look breaks by a little, for every field; the broken rule has the field's name.</summary>
    [Theory]
    [InlineData("names", """{ "names": "[A-Z]+" }""")]
    [InlineData("maps", """{ "maps": ["height"] }""")]
    [InlineData("readings", """{ "readings": ["acescg"] }""")]
    [InlineData("pixels", """{ "pixels": { "least": 65 } }""")]
    [InlineData("leastBits", """{ "leastBits": { "baseColor": 16 } }""")]
    [InlineData("texelDensity", """{ "texelDensity": { "most": 1023 } }""")]
    [InlineData("mostMegabytes", """{ "mostMegabytes": 2.9 }""")]
    [InlineData("baseLuminance.dielectric", """{ "baseLuminance": { "dielectric": { "least": 0.31 } } }""")]
    [InlineData("baseSaturation.dielectric", """{ "baseSaturation": { "dielectric": { "most": 0.19 } } }""")]
    [InlineData("roughnessSpread", """{ "roughnessSpread": { "most": 0.29 } }""")]
    [InlineData("dialects", """{ "dialects": ["gltf"] }""")]
    public void EachFieldIsHeldAgainstLooks(string field, string rules) => Assert.Equal([field], Broken(rules));

    [Fact]
    public void RulesForMetalsAreForMetalsAlone()
    {
        const string rules = """{ "baseLuminance": { "metal": { "least": 0.9 } }, "baseSaturation": { "metal": { "least": 0.9 } } }""";
        Assert.Empty(Broken(rules));
        Assert.Equal(["baseLuminance.metal", "baseSaturation.metal"], Broken(rules, Dielectric with { Metalness = 1 }));
    }

    /// <summary>What has not been measured breaks nothing: it is said to be unmeasured, not to be wrong.</summary>
    [Fact]
    public void WhatIsNotMeasuredBreaksNoRuleAboutNumbers()
    {
        var rules = CollectionRules.Read(
            """{ "texelDensity": { "least": 1e9 }, "roughnessSpread": { "most": 0 }, "mostMegabytes": 0.1 }"""
        );
        Assert.Empty(RuleCheck.Of(rules, Look, Known(null, bytes: 0)));
    }

    [Fact]
    public void SentencesSpeakInWordsAndUnits()
    {
        var rules = CollectionRules.Read(
            """{ "maps": ["ambientOcclusion"], "dialects": ["gltf"], "texelDensity": { "least": 2000 }, "readings": ["acescg"] }"""
        );
        Assert.Equal(
            [
                "There is no ambient occlusion map.",
                "A map is read as sRGB, which the collection does not allow.",
                "The texel density is 1024 px/m; at least 2000 px/m is asked for.",
                "Exported for glTF 2.0, something of it is lost.",
            ],
            RuleCheck.Of(rules, Look, Known(Dielectric)).Select(b => b.Sentence)
        );
    }
}
