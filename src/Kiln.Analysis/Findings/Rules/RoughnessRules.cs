using Kiln.Intake.Naming;
using Kiln.Looks.Document;
using Kiln.Looks.Edits;
using Kiln.Looks.Readings;
using Kiln.Looks.Steps.Kinds.Numbers;

namespace Kiln.Analysis.Findings.Rules;

/// <summary>Glossiness where roughness belongs, and the reverse.</summary>
internal static class RoughnessRules
{
    private static readonly string[] Inputs = ["specular_roughness", "coat_roughness"];

    public static IEnumerable<Finding> Of(FindingContext c) =>
        c.Mapped.Where(m => m.Input is { } input && Inputs.Contains(input.Name)).SelectMany(m => Shine(c, m));

    private static IEnumerable<Finding> Shine(FindingContext c, MappedLane m)
    {
        var inversions = m.Chain.Steps.Count(s =>
            s is InvertStep { Bypassed: false } || s is RemapStep { Bypassed: false } r && r.OutLow > r.OutHigh
        );
        var named = NameReading
            .Of(m.Slot.File.Name, NamingTables.Shipped)
            .Candidates.OrderByDescending(x => x.Position)
            .FirstOrDefault()
            ?.Claim.Role;
        var isGlossiness = m.Slot.Role == MapRole.Glossiness || named == MapRole.Glossiness;
        if (isGlossiness && inversions % 2 == 0)
            yield return new(
                "shine.inverted",
                Severity.Error,
                m.Address.Text,
                $"{m.Slot.File.Name} is a glossiness map in {m.Label} and is not inverted: what should shine is matt.",
                named == MapRole.Glossiness ? "the file's name says glossiness" : "the slot holds glossiness",
                "insert an invert step",
                new StepInsertEdit(m.Address, 0, new InvertStep { Id = m.FreeId })
            );
        if (
            !isGlossiness
            && inversions == 0
            && m.Address.Is("specular_roughness")
            && m.Origin.Reading.Channel == MapChannel.Luminance
            && ByOtherMaps(c, m) is { } doubt
        )
            yield return Doubted(m, doubt);
        if (
            !isGlossiness
            && m.Slot.Role is MapRole.Roughness or MapRole.CoatRoughness
            && inversions % 2 == 1
            && AgainstInversion(c, m, named) is var (severity, evidence)
        )
            yield return new(
                "shine.inverted",
                severity,
                m.Address.Text,
                $"{m.Slot.File.Name} is a roughness map and is inverted in {m.Label}: what should be matt shines.",
                evidence,
                "take the inversion out",
                m.WithSteps(
                    m.Chain.Steps.Where(s => s is not InvertStep)
                        .Select(s => s is RemapStep r && r.OutLow > r.OutHigh ? r with { OutLow = r.OutHigh, OutHigh = r.OutLow } : s)
                )
            );
    }

    private static Finding Doubted(MappedLane m, (string Message, string Evidence, MappedLane Other, string Words) doubt) =>
        new(
            "shine.inverted",
            Severity.Warning,
            m.Address.Text,
            doubt.Message,
            doubt.Evidence,
            "call it glossiness and invert it",
            new BatchEdit(
                $"{m.Slot.File.Name} is glossiness: inverted",
                [
                    new SlotEdit(m.Origin.Slot, m.Slot with { Role = MapRole.Glossiness }),
                    new StepInsertEdit(m.Address, 0, new InvertStep { Id = m.FreeId }),
                ]
            )
        )
        {
            Pictures =
            [
                new(m.Slot.File.Content, m.Origin.Reading, "what is read as roughness"),
                new(doubt.Other.Slot.File.Content, doubt.Other.Origin.Reading, doubt.Words),
            ],
        };

