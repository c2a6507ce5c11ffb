using Kiln.Looks.Readings;

namespace Kiln.Intake.Sets;

/// <summary>
/// Chooses one file per role (and tile) and keeps the rest as alternates, with the reason: one resolution for all, then level of detail,
/// then bits and losslessness as the role needs them, Y up, metal/rough before specular/gloss when both are complete. What a person said
/// comes before what is certain, and that before what was guessed.
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
                .OrderByDescending(Sureness)
                .ThenBy(m => Longest(m) == size ? 0 : 1)
                .ThenBy(m => m.Level ?? 0)
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

    /// <summary>The role that says the same in the other way of describing a surface; null where there is none.</summary>
    public static MapRole? OtherWay(MapRole role) =>
        role switch
        {
            MapRole.Roughness => MapRole.Glossiness,
            MapRole.Glossiness => MapRole.Roughness,
            MapRole.SpecularColor or MapRole.SpecularLevel => MapRole.Metalness,
            _ => null,
        };

    /// <summary>2: a person placed it, 1: placed unasked, 0: the program asks.</summary>
    private static int Sureness(PlacedMap map) =>
        map.Reading.Authority == ReadingAuthority.Person ? 2
        : map.Asks ? 0
        : 1;

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
            _ => (lossy ? 0 : 3) + (map.Channel == MapChannel.Luminance ? 1 : 0),
        };
    }

    /// <summary>
    /// Of two ways to say one thing the metal/rough one is used, except where it is less certain than the other: a guess never hides a
    /// map that says what it is.
    /// </summary>
    private static void Workflow(List<PlacedMap> maps, List<Alternate> alternates)
    {
        List<PlacedMap> Of(MapRole role) => [.. maps.Where(m => m.Role == role)];
        void Move(List<PlacedMap> moved, PlacedMap instead, string reason)
        {
            foreach (var map in moved)
            {
                maps.Remove(map);
                alternates.Add(new(map, instead.Path, reason));
            }
        }
        void Decide(MapRole role, MapRole other, string reason)
        {
            if (Of(role) is not [var kept, ..] || Of(other) is not [var rival, ..])
                return;
            if (Sureness(rival) > Sureness(kept))
                Move(Of(role), rival, $"guessed to be {role.Label()}, where '{Name(rival)}' says that it is {other.Label()}");
            else
                Move(Of(other), kept, reason);
        }
        Decide(MapRole.Roughness, MapRole.Glossiness, "glossiness beside roughness; the set has both ways");
        if (Of(MapRole.Roughness).Count + Of(MapRole.Glossiness).Count == 0)
            return;
        foreach (var specular in (MapRole[])[MapRole.SpecularColor, MapRole.SpecularLevel])
            Decide(
                MapRole.Metalness,
                specular,
                "specular beside metalness; metal/rough comes before specular/gloss when both are complete"
            );
    }

    private static string Name(PlacedMap map) => map.Path[(map.Path.LastIndexOf('/') + 1)..];

    private static string Reason(PlacedMap map, PlacedMap chosen)
    {
        if (Sureness(map) < Sureness(chosen))
            return chosen.Reading.Authority == ReadingAuthority.Person
                ? "another one was chosen by a person"
                : $"less certain to be {map.Role.Label()} than the chosen one";
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
