using System.Text.RegularExpressions;
using Kiln.Looks.Edits;

namespace Kiln.Analysis.Findings.Rules;

/// <summary>The look's own name, and looks that are there twice.</summary>
internal static partial class NameRules
{
    public static IEnumerable<Finding> Of(FindingContext c) => Named(c).Concat(Twins(c));

    private static IEnumerable<Finding> Named(FindingContext c)
    {
        if (Fits(c.Look.Name, c.Thresholds.LookNames))
            yield break;
        var clean = Others().Replace(c.Look.Name, " ").Trim();
        var helps = clean.Length > 0 && Fits(clean, c.Thresholds.LookNames);
        yield return new(
            "name.rule",
            Severity.Advice,
            "look",
            $"The name “{c.Look.Name}” breaks the studio's rule for looks.",
            $"names must match {c.Thresholds.LookNames}",
            helps ? $"call it {clean}" : null,
            helps ? new RenameEdit(clean) : null
        );
    }

    private static IEnumerable<Finding> Twins(FindingContext c)
    {
        if (c.Twins.Count > 0)
            yield return new(
                "dup.look",
                Severity.Advice,
                "look",
                $"{string.Join(" and ", c.Twins.Take(3))}{(c.Twins.Count > 3 ? $" and {c.Twins.Count - 3} more" : "")} "
                    + $"differ{(c.Twins.Count == 1 ? "s" : "")} from this look in nothing but the name.",
                "the same maps, readings, steps and values"
            );
    }

    private static bool Fits(string name, string pattern) =>
        Regex.IsMatch(name, pattern, RegexOptions.CultureInvariant, TimeSpan.FromMilliseconds(50));

    [GeneratedRegex(@"[^\p{L}\p{N}]+")]
    private static partial Regex Others();
}
