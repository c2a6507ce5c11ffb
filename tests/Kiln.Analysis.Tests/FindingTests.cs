using System.Diagnostics;
using Kiln.Analysis.Findings;
using Kiln.Intake.Content;
using Kiln.Looks.Document;
using Kiln.Looks.Readings;
using Kiln.Looks.Steps;
using Kiln.Looks.Steps.Kinds.Numbers;
using Kiln.Looks.Steps.Kinds.Reliefs;
using Kiln.Pixels;
using static Kiln.Analysis.Tests.Planted;

namespace Kiln.Analysis.Tests;

/// <summary>Readings, directions, shine and switches.</summary>
public class FindingTests
{
    [Fact]
    public void RoughnessReadAsColour()
    {
        var clean = With(MapRole.Roughness, "specular_roughness", File("wall_rough.png"), Raw);
        var finding = FoundAndFixed(
            With(MapRole.Roughness, "specular_roughness", File("wall_rough.png"), Raw with { Space = "srgb_texture" }),
            "reading.data-as-colour",
            Severity.Error
        );
        Assert.Equal(2, finding.Pictures.Count);
        Silent(clean, "reading.data-as-colour");
    }

    [Fact]
    public void BaseColourReadRaw()
    {
        FoundAndFixed(
            With(MapRole.BaseColor, "base_color", File("wall_albedo.png"), InColour with { Space = "raw" }),
            "reading.colour-as-data",
            Severity.Error
        );
        Silent(With(MapRole.BaseColor, "base_color", File("wall_albedo.png"), InColour), "reading.colour-as-data");
    }

    [Theory]
    [InlineData("wall_albedo_acescg.exr", null)]
    [InlineData("wall_albedo.exr", "chromaticities 0.713 0.293 0.165 0.83 0.128 0.044 0.32168 0.33767")]
    public void AColourThatIsInTheWorkingSpaceAlready(string name, string? tag)
    {
        var file = File(name, 16, format: "openexr", isFloat: true, tag: tag);
        FoundAndFixed(
            With(MapRole.BaseColor, "base_color", file, InColour with { Space = "lin_rec709" }),
            "reading.double",
            Severity.Error
        );
        Silent(With(MapRole.BaseColor, "base_color", file, InColour with { Space = "acescg" }), "reading.double");
    }

    [Fact]
    public void GlossinessNotInverted()
    {
        FoundAndFixed(With(MapRole.Glossiness, "specular_roughness", File("wall_gloss.png"), Raw), "shine.inverted", Severity.Error);
        FoundAndFixed(With(MapRole.Roughness, "specular_roughness", File("wall_glossiness.png"), Raw), "shine.inverted", Severity.Error);
        FoundAndFixed(
            With(MapRole.Roughness, "specular_roughness", File("wall_rough.png"), Raw, new InvertStep { Id = "s1" }),
            "shine.inverted",
            Severity.Warning
        );
        FoundAndFixed(
            With(MapRole.Roughness, "specular_roughness", File("wall_rough.png"), Raw, new RemapStep(0, 1, 0.9f, 0.1f) { Id = "s1" }),
            "shine.inverted",
            Severity.Warning
        );
        Silent(With(MapRole.Glossiness, "specular_roughness", File("wall_gloss.png"), Raw, new InvertStep { Id = "s1" }), "shine.inverted");
    }

    /// <summary>Directions run from −1 to 1: what keeps only 0 to 1 of them flattens half of the relief.</summary>
    [Fact]
    public void AStepThatCutsDirections()
    {
        var strength = new Feed(1);
        foreach (
            var cutting in (Step[])
                [
                    new RemapStep { Id = "s2" },
                    new ClampStep { Id = "s2" },
                    new RemapStep(-1, 0.5f, -1, 1) { Id = "s2" },
                    new PowerStep(2) { Id = "s2" },
                ]
        )
        {
            FoundAndFixed(
                With(
                    MapRole.Height,
                    "geometry_normal",
                    File("wall_height.png", 16),
                    Raw,
                    new HeightToNormalStep(strength) { Id = "s1" },
                    cutting
                ),
                "normal.cut",
                Severity.Error
            );
            FoundAndFixed(
                With(
                    MapRole.Normal,
                    "geometry_normal",
                    File("wall_normal.png"),
                    Raw with
                    {
                        Kind = ReadingKind.Direction,
                        NormalY = NormalY.Up,
                    },
                    new DecodeNormalStep(strength) { Id = "s1" },
                    cutting
                ),
                "normal.cut",
                Severity.Error
            );
            // Before the directions are made it is the height that is remapped, as people do.
            Silent(
                With(
                    MapRole.Height,
                    "geometry_normal",
                    File("wall_height.png", 16),
                    Raw,
                    cutting with
                    {
                        Id = "s1",
                    },
                    new HeightToNormalStep(strength) { Id = "s2" }
                ),
                "normal.cut"
            );
            Silent(
                With(
                    MapRole.Height,
                    "geometry_normal",
                    File("wall_height.png", 16),
                    Raw,
                    new HeightToNormalStep(strength) { Id = "s1" },
                    cutting with
                    {
                        Bypassed = true,
                    }
                ),
                "normal.cut"
            );
        }
        Silent(
            With(
                MapRole.Height,
                "geometry_normal",
                File("wall_height.png", 16),
                Raw,
                new HeightToNormalStep(strength) { Id = "s1" },
                new RemapStep(-1, 1, -1, 1) { Id = "s2" }
            ),
            "normal.cut"
        );
        Silent(
            With(
                MapRole.Height,
                "geometry_normal",
                File("wall_height.png", 16),
                Raw,
                new HeightToNormalStep(strength) { Id = "s1" },
                new RemapStep(0, 1, 0, 2, Clamp: false) { Id = "s2" }
            ),
            "normal.cut"
        );
    }

