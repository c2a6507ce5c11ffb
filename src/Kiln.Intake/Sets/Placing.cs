using Kiln.Colour.Spaces;
using Kiln.Intake.Content;
using Kiln.Intake.Naming;
using Kiln.Looks.Readings;
using Kiln.Looks.Steps;

namespace Kiln.Intake.Sets;

/// <summary>What names claim and pixels say, brought together: a role, a reading and a confidence for each property of a file.</summary>
internal static class Placing
{
    /// <summary>
    /// Step over the edge against the step between neighbours from which a repeating map shows its seam; common practice, no source.
    /// </summary>
    private const float VisibleSeam = 1.5f;

    /// <summary>Steps between blocks against steps inside them from which JPEG noise matters in data; common practice, no source.</summary>
    private const float VisibleBlocks = 1.5f;

    /// <summary>The maps that a named picture gives; several for a packed one.</summary>
    public static IEnumerable<PlacedMap> FromName(NamedPicture named)
    {
        var (claim, content, facts) = (named.Candidate!.Claim, named.Picture.Evidence, named.Picture.Facts);
        if (claim.Packed is { } packed)
        {
            foreach (var map in Packed(named, packed))
                yield return map;
            yield break;
        }
        var (role, confidence, note) = claim.IsAmbiguous ? Ambiguous(named, claim, content) : (claim.Role!.Value, named.Confidence, null);
        if (!claim.IsAmbiguous)
            (confidence, note) = Agree(role, claim, confidence, content, facts.Channels.Count);
        yield return Place(named, role, null, confidence, note is null ? named.Evidence : [.. named.Evidence, note]) with
        {
            AmbiguousPhrase = claim.IsAmbiguous ? named.Candidate.Phrase : null,
            AmbiguousRoles = claim.IsAmbiguous ? [role, .. claim.Roles.Where(r => r != role)] : [],
            ReflectionWord = TwoReflections.WordOf(named.Candidate.Phrase, role),
        };
        if (role == MapRole.BaseColor && content?.AlphaSpread > 0.02f)
            yield return Place(
                named,
                MapRole.Opacity,
                MapChannel.A,
                Math.Min(confidence, 0.93f),
                ["the alpha of the base colour file varies, so it carries opacity"]
            );
    }

    private static IEnumerable<PlacedMap> Packed(NamedPicture named, IReadOnlyDictionary<string, MapRole> packed)
    {
        var (content, facts) = (named.Picture.Evidence, named.Picture.Facts);
        foreach (var (channel, role) in packed.OrderBy(c => "rgb|a".IndexOf(c.Key == "rgb" ? "rgb" : c.Key, StringComparison.Ordinal)))
        {
            if (channel == "a" && !facts.HasAlpha || channel is "g" or "b" && facts.IsGreyFile)
                continue;
            var (confidence, note) = (
                named.Confidence,
                channel == "rgb" ? $"{role.Label()} in red, green and blue, data in alpha" : $"packed: {role.Label()} in channel {channel}"
            );
            if (content is { IsGrey: true, IsConstant: false } && channel is not ("a" or "rgb"))
                (confidence, note) = (Math.Min(confidence, 0.6f), "the name says packed, but all channels are the same");
            else if (content is { IsNormal: true } && channel is not ("a" or "rgb"))
                (confidence, note) = (Math.Min(confidence, 0.45f), "the name says packed, but the picture looks like a normal map");
            yield return Place(named, role, MapChannels.Parse(channel), confidence, [.. named.Evidence, note]);
        }
    }

    /// <summary>A word that means several things in the trade: colour or grey decides as far as it can, the rest is asked.</summary>
    private static (MapRole Role, float Confidence, string? Note) Ambiguous(NamedPicture named, NameClaim claim, ContentEvidence? content)
    {
        var phrase = named.Candidate!.Phrase;
        var inColour = claim.Roles.Where(r => r.Kind() == ReadingKind.Colour).ToList();
        var asData = claim.Roles.Where(r => r.Kind() != ReadingKind.Colour).ToList();
        if (content is { IsGrey: false, IsNormal: false, LooksPacked: false } && inColour.Count == 1)
            return (
                inColour[0],
                Math.Min(named.Confidence, 0.94f),
                $"“{phrase}” means different things in the trade; the picture has colour, so it is {inColour[0].Label()}"
            );
        if (
            content is { IsGrey: true }
            && asData is [var only]
            && only is not MapRole.SpecularLevel
            && content.Chroma < 0.002f
            && phrase.Length > 1
        )
            return (
                only,
                Math.Min(named.Confidence, 0.91f),
                $"“{phrase}” means different things in the trade; the picture is grey, so it is {only.Label()}"
            );
        var proposed = content is null ? claim.Roles[0] : asData.FirstOrDefault(claim.Roles[0]);
        return (
            proposed,
            Math.Min(named.Confidence, 0.65f),
            $"“{phrase}” means different things in the trade ({claim.Meaning}): please say which"
        );
    }

