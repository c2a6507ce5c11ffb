namespace Kiln.Analysis.Models.Findings;

/// <summary>
/// What is probably wrong about a model and what lies on it. The bounds are common practice, no source, unless a rule says otherwise.
/// </summary>
public static class ModelFindings
{
    /// <summary>The gravest first; parts as the model has them.</summary>
    public static IReadOnlyList<ModelFinding> Of(IReadOnlyList<FoundPart> parts) =>
        [
            .. UvRules
                .Of(parts)
                .Concat(ShapeRules.Of(parts))
                .Concat(BindingRules.Of(parts))
                .OrderBy(f => f.Severity)
                .ThenBy(f => f.Code, StringComparer.Ordinal),
        ];

    /// <summary>Up to three names, and how many more.</summary>
    internal static string Names(IReadOnlyList<FoundPart> parts) =>
        string.Join(", ", parts.Take(3).Select(p => p.Name)) + (parts.Count > 3 ? $" and {parts.Count - 3} more" : "");

    internal static string Has(IReadOnlyList<FoundPart> parts) => parts.Count == 1 ? "has" : "have";

    internal static string[] Paths(IEnumerable<FoundPart> parts) => [.. parts.Select(p => p.Path)];

    internal static string Percent(double share) => FormattableString.Invariant($"{100 * share:0.#} %");
}
