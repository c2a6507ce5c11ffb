using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Kiln.Looks.Readings;

namespace Kiln.Intake.Sets;

/// <summary>Which word for the reflection a file's name uses. Two files of one surface that use both make two statements.</summary>
[JsonConverter(typeof(CamelCaseEnum<ReflectionWord>))]
public enum ReflectionWord
{
    Reflection,
    Specular,
}

/// <summary>What a person may say of a surface that has a picture named reflection and one named specular.</summary>
[JsonConverter(typeof(CamelCaseEnum<ReflectionMeaning>))]
public enum ReflectionMeaning
{
    ReflectionIsTheAmount,
    ReflectionIsTheColour,

    /// <summary>Two layers: the specular picture belongs to the surface, the reflection picture to a coat over it.</summary>
    ReflectionIsTheCoat,
    OnlyTheReflection,
    OnlyTheSpecular,
}

/// <summary>The two pictures of one surface, by their paths.</summary>
public sealed record ReflectionPair(string Set, string Reflection, string Specular);

/// <summary>
/// A surface with a picture named reflection and another named specular: an amount and a colour, or two layers. Neither is a spare of the
/// other, so the one
/// that was chosen asks, and one question stands for all such surfaces of a delivery. Common practice, no source: the trade uses both words
/// for either.
/// </summary>
public static class TwoReflections
{
    private const float Asked = 0.6f;

    /// <summary>The word that a phrase of a name uses for the reflection; null where its role is none of it.</summary>
    public static ReflectionWord? WordOf(string phrase, MapRole role) =>
        role is not (MapRole.SpecularColor or MapRole.SpecularLevel) ? null
        : phrase.StartsWith("refl", StringComparison.Ordinal) ? ReflectionWord.Reflection
        : ReflectionWord.Specular;

    /// <summary>Makes the chosen one of two statements ask, and says of the other what it is.</summary>
    internal static void Ask(List<PlacedMap> maps, List<Alternate> alternates)
    {
        for (var m = 0; m < maps.Count; m++)
        {
            var map = maps[m];
            var other = map.ReflectionWord is null
                ? -1
                : alternates.FindIndex(a =>
                    a.InsteadOf == map.Path && a.Map.Role == map.Role && a.Map.ReflectionWord is { } word && word != map.ReflectionWord
                );
            if (other < 0)
                continue;
            var rival = alternates[other].Map;
            maps[m] = map with
            {
                Confidence = Math.Min(map.Confidence, Asked),
                BesideReflection = rival.Path,
                Evidence = map.Evidence.Add($"'{Name(rival.Path)}' says something of the reflection too: please say what each of them is"),
            };
            alternates[other] = new(
                rival with
                {
                    BesideReflection = map.Path,
                },
                map.Path,
                "a second statement about the reflection, no spare of the chosen one: please say what each of them is"
            );
        }
    }

    /// <summary>The pictures that wait for the answer, surface by surface.</summary>
    public static ImmutableArray<ReflectionPair> Pairs(IEnumerable<MapSet> sets) =>
        [
            .. sets.SelectMany(s =>
                s.Maps.Where(m => m is { Asks: true, BesideReflection: not null })
                    .Take(1)
                    .Select(m =>
                        m.ReflectionWord == ReflectionWord.Reflection
                            ? new ReflectionPair(s.Name, m.Path, m.BesideReflection!)
                            : new ReflectionPair(s.Name, m.BesideReflection!, m.Path)
                    )
            ),
        ];

    /// <summary>The surface with both pictures as a person says they are.</summary>
    /// <param name="placed">A map in a role, by its usual reading there.</param>
    public static MapSet Settle(MapSet set, ReflectionMeaning meaning, Func<PlacedMap, MapRole, PlacedMap> placed)
    {
        (MapRole? reflection, MapRole? specular) = meaning switch
        {
            ReflectionMeaning.ReflectionIsTheAmount => (MapRole.SpecularLevel, MapRole.SpecularColor),
            ReflectionMeaning.ReflectionIsTheColour => (MapRole.SpecularColor, MapRole.SpecularLevel),
            ReflectionMeaning.ReflectionIsTheCoat => (MapRole.Coat, null),
            _ => ((MapRole?)null, (MapRole?)null),
        };
        var left = meaning switch
        {
            ReflectionMeaning.OnlyTheReflection => ReflectionWord.Specular,
            ReflectionMeaning.OnlyTheSpecular => ReflectionWord.Reflection,
            _ => (ReflectionWord?)null,
        };
        PlacedMap Settled(PlacedMap map)
        {
            if (map.ReflectionWord is not { } word || map.Role is not (MapRole.SpecularColor or MapRole.SpecularLevel))
                return map;
            var role = (word == ReflectionWord.Reflection ? reflection : specular) ?? map.Role;
            return placed(map, role) with
            {
                Confidence = 1,
                ReflectionWord = null,
                BesideReflection = null,
                AmbiguousPhrase = null,
                Evidence = [$"a person said that it is the {role.Label()}", .. map.Evidence],
            };
        }
        var all = set.Maps.Concat(set.Alternates.Select(a => a.Map)).ToList();
        var spare = all.Where(m => left is not null && m.ReflectionWord == left).ToList();
        var chosen = AlternateChoice.Choose(set with { Maps = [.. all.Except(spare).Select(Settled)], Alternates = [] });
        var kept = chosen.Maps.FirstOrDefault(m => m.Role is MapRole.SpecularColor or MapRole.SpecularLevel)?.Path ?? chosen.Maps[0].Path;
        return chosen with
        {
            Alternates =
            [
                .. chosen.Alternates,
                .. spare.Select(m => new Alternate(Settled(m), kept, "a person said that the other one says it all")),
            ],
        };
    }

    private static string Name(string path) => path[(path.LastIndexOf('/') + 1)..];
}
