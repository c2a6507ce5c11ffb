using Kiln.Looks.Readings;

namespace Kiln.Looks.Document;

/// <summary>Every reading that a look takes of its maps, side chains and masks included.</summary>
public static class LookReadings
{
    public static IEnumerable<Reading> Of(Look look) => look.Lanes.Values.Concat(look.Sources.Values).Concat(look.Covers.SelectMany(c => c.Lanes.Values.Append(c.Mask))).Select(l => l.Chain).OfType<Chain>().SelectMany(Of);

    private static IEnumerable<Reading> Of(Chain chain)
    {
        if (chain.Origin is SlotOrigin slot)
            yield return slot.Reading;
        foreach (var reading in chain.Steps.SelectMany(StepSides.Chains).SelectMany(Of))
            yield return reading;
    }
}
