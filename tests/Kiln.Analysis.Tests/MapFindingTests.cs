using Kiln.Analysis.Findings;
using Kiln.Looks.Document;
using Kiln.Looks.Maps;
using Kiln.Looks.Readings;
using Kiln.Looks.Steps.Kinds;
using Kiln.Looks.Steps.Kinds.Numbers;
using Kiln.Looks.Steps.Kinds.Reliefs;
using Kiln.Pixels;
using static Kiln.Analysis.Tests.Planted;

namespace Kiln.Analysis.Tests;

/// <summary>The files themselves, plausible values, relief and placement.</summary>
public class MapFindingTests
{
    [Fact]
    public void AFileThatIsGone()
    {
        var (file, other) = (File("wall_albedo.png"), File("wall_albedo_2k.png", size: 128));
        var look = With(MapRole.BaseColor, "base_color", file, InColour).Slot(MapRole.BaseColor, other);
        var finding = Assert.Single(LookFindings.Of(look, Nothing, c => c != file.Content), f => f.Code == "map.missing");
        var (mended, back) = finding.Repair!.Apply(look);
        Assert.DoesNotContain(LookFindings.Of(mended, Nothing, c => c != file.Content), f => f.Code == "map.missing");
        Assert.Equal(LookJson.Write(look), LookJson.Write(back.Apply(mended).Look));
        Silent(look, "map.missing");
    }

    [Fact]
    public void AMapThatNothingReads()
    {
        var look = With(MapRole.BaseColor, "base_color", File("wall_albedo.png"), InColour);
        FoundAndFixed(
            look with
            {
                Slots = look.Slots.Add("cavity", new(MapRole.Cavity, File("wall_cavity.png"), [])),
            },
            "map.unused",
            Severity.Advice
        );
        Silent(look, "map.unused");
    }

    [Fact]
    public void AMapThatIsOneValue()
    {
        var file = File("wall_metal.png");
        var look = With(MapRole.Metalness, "base_metalness", file, Raw);
        FoundAndFixed(look, "map.constant", Severity.Advice, Measured(file, Picture(64, (_, _) => 1f), MapRole.Metalness));
        Assert.Equal(
            LookValue.Of(1f),
            LookFindings
                .Of(look, Measured(file, Picture(64, (_, _) => 1f), MapRole.Metalness), _ => true)
                .First(f => f.Code == "map.constant")
                .Repair!.Apply(look)
                .Look.Lanes["base_metalness"]
                .Value
        );
        Silent(look, "map.constant", Measured(file, Picture(64, (u, _) => u), MapRole.Metalness));
    }

    [Fact]
    public void MapsOfDifferentSizes()
    {
        var look = And(
            And(
                With(MapRole.BaseColor, "base_color", File("wall_albedo.png", size: 128), InColour),
                MapRole.Roughness,
                "specular_roughness",
                File("wall_rough.png", size: 64),
                Raw
            ),
            MapRole.Metalness,
            "base_metalness",
            File("wall_metal.png", size: 128),
            Raw
        );
        FoundAndFixed(look.Slot(MapRole.Roughness, File("wall_rough_128.png", size: 128)), "map.mixed", Severity.Advice);
        var stretched = File("wall_rough_wide.png") with { Width = 128, Height = 64 };
        Assert.Equal(
            Severity.Warning,
            Assert
                .Single(LookFindings.Of(And(look, MapRole.Roughness, "specular_roughness", stretched, Raw), Nothing, _ => true), f =>
                    f.Code == "map.mixed"
                )
                .Severity
        );
        Silent(And(look, MapRole.Roughness, "specular_roughness", File("wall_rough_same.png", size: 128), Raw), "map.mixed");
    }

