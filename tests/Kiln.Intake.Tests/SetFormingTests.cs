using Kiln.Intake.Naming;
using Kiln.Intake.Sets;
using Kiln.Looks.Document;
using Kiln.Looks.Readings;

namespace Kiln.Intake.Tests;

/// <summary>Variants, levels, versions and tiles, put together as the contract says.</summary>
public class SetFormingTests
{
    private static List<MapSet> Group(params string[] paths) =>
        [
            .. new SetGrouping(NamingTables.Shipped, "delivery")
                .Group([.. paths.Select(p => Delivered.Name(p))], out _, [])
                .Select(AlternateChoice.Choose),
        ];

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
    public void AGuessNeverHidesAMapThatSaysWhatItIs()
    {
        var wood = Group("wood_albedo.png", "wood_gloss.png", "wood_normal.png").Single();
        var gloss = wood.Maps.Single(m => m.Role == MapRole.Glossiness);
        var guess = gloss with { Path = "wood_3.png", Role = MapRole.Roughness, Confidence = 0.5f };
        var chosen = AlternateChoice.Choose(wood with { Maps = wood.Maps.Add(guess) });
        Assert.Contains(chosen.Maps, m => m.Role == MapRole.Glossiness);
        var alternate = Assert.Single(chosen.Alternates);
        Assert.Equal((guess.Path, gloss.Path), (alternate.Map.Path, alternate.InsteadOf));
        Assert.Equal("guessed to be roughness, where 'wood_gloss.png' says that it is glossiness", alternate.Reason);

        // Of two that say it the metal/rough one is used, as before.
        var sure = AlternateChoice.Choose(wood with { Maps = wood.Maps.Add(guess with { Confidence = 0.97f }) });
        Assert.Equal(gloss.Path, Assert.Single(sure.Alternates).Map.Path);
    }

    [Fact]
    public void WhatAPersonChoseStaysChosen()
    {
        var slate = Group("slate_albedo_2k.png", "slate_rough_2k.png", "slate_normal_2k.png").Single();
        var rough = slate.Maps.Single(m => m.Role == MapRole.Roughness);
        var small = rough with
        {
            Path = "mine.jpg",
            Width = 512,
            Height = 512,
            Reading = rough.Reading with { Authority = ReadingAuthority.Person },
        };
        var chosen = AlternateChoice.Choose(slate with { Maps = slate.Maps.Add(small) });
        Assert.Equal("mine.jpg", chosen.Maps.Single(m => m.Role == MapRole.Roughness).Path);
        Assert.Equal("another one was chosen by a person", Assert.Single(chosen.Alternates).Reason);
    }

    [Fact]
    public void EachTileIsAnEntryOfOneSet()
    {
        var body = Group("body_basecolor.1001.png", "body_basecolor.1002.png", "body_roughness.1001.png", "body_roughness.1002.png")
            .Single();
        Assert.Equal([1001, 1002, 1001, 1002], body.Maps.Select(m => m.Udim!.Value));
    }

    [Fact]
    public void TagsAreProposedFromTheName() =>
        Assert.Equal(
            ["wet", "slate", "sill"],
            Group("wet_slate_sill_04_albedo.png", "wet_slate_sill_04_normal.png").Single().Tags.AsEnumerable()
        );
}
