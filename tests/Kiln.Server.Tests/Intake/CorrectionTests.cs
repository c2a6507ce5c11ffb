using Kiln.Intake;
using Kiln.Intake.Sets;
using Kiln.Looks.Maps;
using Kiln.Looks.Readings;
using Kiln.Server.Intake;

namespace Kiln.Server.Tests.Intake;

/// <summary>What a person's correction does to a delivery, without a server.</summary>
public sealed class CorrectionTests
{
    private static PlacedMap Map(string path, MapRole role) =>
        new(
            path,
            role,
            MapChannel.Luminance,
            new(role.Kind(), "raw", MapChannel.Luminance),
            null,
            null,
            1024,
            1024,
            8,
            false,
            null,
            0.97f,
            ["its name says so"],
            new MapFile(Hashes.Named(path), path, 1024, 1024, 8, false, "png", ["Y"], null)
        );

    [Fact]
    public void ChoosingTheGlossinessPutsTheRoughnessAside()
    {
        var set = AlternateChoice.Choose(
            new("oak", [Map("oak_gloss.png", MapRole.Glossiness), Map("oak_rough.png", MapRole.Roughness)], [], [])
        );
        Assert.Equal("oak_gloss.png", Assert.Single(set.Alternates).Map.Path);

        var chosen = Assert.Single(new Correction("oak_gloss.png", null, "oak", MapRole.Glossiness).Apply(new([set], [], [], [])).Sets);
        Assert.Equal("oak_gloss.png", Assert.Single(chosen.Maps).Path);
        var aside = Assert.Single(chosen.Alternates);
        Assert.Equal(("oak_rough.png", "oak_gloss.png"), (aside.Map.Path, aside.InsteadOf));

        // An answer to something else afterwards does not take the choice back.
        Assert.Equal(
            "oak_gloss.png",
            Assert
                .Single(
                    AlternateChoice
                        .Choose(chosen with { Maps = [.. chosen.Maps, .. chosen.Alternates.Select(a => a.Map)], Alternates = [] })
                        .Maps
                )
                .Path
        );
    }
}
