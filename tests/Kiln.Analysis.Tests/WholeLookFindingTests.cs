using Kiln.Analysis.Findings;
using Kiln.Dialects.Profiles;
using Kiln.Looks.Document;
using Kiln.Looks.Maps;
using Kiln.Looks.Readings;
using Kiln.Pixels;
using static Kiln.Analysis.Tests.Planted;

namespace Kiln.Analysis.Tests;

/// <summary>
/// What only several maps together tell, or the look as a whole: baked light, tiles, names, twins, shine against relief; and the pictures
/// that show findings.
/// </summary>
public class WholeLookFindingTests
{
    private const int Side = 128;

    /// <summary>Bumps that repeat; their slopes are known exactly.</summary>
    private static float Height(float u, float v) =>
        0.5f + 0.2f * MathF.Sin(6 * MathF.PI * u) * MathF.Cos(8 * MathF.PI * v) + 0.1f * MathF.Sin(14 * MathF.PI * (u + v));

    private static (float X, float Y) Slope(float u, float v)
    {
        const float d = 1e-3f;
        return ((Height(u + d, v) - Height(u - d, v)) / (2 * d), (Height(u, v + d) - Height(u, v - d)) / (2 * d));
    }

    private static ImageBuffer Normals() => Picture(Side, (u, v) =>
        {
            var (x, y) = Slope(u, v);
            var length = MathF.Sqrt(x * x * 0.04f + y * y * 0.04f + 1);
            return (0.5f - 0.1f * x / length, 0.5f + 0.1f * y / length, 0.5f + 0.5f / length);
        });

    private static readonly MapFile Base = File("wall_albedo.png", size: Side),
        Normal = File("wall_normal.png", size: Side),
        Rough = File("wall_rough.png", size: Side),
        Occlusion = File("wall_ao.png", size: Side);

    private static Look Wall =>
        And(With(MapRole.BaseColor, "base_color", Base, InColour), MapRole.Normal, "geometry_normal", Normal, NormalUp, Decode);

    private static Dictionary<ContentHash, MapMeasurement> WithBase(Func<float, float, float> value) =>
        new(
            Measured(Base, Picture(Side, (u, v) => (value(u, v), value(u, v) * 0.9f, value(u, v) * 0.8f)), MapRole.BaseColor)
                .Concat(Measured(Normal, Normals(), MapRole.Normal))
        );

    [Fact]
    public void LightFromOneSideInABaseColour()
    {
        // Lambert's cosine of a light from the upper left, over a colour that varies by itself.
        float Own(float u, float v) => 0.45f + 0.02f * MathF.Sin(4 * MathF.PI * v);
        var lit = WithBase((u, v) => Own(u, v) - 0.03f * Slope(u, v).X + 0.02f * Slope(u, v).Y);
        var finding = FoundAndFixed(Wall, "base.range", Severity.Warning, lit, fixable: false);
        Assert.Contains("baked", finding.Message, StringComparison.Ordinal);
        Assert.Equal(2, finding.Pictures.Count);
        // Dirt in the crevices follows the height, not a side: no light.
        Silent(Wall, "base.range", WithBase((u, v) => Own(u, v) + 0.2f * (Height(u, v) - 0.5f)));
    }

    [Fact]
    public void AFallOfLightThatDoesNotRepeat()
    {
        var falling = WithBase((u, v) => 0.4f + 0.12f * u + 0.01f * MathF.Sin(20 * MathF.PI * v));
        var finding = FoundAndFixed(Wall, "base.range", Severity.Warning, falling, fixable: false);
        Assert.Contains("right", finding.Message, StringComparison.Ordinal);
        Assert.True(Assert.Single(finding.Pictures).Halved);
        // One slow wave as strong as that repeats, and is the surface's own.
        Silent(Wall, "base.range", WithBase((u, v) => 0.45f + 0.06f * MathF.Sin(2 * MathF.PI * u)));
    }

    [Fact]
    public void ShineToldByTheCrevices()
    {
        var look = And(With(MapRole.Roughness, "specular_roughness", Rough, Raw), MapRole.AmbientOcclusion, "occlusion", Occlusion, Raw);
        Dictionary<ContentHash, MapMeasurement> WithRough(Func<float, float, float> rough) =>
            new(
                Measured(Rough, Picture(Side, rough), MapRole.Roughness)
                    .Concat(Measured(Occlusion, Picture(Side, Height), MapRole.AmbientOcclusion))
            );
        var finding = FoundAndFixed(look, "shine.inverted", Severity.Warning, WithRough((u, v) => 0.3f + 0.8f * (Height(u, v) - 0.3f)));
        Assert.Equal(["what is read as roughness", "ambient occlusion"], finding.Pictures.Select(p => p.Caption));
        Silent(look, "shine.inverted", WithRough((u, v) => 0.8f - 0.8f * (Height(u, v) - 0.3f)));
        Silent(look, "shine.inverted", WithRough((u, v) => 0.5f + 0.3f * MathF.Sin(30 * MathF.PI * u)));
    }

    private static MapTile[] Tiles(params int[] numbers) =>
        [.. numbers.Select(n => new MapTile(n, File("any.png").Content, $"any.{n}.png"))];