    /// <summary>
    /// A roughness made from the base colour, or from the bump, is inverted with a reason: bright and raised parts shine. It is an error
    /// only where name and pixels both say otherwise.
    /// </summary>
    [Fact]
    public void AnInversionThatHasAReasonIsLeftAlone()
    {
        var (rough, other) = (File("plate_rough.png"), File("plate_base.png"));
        ImageBuffer Waves(float low, float high) => Picture(128, (u, v) => MathF.Sin(30 * u) * MathF.Sin(20 * v) > 0 ? high : low);
        void Of(MapRole role, string lane, ImageBuffer picture, Severity? expected)
        {
            var look = And(With(MapRole.Roughness, "specular_roughness", rough, Raw, new InvertStep { Id = "s1" }), role, lane, other, Raw);
            var measured = Measured(rough, Waves(0.2f, 0.9f), MapRole.Roughness);
            measured[other.Content] = MapMeasurement.Of(picture, PictureProbe.Measure(picture), role);
            if (expected is { } severity)
                FoundAndFixed(look, "shine.inverted", severity, measured, onlyFirst: true);
            else
                Silent(look, "shine.inverted", measured);
        }
        // Made from the base colour, or from the height: nothing is said.
        Of(MapRole.BaseColor, "base_color", Waves(0.3f, 0.8f), null);
        // Dark where metal is, and named roughness: it is one, and inverted by mistake.
        Of(MapRole.Metalness, "base_metalness", Waves(1, 0), Severity.Error);
        // Bright where metal is: it is glossiness under the name of roughness, and the inversion is right.
        Of(MapRole.Metalness, "base_metalness", Waves(0, 1), null);
    }

    [Fact]
    public void GlossinessThatOnlyItsMetalGivesAway()
    {
        var (shine, metal) = (File("plate_rough.png"), File("plate_metal.png"));
        var look = And(With(MapRole.Roughness, "specular_roughness", shine, Raw), MapRole.Metalness, "base_metalness", metal, Raw);
        var bare = Picture(128, (u, v) => MathF.Sin(30 * u) * MathF.Sin(20 * v) > 0 ? 1 : 0);
        var inverted = Measured(shine, Picture(128, (u, v) => MathF.Sin(30 * u) * MathF.Sin(20 * v) > 0 ? 0.8f : 0.3f), MapRole.Roughness);
        inverted[metal.Content] = MapMeasurement.Of(bare, PictureProbe.Measure(bare), MapRole.Metalness);
        FoundAndFixed(look, "shine.inverted", Severity.Warning, inverted);
        var right = Measured(shine, Picture(128, (u, v) => MathF.Sin(30 * u) * MathF.Sin(20 * v) > 0 ? 0.3f : 0.8f), MapRole.Roughness);
        right[metal.Content] = inverted[metal.Content];
        Silent(look, "shine.inverted", right);
    }

    [Fact]
    public void NormalWithoutDecodeTwiceDecodedOrAgainstItsPixels()
    {
        var file = File("wall_normal.png");
        FoundAndFixed(With(MapRole.Normal, "geometry_normal", file, NormalUp), "normal.direction", Severity.Error);
        FoundAndFixed(
            With(MapRole.Normal, "geometry_normal", file, NormalUp, Decode, new DecodeNormalStep(new Feed(1)) { Id = "s2" }),
            "normal.direction",
            Severity.Error
        );
        var down = new Dictionary<ContentHash, MapMeasurement>
        {
            [file.Content] = new(new DirectionMeasurement(NormalY.Down, 3, 12, null)),
        };
        Assert.Equal(
            2,
            FoundAndFixed(
                With(MapRole.Normal, "geometry_normal", file, NormalUp, Decode),
                "normal.direction",
                Severity.Error,
                down
            ).Pictures.Count
        );
        Silent(With(MapRole.Normal, "geometry_normal", file, NormalUp, Decode), "normal.direction");
    }

    [Fact]
    public void VectorsThatAreNoUnitVectors()
    {
        var file = File("wall_normal.png");
        var look = With(MapRole.Normal, "geometry_normal", file, NormalUp, Decode);
        FoundAndFixed(
            look,
            "normal.not-unit",
            Severity.Warning,
            Measured(file, Picture(128, (u, v) => (0.3f + 0.4f * u, 0.3f + 0.4f * v, 0.6f)), MapRole.Normal),
            fixable: false
        );
        Silent(look, "normal.not-unit", Measured(file, Picture(128, Bumps), MapRole.Normal));
    }

