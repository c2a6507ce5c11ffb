using System.Globalization;
using Kiln.Colour;
using Kiln.Colour.Spaces;
using Kiln.Looks.Document;
using Kiln.Looks.Edits;
using Kiln.Looks.Inputs;
using Kiln.Looks.Readings;
using Kiln.Pixels;

namespace Kiln.Exchange.Sheets;

/// <summary>A picture and what it shows; JPEG.</summary>
public sealed record SheetShot(string Caption, byte[] Jpeg);

/// <summary>What feeds an input, in words.</summary>
/// <param name="Hex">The value's colour as sRGB shows it.</param>
public sealed record SheetLane(string Input, string Begins, string Steps, string? Hex);

public sealed record SheetMap(string Role, string File, string Size, string Reading, string Megabytes);

/// <summary>One look as sheets show it.</summary>
/// <param name="Line">Version, state, who and when.</param>
/// <param name="Shots">Under the standard lights; the first is the contact sheet's.</param>
/// <param name="Rules">The rules it breaks, as sentences; null where nothing is asked of it.</param>
public sealed record SheetLook(
    string Name,
    string Line,
    IReadOnlyList<SheetShot> Shots,
    IReadOnlyList<SheetLane> Lanes,
    IReadOnlyList<SheetMap> Maps,
    IReadOnlyList<SheetShot> Variants,
    IReadOnlyList<string> Versions,
    IReadOnlyList<string>? Rules
);

/// <param name="Under">What holds for all of it: light, form, view, when.</param>
public sealed record SheetContents(string Title, string Under, IReadOnlyList<SheetLook> Looks);

/// <summary>A look's lanes and maps in the words of sheets.</summary>
public static class SheetText
{
    public static IReadOnlyList<SheetLane> Lanes(Look look) =>
        [
            .. look.Sources.Select(s => Of(LaneAddress.OfSource(s.Key), s.Value, look)),
            .. NeutralInputs
                .All.Where(i => look.Lanes.ContainsKey(i.Name))
                .Select(i => Of(LaneAddress.OfInput(i.Name), look.Lanes[i.Name], look)),
            .. look.Layers.SelectMany(
                (c, n) =>
                    c.Lanes.Select(l => Of(LaneAddress.OfLayer(n, l.Key), l.Value, look)).Append(Of(LaneAddress.OfMask(n), c.Mask, look))
            ),
        ];

    /// <param name="bytesOf">A content's size; null where it is gone.</param>
    public static IReadOnlyList<SheetMap> Maps(Look look, Func<ContentHash, long?> bytesOf) =>
        [
            .. look.Slots.Values.Select(s => new SheetMap(
                s.Role.Label(),
                s.File.Name,
                $"{s.File.Width} × {s.File.Height}, {s.File.Bits} bit{(s.File.IsTiled ? $", {s.File.Tiles!.Count} tiles" : "")}",
                string.Join(
                    "; ",
                    LookReadings.OfSlot(look, look.Slots.First(o => ReferenceEquals(o.Value, s)).Key).Select(Label).Distinct()
                )
                    is { Length: > 0 } read
                    ? read
                    : "not read",
                s.File.Contents.Select(bytesOf).Aggregate((long?)0, (sum, b) => sum + b) is { } bytes
                    ? (bytes / 1048576.0).ToString("0.00", CultureInfo.InvariantCulture)
                    : "gone"
            )),
        ];

    private static string Label(Reading reading) =>
        reading.Kind switch
        {
            ReadingKind.Colour => ColourSpace.Find(reading.Space).Label,
            ReadingKind.Direction => $"directions, green {(reading.NormalY is { } y ? y.ToString().ToLowerInvariant() : "not known")}",
            _ => $"numbers, {reading.Channel.Word()}{(reading.Space.IsRaw ? "" : ", " + ColourSpace.Find(reading.Space).Label)}",
        };

    private static SheetLane Of(LaneAddress address, Lane lane, Look look)
    {
        var steps = lane.Chain is { } chain ? string.Join(", ", chain.Steps.Where(s => !s.Bypassed).Select(s => s.Entry.Label)) : "";
        var begins = lane.Chain?.Origin switch
        {
            SlotOrigin slot => look.Slots[slot.Slot].File.Name,
            SourceOrigin source => "source " + source.Source,
            NoiseOrigin => "noise",
            ConstantOrigin constant => Value(constant.Value),
            _ => lane.Value is { } value ? Value(value) : "default",
        };
        return new(address.Label, begins, steps, lane.Chain is null && lane.Value is TintValue tint ? ColourText.HexOf(tint.Colour) : null);
    }

    private static string Value(LookValue value) =>
        value is TintValue tint
            ? ColourText.HexOf(tint.Colour) ?? ColourText.Write(tint.Colour)
            : ((ScalarValue)value).Number.ToString("0.####", CultureInfo.InvariantCulture);
}
