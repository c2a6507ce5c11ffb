using System.Collections.Immutable;
using Kiln.Looks.Document;
using Kiln.Looks.Edits;
using Kiln.Looks.Maps;
using Kiln.Looks.Readings;
using Kiln.Looks.Steps.Kinds;
using Kiln.Looks.Steps.Kinds.Colours;

namespace Kiln.Looks.Tests;

/// <summary>A look over another: its files come along, it stays as it was, and taking it back leaves the same bytes.</summary>
public class CoveringTests
{
    private static Look Surface(string name, Placement? placement = null)
    {
        var file = new MapFile(Hashes.Named(name), name + ".png", 64, 64, 8, false, "png", ["R", "G", "B"], null);
        return new Look
        {
            Name = name,
            Placement = placement ?? Placement.Identity,
            Slots = ImmutableSortedDictionary<string, Slot>.Empty.Add("baseColor", new(MapRole.BaseColor, file, [file])),
            Sources = ImmutableSortedDictionary<string, Lane>.Empty.Add(
                "wear",
                new(
                    Chain: new(
                        new SlotOrigin("baseColor", new(ReadingKind.Colour, "srgb_texture", MapChannel.Rgb)),
                        [new PickStep(MapChannel.Luminance) { Id = "s1" }]
                    )
                )
            ),
            Lanes = ImmutableSortedDictionary<string, Lane>
                .Empty.Add(
                    "base_color",
                    new(Chain: new(new SlotOrigin("baseColor", new(ReadingKind.Colour, "srgb_texture", MapChannel.Rgb))))
                )
                .Add(
                    "specular_roughness",
                    new(
                        Chain: new(
                            new SourceOrigin("wear"),
                            [new MixStep(MixMode.Multiply, new(LookValue.Of(0.5f)), new(1, new(new SourceOrigin("wear")))) { Id = "s1" }]
                        )
                    )
                ),
        };
    }

    [Fact]
    public void ComesWithItsFilesAndSourcesAndCanBeTakenBack()
    {
        var (baseLayer, lime) = (Surface("copper"), Surface("lime", new(2, 2)));
        var (covered, back) = Layering.Over(baseLayer, lime, "x@1").Apply(baseLayer);
        var layer = Assert.Single(covered.Layers);
        Assert.Equal(("lime", "x@1"), (layer.Name, layer.PinnedVersion));
        Assert.Equal(lime.Slots["baseColor"], covered.Slots["lime baseColor"]);
        Assert.Equal(new SourceOrigin("lime wear"), layer.Lanes["specular_roughness"].Chain!.Origin);
        Assert.Equal(new SourceOrigin("lime wear"), ((MixStep)layer.Lanes["specular_roughness"].Chain!.Steps[0]).Amount.Chain!.Origin);
        // It lies as it lay: twice as often as the ground.
        Assert.Equal(new Placement(2, 2), layer.Lanes["base_color"].Chain!.Steps.OfType<PlaceStep>().Single().Placement);
        Assert.Equal(baseLayer.Lanes, covered.Lanes);
        Assert.Equal(LookJson.Write(baseLayer), LookJson.Write(back.Apply(covered).Look));
        // The same look once more gets other names.
        var twice = Layering.Over(covered, lime, null).Apply(covered).Look;
        Assert.Equal(["lime", "lime 2"], twice.Layers.Select(c => c.Name));
        Assert.Contains("layers itself", Assert.Throws<LookException>(() => Layering.Over(baseLayer, covered, null)).Message);
    }
}
