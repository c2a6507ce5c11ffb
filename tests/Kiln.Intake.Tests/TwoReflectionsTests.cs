using Kiln.Intake.Sets;
using Kiln.Looks.Readings;
using Kiln.Pixels;

namespace Kiln.Intake.Tests;

/// <summary>
/// A reflection and a specular picture of one surface are two statements: asked about once, with both shown; never one in place of the
/// other.
/// </summary>
public class TwoReflectionsTests
{
    private static ImageBuffer Picture(float red, float green, float blue)
    {
        var picture = new ImageBuffer(32, 32, ImageBuffer.Rgb, SampleType.U8);
        for (var i = 0; i < 32 * 32; i++)
        for (var c = 0; c < 3; c++)
            picture[i % 32, i / 32, c] =
                (0.4f + 0.5f * (i % 32) / 31f)
                * (
                    c == 0 ? red
                    : c == 1 ? green
                    : blue
                );
        return picture;
    }

    private static readonly ImageBuffer Grey = Picture(1, 1, 1),
        Golden = Picture(1, 0.7f, 0.3f);

    private static List<MapSet> Sets(params (string Path, ImageBuffer Picture)[] files) =>
        [.. Delivered.Group(files).Sets.Select(AlternateChoice.Choose)];

    public static TheoryData<string, string, bool> Names =>
        new()
        {
            { "sill_reflection.png", "sill_specular.png", false },
            { "sill_Reflect.png", "sill_spec.png", false },
            { "sill_reflection.png", "sill_specular.png", true },
            { "sill_reflection_color.png", "sill_specular_color.png", true },
            { "sill_refl.tif", "sill_SPC.tif", false },
        };

    [Theory]
    [MemberData(nameof(Names))]
    public void BothAreKeptAndAskedAbout(string reflection, string specular, bool inColour)
    {
        var picture = inColour ? Golden : Grey;
        var set = Assert.Single(Sets(("sill_albedo.png", Golden), (reflection, picture), (specular, picture)));
        Assert.False(set.Ready);
        var pair = Assert.Single(TwoReflections.Pairs([set]));
        Assert.Equal((reflection, specular), (pair.Reflection, pair.Specular));
        Assert.Contains(set.Alternates, a => a.Reason.Contains("no spare", StringComparison.Ordinal));
    }

    [Fact]
    public void TwoFilesOfOneWordAreSparesAsEver()
    {
        var set = Assert.Single(Sets(("sill_albedo.png", Golden), ("sill_specular_1k.png", Golden), ("sill_specular_1k.tif", Golden)));
        Assert.Empty(TwoReflections.Pairs([set]));
        Assert.Single(set.Alternates);
        Assert.True(set.Ready, string.Join("; ", set.Maps.Select(m => $"{m.Path} {m.Confidence}")));
    }

    [Theory]
    [InlineData(ReflectionMeaning.ReflectionIsTheAmount, MapRole.SpecularLevel, MapRole.SpecularColor)]
    [InlineData(ReflectionMeaning.ReflectionIsTheColour, MapRole.SpecularColor, MapRole.SpecularLevel)]
    [InlineData(ReflectionMeaning.ReflectionIsTheCoat, MapRole.Coat, MapRole.SpecularLevel)]
    [InlineData(ReflectionMeaning.OnlyTheReflection, MapRole.SpecularLevel, null)]
    [InlineData(ReflectionMeaning.OnlyTheSpecular, null, MapRole.SpecularLevel)]
    public void TheAnswerGivesEachItsRole(ReflectionMeaning meaning, MapRole? reflection, MapRole? specular)
    {
        var set = Assert.Single(Sets(("sill_albedo.png", Golden), ("sill_reflection.png", Grey), ("sill_specular.png", Grey)));
        var settled = TwoReflections.Settle(set, meaning, (map, role) => map with { Role = role });
        Assert.True(settled.Ready);
        Assert.Empty(TwoReflections.Pairs([settled]));
        MapRole? Of(string path) => settled.Maps.FirstOrDefault(m => m.Path == path)?.Role;
        Assert.Equal((reflection, specular), (Of("sill_reflection.png"), Of("sill_specular.png")));
        // Whatever was said, both are still there.
        Assert.Equal(3, settled.Maps.Length + settled.Alternates.Length);
        // Chosen anew, as after another answer, it is not asked again.
        Assert.Empty(
            TwoReflections.Pairs([
                AlternateChoice.Choose(
                    settled with
                    {
                        Maps = [.. settled.Maps, .. settled.Alternates.Select(a => a.Map)],
                        Alternates = [],
                    }
                ),
            ])
        );
    }
}
