using Kiln.Analysis.Findings.Rules;
using Kiln.Dialects.Networks;
using Kiln.Dialects.Profiles;
using Kiln.Looks.Document;
using Kiln.Pixels;

namespace Kiln.Analysis.Findings;

/// <summary>
/// The checks of a look, what experienced people check by eye. Pure: measurements and the presence of files come in, findings come out.
/// </summary>
public static class LookFindings
{
    /// <summary>Every check with what it looks for; the codes are those of the design.</summary>
    public static readonly IReadOnlyList<Func<FindingContext, IEnumerable<Finding>>> Rules =
    [
        ReadingRules.Of,
        NormalRules.Of,
        RoughnessRules.Of,
        SwitchRules.Of,
        MapRules.Of,
        PlausibleRules.Of,
        BakedLightRules.Of,
        ReliefRules.Of,
        PlacementRules.Of,
        NameRules.Of,
    ];

    public static IReadOnlyList<Finding> Of(FindingContext context) =>
        [.. Rules.SelectMany(rule => rule(context)).OrderBy(f => f.Severity).ThenBy(f => f.Subject, StringComparer.Ordinal)];

    public static IReadOnlyList<Finding> Of(
        Look look,
        IReadOnlyDictionary<ContentHash, MapMeasurement> measured,
        Func<ContentHash, bool> exists,
        DialectProfile? profile = null,
        Network? network = null
    ) => Of(new FindingContext(look, measured, exists, profile: profile, network: network));
}
