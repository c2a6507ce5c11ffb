using System.Collections.Immutable;
using Kiln.Analysis.Findings;
using Kiln.Analysis.Models.Findings;
using Kiln.Looks.Document;
using Kiln.Looks.Maps;
using Kiln.Looks.Overrides;
using Kiln.Looks.Readings;
using Kiln.Models.Measures;
using Kiln.Pixels;

namespace Kiln.Analysis.Tests;

/// <summary>
/// What is wrong about models: one planted fault each is told, with the repair that mends it; and nothing where there is none.
/// </summary>
public sealed class ModelFindingTests
{
    private static readonly UvMeasures Fine = new(0, 0, 0, 1, [1001]);

    private static Look Named(string name, params MapRole[] roles)
    {
        var file = new MapFile(ContentHash.Of([1]), "a.png", 64, 64, 8, false, "png", ["R", "G", "B"], null);
        var look = new Look { Name = name, Slots = roles.ToImmutableSortedDictionary(r => r.Id(), r => new Slot(r, file, [file])) };
        return roles.Contains(MapRole.Normal)
            ? look with
            {
                Lanes = look.Lanes.SetItem(
                    "geometry_normal",
                    new Lane(Chain: new(new SlotOrigin("normal", UsualReading.Of(MapRole.Normal, file.Facts(), null, NormalY.Up))))
                ),
            }
            : look;
    }

    private static readonly Look Brass = Named("brass", MapRole.BaseColor, MapRole.Normal);

    /// <summary>A part of a metre with its middle at x, in brass, with nothing wrong.</summary>
    private static FoundPart Part(string name, float x, Look? look = null, UvMeasures? uvs = null, double density = 1) =>
        new(
            "/" + name,
            name,
            12,
            6,
            [1, 1, 1],
            new([x, 0, 0], true, 0, density, uvs ?? Fine),
            look ?? Brass,
            (look ?? Brass).Name,
            PartOverride.None,
            null,
            null,
            [],
            []
        );

    private static ModelFinding One(params FoundPart[] parts) => Assert.Single(ModelFindings.Of(parts));

    [Fact]
    public void NothingIsSaidWhereNothingIsWrong() => Assert.Empty(ModelFindings.Of([Part("a", 0), Part("b", 1), Part("c", 5)]));

    [Fact]
    public void APartWithoutUvsIsAdviceAndIsKeptFromSixSides()
    {
        var bare = Part("a", 0) with { Figures = new([0, 0, 0], true, 0, null, null) };
        var found = One(bare, Part("b", 1));
        Assert.Equal(("uvs.none", Severity.Advice), (found.Code, found.Severity));
        Assert.Equal(new RepairedPart("/a", PartOverride.None, "box"), Assert.Single(found.Repair!.Settings));
        // Said to be meant, or without maps: nothing to say.
        Assert.Empty(ModelFindings.Of([bare with { Projection = "box" }]));
        Assert.Empty(ModelFindings.Of([bare with { Look = Named("plain") }]));
    }

    [Theory]
    [InlineData(0.01, 0, null)]
    [InlineData(0.3, 0, "uvs.overlap")]
    [InlineData(0.3, 0.5, null)]
    public void UvsOverEachOtherAreToldWithinOnePicture(double overlap, double outside, string? code) =>
        Assert.Equal(
            code,
            ModelFindings.Of([Part("a", 0, uvs: Fine with { Overlap = overlap, Outside = outside })]).FirstOrDefault()?.Code
        );

    [Fact]
    public void MirroredIslandsAreFlippedBackByOneGesture()
    {
        var mirrored = Part("a", 0, uvs: Fine with { Flipped = 1 });
        var found = One(mirrored);
        Assert.Equal(("uvs.flipped", Severity.Warning), (found.Code, found.Severity));
        var repaired = Assert.Single(found.Repair!.Settings);
        Assert.True(repaired.Own.Placement.MirrorU);
        // Then it is mended.
        Assert.Empty(ModelFindings.Of([mirrored with { Own = repaired.Own }]));
        // A part that its own placement turns over is told the same way.
        Assert.Equal("uvs.flipped", One(Part("a", 0) with { Own = repaired.Own }).Code);
        // Halves that share a map: advice under a normal map, nothing without one.
        var half = Fine with { Flipped = 0.5 };
        Assert.Equal(Severity.Advice, One(Part("a", 0, uvs: half)).Severity);
        Assert.Empty(ModelFindings.Of([Part("a", 0, Named("flat", MapRole.BaseColor), half)]));
    }

    [Fact]
    public void TilesThatAreMissingAreErrorsAndUnusedOnesAdvice()
    {
        var file = new MapFile(ContentHash.Of([1]), "a.1001.png", 64, 64, 8, false, "png", ["R", "G", "B"], null)
        {
            Tiles = [new(1001, ContentHash.Of([1]), "a.1001.png"), new(1002, ContentHash.Of([2]), "a.1002.png")],
        };
        var tiled = new Look
        {
            Name = "tiled",
            Slots = ImmutableSortedDictionary<string, Slot>.Empty.Add("baseColor", new(MapRole.BaseColor, file, [file])),
        };
        var missing = One(Part("a", 0, tiled, Fine with { Udims = [1001, 1002, 1011] }));
        Assert.Equal(("udim.missing", Severity.Error), (missing.Code, missing.Severity));
        Assert.Contains("base colour: 1011", missing.Evidence, StringComparison.Ordinal);
        var unused = One(Part("a", 0, tiled));
        Assert.Equal(("udim.unused", Severity.Advice), (unused.Code, unused.Severity));
        Assert.Contains("1002", unused.Evidence, StringComparison.Ordinal);
        Assert.Empty(ModelFindings.Of([Part("a", 0, tiled), Part("b", 1, tiled, Fine with { Udims = [1002] })]));
    }