    [Fact]
    public void ATileThatOneMapLacks()
    {
        var body = File("body_albedo.1001.png") with { Tiles = Tiles(1001, 1002, 1011) };
        var rough = File("body_rough.1001.png") with { Tiles = Tiles(1001, 1002) };
        var look = And(With(MapRole.BaseColor, "base_color", body, InColour), MapRole.Roughness, "specular_roughness", rough, Raw);
        Assert.Contains("1011", FoundAndFixed(look, "map.mixed", Severity.Warning, fixable: false).Message, StringComparison.Ordinal);
        Assert.Contains(
            "one picture",
            FoundAndFixed(
                And(look, MapRole.Roughness, "specular_roughness", File("body_rough_all.png"), Raw),
                "map.mixed",
                Severity.Warning,
                fixable: false
            ).Message,
            StringComparison.Ordinal
        );
        Silent(And(look, MapRole.Roughness, "specular_roughness", rough with { Tiles = Tiles(1001, 1002, 1011) }, Raw), "map.mixed");
    }

    [Theory]
    [InlineData("  wall  ", "wall")]
    [InlineData("wall/final", "wall final")]
    [InlineData("wall__v2", "wall v2")]
    public void ANameThatBreaksTheRule(string name, string mended)
    {
        var look = Wall with { Name = name };
        var finding = FoundAndFixed(look, "name.rule", Severity.Advice);
        Assert.Equal(mended, finding.Repair!.Apply(look).Look.Name);
        Silent(Wall with { Name = "Wände 2.1-b" }, "name.rule");
    }

    [Fact]
    public void ANameAgainstTheStudiosOwnRule()
    {
        var studio = new StudioThresholds(LookNames: "^[a-z]+_[0-9]{2}$");
        Finding? Named(string name) =>
            LookFindings
                .Of(new FindingContext(Wall with { Name = name }, Nothing, _ => true, studio))
                .FirstOrDefault(f => f.Code == "name.rule");
        Assert.Null(Named("wall_01"));
        Assert.Null(Assert.IsType<Finding>(Named("Wall 01")).Repair);
    }

    [Fact]
    public void ALookThatIsThereTwice()
    {
        var finding = Assert.Single(LookFindings.Of(new FindingContext(Wall, Nothing, _ => true) { Twins = ["wall copy"] }), f =>
            f.Code == "dup.look"
        );
        Assert.Contains("wall copy differs", finding.Message, StringComparison.Ordinal);
        Silent(Wall, "dup.look");
    }

    /// <summary>A dialect that reads the alpha of a grey file where it has one would take the mask for the measurement.</summary>
    [Fact]
    public void AnAlphaThatADialectWouldRead()
    {
        var shipped = Dialects.Profiles.DialectProfiles.Load(Dialects.Profiles.DialectProfiles.ShippedFolder()).Find("bisque");
        var byAlpha = shipped with { Textures = shipped.Textures with { Grey = GreySource.Alpha } };
        var file = File("wall_rough.png", channels: ["Y", "A"]);
        var look = With(MapRole.Roughness, "specular_roughness", file, Raw);
        IReadOnlyList<Finding> In(Look l, Dialects.Profiles.DialectProfile profile) =>
            LookFindings.Of(new FindingContext(l, Nothing, _ => true, profile: profile));
        var finding = Assert.Single(In(look, byAlpha), f => f.Code == "reading.alpha");
        Assert.Equal(Severity.Error, finding.Severity);
        var (mended, back) = finding.Repair!.Apply(look);
        Assert.DoesNotContain(In(mended, byAlpha), f => f.Code == "reading.alpha");
        Assert.Equal(LookJson.Write(look), LookJson.Write(back.Apply(mended).Look));
        // Files without an alpha, and dialects that take the first channel, are left in peace.
        Assert.DoesNotContain(In(look, shipped), f => f.Code == "reading.alpha");
        Assert.DoesNotContain(
            In(With(MapRole.Roughness, "specular_roughness", File("wall_rough_grey.png", channels: ["Y"]), Raw), byAlpha),
            f => f.Code == "reading.alpha"
        );
    }

    /// <summary>Every finding about pixels brings the picture that shows them.</summary>
    [Fact]
    public void WhatIsWrongWithPixelsIsShown()
    {
        var rough = With(MapRole.Roughness, "specular_roughness", Rough, Raw);
        var extremes = Assert.Single(
            LookFindings.Of(rough, Measured(Rough, Picture(Side, (u, _) => u < 0.4f ? 0 : u), MapRole.Roughness), _ => true),
            f => f.Code == "rough.zero"
        );
        var marks = PictureMarks.Parse(Assert.Single(extremes.Pictures).Mark!);
        Assert.Equal((true, false), marks.Of([0f, 0f, 0f]));
        Assert.Equal((true, true), marks.Of([1f, 1f, 1f]));
        Assert.False(marks.Of([0.5f, 0.2f, 0.1f]).Marked);
        var normals = Assert.Single(
            LookFindings.Of(Wall, Measured(Normal, Picture(Side, (u, v) => (u, v, 0.5f)), MapRole.Normal), _ => true),
            f => f.Code == "normal.not-unit"
        );
        marks = PictureMarks.Parse(Assert.Single(normals.Pictures).Mark!);
        Assert.False(marks.Of([0.5f, 0.5f, 1f]).Marked);
        Assert.Equal((true, false), marks.Of([0.5f, 0.5f, 0.6f]));
    }

    [Theory]
    [InlineData("above")]
    [InlineData("above much")]
    [InlineData("around 0.5")]
    public void MarksThatMeanNothingAreRefused(string text) => Assert.Throws<FormatException>(() => PictureMarks.Parse(text));

    [Fact]
    public void MarksAreReadAsTheyAreWritten()
    {
        var marks = PictureMarks.Parse($"{PictureMarks.Below(0.1f)}, {PictureMarks.Between(0.4f, 0.6f)}, {PictureMarks.Above(0.9f)}");
        Assert.Equal([true, false, true, false, true], new[] { 0.05f, 0.2f, 0.5f, 0.7f, 0.95f }.Select(v => marks.Of([v]).Marked));
    }
}
