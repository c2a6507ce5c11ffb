using System.Collections.Immutable;
using System.Numerics;
using System.Text.Json.Nodes;
using Kiln.Analysis.Fit;
using Kiln.Colour.Spaces;
using Kiln.Dialects.Lowering;
using Kiln.Dialects.Profiles;
using Kiln.Looks.Document;
using Kiln.Looks.Graph;

namespace Kiln.Analysis.Tests;

/// <summary>
/// The search is checked against answers known beforehand: a dialect's profile is falsified by a power, gain or offset, and exactly that
/// one must be found.
/// </summary>
public sealed class TrimFitTests
{
    private static readonly DialectProfiles Profiles = DialectProfiles.Load(DialectProfiles.ShippedFolder());

    /// <summary>A look of all roughnesses, half of it metal.</summary>
    private static LookSpread AllRoughnesses(float least = 0.08f) =>
        LookSpread.Of(
            Enumerable
                .Range(0, 24)
                .Select(i => new Dictionary<string, Vector3>
                {
                    ["specular_roughness"] = new(least + (1 - least) * i / 23f),
                    ["base_color"] = new(0.2f + 0.02f * i, 0.35f, 0.5f),
                    ["base_metalness"] = new(i % 2),
                })
        );

    private static DialectProfile Falsified(string dialect, params (string Input, string Formula)[] mapping)
    {
        var json = JsonNode.Parse(File.ReadAllText(Path.Combine(DialectProfiles.ShippedFolder(), dialect + ".json")))!;
        foreach (var (input, formula) in mapping)
        {
            Assert.NotNull(json["mapping"]![input]);
            json["mapping"]![input] = formula;
        }
        return DialectProfile.Read(json.ToJsonString(), dialect);
    }

    private static TrimProposal Found(string dialect, DialectProfile falsified, LookSpread spread) =>
        new TrimSearch(spread, new(Profiles.Find(dialect), WorkingSpace.AcesCg), new(falsified, WorkingSpace.AcesCg), falsified).Run()[^1];

    /// <summary>The width mapping left out: the power that the shipped profile has is the one that restores it, within 1 %.</summary>
    [Theory]
    [InlineData("bisque", "polish", "1 - specular_roughness", 4 / 3.0)]
    [InlineData("celadon", "grain", "specular_roughness", 2)]
    [InlineData("openpbr", "specular_roughness", "pow(specular_roughness, 2)", 0.5)]
    public void ALeftOutWidthMappingIsFound(string dialect, string input, string identity, double power)
    {
        var found = Found(dialect, Falsified(dialect, (input, identity)), AllRoughnesses());
        var trim = Assert.Single(found.Trims);
        Assert.Equal(("specular_roughness", "power"), (trim.Input, trim.Operation));
        Assert.InRange(trim.Value / power, 0.99, 1.01);
        Assert.True(found.Error < 0.05, $"{found.Error} L* left");
    }

    [Fact]
    public void AGainOnTheColourIsFound()
    {
        var found = Found("gltf", Falsified("gltf", ("baseColor", "base_color * base_weight * 0.8")), AllRoughnesses());
        var trim = Assert.Single(found.Trims);
        Assert.Contains(trim.Input, (string[])["base_color", "base_weight"]);
        Assert.InRange(trim.Value, 1.2375, 1.2625);
    }

    [Fact]
    public void TwoFaultsTakeTwoTrims()
    {
        var falsified = Falsified("openpbr", ("specular_roughness", "pow(specular_roughness, 1.5)"), ("base_color", "base_color * 0.7"));
        var found = Found("openpbr", falsified, AllRoughnesses());
        Assert.Equal(2, found.Trims.Length);
        Assert.Contains(found.Trims, t => t is { Input: "specular_roughness", Operation: "power" } && Math.Abs(t.Value * 1.5 - 1) < 0.01);
        Assert.Contains(found.Trims, t => t is { Operation: "gain" } && Math.Abs(t.Value * 0.7 - 1) < 0.01);
    }

    /// <summary>A dialect and itself: nothing is left, and nothing is proposed.</summary>
    [Fact]
    public void NothingIsFittedToNothing()
    {
        var found = Found("bisque", Profiles.Find("bisque"), AllRoughnesses());
        Assert.Empty(found.Trims);
        Assert.True(found.Error < 1e-6);
    }

    /// <summary>What is even cannot tell a power from a gain: it is only asked for one.</summary>
    [Fact]
    public void AnEvenLookTakesNoPower()
    {
        var even = LookSpread.Of([new Dictionary<string, Vector3> { ["specular_roughness"] = new(0.4f) }]);
        var found = Found("bisque", Falsified("bisque", ("polish", "1 - specular_roughness")), even);
        Assert.DoesNotContain(found.Trims, t => t.Operation is "power" or "offset");
        Assert.InRange(found.Trims.Single(t => t.Input == "specular_roughness").Value * 0.4f / MathF.Pow(0.4f, 4 / 3f), 0.99f, 1.01f);
    }

    /// <summary>A trim that pushes beyond an input's range is held at its end; one that cannot leaves no node behind.</summary>
    [Fact]
    public void TrimsStayWithinTheInput()
    {
        var graph = new ShadeGraph();
        float Trimmed(float value, params Trim[] trims) =>
            graph.ValueOf(Trimming.Apply(graph, graph.Constant(value), "specular_roughness", trims)!.Value).X;
        Assert.Equal(1, Trimmed(0.8f, new Trim("specular_roughness", "gain", 1.5f)));
        Assert.Equal(0, Trimmed(0.1f, new Trim("specular_roughness", "offset", -0.3f)));
        Assert.Equal(0.25f, Trimmed(0.5f, new Trim("specular_roughness", "power", 2)), 6);
        Assert.Equal(0.5f, Trimmed(0.5f, new Trim("base_color", "gain", 2)));
    }

    [Theory]
    [InlineData("specular_roughness", "twist", 1)]
    [InlineData("no_such_input", "gain", 1)]
    [InlineData("geometry_normal", "gain", 1)]
    [InlineData("specular_roughness", "gain", -1)]
    [InlineData("specular_roughness", "power", 0)]
    [InlineData("specular_roughness", "offset", float.NaN)]
    public void DamagedTrimsAreRefused(string input, string operation, float value)
    {
        var look = new Look
        {
            Name = "look",
            Trims = ImmutableSortedDictionary<string, ImmutableArray<Trim>>.Empty.Add("bisque", [new(input, operation, value)]),
        };
        Assert.Throws<LookException>(() => LookValidation.Check(look));
    }
}
