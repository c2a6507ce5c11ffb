using Kiln.Looks.Readings;
using Kiln.Looks.Steps.Table;

namespace Kiln.Looks.Document;

/// <summary>Every reading that a look takes of its maps, side chains and masks included.</summary>
public static class LookReadings
{
    public static IEnumerable<Reading> Of(Look look) => Origins(look).Select(o => o.Reading);

    /// <summary>Those of one slot.</summary>
    public static IEnumerable<Reading> OfSlot(Look look, string slot) => Origins(look).Where(o => o.Slot == slot).Select(o => o.Reading);

    private static IEnumerable<SlotOrigin> Origins(Look look) =>
        look
            .Lanes.Values.Concat(look.Sources.Values)
            .Concat(look.Layers.SelectMany(c => c.Lanes.Values.Append(c.Mask)))
            .Select(l => l.Chain)
            .OfType<Chain>()
            .SelectMany(Origins);

    private static IEnumerable<SlotOrigin> Origins(Chain chain)
    {
        if (chain.Origin is SlotOrigin slot)
            yield return slot;
        foreach (var origin in chain.Steps.SelectMany(StepSides.Chains).SelectMany(Origins))
            yield return origin;
    }
}
