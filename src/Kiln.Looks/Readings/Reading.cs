using System.Text.Json.Serialization;
using Kiln.Colour.Spaces;
using Kiln.Pixels;

namespace Kiln.Looks.Readings;

[JsonConverter(typeof(CamelCaseEnum<ReadingKind>))]
public enum ReadingKind
{
    Colour,
    Scalar,
    Direction,
}

/// <summary>Which way the green channel of a normal map points: up along v, or down.</summary>
[JsonConverter(typeof(CamelCaseEnum<NormalY>))]
public enum NormalY
{
    Up,
    Down,
}

/// <summary>Who decided a reading, the strongest first.</summary>
[JsonConverter(typeof(CamelCaseEnum<ReadingAuthority>))]
public enum ReadingAuthority
{
    Person,

    [JsonStringEnumMemberName("houseRule")]
    StudioRule,
    FileRule,
    Embedded,
    Role,
}

/// <summary>
/// How a map's numbers are taken. <paramref name="Space"/> is one of ours (colour.md), <c>raw</c> for data;
/// <paramref name="Midpoint"/> is the stored value of zero height (0..1).
/// </summary>
public sealed record Reading(
    ReadingKind Kind,
    SpaceId Space,
    MapChannel Channel,
    NormalY? NormalY = null,
    float Midpoint = 0.5f,
    ReadingAuthority Authority = ReadingAuthority.Role,
    string Reason = ""
)
{
    /// <summary>The same picture read by the mistaken rule: colour as data, or data as sRGB colour.</summary>
    [JsonIgnore]
    public Reading OtherWay =>
        Kind == ReadingKind.Colour ? this with { Space = "raw", Reason = "the colour taken as a measurement, not converted" }
        : Kind == ReadingKind.Direction
            ? this with
            {
                NormalY = NormalY == Readings.NormalY.Down ? Readings.NormalY.Up : Readings.NormalY.Down,
                Reason = "the green channel pointing the other way",
            }
        : this with { Space = "srgb_texture", Reason = "the measurement taken as colour and converted from sRGB" };

    /// <summary>Samples a pixel of this reading has: 3 for colour and direction, 1 for a scalar.</summary>
    [JsonIgnore]
    public int Components => Kind == ReadingKind.Scalar ? 1 : 3;
}

/// <summary>The usual reading of a role, from the table "Reading" of the design.</summary>
public static class UsualReading
{
    public static Reading Of(MapRole role, PictureFacts facts, MapChannel? packedChannel = null, NormalY? normalY = null)
    {
        var kind = role.Kind();
        if (kind == ReadingKind.Colour)
        {
            var space = ColourSpace.Find(Space(kind, facts.IsFloat, facts.EmbeddedColour));
            var reason = facts.IsFloat
                ? $"{role.Label()} is the surface's own colour; float files are linear, "
                    + $"{(facts.EmbeddedColour is null ? "Rec.709 primaries assumed" : "primaries from the file")}"
                : $"{role.Label()} is the surface's own colour; {facts.Bits}-bit integer files are sRGB";
            return new(
                kind,
                space.Id,
                packedChannel ?? MapChannel.Rgb,
                Reason: reason,
                Authority: facts is { IsFloat: true, EmbeddedColour: not null } ? ReadingAuthority.Embedded : ReadingAuthority.Role
            );
        }
        var notice =
            facts.EmbeddedColour is { } tag && !facts.IsFloat
                ? $"; the file's tag ({tag}) is ignored, downloads are tagged carelessly"
                : "";
        if (kind == ReadingKind.Direction)
            return new(
                kind,
                ColourSpace.Raw.Id,
                facts.Channels.Count(c => c != "A") == 2 ? MapChannel.Rg : MapChannel.Rgb,
                normalY,
                Reason: "directions are a measurement, left alone" + notice
            );
        var midpoint = role is MapRole.Height or MapRole.Bump && facts.IsFloat ? 0f : 0.5f;
        return new(
            kind,
            ColourSpace.Raw.Id,
            packedChannel ?? MapChannel.Luminance,
            Midpoint: midpoint,
            Reason: $"{role.Label()} is a measurement that steers the surface, left alone{notice}"
        );
    }

    /// <summary>
    /// The space that files of a kind are usually in: measurements raw, integers sRGB, floats linear with the primaries of their tag.
    /// </summary>
    public static SpaceId Space(ReadingKind kind, bool isFloat, string? tag) =>
        kind != ReadingKind.Colour ? ColourSpace.Raw.Id
        : !isFloat ? ColourSpace.SrgbTexture.Id
        : tag is not null && SpaceOfTag(tag) is { } tagged ? tagged.Id
        : ColourSpace.LinRec709.Id;

    /// <summary>The linear space whose primaries a file's tag gives; null where it gives none, or none of ours.</summary>
    public static ColourSpace? SpaceOfTag(string tag)
    {
        if (!tag.StartsWith("chromaticities ", StringComparison.Ordinal))
            return null;
        var n = tag["chromaticities ".Length..].Split(' ').Select(double.Parse).ToArray();
        return ColourSpace.All.Where(s => s.IsLinear && s.Primaries is not null).FirstOrDefault(s => Near(s.Primaries!, n));
    }

    private static bool Near(Primaries p, double[] n)
    {
        double[] own = [p.Red.X, p.Red.Y, p.Green.X, p.Green.Y, p.Blue.X, p.Blue.Y, p.White.X, p.White.Y];
        return own.Zip(n).All(pair => Math.Abs(pair.First - pair.Second) < 2e-3);
    }
}
