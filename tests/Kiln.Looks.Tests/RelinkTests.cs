using Kiln.Looks.Document;
using Kiln.Looks.Intake;
using Kiln.Looks.Readings;

namespace Kiln.Looks.Tests;

public class RelinkTests
{
    private static MapFile Picture(string content, string name, string likeness = "00ff00ff00ff00ff", int size = 1024, string format = "png") =>
        new(content, name, size, size, 8, false, format, ["R", "G", "B"], null) { Likeness = likeness };

    [Fact]
    public void ContentComesBeforeNameAndNameBeforeLikeness()
    {
        var missing = Picture("a", "wall_albedo.png");
        var found = RelinkSearch.Find(missing,
        [
            Picture("x", "unrelated.png", "123456789abcdef0"),
            Picture("b", "renamed.png", "00ff00ff00ff00fe"),
            Picture("c", "Wall_Albedo.png"),
            Picture("a", "moved.png"),
            Picture("d", "wall_albedo.tif", format: "tiff"),
        ]);
        Assert.Equal(["a", "c", "d", "b"], found.Select(f => f.File.Content));
        Assert.Equal("the same content", found[0].Reason);
        Assert.Contains("63 of 64", found[3].Reason);
    }

    [Fact]
    public void TheSameNameWithAnotherPictureIsSaidToDiffer()
    {
        var found = RelinkSearch.Find(Picture("a", "wall_albedo.png"), [Picture("b", "wall_albedo.png", "ffffffff00000000")]);
        Assert.Contains("differ", found.Single().Reason);
        Assert.True(found.Single().Score < 0.7f);
    }
}

public class NamingRuleTests
{
    [Theory]
    [InlineData("quay_wetness_2k.png", "quay", "wetness")]
    [InlineData("T_Quay_SpecCol_1001.tif", "quay", "spec col")]
    [InlineData("quay 4k.png", "quay", null)]
    public void ACorrectionOffersTheWordsThatTellTheMap(string file, string surface, string? phrase) => Assert.Equal(phrase, NamingEffects.Offer(file, surface, MapRole.Coat)?.Phrase);

    [Fact]
    public void ARuleOverrulesTheShippedWordsAndOnlyThem()
    {
        var rules = NamingTables.With([new("gloss", NamingRuleKind.Role, MapRole.Coat), new("xyz", NamingRuleKind.Packed, Channels: System.Collections.Immutable.ImmutableSortedDictionary<string, MapRole>.Empty.Add("r", MapRole.Roughness)), new("flipped", NamingRuleKind.NormalDown)]);
        Assert.Equal("coat", NamingEffects.Words("wall_gloss.png", rules));
        Assert.Equal("packed roughness", NamingEffects.Words("wall_xyz.png", rules));
        Assert.Equal("normal, Y down", NamingEffects.Words("wall_normal_flipped.png", rules));
        Assert.Equal(["wall_gloss.png"], NamingEffects.Between(NamingTables.Shipped, rules, ["wall_gloss.png", "wall_rough.png"]).Select(c => c.Path));
    }

    [Theory]
    [InlineData("")]
    [InlineData("Two Words")]
    [InlineData("a  b")]
    [InlineData("disp16")]
    public void RulesThatCanNeverMatchAreFaulty(string phrase) => Assert.NotNull(new NamingRule(phrase, NamingRuleKind.Role, MapRole.Height).Fault);
}

/// <summary>Variants, levels, versions and tiles, put together as the contract says.</summary>
public class SetFormingTests
{
    private static List<MapSet> Group(params string[] paths)
    {
        var pictures = paths.Select(p =>
        {
            var facts = new Pixels.PictureFacts(Pixels.Decoding.PictureFormat.Png, 1024, 1024, Pixels.ImageBuffer.Rgb, 8, false, null, false);
            return new DeliveredPicture(new(p, p, 1, p), facts, MapFile.Of(p, p, facts), NameReading.Of(p, NamingTables.Shipped), null);
        }).ToList();
        return [.. new SetGrouping(NamingTables.Shipped, "delivery").Group(pictures, out _, []).Select(AlternateChoice.Choose)];
    }

    [Fact]
    public void AMapThatVariantsShareAppearsInEach()
    {
        var sets = Group("bunting_red_albedo.png", "bunting_blue_albedo.png", "bunting_normal.png", "bunting_roughness.png");
        Assert.Equal(["bunting_blue", "bunting_red"], sets.Select(s => s.Name));
        Assert.All(sets, s => Assert.Equal([MapRole.BaseColor, MapRole.Roughness, MapRole.Normal], s.Maps.Select(m => m.Role)));
    }

    [Fact]
    public void VariantsAfterTheRoleAreSetsOfTheirOwnWhereThereAreSeveral()
    {
        Assert.Equal(2, Group("snow_COL_VAR1.png", "snow_COL_VAR2.png", "snow_NRM.png").Count);
        Assert.Single(Group("snow_COL_VAR1.png", "snow_NRM.png"));
    }

    [Fact]
    public void TheNewestVersionAndTheFinestLevelAreChosen()
    {
        var knob = Group("knob_albedo_v001.png", "knob_albedo_v003.png", "knob_normal_v001.png").Single();
        Assert.Equal("knob_albedo_v003.png", knob.Maps.Single(m => m.Role == MapRole.BaseColor).Path);
        Assert.Equal("knob_albedo_v001.png", knob.Alternates.Single().Map.Path);
        var wall = Group("wall_LOD1_albedo.png", "wall_LOD0_albedo.png").Single();
        Assert.Equal("wall_LOD0_albedo.png", wall.Maps.Single().Path);
    }

    [Fact]
    public void EachTileIsAnEntryOfOneSet()
    {
        var body = Group("body_basecolor.1001.png", "body_basecolor.1002.png", "body_roughness.1001.png", "body_roughness.1002.png").Single();
        Assert.Equal([1001, 1002, 1001, 1002], body.Maps.Select(m => m.Udim!.Value));
    }

    [Fact]
    public void TagsAreProposedFromTheName() => Assert.Equal(["wet", "slate", "sill"], Group("wet_slate_sill_04_albedo.png", "wet_slate_sill_04_normal.png").Single().Tags.AsEnumerable());
}
