using Kiln.Analysis.Findings;
using Kiln.Looks.Readings;
using static Kiln.Analysis.Models.Findings.ModelFindings;

namespace Kiln.Analysis.Models.Findings;

/// <summary>What lies on parts, against what the file says should.</summary>
internal static class BindingRules
{
    /// <summary>Below this a name that bound a part unasked is worth a look when it did so more than once.</summary>
    private const float Doubtful = 0.95f;

    public static IEnumerable<ModelFinding> Of(IReadOnlyList<FoundPart> parts) =>
        Lacking(parts).Concat(Dead(parts)).Concat(Doubtfully(parts)).Concat(Archived(parts)).Concat(Unreadable(parts));

    private static IEnumerable<ModelFinding> Lacking(IReadOnlyList<FoundPart> parts)
    {
        foreach (
            var same in parts.Where(p => p is { Look: not null, Named.Count: > 0 }).GroupBy(p => (p.LookKey, string.Join(',', p.Named)))
        )
        {
            var (all, look) = (same.ToList(), same.First().Look!);
            var lacks = same.First()
                .Named.Distinct()
                .Where(r => !Shows(look.Slots.Values.Select(s => s.Role), r))
                .Select(r => r.Label())
                .ToList();
            if (lacks.Count > 0)
                yield return new(
                    "map.lacks",
                    Severity.Warning,
                    Paths(all),
                    $"“{look.Name}” has no map for what the file's material of {Names(all)} names.",
                    $"Named there and not in the look: {string.Join(", ", lacks)}.",
                    "See the file's materials",
                    ModelRepair.Of(ModelRepairKind.Materials)
                );
        }
    }

    /// <summary>Roughness and glossiness say the same, as heights, bumps and normals do.</summary>
    private static bool Shows(IEnumerable<MapRole> roles, MapRole wanted) => roles.Any(r => Family(r) == Family(wanted));

    private static MapRole Family(MapRole role) =>
        role switch
        {
            MapRole.Glossiness => MapRole.Roughness,
            MapRole.Height or MapRole.Bump => MapRole.Normal,
            MapRole.SpecularColor or MapRole.SpecularLevel => MapRole.SpecularLevel,
            _ => role,
        };

    private static IEnumerable<ModelFinding> Dead(IReadOnlyList<FoundPart> parts)
    {
        var grey = parts.Where(p => p is { LookKey: null, Dead.Count: > 0 }).ToList();
        if (grey.Count == 0)
            yield break;
        var paths = grey.SelectMany(p => p.Dead).Distinct().ToList();
        yield return new(
            "map.dead",
            Severity.Warning,
            Paths(grey),
            paths.Count == 1
                ? $"A path in the materials of {Names(grey)} leads nowhere."
                : $"{paths.Count} paths in the materials of {Names(grey)} lead nowhere.",
            string.Join(", ", paths.Take(3)) + (paths.Count > 3 ? $" and {paths.Count - 3} more" : ""),
            "Find them again",
            ModelRepair.Of(ModelRepairKind.Materials)
        );
    }

    private static IEnumerable<ModelFinding> Doubtfully(IReadOnlyList<FoundPart> parts)
    {
        var near = parts.Where(p => p is { Look: not null, ByName: < Doubtful }).ToList();
        if (near.Count > 1)
            yield return new(
                "bound.doubtful",
                Severity.Advice,
                Paths(near),
                $"{Names(near)} have their looks by names that are only near.",
                FormattableString.Invariant(
                    $"The least sure: {near.MinBy(p => p.ByName)!.Name}, {100 * near.Min(p => p.ByName!.Value):0} %."
                ),
                "They are meant so",
                ModelRepair.Of(ModelRepairKind.Confirm)
            );
    }

    private static IEnumerable<ModelFinding> Unreadable(IReadOnlyList<FoundPart> parts)
    {
        foreach (var same in parts.Where(p => p.LookFault is not null).GroupBy(p => p.LookKey))
            yield return new(
                "look.unreadable",
                Severity.Error,
                Paths(same),
                $"The look on {Names([.. same])} cannot be read.",
                same.First().LookFault!
            );
    }

    private static IEnumerable<ModelFinding> Archived(IReadOnlyList<FoundPart> parts)
    {
        foreach (var same in parts.Where(p => p is { IsArchived: true, Look: not null }).GroupBy(p => p.LookKey))
            yield return new(
                "look.archived",
                Severity.Warning,
                Paths(same),
                $"“{same.First().Look!.Name}” is archived, and lies on {Names([.. same])}.",
                "It is shown and written as before, but no list of looks has it any more.",
                "Open the look",
                ModelRepair.Of(ModelRepairKind.Look)
            );
    }
}