    [Fact]
    public void TooFewBitsForARelief()
    {
        var file = File("wall_height.png");
        var look = With(MapRole.Height, "displacement", file, Raw);
        FoundAndFixed(look.Slot(MapRole.Height, File("wall_height_16.png", 16)), "map.bits", Severity.Warning);
        Silent(look, "map.bits");
        // 8-bit values in a 16-bit file.
        var deep = File("wall_height_16.png", 16);
        var eight = new ImageBuffer(64, 64, ImageBuffer.Grey, SampleType.U16);
        for (var i = 0; i < 64 * 64; i++)
            eight.Samples<ushort>()[i] = (ushort)(i % 251 * 257);
        FoundAndFixed(
            With(MapRole.Height, "displacement", deep, Raw),
            "map.bits",
            Severity.Warning,
            Measured(deep, eight, MapRole.Height),
            fixable: false
        );
        // Banded: eighteen steps over the whole height.
        FoundAndFixed(
            look,
            "map.bits",
            Severity.Warning,
            Measured(file, Picture(64, (u, _) => MathF.Floor(u * 18) / 18), MapRole.Height),
            fixable: false
        );
        Silent(look, "map.bits", Measured(file, Picture(256, (u, v) => (u + v) / 2), MapRole.Height));
    }

    [Fact]
    public void EdgesThatDoNotMeet()
    {
        var file = File("wall_albedo.png");
        var look = With(MapRole.BaseColor, "base_color", file, InColour);
        FoundAndFixed(
            look,
            "map.seam",
            Severity.Warning,
            Measured(file, Picture(64, (u, v) => 0.2f + 0.5f * u + 0.01f * MathF.Sin(60 * v)), MapRole.BaseColor),
            fixable: false
        );
        Silent(
            look,
            "map.seam",
            Measured(
                file,
                Picture(64, (u, v) => 0.4f + 0.2f * MathF.Sin(2 * MathF.PI * u) * MathF.Cos(2 * MathF.PI * v)),
                MapRole.BaseColor
            )
        );
    }

    [Fact]
    public void ABaseColourThatNothingHas()
    {
        var file = File("wall_albedo.png");
        var look = With(MapRole.BaseColor, "base_color", file, InColour);
        var dark = Picture(64, (u, v) => 0.055f + 0.025f * MathF.Sin(2 * MathF.PI * u));
        FoundAndFixed(look, "base.range", Severity.Warning, Measured(file, dark, MapRole.BaseColor), fixable: true, onlyFirst: true);
        Silent(look, "base.range", Measured(file, Picture(64, (u, v) => 0.45f + 0.15f * MathF.Sin(2 * MathF.PI * u)), MapRole.BaseColor));
        // The same dark grey is wrong for a metal as well, and says so.
        var metal = look with { Lanes = look.Lanes.Add("base_metalness", new(LookValue.Of(1f))) };
        Assert.Contains(
            "metals",
            Assert.Single(LookFindings.Of(metal, Measured(file, dark, MapRole.BaseColor), _ => true), f => f.Code == "base.range").Message
        );
    }

    [Fact]
    public void MetalThatIsHalfMetal()
    {
        var file = File("wall_metal.png");
        var look = With(MapRole.Metalness, "base_metalness", file, Raw);
        FoundAndFixed(
            look,
            "metal.grey",
            Severity.Warning,
            Measured(file, Picture(64, (u, _) => 0.3f + 0.4f * u), MapRole.Metalness),
            onlyFirst: true
        );
        Silent(look, "metal.grey", Measured(file, Picture(64, (u, _) => u > 0.5f ? 1 : 0), MapRole.Metalness));
    }

    [Fact]
    public void RoughnessAtItsEnds()
    {
        var file = File("wall_rough.png");
        var look = With(MapRole.Roughness, "specular_roughness", file, Raw);
        FoundAndFixed(
            look,
            "rough.zero",
            Severity.Warning,
            Measured(file, Picture(64, (u, _) => u > 0.5f ? 0 : u), MapRole.Roughness),
            onlyFirst: true
        );
        Silent(look, "rough.zero", Measured(file, Picture(64, (u, _) => 0.2f + 0.6f * u), MapRole.Roughness));
    }