    /// <summary>By the numbers of its own finding: repeated as it says, both lie equally large.</summary>
    [Fact]
    public void ALookThatLiesUnequallyOnNeighboursIsMadeEqual()
    {
        var (large, small) = (Part("body", 0) with { Area = 9 }, Part("lid", 1.02f, density: 3));
        var found = One(large, small);
        Assert.Equal("uvs.density", found.Code);
        Assert.Contains("lies smaller on lid", found.Message, StringComparison.Ordinal);
        Assert.Contains("3 times apart", found.Evidence, StringComparison.Ordinal);
        var repaired = Assert.Single(found.Repair!.Settings);
        Assert.Equal((1 / 3f, 1 / 3f), (repaired.Own.Placement.RepeatsU, repaired.Own.Placement.RepeatsV));
        Assert.Empty(ModelFindings.Of([large, small with { Own = repaired.Own }]));
        // Far from each other, less than twice apart, or in another look: nothing to say.
        Assert.Empty(ModelFindings.Of([large, Part("lid", 4, density: 3)]));
        Assert.Empty(ModelFindings.Of([large, Part("lid", 1, density: 1.9)]));
        Assert.Empty(ModelFindings.Of([large, Part("lid", 1, Named("steel", MapRole.BaseColor), density: 3)]));
    }

    [Theory]
    [InlineData(240, "240 m")]
    [InlineData(0.002, "2 mm")]
    [InlineData(1.8, null)]
    public void AModelOfAnUnlikelySizeIsAskedAbout(float size, string? words)
    {
        var found = ModelFindings.Of([Part("a", 0) with { Size = [size, size / 2, size / 4] }]);
        Assert.Equal(words is null ? [] : new[] { "unit.suspicious" }, found.Select(f => f.Code));
        if (words is not null)
            Assert.Contains(words, found[0].Message, StringComparison.Ordinal);
    }

    [Fact]
    public void APartInThePlaceOfAnotherIsTold()
    {
        Assert.Equal("part.twin", One(Part("a", 0), Part("b", 0)).Code);
        Assert.Empty(ModelFindings.Of([Part("a", 0), Part("b", 0) with { Triangles = 13 }]));
        Assert.Empty(ModelFindings.Of([Part("a", 0), Part("b", 0.1f)]));
    }

    [Fact]
    public void NormalsThatAreMissingOrTurnedOverAreTold()
    {
        Assert.Equal("normals.back", One(Part("a", 0) with { Figures = new([0, 0, 0], true, 0.2, 1, Fine) }).Code);
        Assert.Equal("normals.none", One(Part("a", 0) with { Figures = new([0, 0, 0], false, 0, 1, Fine) }).Code);
    }

    [Fact]
    public void WhatTheFileNamesAndTheLookLacksIsTold()
    {
        var found = One(Part("a", 0) with { Named = [MapRole.BaseColor, MapRole.Height, MapRole.Bump, MapRole.Emission] });
        Assert.Equal(("map.lacks", ModelRepairKind.Materials), (found.Code, found.Repair!.Kind));
        // Heights and bumps are in its normals.
        Assert.Equal($"Named there and not in the look: {MapRole.Emission.Label()}.", found.Evidence);
        Assert.Empty(ModelFindings.Of([Part("a", 0) with { Named = [MapRole.BaseColor] }]));
    }

    [Fact]
    public void PathsThatLeadNowhereMatterWhereThePartIsGrey()
    {
        var dead = Part("a", 0) with { Dead = ["D:/a.png", "D:/b.png"] };
        Assert.Empty(ModelFindings.Of([dead]));
        var found = One(dead with { Look = null, LookKey = null });
        Assert.Equal(("map.dead", "D:/a.png, D:/b.png"), (found.Code, found.Evidence));
    }

    [Fact]
    public void NamesThatAreOnlyNearAreConfirmedTogether()
    {
        Assert.Empty(ModelFindings.Of([Part("a", 0) with { ByName = 0.93f }, Part("b", 1) with { ByName = 0.99f }]));
        var found = One(Part("a", 0) with { ByName = 0.93f }, Part("b", 1) with { ByName = 0.91f });
        Assert.Equal(("bound.doubtful", ModelRepairKind.Confirm), (found.Code, found.Repair!.Kind));
        Assert.Contains("b, 91 %", found.Evidence, StringComparison.Ordinal);
    }

    [Fact]
    public void AnArchivedLookIsTold() => Assert.Equal("look.archived", One(Part("a", 0) with { IsArchived = true }).Code);

    [Fact]
    public void WhatWasNotMeasuredOrCannotBeReadIsSaid()
    {
        Assert.Equal("figures.none", One(Part("a", 0) with { Figures = null }).Code);
        var found = One(Part("a", 0) with { Look = null, LookFault = "The document is damaged.", Dead = ["D:/a.png"] });
        Assert.Equal(("look.unreadable", Severity.Error, "The document is damaged."), (found.Code, found.Severity, found.Evidence));
    }
}
