using Kiln.Colour.Spaces;
using Kiln.Looks.Document;
using Kiln.Looks.Readings;

namespace Kiln.Analysis.Consistency;

/// <summary>A rule that a look does not keep.</summary>
/// <param name="Rule">Its name in the file.</param>
public sealed record BrokenRule(string Rule, string Sentence);

/// <summary>What is known of a look beside its document.</summary>
/// <param name="Lossy">Dialects that lose something of it, with their titles.</param>
/// <param name="Bytes">Of all its map files.</param>
public sealed record LookKnowledge(LookMeasures? Measures, IReadOnlyDictionary<string, string> Lossy, long Bytes);

/// <summary>Holds a look against a collection's rules.</summary>
public static class RuleCheck
{
    public static IReadOnlyList<BrokenRule> Of(CollectionRules rules, Look look, LookKnowledge known) =>
        [
            .. Named(rules, look),
            .. RuleFields.All.SelectMany(field => Outside(field, rules, look, known)),
            .. (rules.Dialects ?? [])
                .Where(known.Lossy.ContainsKey)
                .Select(d => new BrokenRule("dialects", $"Exported for {known.Lossy[d]}, something of it is lost.")),
        ];

    private static IEnumerable<BrokenRule> Outside(RuleField field, CollectionRules rules, Look look, LookKnowledge known)
    {
        if (field.SpanOf(rules) is not { } span)
            yield break;
        var unit = field.Unit.Length == 0 ? "" : " " + field.Unit;
        foreach (var (subject, value) in field.ValuesOf(look, known).Where(v => !span.Holds(v.Value)))
            yield return new(field.Id, $"{subject} is {value:0.###}{unit}; {span}{unit} is asked for.");
    }

    private static IEnumerable<BrokenRule> Named(CollectionRules rules, Look look)
    {
        if (rules.Pattern is { } pattern && !pattern.IsMatch(look.Name))
            yield return new("names", $"The name '{look.Name}' does not follow the pattern {rules.Names}.");
        var roles = look.Slots.Values.Select(s => s.Role.Id()).ToHashSet();
        foreach (var missing in (rules.Maps ?? []).Where(m => !roles.Contains(m)))
            yield return new("maps", $"There is no {MapRoles.Parse(missing).Label()} map.");
        foreach (var slot in look.Slots.Values)
            if (rules.LeastBits?.TryGetValue(slot.Role.Id(), out var bits) == true && slot.File.Bits < bits)
                yield return new("leastBits", $"{slot.File.Name} has {slot.File.Bits} bits; {bits} are asked for.");
        if (rules.Readings is { } allowed)
            foreach (
                var reading in LookReadings
                    .Of(look)
                    .Where(r => r.Kind == ReadingKind.Colour && !allowed.Contains(r.Space.Text))
                    .DistinctBy(r => r.Space)
            )
                yield return new("readings", $"A map is read as {Words(reading.Space)}, which the collection does not allow.");
    }

    /// <summary>A space of a studio's own config has no other name than its own.</summary>
    private static string Words(SpaceId space) => ColourSpace.Exists(space) ? ColourSpace.Find(space).Label : space.Text;
}
