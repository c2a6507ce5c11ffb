using Kiln.Intake;
using Kiln.Intake.Listing;
using Kiln.Intake.Sets;
using Kiln.Looks.Readings;

namespace Kiln.Server.Intake;

/// <summary>
/// A person says what an ambiguous word means: for every file that was asked about, at once; to be remembered as a rule or not.
/// </summary>
public sealed record Answer(string Phrase, MapRole Role, bool Remember)
{
    /// <exception cref="DeliveryException">Nothing is asked about this phrase.</exception>
    public IntakeResult Apply(IntakeResult result)
    {
        if (!result.Questions.Any(q => q.Phrase == Phrase))
            throw new DeliveryException($"Nothing is asked about “{Phrase}” any more; somebody else may have answered.");
        return result with
        {
            Sets =
            [
                .. result.Sets.Select(s =>
                    AlternateChoice.Choose(
                        s with
                        {
                            Maps = [.. s.Maps.Select(Settled), .. s.Alternates.Select(a => Settled(a.Map))],
                            Alternates = [],
                        }
                    )
                ),
            ],
            Questions = [.. result.Questions.Where(q => q.Phrase != Phrase)],
        };
    }

    private PlacedMap Settled(PlacedMap map)
    {
        if (map.AmbiguousPhrase != Phrase || !map.Asks || map.BesideReflection is not null)
            return map;
        var reading = Correction.ReadingFor(map, Role, null);
        return map with
        {
            Role = Role,
            Channel = reading.Channel,
            Reading = reading,
            Confidence = 1,
            Evidence = [$"a person said that “{Phrase}” means {Role.Label()}", .. map.Evidence],
        };
    }
}

/// <summary>A person says what the reflection and the specular pictures are, for every surface that has both.</summary>
public sealed record ReflectionAnswer(ReflectionMeaning Meaning)
{
    /// <exception cref="DeliveryException">No surface waits for it.</exception>
    public IntakeResult Apply(IntakeResult result)
    {
        if (result.ReflectionPairs.IsDefaultOrEmpty)
            throw new DeliveryException(
                "No surface waits to be told what its reflection and specular pictures are; somebody else may have answered."
            );
        var waiting = result.ReflectionPairs.Select(p => p.Set).ToHashSet();
        static PlacedMap Placed(PlacedMap map, MapRole role)
        {
            var reading = Correction.ReadingFor(map, role, null);
            return map with { Role = role, Channel = reading.Channel, Reading = reading };
        }
        return result with
        {
            Sets = [.. result.Sets.Select(s => waiting.Contains(s.Name) ? TwoReflections.Settle(s, Meaning, Placed) : s)],
            ReflectionPairs = [],
        };
    }
}