    [Fact]
    public void OcclusionMultipliedInAtFullStrength()
    {
        var occlusion = new Chain(new SlotOrigin("ambientOcclusion", Raw));
        Look Multiplied(float amount)
        {
            var look = With(
                MapRole.BaseColor,
                "base_color",
                File("wall_albedo.png"),
                InColour,
                new OcclusionStep(occlusion, new(amount)) { Id = "s1" }
            );
            return look with { Slots = look.Slots.Add("ambientOcclusion", new(MapRole.AmbientOcclusion, File("wall_ao.png"), [])) };
        }
        FoundAndFixed(Multiplied(1), "ao.double", Severity.Warning);
        Silent(Multiplied(0.3f), "ao.double");
    }

    private static Look Displaced(Displacement d, MapFile file) =>
        With(MapRole.Height, "displacement", file, Raw) with
        {
            Displacement = d,
        };

    [Fact]
    public void DisplacementThatCannotWork()
    {
        var file = File("wall_height.png", 16, 1024);
        var good = new Displacement(true, 0.02f, 0.5f, "", 0.02f, 0.005f, 3);
        FoundAndFixed(Displaced(good with { Subdivision = 0 }, file), "displace.none", Severity.Error);
        FoundAndFixed(Displaced(good with { HeightMetres = 0.6f }, file), "displace.height", Severity.Warning);
        FoundAndFixed(Displaced(good with { Midpoint = 0 }, file), "displace.midpoint", Severity.Error);
        FoundAndFixed(
            Displaced(good with { Midpoint = 0.5f }, File("wall_height.exr", 32, 1024, "openexr", true)),
            "displace.midpoint",
            Severity.Error
        );
        FoundAndFixed(Displaced(good with { Level = 8 }, file), "displace.level", Severity.Warning);
        foreach (var code in new[] { "displace.none", "displace.height", "displace.midpoint", "displace.level", "relief.double" })
        {
            Silent(Displaced(good with { Level = 10 }, file), code);
            // Off is off, whatever its numbers.
            Silent(Displaced(good with { On = false, Subdivision = 0, HeightMetres = 3, Midpoint = 0, Level = 2 }, file), code);
        }
    }

    [Fact]
    public void TheSameHeightInGeometryAndShading()
    {
        var file = File("wall_height.png", 16);
        var look = Displaced(new(true), file);
        look = look with
        {
            Lanes = look.Lanes.Add(
                "geometry_normal",
                new(Chain: new(new SlotOrigin("height", Raw), [new HeightToNormalStep(new(1)) { Id = "s1" }]))
            ),
        };
        FoundAndFixed(look, "relief.double", Severity.Warning);
        Silent(look with { Relief = ReliefMode.Both }, "relief.double");
    }

    [Fact]
    public void OneMapThatLiesDifferently()
    {
        var look = And(
            With(MapRole.BaseColor, "base_color", File("wall_albedo.png"), InColour),
            MapRole.Roughness,
            "specular_roughness",
            File("wall_rough.png"),
            Raw,
            new PlaceStep(new Placement(2, 2)) { Id = "s1" }
        );
        FoundAndFixed(look, "place.differs", Severity.Advice);
        Silent(look with { Placement = new(2, 2) }, "place.differs");
    }

    [Fact]
    public void TheSamePictureTwice()
    {
        var look = With(MapRole.Roughness, "specular_roughness", File("wall_a.png"), Raw);
        var file = look.Slots["roughness"].File;
        FoundAndFixed(
            look with
            {
                Slots = look.Slots.Add("metalness", new(MapRole.Metalness, file with { Name = "wall_b.png" }, [])),
                Lanes = look.Lanes.Add("base_metalness", new(Chain: new(new SlotOrigin("metalness", Raw)))),
            },
            "dup.map",
            Severity.Advice,
            fixable: false
        );
        Silent(look, "dup.map");
    }
}