    /// <summary>
    /// What speaks against an inversion of what the slot calls roughness. A map made from the base colour or the bump is inverted with a
    /// reason, since bright and raised parts are the shinier ones:
    /// it is left alone. Only where name and pixels agree that it is a roughness map is it an error; where the name alone says so, a
    /// warning; where only the slot does, nothing.
    /// </summary>
    private static (Severity Severity, string Evidence)? AgainstInversion(FindingContext c, MappedLane m, MapRole? named)
    {
        foreach (var source in c.Mapped.Where(x => x.Address.Is("base_color") || x.Slot.Role is MapRole.Bump or MapRole.Height))
            if (
                source.Slot.File.Content == m.Slot.File.Content
                || m.Measured.Correlation(source.Measured) is { } made && MathF.Abs(made) > c.Thresholds.MadeFromAnother
            )
                return null;
        var byName = named is MapRole.Roughness or MapRole.CoatRoughness;
        var (against, words) = ByPixels(c, m);
        return (byName, against) switch
        {
            (true, true) => (Severity.Error, $"the file's name says roughness, and {words}"),
            (true, null) => (Severity.Warning, "the file's name says roughness; no other map tells whether that is so"),
            (false, true) => (Severity.Warning, $"the slot holds roughness, and {words}"),
            _ => null,
        };
    }

    /// <summary>The metalness map, where it is a picture of its own.</summary>
    private static MappedLane? Metal(FindingContext c) =>
        c.Mapped.FirstOrDefault(x => x.Address.Is("base_metalness")) is { Origin.Reading.Channel: MapChannel.Luminance } metal
            ? metal
            : null;

    /// <summary>Pictures of their own that tell crevices from what stands out.</summary>
    private static IEnumerable<MappedLane> Reliefs(FindingContext c) =>
        c
            .Mapped.Where(x =>
                x.Slot.Role is MapRole.AmbientOcclusion or MapRole.Cavity or MapRole.Height
                && x.Origin.Reading.Channel == MapChannel.Luminance
            )
            .DistinctBy(x => x.Origin.Slot)
            .OrderBy(x => x.Slot.Role);

    /// <summary>
    /// Whether the other maps say that the map is rough where it is bright, as a roughness map is; null where they say nothing.
    /// </summary>
    private static (bool? IsRoughness, string Words) ByPixels(FindingContext c, MappedLane m)
    {
        if (
            Metal(c) is { } metal
            && m.Measured.Correlation(metal.Measured) is { } together
            && MathF.Abs(together) > c.Thresholds.ShineWithMetal
        )
            return (
                together < 0,
                $"it is dark where {metal.Slot.File.Name} says metal (correlation {together:+0.00;-0.00}; bare metal is the "
                    + "shinier part of most surfaces: common practice, no source)"
            );
        foreach (var relief in Reliefs(c))
            if (m.Measured.Correlation(relief.Measured) is { } along && MathF.Abs(along) > c.Thresholds.ShineWithRelief)
                return (
                    along < 0,
                    $"it is bright in the crevices of {relief.Slot.File.Name} (correlation {along:+0.00;-0.00}; crevices are the "
                        + "duller part of most surfaces: common practice, no source)"
                );
        return (null, "");
    }

    /// <summary>
    /// What the other maps of the surface say: bare metal and what stands out are the shinier parts of most surfaces (common practice, no
    /// source).
    /// </summary>
    private static (string Message, string Evidence, MappedLane Other, string Words)? ByOtherMaps(FindingContext c, MappedLane m)
    {
        if (Metal(c) is { } metal && m.Measured.Correlation(metal.Measured) is { } together)
            return together > c.Thresholds.ShineWithMetal
                ? (
                    $"{m.Slot.File.Name} is rough where {metal.Slot.File.Name} says metal: it is probably a glossiness map under "
                        + "another name.",
                    $"correlation {together:+0.00} with metalness; bare metal is the shinier part of most surfaces (common "
                        + "practice, no source)",
                    metal,
                    "metalness"
                )
                : null;
        foreach (var relief in Reliefs(c))
            if (m.Measured.Correlation(relief.Measured) is { } along && along > c.Thresholds.ShineWithRelief)
                return (
                    $"{m.Slot.File.Name} is smooth in the crevices of {relief.Slot.File.Name} and rough on what stands out: it is "
                        + "probably a glossiness map under another name.",
                    $"correlation {along:+0.00} with {relief.Slot.Role.Label()}; crevices are the duller part of most surfaces "
                        + "(common practice, no source)",
                    relief,
                    relief.Slot.Role.Label()
                );
        return null;
    }
}
