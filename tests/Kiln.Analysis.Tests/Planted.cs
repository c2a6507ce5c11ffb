using Kiln.Analysis.Findings;
using Kiln.Looks.Document;
using Kiln.Looks.Maps;
using Kiln.Looks.Readings;
using Kiln.Looks.Steps;
using Kiln.Looks.Steps.Kinds.Reliefs;
using Kiln.Pixels;

namespace Kiln.Analysis.Tests;

/// <summary>
/// Looks with one thing wrong, and what must hold of every finding: it is found, its fix makes it go away, the fix can be taken back to the
/// same bytes, the clean look is silent.
/// </summary>
internal static class Planted
{
    public static readonly Dictionary<ContentHash, MapMeasurement> Nothing = [];

    public static readonly Reading Raw = new(ReadingKind.Scalar, "raw", MapChannel.Luminance);
    public static readonly Reading InColour = new(ReadingKind.Colour, "srgb_texture", MapChannel.Rgb);
    public static readonly Reading NormalUp = new(ReadingKind.Direction, "raw", MapChannel.Rgb, NormalY.Up);
    public static readonly Step Decode = new DecodeNormalStep(new Feed(1)) { Id = "s1" };

    /// <summary>A file whose content is told by its name.</summary>
    public static MapFile File(
        string name,
        int bits = 8,
        int size = 64,
        string format = "png",
        bool isFloat = false,
        string? tag = null,
        params string[] channels
    ) => new(Hashes.Named(name), name, size, size, bits, isFloat, format, channels.Length == 0 ? ["R", "G", "B"] : channels, tag);

    public static Look With(MapRole role, string lane, MapFile file, Reading reading, params Step[] steps) =>
        And(new() { Name = "planted" }, role, lane, file, reading, steps);

    public static Look And(Look look, MapRole role, string lane, MapFile file, Reading reading, params Step[] steps) =>
        look with
        {
            Slots = look.Slots.SetItem(role.Id(), new(role, file, [file])),
            Lanes = look.Lanes.SetItem(lane, new(Chain: new(new SlotOrigin(role.Id(), reading), [.. steps]))),
        };

    public static Look Slot(this Look look, MapRole role, params MapFile[] candidates) =>
        look with
        {
            Slots = look.Slots.SetItem(role.Id(), look.Slots[role.Id()] with { Candidates = [look.Slots[role.Id()].File, .. candidates] }),
        };

    /// <summary>Measurements of pictures by file.</summary>
    public static Dictionary<ContentHash, MapMeasurement> Measured(MapFile file, ImageBuffer picture, MapRole role) =>
        new() { [file.Content] = MapMeasurement.Of(picture, PictureProbe.Measure(picture), role) };

    public static ImageBuffer Picture(int side, Func<float, float, float> value, SampleType type = SampleType.U8) =>
        Picture(side, (u, v) => (value(u, v), value(u, v), value(u, v)), type);

    public static ImageBuffer Picture(int side, Func<float, float, (float R, float G, float B)> value, SampleType type = SampleType.U8)
    {
        var picture = new ImageBuffer(side, side, ImageBuffer.Rgb, type);
        var row = new float[side * 3];
        for (var y = 0; y < side; y++)
        {
            for (var x = 0; x < side; x++)
                (row[3 * x], row[3 * x + 1], row[3 * x + 2]) = value((x + 0.5f) / side, (y + 0.5f) / side);
            picture.WriteRow(y, row);
        }
        return picture;
    }

    /// <summary>Finds exactly one, mends it, and takes the mending back.</summary>
    public static Finding FoundAndFixed(
        Look look,
        string code,
        Severity severity,
        IReadOnlyDictionary<ContentHash, MapMeasurement>? measured = null,
        bool fixable = true,
        bool onlyFirst = false
    )
    {
        var finding = Assert.Single(LookFindings.Of(look, measured ?? Nothing, _ => true), f => f.Code == code);
        Assert.Equal(severity, finding.Severity);
        Assert.NotEmpty(finding.Evidence);
        Assert.Equal(fixable, finding.Repair is not null);
        Assert.Equal(finding.Repair is not null, finding.Fix is not null);
        if (finding.Repair is null)
            return finding;
        var (mended, back) = finding.Repair.Apply(look);
        // A step that brings values into range leaves the file as it was measured: then the fix is judged by its step.
        if (!onlyFirst)
            Silent(mended, code, measured);
        Assert.Equal(LookJson.Write(look), LookJson.Write(back.Apply(mended).Look));
        return finding;
    }

    public static void Silent(Look look, string code, IReadOnlyDictionary<ContentHash, MapMeasurement>? measured = null) =>
        Assert.DoesNotContain(LookFindings.Of(look, measured ?? Nothing, _ => true), f => f.Code == code);
}
