using Kiln.Intake.Naming;
using Kiln.Looks.Readings;

namespace Kiln.Intake.Tests;

public class NamingRuleTests
{
    [Theory]
    [InlineData("quay_wetness_2k.png", "quay", "wetness")]
    [InlineData("T_Quay_SpecCol_1001.tif", "quay", "spec col")]
    [InlineData("quay 4k.png", "quay", null)]
    public void ACorrectionOffersTheWordsThatTellTheMap(string file, string surface, string? phrase) =>
        Assert.Equal(phrase, NamingEffects.Offer(file, surface, MapRole.Coat)?.Phrase);

    /// <summary>Who chooses the gloss of a delivery that has a roughness too has said nothing new about the word.</summary>
    [Fact]
    public void NoRuleIsOfferedForWhatTheNameSaysAnyway()
    {
        Assert.Null(NamingEffects.Offer("quay_gloss_2k.png", "quay", MapRole.Glossiness));
        Assert.Null(NamingEffects.Offer("quay_wetness_2k.png", "quay", MapRole.Coat, inForce: [Wetness]));
        Assert.Equal("wetness", NamingEffects.Offer("quay_wetness_2k.png", "quay", MapRole.Roughness, inForce: [Wetness])?.Phrase);
        Assert.Equal("gloss", NamingEffects.Offer("quay_gloss_2k.png", "quay", MapRole.Roughness)?.Phrase);
    }

    private static readonly NamingRule Wetness = new("wetness", NamingRuleKind.Role, MapRole.Coat);

    [Fact]
    public void ARuleOverrulesTheShippedWordsAndOnlyThem()
    {
        var rules = NamingTables.With([
            new("gloss", NamingRuleKind.Role, MapRole.Coat),
            new(
                "xyz",
                NamingRuleKind.Packed,
                Channels: System.Collections.Immutable.ImmutableSortedDictionary<string, MapRole>.Empty.Add("r", MapRole.Roughness)
            ),
            new("flipped", NamingRuleKind.NormalDown),
        ]);
        Assert.Equal("coat", NamingEffects.Explanation("wall_gloss.png", rules));
        Assert.Equal("packed roughness", NamingEffects.Explanation("wall_xyz.png", rules));
        Assert.Equal("normal, Y down", NamingEffects.Explanation("wall_normal_flipped.png", rules));
        Assert.Equal(
            ["wall_gloss.png"],
            NamingEffects.Between(NamingTables.Shipped, rules, ["wall_gloss.png", "wall_rough.png"]).Select(c => c.Path)
        );
    }

    [Theory]
    [InlineData("")]
    [InlineData("Two Words")]
    [InlineData("a  b")]
    [InlineData("disp16")]
    public void RulesThatCanNeverMatchAreFaulty(string phrase) =>
        Assert.NotNull(new NamingRule(phrase, NamingRuleKind.Role, MapRole.Height).Fault);
}
