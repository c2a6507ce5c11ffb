using Kiln.Looks.Document;
using Kiln.Looks.Readings;

namespace Kiln.Analysis.Consistency;

/// <summary>A rule that a look does not keep.</summary>
/// <param name="Rule">Its name in the file.</param>
public sealed record BrokenRule(string Rule, string Sentence);

/// <summary>What is known of a look beside its document.</summary>
/// <param name="Lossy">Dialects that lose something of it.</param>
/// <param name="Bytes">Of all its map files.</param>
public sealed record LookKnowledge(LookMeasures? Measures, IReadOnlyCollection<string> Lossy, long Bytes);

/// <summary>Holds a look against a collection's rules.</summary>
public static class RuleCheck
{
    public static IReadOnlyList<BrokenRule> Of(CollectionRules rules, Look look, LookKnowledge known)
    {
        var result = new List<BrokenRule>();
        void Say(string rule, string sentence) => result.Add(new(rule, sentence));
        void Within(string rule, string what, FromTo? span, double? value, string unit = "")
        {
            if (span is not null && value is { } number && !span.Holds(number))
                Say(rule, $"{what} is {number:0.###}{unit}; {span}{unit} is asked for.");
        }
        if (rules.Pattern is { } pattern && !pattern.IsMatch(look.Name))
            Say("names", $"The name '{look.Name}' does not follow the pattern {rules.Names}.");
        var roles = look.Slots.Values.Select(s => s.Role.Id()).ToHashSet();
        foreach (var missing in (rules.Maps ?? []).Where(m => !roles.Contains(m)))
            Say("maps", $"There is no {missing} map.");
        foreach (var slot in look.Slots.Values)
        {
            Within("pixels", $"The longer side of {slot.File.Name}", rules.Pixels, Math.Max(slot.File.Width, slot.File.Height), " pixels");
            if (rules.LeastBits?.TryGetValue(slot.Role.Id(), out var bits) == true && slot.File.Bits < bits)
                Say("leastBits", $"{slot.File.Name} has {slot.File.Bits} bits; {bits} are asked for.");
        }
        if (rules.Readings is { } allowed)
            foreach (
                var reading in LookReadings
                    .Of(look)
                    .Where(r => r.Kind == ReadingKind.Colour && !allowed.Contains(r.Space.Text))
                    .DistinctBy(r => r.Space)
            )
                Say("readings", $"A map is read as {reading.Space}, which the collection does not allow.");
        foreach (var dialect in (rules.Dialects ?? []).Where(known.Lossy.Contains))
            Say("dialects", $"Written as {dialect}, something of it is lost.");
        if (rules.MostMegabytes is { } most && known.Bytes > most * 1024 * 1024)
            Say("mostMegabytes", $"Its maps have {known.Bytes / 1048576.0:0.#} MB; {most:0.#} MB are allowed.");
        if (known.Measures is { } m)
        {
            var kind = m.IsMetal ? "metal" : "dielectric";
            Within("texelDensity", "The texel density", rules.TexelDensity, m.TexelDensity, " pixels a metre");
            Within(
                $"baseLuminance.{kind}",
                "The luminance of its base colour",
                m.IsMetal ? rules.BaseLuminance?.Metal : rules.BaseLuminance?.Dielectric,
                m.BaseLuminance
            );
            Within(
                $"baseSaturation.{kind}",
                "The saturation of its base colour",
                m.IsMetal ? rules.BaseSaturation?.Metal : rules.BaseSaturation?.Dielectric,
                m.BaseSaturation
            );
            Within("roughnessSpread", "The spread of its roughness", rules.RoughnessSpread, m.RoughnessSpread);
        }
        return result;
    }
}