    /// <summary>What the pixels say to a role that the name claims.</summary>
    private static (float Confidence, string? Note) Agree(
        MapRole role,
        NameClaim claim,
        float confidence,
        ContentEvidence? content,
        int channels
    )
    {
        if (content is null)
            return (confidence, null);
        // A person's rule has looked at such files before; pixels may still contradict, but less.
        float Doubt(float doubtful) => claim.IsStudioRule ? Math.Max(doubtful, 0.8f) : Math.Min(confidence, doubtful);
        if (role == MapRole.Normal && content.IsObjectSpaceNormal)
            return (0.4f, "but its directions point every way: an object-space normal map, not tangent space");
        return role.Kind() switch
        {
            ReadingKind.Direction when content.IsNormal => (confidence, "its pixels are unit vectors around straight out"),
            ReadingKind.Direction when content.IsConstant => (Math.Min(confidence, 0.9f), "it is one even value"),
            ReadingKind.Direction when content.IsGrey => (Doubt(0.45f), "but the picture is grey: a bump or height map, not a normal map"),
            ReadingKind.Direction when channels >= 3 => (
                Doubt(content.NormalLikeness > 0.5f ? 0.8f : 0.5f),
                "but its pixels are no unit vectors"
            ),
            ReadingKind.Direction => (confidence, null),
            ReadingKind.Scalar when content is { IsNormal: true, IsConstant: false } => (
                Doubt(0.45f),
                "but the picture looks like a normal map"
            ),
            ReadingKind.Scalar when content.Chroma > 0.06f => (Doubt(0.6f), "but the picture has colour, which a measurement has not"),
            ReadingKind.Scalar => (confidence, "the picture is grey, as a measurement is"),
            ReadingKind.Colour when content is { IsNormal: true, IsConstant: false } => (
                Doubt(0.45f),
                "but the picture looks like a normal map"
            ),
            ReadingKind.Colour when content.IsGrey && !content.IsConstant && content.IsGreyFile && role == MapRole.BaseColor => (
                Math.Min(confidence, 0.92f),
                "its file has one grey channel, as few base colours have"
            ),
            _ => (confidence, content.IsGrey ? null : "the picture has colour"),
        };
    }

    public static PlacedMap Place(NamedPicture named, MapRole role, MapChannel? channel, float confidence, IEnumerable<string> evidence)
    {
        var (facts, name, content) = (named.Picture.Facts, named.Picture.Name, named.Picture.Evidence);
        var normalY = role == MapRole.Normal ? name.NormalY : null;
        var reading = UsualReading.Of(role, facts, channel, normalY);
        if (reading.Kind == ReadingKind.Colour && name.Space is { } space && reading.Authority == ReadingAuthority.Role)
            reading = reading with { Space = space, Reason = $"the name says that its colours are {ColourSpace.Find(space).Id} already" };
        else if (reading.Kind == ReadingKind.Colour && facts.IsFloat && reading.Authority == ReadingAuthority.Role && content is not null)
            reading = content.ConvertedTo is { } converted
                ? reading with
                {
                    Space = converted,
                    Reason =
                        $"taken as {ColourSpace.Find(converted).Label} its saturated colours come up to Rec.709's boundary and "
                        + "none crosses it: converted already, and not again",
                }
                : reading with
                {
                    Reason = reading.Reason + "; neither tags, name nor pixels tell whether it was converted already",
                };
        if (named.Picture.Claim is { } claim)
            reading = claim.Applied(reading);
        if (content?.Probe.NotFinite is > 0 and var lost)
            evidence = evidence.Append($"{lost} of its samples are no numbers (NaN or infinite) and are read as 0 or the greatest half");
        if (content?.Probe is { } probe && Math.Max(probe.SeamAcross, probe.SeamDown) is > VisibleSeam and var step)
            evidence = evidence.Append(
                $"its {(probe.SeamAcross >= probe.SeamDown ? "left and right" : "top and bottom")} edges do not meet: the step "
                    + $"over the seam is {step:0.0} times the largest one inside"
            );
        if (role.Kind() != ReadingKind.Colour && content?.Probe.BlockNoise is > VisibleBlocks and var blocks)
            evidence = evidence.Append(
                $"JPEG block noise in a measurement: steps between 8-pixel blocks are {blocks:0.0} times those inside them"
            );
        if (content?.Probe.EightBitContent == true)
            evidence = evidence.Append("a 16-bit file with 8-bit content: the finer steps are not there");
        return new(
            named.Picture.File.Path,
            role,
            reading.Channel,
            reading,
            normalY,
            null,
            facts.Width,
            facts.Height,
            facts.Bits,
            facts.IsFloat,
            name.Udim,
            confidence,
            [.. evidence],
            named.Picture.Map,
            name.Level
        )
        {
            Version = named.Candidate?.Version,
            Variant = named.Candidate?.Variant,
        };
    }
}
