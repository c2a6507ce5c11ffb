using Kiln.Looks.Document;
using Kiln.Looks.Edits;
using Kiln.Looks.Maps;
using Kiln.Looks.Steps.Kinds;

namespace Kiln.Analysis.Findings.Rules;

/// <summary>Maps of one surface that lie differently.</summary>
internal static class PlacementRules
{
    public static IEnumerable<Finding> Of(FindingContext c)
    {
        var baseLayer = c.Mapped.Where(m => m.Input is not null && m.Address.Layer is null).ToList();
        var own = baseLayer.Where(m => Own(m) is { } placement && placement != c.Look.Placement).ToList();
        // All alike is a decision; one among several is an oversight.
        if (own.Count == 0 || own.Count == baseLayer.Count)
            yield break;
        foreach (var m in own)
            yield return new(
                "place.differs",
                Severity.Advice,
                m.Address.Text,
                $"{m.Label} lies differently from the other maps of this surface.",
                $"{own.Count} of {baseLayer.Count} lanes have a placement of their own",
                "let it lie as the others do",
                m.WithSteps(m.Chain.Steps.Where(s => s is not PlaceStep))
            );
    }

    private static Placement? Own(MappedLane m) => m.Chain.Steps.OfType<PlaceStep>().LastOrDefault(s => !s.Bypassed)?.Placement;
}
