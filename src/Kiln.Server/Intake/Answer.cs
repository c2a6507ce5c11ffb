using Kiln.Looks.Intake;
using Kiln.Looks.Readings;
using Kiln.Pixels;

namespace Kiln.Server.Intake;

/// <summary>A person says what an ambiguous word means: for every file that was asked about, at once; to be remembered as a rule or not.</summary>
public sealed record Answer(string Phrase, MapRole Role, bool Remember)
{
    /// <exception cref="DeliveryException">Nothing is asked about this phrase.</exception>
    public IntakeResult Apply(IntakeResult result)
    {
        if (!result.Questions.Any(q => q.Phrase == Phrase))
            throw new DeliveryException($"Nothing is asked about “{Phrase}” any more; somebody else may have answered.");
        return result with
        {
            Sets = [.. result.Sets.Select(s => AlternateChoice.Choose(s with { Maps = [.. s.Maps.Select(Settled), .. s.Alternates.Select(a => Settled(a.Map))], Alternates = [] }))],
            Questions = [.. result.Questions.Where(q => q.Phrase != Phrase)],
        };
    }

    private PlacedMap Settled(PlacedMap map)
    {
        if (map.AmbiguousPhrase != Phrase || !map.Asks)
            return map;
        var reading = Correction.ReadingFor(map, Role, null);
        return map with { Role = Role, Channel = reading.Channel, Reading = reading, Confidence = 1, Evidence = [$"a person said that “{Phrase}” means {Role.Words()}", .. map.Evidence] };
    }
}
