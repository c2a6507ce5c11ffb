using System.Text.Json;
using System.Text.Json.Nodes;
using Kiln.Looks.Document;
using Kiln.Looks.Edits;
using Kiln.Looks.Maps;
using Kiln.Looks.Readings;
using Kiln.Looks.Steps.Kinds.Numbers;

namespace Kiln.Looks.Tests;

/// <summary>Edits of single fields: what was set beside them meanwhile stays.</summary>
public class FieldsEditTests
{
    private static readonly Look Plain = new()
    {
        Name = "plain",
        Lanes = System.Collections.Immutable.ImmutableSortedDictionary<string, Lane>.Empty.Add(
            "specular_roughness",
            new(Chain: new(new ConstantOrigin(LookValue.Of(0.5f)), [new RemapStep(0.1f, 0.9f, 0, 1, true) { Id = "s1" }]))
        ),
    };

    private static FieldsEdit Edit(string of, string fields, LaneAddress? lane = null, string? step = null) =>
        new(of, JsonNode.Parse(fields)!.AsObject(), lane, step);

    [Fact]
    public void TwoQuickFieldsOfAPlacementDoNotLoseEachOther()
    {
        var (first, undoFirst) = Edit("placement", """{"repeatsU": 3}""").Apply(Plain);
        var (second, _) = Edit("placement", """{"rotationDegrees": 30}""").Apply(first);
        Assert.Equal((3, 30), (second.Placement.RepeatsU, second.Placement.RotationDegrees));
        // Taking back the first leaves the second.
        var (back, _) = undoFirst.Apply(second);
        Assert.Equal((1, 30), (back.Placement.RepeatsU, back.Placement.RotationDegrees));
    }

    [Fact]
    public void FieldsOfStepsSizesAndDisplacementAreSetAlone()
    {
        var (look, undo) = Edit("step", """{"outLow": 0.2}""", "specular_roughness", "s1").Apply(Plain);
        Assert.Equal(new RemapStep(0.1f, 0.9f, 0.2f, 1, true) { Id = "s1" }, look.Lanes["specular_roughness"].Chain!.Steps[0]);
        Assert.Equal(LookJson.Hash(Plain), LookJson.Hash(undo.Apply(look).Look));
        Assert.Equal((2, Plain.SizeV), (Edit("size", """{"sizeU": 2}""").Apply(Plain).Look is var sized ? sized.SizeU : 0, sized.SizeV));
        var (moved, unmoved) = Edit("displacement", """{"on": true, "mode": "geometry"}""").Apply(Plain);
        Assert.Equal(
            (true, ReliefMode.Geometry, Plain.Displacement.HeightMetres),
            (moved.Displacement.On, moved.Relief, moved.Displacement.HeightMetres)
        );
        Assert.Equal(LookJson.Hash(Plain), LookJson.Hash(unmoved.Apply(moved).Look));
    }

    [Theory]
    [InlineData("placement", """{"repeatsW": 3}""")]
    [InlineData("placement", """{"repeatsU": "x"}""")]
    [InlineData("placement", """{"repeatsU": -3}""")]
    [InlineData("placement", "{}")]
    [InlineData("nothing", """{"a": 3}""")]
    public void WhatCannotBeSetIsASentence(string of, string fields) => Assert.Throws<LookException>(() => Edit(of, fields).Apply(Plain));

    [Fact]
    public void AStepKeepsItsKindAndIdentifier()
    {
        foreach (var fields in new[] { """{"id": "s9"}""", """{"kind": "invert"}""" })
            Assert.Throws<LookException>(() => Edit("step", fields, "specular_roughness", "s1").Apply(Plain));
    }

    /// <summary>Through the JSON of the history and back it is the same edit.</summary>
    [Fact]
    public void ItIsKeptInTheHistory()
    {
        LookEdit edit = Edit("placement", """{"mirrorU": true, "variation": null}""");
        var again = JsonSerializer.Deserialize<LookEdit>(JsonSerializer.Serialize(edit, LookJson.Options), LookJson.Options);
        Assert.Equal(edit, again);
        Assert.Equal("placement: mirror u true, variation off", edit.Sentence);
    }
}
