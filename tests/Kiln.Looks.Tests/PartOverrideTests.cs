using System.Numerics;
using Kiln.Looks.Document;
using Kiln.Looks.Maps;
using Kiln.Looks.Overrides;
using Kiln.Looks.Readings;
using Kiln.Looks.Steps.Kinds;
using Kiln.Looks.Steps.Kinds.Colours;

namespace Kiln.Looks.Tests;

/// <summary>What a part of a model has of its own over a look that it shares.</summary>
public class PartOverrideTests
{
    public static TheoryData<Placement> Placements => [.. All];

    private static IEnumerable<Placement> All =>
        [
            Placement.Identity,
            new Placement(2, 3),
            new Placement(1, 1, 90),
            new Placement(1, 1, 0, 0.25f, -0.125f),
            new Placement(0.5f, 4, 33, 0.3f, 0.1f, 0, 1),
            new Placement(3, 1, -120, 0.1f, 0.2f, MirrorU: true),
            new Placement(1, 1, MirrorV: true),
            new Placement(2, 0.7f, 15, 0, 0.5f, 0.2f, 0.9f, true, true),
            new Placement(2, 0.5f, 40, 0.1f, 0, PictureRotationDegrees: 25),
        ];

    /// <summary>Affine mappings are composed point by point, whatever their kind: the definition of a composition.</summary>
    [Theory]
    [MemberData(nameof(Placements))]
    public void APlacementAfterAnotherIsBothForEveryPoint(Placement first)
    {
        foreach (var then in All)
        {
            var both = then.After(first);
            foreach (var p in (Vector2[])[new(0, 0), new(1, 0), new(0, 1), new(0.3f, 0.7f), new(-2.5f, 4)])
                Assert.True(
                    Vector2.Distance(then.Apply(first.Apply(p)), both.Apply(p)) < 1e-4f * (1 + p.Length()),
                    $"{then} after {first} at {p}: {then.Apply(first.Apply(p))}, {both.Apply(p)}"
                );
            LookValidation.Check(new Look { Name = "x", Placement = both });
        }
    }

    /// <summary>Repeats and mirrors stay what they are, so that a dialect that knows no rotation needs none.</summary>
    [Fact]
    public void WhatNeedsNoRotationHasNone()
    {
        var both = new Placement(2, 3).After(new Placement(1, 1, MirrorV: true));
        Assert.Equal((2f, 3f, 0f, 0f), (both.RepeatsU, both.RepeatsV, both.RotationDegrees, both.PictureRotationDegrees));
        Assert.True(both.MirrorV);
        Assert.False(both.MirrorU);
        Assert.Equal(0, new Placement(2, 3).After(new Placement(1, 1, 30)).After(new Placement(2, 2, 12)).PictureRotationDegrees);
    }

    [Fact]
    public void TilesThatAreTurnedStaySoUnlessTheyWouldBeSqueezed()
    {
        var varied = new Placement(2, 2, 20, Variation: new(4, 90, 7));
        Assert.Equal(90, varied.After(new Placement(3, 3, 35, MirrorU: true)).Variation!.RotationDegrees);
        Assert.Equal(0, varied.After(new Placement(3, 1)).Variation!.RotationDegrees);
        foreach (var part in (Placement[])[new(3, 3, 35, MirrorU: true), new(3, 1), new(1.1f, 1.1f, 77)])
            LookValidation.Check(new Look { Name = "x", Placement = varied.After(part) });
    }

    private static Look Wood() =>
        new()
        {
            Name = "wood",
            Placement = new(2, 2),
            Lanes = System
                .Collections.Immutable.ImmutableSortedDictionary<string, Lane>.Empty.Add(
                    "base_color",
                    new(new TintValue(0.5f, 0.4f, 0.2f, "acescg"))
                )
                .Add("specular_roughness", new(null, new Chain(new NoiseOrigin(new()), [new PlaceStep(new(5, 5)) { Id = "s1" }]))),
        };

    [Fact]
    public void NothingOfItsOwnIsTheLookItself()
    {
        var wood = Wood();
        Assert.Same(wood, wood.With(PartOverride.None));
        Assert.Same(wood, wood.With(new() { Placement = new(PivotU: 0.1f) }));
    }

    /// <summary>Maps with a placement of their own move too: a part is turned as a whole.</summary>
    [Fact]
    public void AllMapsMoveTogether()
    {
        var own = new PartOverride { Placement = new(1, 1, 0, 0.25f) };
        var moved = Wood().With(own);
        var p = new Vector2(0.3f, 0.6f);
        static void Near(Vector2 expected, Vector2 actual) => Assert.Equal(expected, actual, (a, b) => Vector2.Distance(a, b) < 1e-5f);
        Near(new Placement(2, 2).Apply(own.Placement.Apply(p)), moved.Placement.Apply(p));
        var place = (PlaceStep)moved.Lanes["specular_roughness"].Chain!.Steps.Single();
        Assert.Equal("s1", place.Id);
        Near(new Placement(5, 5).Apply(own.Placement.Apply(p)), place.Placement.Apply(p));
    }

    [Fact]
    public void ATintMultipliesTheBaseColourAndAValueStandsForAnInput()
    {
        var look = Wood()
            .With(
                new() { Tint = new(0.5f, 1, 1, "acescg"), Values = PartOverride.None.Values.Add("specular_roughness", LookValue.Of(0.7f)) }
            );
        LookValidation.Check(look);
        var chain = look.Lanes["base_color"].Chain!;
        Assert.Equal(new ConstantOrigin(new TintValue(0.5f, 0.4f, 0.2f, "acescg")), chain.Origin);
        var mix = (MixStep)chain.Steps.Single();
        Assert.Equal((MixMode.Multiply, 1f), (mix.Mode, mix.Amount.Value));
        Assert.Equal(new Lane(LookValue.Of(0.7f)), look.Lanes["specular_roughness"]);
        // A look that says no colour has the standard's, and that is tinted.
        Assert.True(
            new Look { Name = "bare" }
                .With(new() { Tint = new(1, 0, 0, "acescg") })
                .Lanes.ContainsKey("base_color")
        );
    }

    [Fact]
    public void WhatCannotBeIsASentence()
    {
        static string Said(PartOverride own) => Assert.Throws<LookException>(() => PartOverrides.Check(own)).Message;
        Assert.Contains("more than zero", Said(new() { Placement = new(0, 1) }), StringComparison.Ordinal);
        Assert.Contains("tint", Said(new() { Tint = new(-1, 0, 0, "acescg") }), StringComparison.Ordinal);
        Assert.Contains("varied by the look", Said(new() { Placement = new(Variation: new()) }), StringComparison.Ordinal);
        Assert.Contains("no input 'shine'", Said(Of("shine", LookValue.Of(1f))), StringComparison.Ordinal);
        Assert.Contains("needs a colour", Said(Of("base_color", LookValue.Of(1f))), StringComparison.Ordinal);
        Assert.Contains("direction", Said(Of("geometry_normal", LookValue.Of(1f))), StringComparison.Ordinal);
        static PartOverride Of(string input, LookValue value) => new() { Values = PartOverride.None.Values.Add(input, value) };
    }
}
