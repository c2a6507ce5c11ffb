using System.Collections.Immutable;
using Kiln.Looks.Readings;

namespace Kiln.Intake.Naming;

/// <summary>One file whose name would be read otherwise under other rules.</summary>
public sealed record NamingChange(string Path, string Before, string After);

/// <summary>Rules that learn: what a correction would mean as a rule, and what a rule would change.</summary>
public static class NamingEffects
{
    private const int LongestPhrase = 3;

    /// <summary>
    /// The rule by which the next delivery would be sorted as a person just sorted this one: the words of the file's name that belong
    /// neither to the surface nor to sizes, bits and the like. Null where nothing of the name says what the map is, or where it says so
    /// already: a person may have chosen between two files that were both read right.
    /// </summary>
    /// <param name="inForce">The studio's rules.</param>
    public static NamingRule? Offer(
        string path,
        string surface,
        MapRole role,
        ImmutableSortedDictionary<string, MapRole>? channels = null,
        IReadOnlyList<NamingRule>? inForce = null
    )
    {
        var surfaceTokens = NameTokens.Split(surface).ToHashSet();
        var plain = NameReading
            .Of(path, NamingTables.Shipped)
            .Tokens.SkipWhile(t => surfaceTokens.Contains(t.Text) || t.Kind.Length > 0)
            .TakeWhile(t => t.Kind.Length == 0 && !surfaceTokens.Contains(t.Text))
            .Select(t => t.Text)
            .ToList();
        while (plain.Count > 0 && plain[^1].All(char.IsAsciiDigit))
            plain.RemoveAt(plain.Count - 1);
        if (plain.Count is 0 or > LongestPhrase || plain.All(t => t.All(char.IsAsciiDigit)))
            return null;
        var phrase = string.Join(' ', plain);
        var rule = channels is { Count: > 0 }
            ? new NamingRule(phrase, NamingRuleKind.Packed, Channels: channels)
            : new NamingRule(phrase, NamingRuleKind.Role, role);
        if (rule.Fault is not null)
            return null;
        IReadOnlyList<NamingRule> rules = inForce ?? [];
        return Between(NamingTables.With(rules), NamingTables.With([.. rules, rule]), [path]).Any() ? rule : null;
    }

    /// <summary>Which names are read otherwise under the second tables than under the first.</summary>
    public static IEnumerable<NamingChange> Between(NamingTables before, NamingTables after, IEnumerable<string> paths)
    {
        foreach (var path in paths)
        {
            var (was, would) = (Explanation(path, before), Explanation(path, after));
            if (was != would)
                yield return new(path, was, would);
        }
    }

    /// <summary>What a name alone says most likely, in words.</summary>
    public static string Explanation(string path, NamingTables tables)
    {
        var name = NameReading.Of(path, tables);
        var best = name
            .Candidates.OrderByDescending(c => c.Claim.Strength * c.Position + 0.06f * c.Phrase.Count(ch => ch == ' '))
            .FirstOrDefault();
        var direction = name.NormalY is { } y ? $", Y {y.ToString().ToLowerInvariant()}" : "";
        return name.IsPreview ? "preview picture"
            : best is null ? "nothing"
            : best.Claim.Meaning + direction;
    }
}
