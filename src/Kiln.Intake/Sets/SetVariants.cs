using Kiln.Looks.Readings;

namespace Kiln.Intake.Sets;

/// <summary>
/// Variants with maps of their own are sets of their own; a map that several of them share appears in each. A set is shared when other sets
/// of its folder are named like it with a word more, and none of them has a role that it has.
/// </summary>
internal static class SetVariants
{
    public static List<(MapSet Set, string Folder)> Share(List<(MapSet Set, string Folder, string Key, string? Variant)> sets)
    {
        var result = new List<(MapSet, string)>();
        var consumed = new HashSet<int>();
        for (var i = 0; i < sets.Count; i++)
        {
            var (common, folder, key, _) = sets[i];
            if (key.Length < 3 || consumed.Contains(i))
                continue;
            var roles = common.Maps.Select(m => m.Role).ToHashSet();
            var variants = Enumerable
                .Range(0, sets.Count)
                .Where(k =>
                    k != i
                    && sets[k].Folder == folder
                    && sets[k].Key.StartsWith(key, StringComparison.Ordinal)
                    && sets[k].Set.Maps.All(m => !roles.Contains(m.Role))
                )
                .ToList();
            // One surface named longer is only a variant where it lacks what the common set has; a whole surface is its own.
            if (
                variants.Count < 2
                || roles.Contains(MapRole.BaseColor)
                || variants.Any(v => !sets[v].Set.Maps.Any(m => m.Role == MapRole.BaseColor))
            )
                continue;
            consumed.Add(i);
            foreach (var v in variants)
            {
                consumed.Add(v);
                var set = sets[v].Set;
                var shared = common.Maps.Select(m => m with { Evidence = m.Evidence.Add($"shared by {variants.Count} variants") });
                result.Add((set with { Maps = [.. set.Maps, .. shared], Previews = [.. set.Previews, .. common.Previews] }, folder));
            }
        }
        result.AddRange(ByToken(sets.Where((_, i) => !consumed.Contains(i)).ToList()));
        return [.. result.OrderBy(r => r.Item1.Name, StringComparer.Ordinal)];
    }

    /// <summary>Variants told by a token after the role (“COL_VAR1”): one set each where there are several; else one set.</summary>
    private static IEnumerable<(MapSet, string)> ByToken(List<(MapSet Set, string Folder, string Key, string? Variant)> sets)
    {
        foreach (var (set, folder, _, _) in sets)
        {
            var variants = set.Maps.Select(m => m.Variant).OfType<string>().Distinct().OrderBy(v => v, StringComparer.Ordinal).ToList();
            if (variants.Count < 2)
                yield return (set, folder);
            else
                foreach (var variant in variants)
                    yield return (
                        set with
                        {
                            Name = $"{set.Name}_{variant}",
                            Maps = [.. set.Maps.Where(m => m.Variant is null || m.Variant == variant)],
                        },
                        folder
                    );
        }
    }
}
