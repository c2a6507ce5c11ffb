using Kiln.Looks.Document;
using Kiln.Looks.Edits;
using Kiln.Looks.Inputs;
using Kiln.Looks.Readings;
using Kiln.Looks.Steps.Kinds.Numbers;

namespace Kiln.Analysis.Findings.Rules;

/// <summary>Values that real surfaces hardly have. The bounds are the studio's, by default common practice.</summary>
internal static class PlausibleRules
{
    public static IEnumerable<Finding> Of(FindingContext c) =>
        c
            .Mapped.Where(m => m.Measured.Levels is not null)
            .SelectMany(m => Base(c, m).Concat(Metal(c, m)).Concat(Rough(c, m)))
            .Concat(Occlusion(c));

    private static IEnumerable<Finding> Base(FindingContext c, MappedLane m)
    {
        if (m.Input?.Name != "base_color" || m.Slot.Role != MapRole.BaseColor || m.Origin.Reading.Space != "srgb_texture")
            yield break;
        var t = c.Thresholds;
        if (MetalMap(c) is null)
        {
            // All metal, or none of it.
            var isMetal = Metalness(c) > 0.5f;
            var outside = isMetal
                ? m.Measured.Share(0, (t.DarkestMetal - 1) / 255f)
                : m.Measured.Share(0, (t.DarkestDielectric - 1) / 255f) + m.Measured.Share((t.BrightestDielectric + 1) / 255f, 1);
            if (outside > t.OutOfRangeShare)
                yield return new(
                    "base.range",
                    Severity.Warning,
                    m.Address.Text,
                    isMetal
                        ? $"Much of {m.Slot.File.Name} is darker than metals are."
                        : $"Much of {m.Slot.File.Name} is darker or brighter than matt surfaces are.",
                    isMetal
                        ? $"{outside:P0} of the pixels are below {t.DarkestMetal}; common practice, no source"
                        : $"{outside:P0} of the pixels are outside {t.DarkestDielectric} to {t.BrightestDielectric}; common "
                            + "practice, no source",
                    "bring it into the range",
                    isMetal ? null : new StepInsertEdit(m.Address, m.Chain.Steps.Length, Into(m, t))
                )
                {
                    Pictures =
                    [
                        Marked(
                            m,
                            "striped: out of range",
                            isMetal
                                ? PictureMarks.Below((t.DarkestMetal - 1) / 255f)
                                : $"{PictureMarks.Below((t.DarkestDielectric - 1) / 255f)}, "
                                    + $"{PictureMarks.Above((t.BrightestDielectric + 1) / 255f)}"
                        ),
                    ],
                };
        }
        var (black, white) = (m.Measured.Share(0, 0), m.Measured.Share(1, 1));
        if (black + white > t.OutOfRangeShare)
            yield return new(
                "base.range",
                Severity.Warning,
                m.Address.Text,
                $"{m.Slot.File.Name} has pure {(black > white ? "black" : "white")}, which no surface has.",
                $"{black:P0} black, {white:P0} white"
            )
            {
                Pictures = [Marked(m, "striped: pure black or white", Ends)],
            };
    }

    private static readonly string Ends = $"{PictureMarks.Below(0.5f / 255)}, {PictureMarks.Above(254.5f / 255)}";

    private static EvidencePicture Marked(MappedLane m, string words, string mark) =>
        new(m.Slot.File.Content, m.Origin.Reading, words) { Mark = mark };

    /// <summary>Linear ends of the plausible range: what the codes decode to.</summary>
    private static RemapStep Into(MappedLane m, StudioThresholds t) =>
        new(
            0,
            1,
            Colour.Spaces.ColourEncoding.Srgb.Decode(t.DarkestDielectric / 255f),
            Colour.Spaces.ColourEncoding.Srgb.Decode(t.BrightestDielectric / 255f)
        )
        {
            Id = m.FreeId,
        };

    private static MappedLane? MetalMap(FindingContext c) => c.Mapped.FirstOrDefault(m => m.Address.Is("base_metalness"));

    private static float Metalness(FindingContext c) =>
        c.BaseLane("base_metalness")?.Value is ScalarValue s ? s.Number
        : NeutralInputs.Find("base_metalness").DefaultValue is ScalarValue d ? d.Number
        : 0;

    private static IEnumerable<Finding> Metal(FindingContext c, MappedLane m)
    {
        if (!m.Address.Is("base_metalness") || m.Origin.Reading.Channel is not (MapChannel.Luminance or MapChannel.R))
            yield break;
        var grey = m.Measured.Share(0.2f, 0.8f);
        if (grey > c.Thresholds.GreyMetalShare)
            yield return new(
                "metal.grey",
                Severity.Warning,
                m.Address.Text,
                $"{m.Slot.File.Name} is mostly neither metal nor not: half metals do not exist, edges and dirt aside.",
                $"{grey:P0} of the pixels are between 0.2 and 0.8",
                "push it to its ends",
                new StepInsertEdit(m.Address, m.Chain.Steps.Length, new RemapStep(0.4f, 0.6f, 0, 1) { Id = m.FreeId })
            )
            {
                Pictures = [Marked(m, "striped: between 0.2 and 0.8", PictureMarks.Between(0.2f, 0.8f))],
            };
    }

    private static IEnumerable<Finding> Rough(FindingContext c, MappedLane m)
    {
        if (!m.Address.Is("specular_roughness") || m.Origin.Reading.Channel is not (MapChannel.Luminance or MapChannel.R))
            yield break;
        float zero = m.Measured.Share(0, 0),
            one = m.Measured.Share(1, 1);
        if (zero + one > c.Thresholds.ExtremeRoughnessShare)
            yield return new(
                "rough.zero",
                Severity.Warning,
                m.Address.Text,
                $"Large areas of {m.Slot.File.Name} are {(zero > one ? "perfectly smooth" : "perfectly rough")}, which nothing is.",
                $"{zero:P0} of the pixels are 0, {one:P0} are 1",
                "keep it between 0.04 and 0.96",
                new StepInsertEdit(m.Address, m.Chain.Steps.Length, new ClampStep(0.04f, 0.96f) { Id = m.FreeId })
            )
            {
                Pictures = [Marked(m, "striped: 0 or 1", Ends)],
            };
    }

    private static IEnumerable<Finding> Occlusion(FindingContext c)
    {
        if (c.BaseLane("base_color")?.Chain is not { } chain)
            yield break;
        foreach (
            var step in chain.Steps.OfType<OcclusionStep>().Where(s => s is { Bypassed: false, Amount: { Value: >= 0.95f, Chain: null } })
        )
            yield return new(
                "ao.double",
                Severity.Warning,
                "base_color",
                "Occlusion is multiplied into the base at full strength; path-traced renderers make their own shadows, so "
                    + "crevices darken twice.",
                $"amount {step.Amount.Value:0.##}",
                "take it down to 0.3",
                new StepChangeEdit("base_color", step with { Amount = new(0.3f) })
            );
    }
}