    [Fact]
    public void BlocksInANormalMap()
    {
        var file = File("wall_normal.jpg", format: "jpeg");
        var look = With(MapRole.Normal, "geometry_normal", file, NormalUp, Decode).Slot(MapRole.Normal, File("wall_normal_16.png", 16));
        // Nearly even within 8-pixel blocks, with steps between them, as strong compression leaves it.
        var blocks = Picture(256, (u, v) =>
            Bumps(MathF.Floor(u * 32) / 32 + 0.1f * (u - MathF.Floor(u * 32) / 32), MathF.Floor(v * 32) / 32)
        );
        FoundAndFixed(look, "normal.jpeg", Severity.Warning, Measured(file, blocks, MapRole.Normal));
        Silent(look, "normal.jpeg", Measured(file, Picture(256, Bumps), MapRole.Normal));
    }

    private static (float, float, float) Bumps(float u, float v)
    {
        var n = System.Numerics.Vector3.Normalize(new(0.4f * MathF.Sin(40 * u), 0.4f * MathF.Cos(31 * v), 1));
        return (n.X / 2 + 0.5f, n.Y / 2 + 0.5f, n.Z / 2 + 0.5f);
    }

    [Fact]
    public void EmissionMapWithTheLightOff()
    {
        var look = With(MapRole.Emission, "emission_color", File("lamp_emissive.png"), InColour);
        FoundAndFixed(look, "switch.missing", Severity.Error);
        Silent(look with { Lanes = look.Lanes.Add("emission_luminance", new(LookValue.Of(1f))) }, "switch.missing");
    }

    [Fact]
    public void AValueThatTintsAMap()
    {
        var look = With(MapRole.BaseColor, "base_color", File("wall_albedo.png"), InColour);
        FoundAndFixed(look with { Lanes = look.Lanes.Add("base_weight", new(LookValue.Of(0.8f))) }, "tint.not-white", Severity.Warning);
        Silent(look, "tint.not-white");
    }

    [Fact]
    public void CleanLanesAreSilent()
    {
        var look = And(
            And(
                With(MapRole.BaseColor, "base_color", File("wall_albedo.png"), InColour),
                MapRole.Roughness,
                "specular_roughness",
                File("wall_rough.png"),
                Raw
            ),
            MapRole.Normal,
            "geometry_normal",
            File("wall_normal.png"),
            NormalUp,
            Decode
        );
        Assert.Empty(LookFindings.Of(look, Nothing, _ => true));
    }

    /// <summary>
    /// Findings on a wired look take well below 200 ms once its maps are measured; stated against the time of reading one of its maps, not
    /// the clock of this machine.
    /// </summary>
    [Fact]
    public void FindingsCostLessThanMeasuringOneMap()
    {
        var files = Enumerable.Range(0, 8).Select(i => File($"wall_{i}.png")).ToList();
        var picture = Picture(512, (u, v) => 0.5f + 0.3f * MathF.Sin(20 * u) * MathF.Sin(20 * v));
        var look = new Look { Name = "many" };
        MapRole[] roles =
        [
            MapRole.BaseColor,
            MapRole.Roughness,
            MapRole.Metalness,
            MapRole.Normal,
            MapRole.Height,
            MapRole.Opacity,
            MapRole.Coat,
            MapRole.Anisotropy,
        ];
        string[] lanes =
        [
            "base_color",
            "specular_roughness",
            "base_metalness",
            "geometry_normal",
            "displacement",
            "geometry_opacity",
            "coat_weight",
            "specular_roughness_anisotropy",
        ];
        var measured = new Dictionary<ContentHash, MapMeasurement>();
        for (var i = 0; i < roles.Length; i++)
        {
            look = And(
                look,
                roles[i],
                lanes[i],
                files[i],
                roles[i] == MapRole.BaseColor ? InColour
                    : roles[i] == MapRole.Normal ? NormalUp
                    : Raw,
                [.. Enumerable.Range(1, 20).Select(k => new GainStep { Id = $"s{k}" })]
            );
            measured[files[i].Content] = MapMeasurement.Of(picture, PictureProbe.Measure(picture), roles[i]);
        }
        TimeSpan Best(Action action) =>
            Enumerable
                .Range(0, 5)
                .Select(_ =>
                {
                    var clock = Stopwatch.StartNew();
                    action();
                    return clock.Elapsed;
                })
                .Min();
        var findings = Best(() => LookFindings.Of(look, measured, _ => true));
        var measuring = Best(() => MapMeasurement.Of(picture, PictureProbe.Measure(picture), MapRole.Height));
        Assert.True(
            findings < measuring,
            $"findings {findings.TotalMilliseconds:0.0} ms, measuring one map {measuring.TotalMilliseconds:0.0} ms"
        );
    }
}
