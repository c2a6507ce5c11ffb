using Kiln.Looks.Readings;

namespace Kiln.Intake.Sets;

/// <summary>
/// Chooses one file per role (and tile) and keeps the rest as alternates, with the reason: one resolution for all, then level of detail,
/// then bits and losslessness as the role needs them, Y up, metal/rough before specular/gloss when both are complete.
/// </summary>
public static class AlternateChoice
{
    public const int Budget = 8192;

    public static MapSet Choose(MapSet set)
    {
        var size = CommonSize(set.Maps);
        var maps = new List<PlacedMap>();
        var alternates = new List<Alternate>();
        foreach (var rivals in set.Maps.GroupBy(m => (m.Role, m.Udim)))
        {
            var ranked = rivals
                .OrderBy(m => Longest(m) == size ? 0 : 1)
                .ThenBy(m => m.Level ?? 0)
                .ThenByDescending(m => m.Confidence >= PlacedMap.Unasked)
                .ThenByDescending(m => m.Version ?? 0)
                .ThenByDescending(Suits)
                .ThenBy(m => m.NormalY == NormalY.Down)
                .ThenByDescending(Longest)
                .ThenBy(m => m.Path, StringComparer.Ordinal)
                .ToList();
            maps.Add(ranked[0]);
            alternates.AddRange(ranked.Skip(1).Select(m => new Alternate(m, ranked[0].Path, Reason(m, ranked[0]))));
        }
        Workflow(maps, alternates);
        TwoReflections.Ask(maps, alternates);
        return set with
        {
            Maps = [.. maps.OrderBy(m => m.Role).ThenBy(m => m.Udim)],
            Alternates = [.. alternates.OrderBy(a => a.Map.Path, StringComparer.Ordinal)],
        };
    }

    /// <summary>The size that most roles have, the greatest within the budget among equals.</summary>
    private static int CommonSize(IEnumerable<PlacedMap> maps) =>
        maps.GroupBy(Longest)
            .OrderByDescending(g => g.Select(m => m.Role).Distinct().Count())
            .ThenBy(g => g.Key > Budget)
            .ThenByDescending(g => g.Key)
            .First()
            .Key;

    /// <summary>How well a file's storage suits its role: relief wants bits, data wants no loss, colour is content with 8 bits.</summary>
    private static int Suits(PlacedMap map)
    {
        var lossy = map.File.Format is "jpeg" or "webp";
        return map.Role switch
        {
            MapRole.Height or MapRole.Bump => (
                map.Float ? 5
                : map.Bits >= 16 ? 4
                : 0
            ) + (lossy ? 0 : 2),
            MapRole.Normal => (map.Bits >= 16 ? 3 : 0) + (lossy ? 0 : 2),
            _ when map.Role.Kind() == ReadingKind.Colour => (map.Bits == 8 ? 1 : 0) + (lossy ? 0 : 1),
            _ => (lossy ? 0 : 3) + (map.Channel == "luminance" ? 1 : 0),
        };
    }

    private static void Workflow(List<PlacedMap> maps, List<Alternate> alternates)
    {
        PlacedMap? Has(MapRole role) => maps.FirstOrDefault(m => m.Role == role);
        void Move(MapRole role, PlacedMap instead, string reason)
        {
            foreach (var map in maps.Where(m => m.Role == role).ToList())
            {
                maps.Remove(map);
                alternates.Add(new(map, instead.Path, reason));
            }
        }
        if (Has(MapRole.Roughness) is { } roughness)
            Move(MapRole.Glossiness, roughness, "glossiness beside roughness; the set has both ways");
        if (Has(MapRole.Metalness) is { } metal && (Has(MapRole.Roughness) ?? Has(MapRole.Glossiness)) is not null)
        {
            Move(MapRole.SpecularColor, metal, "specular beside metalness; metal/rough comes before specular/gloss when both are complete");
            Move(MapRole.SpecularLevel, metal, "specular beside metalness; metal/rough comes before specular/gloss when both are complete");
        }
    }

    private static string Reason(PlacedMap map, PlacedMap chosen)
    {
        if (Longest(map) != Longest(chosen))
            return $"{Longest(map)} px, where the set's maps have {Longest(chosen)} px";
        if ((map.Level ?? 0) != (chosen.Level ?? 0))
            return $"level of detail {map.Level ?? 0}";
        if (map.Bits != chosen.Bits)
            return $"{map.Bits} bit, where {chosen.Bits} bit {(chosen.Bits > map.Bits ? "holds more" : "is enough")}";
        if (map.NormalY != chosen.NormalY)
            return $"Y {map.NormalY?.ToString().ToLowerInvariant() ?? "unknown"}, where the chosen one is Y "
                + $"{chosen.NormalY?.ToString().ToLowerInvariant() ?? "unknown"}";
        return $"{map.File.Format}, where {chosen.File.Format} was chosen";
    }

    private static int Longest(PlacedMap map) => Math.Max(map.Width, map.Height);
}
