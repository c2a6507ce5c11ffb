using Kiln.Intake.Wiring;
using Kiln.Looks.Document;
using Kiln.Looks.Edits;
using Kiln.Looks.Maps;
using Kiln.Looks.Readings;
using Kiln.Looks.Steps.Kinds.Numbers;
using Kiln.Looks.Steps.Kinds.Reliefs;

namespace Kiln.Intake.Tests;

/// <summary>Pictures brought to a look that is there: sorted into slots, or wired where a person dropped them.</summary>
public class MapsOntoLookTests
{
    private static MapFile File(string name, int bits = 8, bool isFloat = false) =>
        new(Hashes.Named(name), name, 64, 64, bits, isFloat, "png", ["R", "G", "B"], null);

    private static PlacedMap Placed(MapRole role, string name, NormalY? y = null)
    {
        var kind = role.Kind();
        return new(
            name,
            role,
            kind == ReadingKind.Scalar ? MapChannel.Luminance : MapChannel.Rgb,
            new(
                kind,
                kind == ReadingKind.Colour ? "srgb_texture" : "raw",
                kind == ReadingKind.Scalar ? MapChannel.Luminance : MapChannel.Rgb,
                y
            ),
            y,
            null,
            64,
            64,
            8,
            false,
            null,
            1,
            [],
            File(name)
        );
    }

    private static IntakeResult Result(params PlacedMap[] maps) => new([new("wall", [.. maps], [], [])], [], [], []);

    private static readonly Look Wall = SetWiring.Wire(
        Result(Placed(MapRole.BaseColor, "wall_albedo.png"), Placed(MapRole.Normal, "wall_normal.png", NormalY.Up)).Sets[0]
    );

    [Fact]
    public void ANewRoleGetsItsSlotAndItsLane()
    {
        var (edit, assigned) = MapsOntoLook.Sorted(Wall, Result(Placed(MapRole.Glossiness, "wall_gloss.png")));
        var (after, back) = edit!.Apply(Wall);
        Assert.IsType<InvertStep>(Assert.Single(after.Lanes["specular_roughness"].Chain!.Steps));
        Assert.Equal("glossiness", Assert.Single(assigned).Where);
        Assert.Equal(LookJson.Write(Wall), LookJson.Write(back.Apply(after).Look));
    }

    [Fact]
    public void AKnownRoleExchangesTheFileKeepsTheStepsAndFollowsTheReading()
    {
        var stepped = new StepInsertEdit("geometry_normal", 1, new BlurStep { Id = "s9" }).Apply(Wall).Look;
        var (edit, _) = MapsOntoLook.Sorted(stepped, Result(Placed(MapRole.Normal, "wall_normal_v2.png", NormalY.Down)));
        var after = edit!.Apply(stepped).Look;
        Assert.Equal("wall_normal_v2.png", after.Slots["normal"].File.Name);
        Assert.Equal(2, after.Slots["normal"].Candidates.Length);
        var chain = after.Lanes["geometry_normal"].Chain!;
        Assert.Equal(NormalY.Down, ((SlotOrigin)chain.Origin).Reading.NormalY);
        Assert.Equal(2, chain.Steps.Length);
        // What a person has set stays.
        var origin = (SlotOrigin)Wall.Lanes["geometry_normal"].Chain!.Origin;
        var set = new LaneEdit(
            "geometry_normal",
            Wall.Lanes["geometry_normal"] with
            {
                Chain = Wall.Lanes["geometry_normal"].Chain! with
                {
                    Origin = origin with { Reading = origin.Reading with { Authority = ReadingAuthority.Person } },
                },
            }
        )
            .Apply(Wall)
            .Look;
        var kept = MapsOntoLook.Sorted(set, Result(Placed(MapRole.Normal, "wall_normal_v2.png", NormalY.Down))).Edit!.Apply(set).Look;
        Assert.Equal(NormalY.Up, ((SlotOrigin)kept.Lanes["geometry_normal"].Chain!.Origin).Reading.NormalY);
    }

    [Fact]
    public void WhatFitsNowhereIsNamedAndNothingIsEdited()
    {
        var (edit, assigned) = MapsOntoLook.Sorted(
            Wall,
            new([], [new("readme.png", "nothing tells what it is")], [], [new("broken.png", "cut off")])
        );
        Assert.Null(edit);
        Assert.Equal(["nothing tells what it is", "cut off"], assigned.Select(b => b.Sentence));
    }

    [Theory]
    [InlineData("coat_roughness", MapRole.Glossiness, ReadingKind.Scalar, "raw", typeof(InvertStep))]
    [InlineData("coat_color", null, ReadingKind.Colour, "srgb_texture", null)]
    [InlineData("coat_weight", MapRole.BaseColor, ReadingKind.Scalar, "raw", null)]
    [InlineData("geometry_coat_normal", MapRole.Normal, ReadingKind.Direction, "raw", typeof(DecodeNormalStep))]
    [InlineData("geometry_coat_normal", MapRole.Height, ReadingKind.Scalar, "raw", typeof(HeightToNormalStep))]
    public void ALaneTakesAPictureAsItNeedsIt(string lane, MapRole? sorted, ReadingKind kind, string space, Type? first)
    {
        var after = MapsOntoLook.Wired(Wall, lane, File("dropped.png"), sorted, null).Apply(Wall).Look;
        var chain = after.Lanes[lane].Chain!;
        var reading = ((SlotOrigin)chain.Origin).Reading;
        Assert.Equal((kind, space), (reading.Kind, reading.Space));
        Assert.Equal(first, chain.Steps.FirstOrDefault()?.GetType());
    }

    /// <summary>What Intake would ask about is not placed unasked, and a lane that a person chose outweighs a guess.</summary>
    [Fact]
    public void AGuessIsNotActedOn()
    {
        var (edit, assigned) = MapsOntoLook.Sorted(Wall, Result(Placed(MapRole.Subsurface, "scatter-plot.png") with { Confidence = 0.6f }));
        Assert.Null(edit);
        Assert.Contains("not certain", Assert.Single(assigned).Sentence, StringComparison.Ordinal);
        var after = MapsOntoLook
            .Wired(Wall, "specular_roughness", File("camera.png"), MapRole.BaseColor, null, isSure: false)
            .Apply(Wall)
            .Look;
        Assert.Equal(MapRole.Roughness, after.Slots[((SlotOrigin)after.Lanes["specular_roughness"].Chain!.Origin).Slot].Role);
    }

    [Fact]
    public void AFloatPictureIsReadAsLight()
    {
        var after = MapsOntoLook
            .Wired(Wall, "emission_color", File("glow.exr", 32, isFloat: true), MapRole.Emission, null)
            .Apply(Wall)
            .Look;
        Assert.Equal("lin_rec709", ((SlotOrigin)after.Lanes["emission_color"].Chain!.Origin).Reading.Space);
    }
}
