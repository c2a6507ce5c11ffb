using System.Collections.Immutable;
using Kiln.Analysis.Consistency;
using Kiln.Colour;
using Kiln.Colour.Spaces;
using Kiln.Looks.Document;
using Kiln.Looks.Evaluation;
using Kiln.Looks.Ids;
using Kiln.Looks.Maps;
using Kiln.Looks.Readings;

namespace Kiln.Analysis.Tests;

public sealed class AlikeTests
{
    private static Look Of(params (string Lane, Lane Content)[] lanes) =>
        new() { Name = "x", Lanes = ImmutableSortedDictionary.CreateRange(lanes.Select(l => KeyValuePair.Create(l.Lane, l.Content))) };

    private static Task<LookMeasures> MeasureAsync(Look look) =>
        LookMeasures.OfAsync(look, new MapTextures(new NoFiles(), new NoFiles()), WorkingSpace.AcesCg, null);

    private static readonly Chain Noise = new(new NoiseOrigin(new(NoiseKind.Fractal, 6)));

    public static TheoryData<string, double> Targets =>
        new()
        {
            { Sameness.BaseLuminance, 0.05 },
            { Sameness.BaseLuminance, 0.4 },
            { Sameness.RoughnessSpread, 0.1 },
            { Sameness.RoughnessSpread, 0.3 },
        };

    /// <summary>Measured after the edit, not computed from it.</summary>
    [Theory]
    [MemberData(nameof(Targets))]
    public async Task TheEditLeadsToTheValue(string quantity, double target)
    {
        foreach (
            var look in (Look[])
                [
                    Of(("base_color", new(LookValue.Of(ColourValue.FromHex("#806040")))), ("specular_roughness", new(Chain: Noise))),
                    Of(("base_color", new(Chain: Noise)), ("specular_roughness", new(Chain: Noise))),
                ]
        )
        {
            var edit = Sameness.Towards(look, await MeasureAsync(look), quantity, target)!;
            var after = await MeasureAsync(edit.Apply(look).Look);
            Assert.Equal(target, Sameness.Of(after, quantity)!.Value, target * 0.01);
            Assert.Null(Sameness.Towards(edit.Apply(look).Look, after, quantity, target));
        }
    }

    [Fact]
    public async Task WhatCannotBeIsASentence()
    {
        var plain = Of(("base_color", new(LookValue.Of(ColourValue.FromHex("#000000")))), ("specular_roughness", new(LookValue.Of(0.4f))));
        var measures = await MeasureAsync(plain);
        foreach (
            var (quantity, target, sentence) in ((string, double, string)[])
                [
                    ("texelDensity", 100, "how fine"),
                    ("baseLuminance", 0.2, "black"),
                    ("roughnessSpread", 0.2, "no spread"),
                    ("baseLuminance", 0, "above zero"),
                    ("weight", 1, "not made alike by"),
                ]
        )
            Assert.Contains(
                sentence,
                Assert.Throws<LookException>(() => Sameness.Towards(plain, measures, quantity, target)).Message,
                StringComparison.Ordinal
            );
    }

    private static MapFile Map(string name, char content, ulong likeness) =>
        new(Hashes.Named(content.ToString()), name, 64, 64, 8, false, "png", ["R", "G", "B"], null)
        {
            Likeness = likeness.ToString("x16", System.Globalization.CultureInfo.InvariantCulture),
        };

    private static (LookId, Look) With(string name, MapFile file, MapRole role = MapRole.BaseColor) =>
        (
            Ids.New<LookId>(),
            new Look { Name = name, Slots = ImmutableSortedDictionary<string, Slot>.Empty.Add("map", new(role, file, [file])) }
        );

    [Fact]
    public void TheSameFileAndNearlyTheSamePictureAreFoundAndOthersAreNot()
    {
        const ulong one = 0x0F0F_3355_A5A5_1234;
        var groups = Duplicates.Among([
            With("a", Map("a.png", 'a', one)),
            With("b", Map("a.png", 'a', one)),
            With("c", Map("c.jpg", 'c', one ^ 0b111)),
            With("d", Map("d.png", 'd', ~one)),
            With("e", Map("a.png", 'a', one), MapRole.Roughness),
            With("f", Map("f.png", 'f', 0)),
            With("g", Map("g.png", 'e', 0)),
        ]);
        Assert.Equal(["same", "similar"], groups.Select(g => g.Kind));
        Assert.Equal(["a", "b"], groups[0].Maps.Select(m => m.Name).Order());
        Assert.Equal(["a", "b", "c"], groups[1].Maps.Select(m => m.Name).Order());
        Assert.All(groups, g => Assert.Equal(MapRole.BaseColor, g.Role));
    }
}
