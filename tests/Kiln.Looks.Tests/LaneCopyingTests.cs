using Kiln.Looks.Document;
using Kiln.Looks.Edits;
using Kiln.Looks.Maps;
using Kiln.Looks.Readings;
using Kiln.Looks.Steps;
using Kiln.Looks.Steps.Kinds.Colours;
using Kiln.Looks.Steps.Kinds.Numbers;

namespace Kiln.Looks.Tests;

/// <summary>Lanes and steps of one look in another: what they read there, what comes along, one undo.</summary>
public class LaneCopyingTests
{
    private static readonly Reading Raw = new(ReadingKind.Scalar, "raw", MapChannel.Luminance);

    private static MapFile File(string name, bool isFloat = false) =>
        new(Hashes.Named(name), name, 64, 64, isFloat ? 16 : 8, isFloat, isFloat ? "exr" : "png", ["R", "G", "B"], null);

    private static Look With(Look look, MapRole role, string lane, MapFile file, Reading reading, params Step[] steps) =>
        look with
        {
            Slots = look.Slots.SetItem(role.Id(), new(role, file, [file])),
            Lanes = look.Lanes.SetItem(lane, new(Chain: new(new SlotOrigin(role.Id(), reading), [.. steps]))),
        };

    private static readonly Look Copper = With(
        new() { Name = "copper" },
        MapRole.Roughness,
        "specular_roughness",
        File("copper_rough.png"),
        Raw,
        new RemapStep(0, 1, 0.2f, 0.6f) { Id = "s1" }
    );
    private static readonly Look Wall = With(
        new() { Name = "wall" },
        MapRole.Roughness,
        "specular_roughness",
        File("wall_rough.png"),
        Raw with
        {
            Channel = MapChannel.G,
        }
    );

    private static Look Applied(LookEdit edit, Look to)
    {
        var (after, back) = edit.Apply(to);
        Assert.Equal(LookJson.Write(to), LookJson.Write(back.Apply(after).Look));
        return after;
    }

    [Fact]
    public void ALaneReadsTheOtherLooksOwnMapAsThatLookReadsIt()
    {
        var after = Applied(LaneCopying.Lanes(Wall, Copper, ["specular_roughness"], ownMaps: true), Wall);
        var chain = after.Lanes["specular_roughness"].Chain!;
        Assert.Equal("wall_rough.png", after.Slots[((SlotOrigin)chain.Origin).Slot].File.Name);
        Assert.Equal(MapChannel.G, ((SlotOrigin)chain.Origin).Reading.Channel);
        Assert.IsType<RemapStep>(Assert.Single(chain.Steps));
        Assert.Single(after.Slots);
    }

    [Fact]
    public void OrTheFileComesAlongUnderAFreeName()
    {
        var after = Applied(LaneCopying.Lanes(Wall, Copper, ["specular_roughness"], ownMaps: false), Wall);
        var origin = (SlotOrigin)after.Lanes["specular_roughness"].Chain!.Origin;
        Assert.Equal("roughness 2", origin.Slot);
        Assert.Equal("copper_rough.png", after.Slots[origin.Slot].File.Name);
        // A second time it is there already.
        var again = Applied(LaneCopying.Lanes(after, Copper, ["specular_roughness"], ownMaps: false), after);
        Assert.Equal(2, again.Slots.Count);
        Assert.Equal(LookJson.Write(after), LookJson.Write(again));
    }

    /// <summary>A float file that nothing has read yet is not read as the 8-bit file of the other look was.</summary>
    [Fact]
    public void AFileOfAnotherKindIsReadAsFilesOfItsKindAre()
    {
        var from = With(
            new() { Name = "painted" },
            MapRole.BaseColor,
            "base_color",
            File("painted.png"),
            new(ReadingKind.Colour, "srgb_texture", MapChannel.Rgb)
        );
        var into = new Look
        {
            Name = "scanned",
            Slots = Wall.Slots.Add("baseColor", new(MapRole.BaseColor, File("scan.exr", isFloat: true), [])),
        };
        var after = Applied(LaneCopying.Lanes(into, from, ["base_color"], ownMaps: true), into);
        Assert.Equal("lin_rec709", ((SlotOrigin)after.Lanes["base_color"].Chain!.Origin).Reading.Space);
    }

    [Fact]
    public void SourcesComeAlongWithWhatTheyRead()
    {
        var worn = With(Copper, MapRole.Height, "displacement", File("copper_height.png"), Raw);
        worn = worn with
        {
            Sources = worn.Sources.Add("wear", new(Chain: new(new SlotOrigin("height", Raw), [new InvertStep { Id = "s1" }]))),
            Lanes = worn.Lanes.SetItem(
                "coat_weight",
                new(
                    Chain: new(
                        new ConstantOrigin(LookValue.Of(1f)),
                        [new MixStep(MixMode.Multiply, new(LookValue.Of(0.5f)), new(1, new(new SourceOrigin("wear")))) { Id = "s1" }]
                    )
                )
            ),
        };
        var after = Applied(LaneCopying.Lanes(Wall, worn, ["coat_weight"], ownMaps: true), Wall);
        Assert.Equal("copper_height.png", after.Slots["height"].File.Name);
        Assert.IsType<InvertStep>(Assert.Single(after.Sources["wear"].Chain!.Steps));
        // Another source of that name stays what it is.
        var taken = Wall with { Sources = Wall.Sources.Add("wear", new(Chain: new(new NoiseOrigin(new())))) };
        after = Applied(LaneCopying.Lanes(taken, worn, ["coat_weight"], ownMaps: true), taken);
        Assert.Equal(["wear", "wear 2"], after.Sources.Keys);
        Assert.IsType<NoiseOrigin>(after.Sources["wear"].Chain!.Origin);
    }

    [Fact]
    public void AStepGoesToTheEndUnderAFreeIdentifier()
    {
        var into = With(Wall, MapRole.Roughness, "specular_roughness", File("wall_rough.png"), Raw, new InvertStep { Id = "s1" });
        var after = Applied(LaneCopying.Step(into, Copper, "specular_roughness", "s1", ownMaps: true), into);
        Assert.Equal(["s1", "s2"], after.Lanes["specular_roughness"].Chain!.Steps.Select(s => s.Id));
        Assert.IsType<RemapStep>(after.Lanes["specular_roughness"].Chain!.Steps[1]);
    }

    [Fact]
    public void WhatDoesNotFitIsSaidInOneSentence()
    {
        Assert.Contains(
            "nothing connected",
            Assert
                .Throws<LookException>(() => LaneCopying.Step(new Look { Name = "bare" }, Copper, "specular_roughness", "s1", true))
                .Message,
            StringComparison.Ordinal
        );
        Assert.Contains(
            "no such step",
            Assert.Throws<LookException>(() => LaneCopying.Step(Wall, Copper, "specular_roughness", "s9", true)).Message,
            StringComparison.Ordinal
        );
        Assert.Contains(
            "at least one lane",
            Assert.Throws<LookException>(() => LaneCopying.Lanes(Wall, Copper, [], true)).Message,
            StringComparison.Ordinal
        );
        Assert.Contains(
            "layer",
            Assert.Throws<LookException>(() => LaneCopying.Lanes(Wall, Copper, ["cover:0:base_color"], true)).Message,
            StringComparison.Ordinal
        );
        Assert.Throws<LookException>(() => LaneCopying.Lanes(Wall, Copper, ["coat_weight"], true));
    }
}
