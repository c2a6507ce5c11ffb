using Kiln.Colour.Spaces;
using Kiln.Dialects.Profiles;
using Kiln.Intake.Naming;
using Kiln.Looks.Document;
using Kiln.Looks.Readings;
using Kiln.Looks.Steps.Kinds.Reliefs;

namespace Kiln.Analysis.Findings.Rules;

/// <summary>Maps whose numbers are taken for what they are not.</summary>
internal static class ReadingRules
{
    public static IEnumerable<Finding> Of(FindingContext c) => c.Mapped.SelectMany(m => Kind(m).Concat(Double(m)).Concat(Alpha(c, m)));

    private static IEnumerable<Finding> Kind(MappedLane m)
    {
        var reading = m.Origin.Reading;
        if (m.Input is { IsColour: false } input && reading.Space != "raw")
        {
            var mended = reading with
            {
                Kind =
                    input.IsDirection && (!input.IsTangent || m.Chain.Steps.Any(s => s is DecodeNormalStep))
                        ? ReadingKind.Direction
                        : ReadingKind.Scalar,
                Space = "raw",
            };
            yield return new(
                "reading.data-as-colour",
                Severity.Error,
                m.Address.Text,
                $"{m.Slot.File.Name} steers {m.Label} but is read as {reading.Space}, as if it were a colour.",
                "a stored 0.5 becomes 0.214, so the surface turns glossier, flatter or thinner than meant",
                "read it as it is (raw)",
                m.Reread(mended)
            )
            {
                Pictures = Pair(m, mended),
            };
        }
        if (m.Input is { IsColour: true } && m.Slot.Role.Kind() == ReadingKind.Colour && !m.Slot.File.IsFloat && reading.Space == "raw")
        {
            var mended = reading with { Kind = ReadingKind.Colour, Space = "srgb_texture", Channel = MapChannel.Rgb };
            yield return new(
                "reading.colour-as-data",
                Severity.Error,
                m.Address.Text,
                $"{m.Slot.File.Name} is the surface's own colour but is read raw, so it turns pale.",
                $"{m.Slot.File.Bits}-bit integer colour files are sRGB",
                "read it as sRGB",
                m.Reread(mended)
            )
            {
                Pictures = Pair(m, mended),
            };
        }
    }

    private static IEnumerable<Finding> Double(MappedLane m)
    {
        var reading = m.Origin.Reading;
        if (reading.Kind != ReadingKind.Colour || m.Slot.Role.Kind() != ReadingKind.Colour)
            yield break;
        var (already, evidence) = Already(m);
        if (
            already is not { } space
            || space == reading.Space
            || reading.Space == "raw"
            || ColourSpace.Find(space).Primaries == ColourSpace.Find(reading.Space).Primaries
        )
            yield break;
        var mended = reading with { Space = space };
        yield return new(
            "reading.double",
            Severity.Error,
            m.Address.Text,
            $"{m.Slot.File.Name} is in {ColourSpace.Find(space).Label} already and is read as "
                + $"{ColourSpace.Find(reading.Space).Label}: it would be converted again.",
            evidence,
            $"read it as {ColourSpace.Find(space).Label}",
            m.Reread(mended)
        )
        {
            Pictures = Pair(m, mended),
        };
    }

    /// <summary>What the file's tag, its name or its pixels say it is in; tags and names before pixels.</summary>
    private static (SpaceId? Space, string Evidence) Already(MappedLane m)
    {
        var file = m.Slot.File;
        if (file.IsFloat && file.EmbeddedColour is { } tag && UsualReading.SpaceOfTag(tag) is { } tagged)
            return (tagged.Id, $"the file's own {tag}");
        if (NameReading.Of(file.Name, NamingTables.Shipped).Space is { } named)
            return (named, "the file's name says so");
        return (
            m.Measured.Content?.ConvertedTo,
            "its saturated colours come up to Rec.709's boundary and none crosses it when it is taken so"
        );
    }

    private static IEnumerable<Finding> Alpha(FindingContext c, MappedLane m)
    {
        if (
            c.Profile?.Textures.Grey != GreySource.Alpha
            || m.Origin.Reading is not { Kind: ReadingKind.Scalar, Channel: MapChannel.Luminance }
            || !m.Slot.File.Channels.Contains("A")
        )
            yield break;
        yield return new(
            "reading.alpha",
            Severity.Error,
            m.Address.Text,
            $"{c.Profile.Title} reads the alpha of {m.Slot.File.Name} instead of its grey, because the file has one.",
            m.Measured.Content is { AlphaSpread: > 0 } content
                ? $"its alpha varies by {content.AlphaSpread:0.000}"
                : "its alpha is one value everywhere",
            "read one channel (r), which is written as such",
            m.Reread(m.Origin.Reading with { Channel = MapChannel.R })
        );
    }

    private static IReadOnlyList<EvidencePicture> Pair(MappedLane m, Reading mended) =>
        [new(m.Slot.File.Content, m.Origin.Reading, "as read now"), new(m.Slot.File.Content, mended, "as it would be read")];
}
