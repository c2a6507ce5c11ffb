using Kiln.Looks.Document;
using Kiln.Looks.Readings;
using Kiln.Looks.Steps.Kinds;

namespace Kiln.Analysis.Findings.Rules;

/// <summary>Light that was there when the base colour was taken and is still in it.</summary>
internal static class BakedLightRules
{
    public static IEnumerable<Finding> Of(FindingContext c) =>
        c
            .Mapped.Where(m => m.Input?.Name == "base_color" && m.Slot.Role == MapRole.BaseColor)
            .SelectMany(m => Shaded(c, m).Concat(Falling(c, m)));

    /// <summary>Slopes towards one side are brighter than those away from it: a surface's own colour knows of no side.</summary>
    private static IEnumerable<Finding> Shaded(FindingContext c, MappedLane m)
    {
        var relief = c
            .Mapped.Where(r =>
                r.Slot.Role is MapRole.Normal or MapRole.Height && r.Slot.File.Width == m.Slot.File.Width && !Moved(r) && !Moved(m)
            )
            .OrderBy(r => r.Slot.Role == MapRole.Normal ? 0 : 1)
            .FirstOrDefault();
        if (relief is null || m.Measured.LightFrom(relief.Measured) is not { } light || light.Strength <= c.Thresholds.LightWithRelief)
            yield break;
        yield return new(
            "base.range",
            Severity.Warning,
            m.Address.Text,
            $"Light seems to be baked into {m.Slot.File.Name}: slopes towards one side are brighter, whatever light falls on the "
                + "surface later.",
            $"its brightness follows the slopes of {relief.Slot.File.Name} with a correlation of {light.Strength:0.00}; "
                + $"{c.Thresholds.LightWithRelief:0.0} is common practice, no source"
        )
        {
            Pictures =
            [
                new(m.Slot.File.Content, m.Origin.Reading, "the base colour"),
                new(relief.Slot.File.Content, relief.Origin.Reading, "the relief that its light follows"),
            ],
        };
    }

    private static IEnumerable<Finding> Falling(FindingContext c, MappedLane m)
    {
        var (across, down) = m.Measured.Fall;
        var fall = MathF.Max(MathF.Abs(across), MathF.Abs(down));
        if (fall <= c.Thresholds.FallOfLight)
            yield break;
        var sideways = MathF.Abs(across) >= MathF.Abs(down);
        var brighter = sideways
            ? across > 0
                ? "right"
                : "left"
            : down > 0
                ? "bottom"
                : "top";
        yield return new(
            "base.range",
            Severity.Warning,
            m.Address.Text,
            $"{m.Slot.File.Name} gets steadily brighter towards the {brighter}: the light that it was taken in is still there.",
            $"{fall:P0} of its mean from edge to edge, on a straight line; {c.Thresholds.FallOfLight:P0} is common practice, no source"
        )
        {
            Pictures = [new(m.Slot.File.Content, m.Origin.Reading, "its edges brought together in the middle") { Halved = true }],
        };
    }

    private static bool Moved(MappedLane m) => m.Chain.Steps.Any(s => s is PlaceStep { Bypassed: false });
}
