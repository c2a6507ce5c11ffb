using System.Collections.Immutable;
using System.Text;
using Kiln.Colour;
using Kiln.Looks.Document;
using Kiln.Looks.Edits;
using Kiln.Looks.Steps.Kinds.Colours;

namespace Kiln.Looks.Tests;

public sealed class VariantTests
{
    private static readonly Chain Tinted = new(
        new NoiseOrigin(new()),
        [new MixStep(MixMode.Multiply, new(LookValue.Of(ColourValue.FromHex("#ffffff"))), new(1)) { Id = "s1" }]
    );

    private static readonly Look Plain = new()
    {
        Name = "cloth",
        Lanes = ImmutableSortedDictionary<string, Lane>.Empty.Add("base_color", new(Chain: Tinted)),
    };

    private static Variant Of(string name, params (string Place, LookValue Value)[] values) =>
        new(name) { Values = ImmutableSortedDictionary.CreateRange(values.Select(v => KeyValuePair.Create(v.Place, v.Value))) };

    private static readonly Variant Red = Of(
        "red",
        ("base_color/s1/other", LookValue.Of(ColourValue.FromHex("#ff0000"))),
        ("specular_roughness", LookValue.Of(0.7f))
    );

    [Fact]
    public void ADocumentWithoutVariantsIsWhatItWasBeforeThereWereAny()
    {
        Assert.DoesNotContain("variants", Encoding.UTF8.GetString(LookJson.Write(Plain)), StringComparison.Ordinal);
        var look = Plain with { Variants = [Red] };
        var read = LookJson.Read(LookJson.Write(look));
        Assert.Equal(LookJson.Hash(look), LookJson.Hash(read));
        Assert.Equal(0.7f, ((ScalarValue)read.Variants[0].Values["specular_roughness"]).Number);
    }

    [Fact]
    public void OverridesTakeTheirPlacesAndNothingElseChanges()
    {
        var look = (Plain with { Variants = [Red] }).As("red");
        Assert.Equal("cloth red", look.Name);
        Assert.Empty(look.Variants);
        var mix = (MixStep)look.Lanes["base_color"].Chain!.Steps[0];
        Assert.Equal(1f, ((TintValue)mix.Other.Value!).R);
        Assert.Equal(0f, ((TintValue)mix.Other.Value!).G);
        Assert.Equal(MixMode.Multiply, mix.Mode);
        Assert.Equal(0.7f, ((ScalarValue)look.Lanes["specular_roughness"].Value!).Number);
        Assert.Null(
            (Plain with { Variants = [Of("plain", ("base_color", LookValue.Of(ColourValue.FromHex("#00ff00"))))] })
                .As("plain")
                .Lanes["base_color"]
                .Chain
        );
    }

    [Fact]
    public void AStepThatIsTakenAwayLeavesItsOverridesAstrayAndKeepsThem()
    {
        var look = new StepRemoveEdit("base_color", "s1").Apply(Plain with { Variants = [Red] }).Look;
        Assert.Equal(["base_color/s1/other"], Variants.Unplaced(look, look.Variants[0]));
        Assert.Empty(look.As("red").Lanes["base_color"].Chain!.Steps);
        Assert.Equal(2, look.Variants[0].Values.Count);
    }

    [Fact]
    public void EditsGoBackWhereTheyCameFrom()
    {
        var look = Plain with { Variants = [Red, Of("blue")] };
        foreach (
            var edit in (LookEdit[])
                [
                    new VariantEdit("red", null),
                    new VariantEdit("red", Of("crimson")),
                    new VariantEdit("new", Of("new")),
                    new VariantsEdit([]),
                    new VariantsEdit([Of("a"), Of("b")]),
                ]
        )
        {
            var (changed, inverse) = edit.Apply(look);
            Assert.NotEqual(LookJson.Hash(look), LookJson.Hash(changed));
            Assert.Equal(LookJson.Hash(look), LookJson.Hash(inverse.Apply(changed).Look));
        }
        Assert.Equal(["crimson", "blue"], new VariantEdit("red", Of("crimson")).Apply(look).Look.Variants.Select(v => v.Name));
    }

    [Fact]
    public void WhatCannotBeIsASentence()
    {
        string Of2(LookEdit edit) => Assert.Throws<LookException>(() => edit.Apply(Plain with { Variants = [Red, Of("blue")] })).Message;
        Assert.Contains("Two variants are called", Of2(new VariantEdit("red", Of("Blue"))), StringComparison.Ordinal);
        Assert.Contains("no variant 'gone'", Of2(new VariantEdit("gone", null)), StringComparison.Ordinal);
        Assert.Contains(
            "needs a colour",
            Of2(new VariantEdit("red", Of("red", ("base_color", LookValue.Of(1f))))),
            StringComparison.Ordinal
        );
        Assert.Contains(
            "needs a number",
            Of2(new VariantEdit("red", Of("red", ("specular_roughness", LookValue.Of(ColourValue.FromHex("#ffffff")))))),
            StringComparison.Ordinal
        );
        Assert.Contains(
            "direction",
            Of2(new VariantEdit("red", Of("red", ("geometry_normal", LookValue.Of(1f))))),
            StringComparison.Ordinal
        );
        Assert.Contains(
            "not a finite number",
            Of2(new VariantEdit("red", Of("red", ("specular_roughness", LookValue.Of(float.NaN))))),
            StringComparison.Ordinal
        );
        Assert.Contains(
            "at most 200",
            Of2(new VariantsEdit([.. Enumerable.Range(0, 201).Select(i => Of($"v{i}"))])),
            StringComparison.Ordinal
        );
        Assert.Contains("needs a name", Of2(new VariantEdit("red", Of(" "))), StringComparison.Ordinal);
        Assert.Contains("'cloth' has no variant 'x'", Assert.Throws<LookException>(() => Plain.As("x")).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void ARenamedSourceIsFollowedAndCoversAreNotOverridden()
    {
        var look = Plain with
        {
            Sources = Plain.Sources.Add("weave", new(Chain: Tinted)),
            Variants = [Of("red", ("source:weave/s1/other", LookValue.Of(ColourValue.FromHex("#ff0000"))))],
        };
        var (renamed, inverse) = new SourceRenameEdit("weave", "twill").Apply(look);
        Assert.Equal(["source:twill/s1/other"], renamed.Variants[0].Values.Keys);
        Assert.Empty(Variants.Unplaced(renamed, renamed.Variants[0]));
        Assert.Equal(LookJson.Hash(look), LookJson.Hash(inverse.Apply(renamed).Look));
        Assert.Contains(
            "of the base layer",
            Assert.Throws<LookException>(() => new VariantEdit("x", Of("x", ("cover:0:base_color", LookValue.Of(1f)))).Apply(look)).Message,
            StringComparison.Ordinal
        );
    }

    [Fact]
    public void ADifferenceNamesTheVariant()
    {
        var changes = LookChanges.Between(Plain with { Variants = [Red, Of("blue")] }, Plain with { Variants = [Of("blue"), Of("red")] });
        Assert.Equal(["variant:red"], changes.Select(c => c.Place));
    }
}
