using System.Collections.Immutable;
using Kiln.Judge.Findings;
using Kiln.Looks.Document;
using Kiln.Looks.Intake;
using Kiln.Looks.Readings;

namespace Kiln.Judge.Tests;

/// <summary>Each finding: a planted case is found, its fix makes it go away and can be taken back, a clean case is silent.</summary>
public class FindingTests
{
    private static readonly Dictionary<string, MapMeasurement> Nothing = [];

    private static MapFile File(string name) => new(new string('a', 64), name, 64, 64, 8, false, "png", ["R", "G", "B"], null);

    private static Look With(MapRole role, string input, string file, Reading reading, params Step[] steps) => new()
    {
        Name = "planted",
        Slots = ImmutableSortedDictionary<string, Slot>.Empty.Add(role.Id(), new(role, File(file), [])),
        Lanes = ImmutableSortedDictionary<string, Lane>.Empty.Add(input, new(Chain: new(new SlotOrigin(role.Id(), reading), [.. steps]))),
    };

    private static readonly Reading Raw = new(ReadingKind.Scalar, "raw", "luminance");
    private static readonly Reading Colour = new(ReadingKind.Colour, "srgb_texture", "rgb");
    private static readonly Reading NormalUp = new(ReadingKind.Direction, "raw", "rgb", NormalY.Up);

    private static void FoundAndFixed(Look look, string code, IReadOnlyDictionary<string, MapMeasurement>? measured = null, bool fixable = true)
    {
        var finding = Assert.Single(LookFindings.Of(look, measured ?? Nothing, _ => true), f => f.Code == code);
        Assert.Equal(Severity.Error, finding.Severity);
        Assert.NotEmpty(finding.Evidence);
        if (!fixable)
            return;
        var (mended, back) = finding.Repair!.Apply(look);
        Assert.DoesNotContain(LookFindings.Of(mended, measured ?? Nothing, _ => true), f => f.Code == code);
        Assert.Equal(LookJson.Write(look), LookJson.Write(back.Apply(mended).Look));
    }

    [Fact]
    public void RoughnessReadAsColour() => FoundAndFixed(With(MapRole.Roughness, "specular_roughness", "wall_rough.png", Raw with { Space = "srgb_texture" }), "reading.data-as-colour");

    [Fact]
    public void BaseColourReadRaw() => FoundAndFixed(With(MapRole.BaseColor, "base_color", "wall_albedo.png", Colour with { Space = "raw" }), "reading.colour-as-data");

    [Fact]
    public void GlossinessNotInverted() => FoundAndFixed(With(MapRole.Glossiness, "specular_roughness", "wall_gloss.png", Raw), "shine.inverted");

    [Fact]
    public void GlossinessCalledRoughInItsSlotButNotInItsName() => FoundAndFixed(With(MapRole.Roughness, "specular_roughness", "wall_glossiness.png", Raw), "shine.inverted");

    [Fact]
    public void NormalWithoutDecode() => FoundAndFixed(With(MapRole.Normal, "geometry_normal", "wall_normal.png", NormalUp), "normal.direction");

    [Fact]
    public void NormalAgainstItsPixels() => FoundAndFixed(
        With(MapRole.Normal, "geometry_normal", "wall_normal.png", NormalUp, new DecodeNormalStep(new Feed(1)) { Id = "s1" }), "normal.direction",
        new Dictionary<string, MapMeasurement> { [new string('a', 64)] = new(new DirectionMeasurement(NormalY.Down, 3, 12, null), null) });

    [Fact]
    public void EmissionMapWithTheLightOff()
    {
        var look = With(MapRole.Emission, "emission_color", "lamp_emissive.png", Colour);
        FoundAndFixed(look, "switch.missing");
        var on = look with { Lanes = look.Lanes.Add("emission_luminance", new(LookValue.Of(1f))) };
        Assert.Empty(LookFindings.Of(on, Nothing, _ => true));
    }

    [Fact]
    public void AFileThatIsGone()
    {
        var look = With(MapRole.BaseColor, "base_color", "wall_albedo.png", Colour);
        Assert.Single(LookFindings.Of(look, Nothing, _ => false), f => f.Code == "map.missing");
    }

    [Theory]
    [InlineData(MapRole.BaseColor, "base_color", "wall_albedo.png")]
    [InlineData(MapRole.Roughness, "specular_roughness", "wall_rough.png")]
    public void CleanLanesAreSilent(MapRole role, string input, string file) =>
        Assert.Empty(LookFindings.Of(With(role, input, file, role == MapRole.BaseColor ? Colour : Raw), Nothing, _ => true));
}
