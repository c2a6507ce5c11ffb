using Kiln.Looks.Document;
using Kiln.Looks.Readings;
using Kiln.Looks.Steps;
using Kiln.Looks.Steps.Table;

namespace Kiln.Looks.Edits;

/// <summary>
/// Lanes and steps of one look for another. What they read is the other look's own map of the same role, or the file that comes along;
/// sources come along with what they read.
/// The edit is one line in the history and one undo.
/// </summary>
public static class LaneCopying
{
    /// <param name="lanes">Inputs and sources (<c>source:NAME</c>) of <paramref name="from"/>.</param>
    /// <param name="ownMaps">Whether the maps of <paramref name="into"/> are read where it has one of the role; otherwise the files come
    /// along.</param>
    /// <exception cref="LookException">There is no such lane, or it is a cover's.</exception>
    public static LookEdit Lanes(Look into, Look from, IReadOnlyList<LaneAddress> lanes, bool ownMaps)
    {
        if (lanes.Count == 0)
            throw new LookException("Choose at least one lane.");
        var carrier = new Carrier(into, from, ownMaps);
        var edits = new List<LookEdit>();
        foreach (var address in lanes.Distinct())
        {
            if (address is { Layer: not null } or { Side: not null })
                throw new LookException("Lanes of the base layer and sources are copied; add the look as a layer to copy layers.");
            var lane = from.LaneAt(address) ?? throw new LookException($"{from.Name} has no {address.Label}.");
            if (address.Source is { } source)
                carrier.Source(source);
            else
                edits.Add(new LaneEdit(address, carrier.Lane(lane)));
        }
        return new BatchEdit($"{string.Join(", ", lanes.Select(l => l.Label))} taken from {from.Name}", [.. carrier.Needed, .. edits]);
    }

    /// <summary>One step at the end of a lane, with all that its other inputs read.</summary>
    /// <exception cref="LookException">The lane has no chain in one of the two looks, or no such step.</exception>
    public static LookEdit Step(Look into, Look from, LaneAddress address, string stepId, bool ownMaps)
    {
        var step = from.LaneAt(address)?.Chain?.Steps.FirstOrDefault(s => s.Id == stepId)
            ?? throw new LookException($"{from.Name} has no such step in {address.Label}.");
        var chain = into.LaneAt(address)?.Chain
            ?? throw new LookException($"{into.Name} has nothing connected to {address.Label}; a step needs something before it.");
        var carrier = new Carrier(into, from, ownMaps);
        var carried = carrier.Step(step) with { Id = FreeNames.Step(chain) };
        return new BatchEdit(
            $"{step.Entry.Label} of {address.Label} taken from {from.Name}",
            [.. carrier.Needed, new StepInsertEdit(address, chain.Steps.Length, carried)]
        );
    }

    /// <summary>Rewrites chains so that they read what the other look has, and collects what must be put there first.</summary>
    private sealed class Carrier(Look into, Look from, bool ownMaps)
    {
        private readonly Dictionary<string, string> slots = [],
            sources = [];

        public List<LookEdit> Needed { get; } = [];

        public Lane Lane(Lane lane) => lane.Chain is { } chain ? lane with { Chain = Chain(chain) } : lane;

        public Step Step(Step step) =>
            StepSides.Names(step).Aggregate(step, (s, side) => StepSides.With(s, side, Lane(StepSides.Get(s, side))));

        /// <summary>The name that a source has in the other look.</summary>
        public string Source(string name)
        {
            if (sources.TryGetValue(name, out var known))
                return known;
            if (!from.Sources.TryGetValue(name, out var lane))
                throw new LookException($"{from.Name} has no source '{name}'.");
            var carried = Lane(lane);
            // The same source came earlier: it need not come again.
            if (into.Sources.TryGetValue(name, out var there) && there.Equals(carried))
                return sources[name] = name;
            var free = FreeNames.Of(FreeNames.ShortSource(name), n => into.Sources.ContainsKey(n) || sources.ContainsValue(n));
            Needed.Add(new LaneEdit(LaneAddress.OfSource(free), carried));
            return sources[name] = free;
        }

        private Chain Chain(Chain chain) => new(Origin(chain.Origin), [.. chain.Steps.Select(Step)]);

        private Origin Origin(Origin origin) =>
            origin switch
            {
                SlotOrigin slot => Slot(slot),
                SourceOrigin source => new SourceOrigin(Source(source.Source)),
                _ => origin,
            };

        private SlotOrigin Slot(SlotOrigin origin)
        {
            var slot = from.Slots[origin.Slot];
            if (
                ownMaps
                && into.Slots.Where(s => s.Value.Role == slot.Role).Select(s => s.Key).Order(StringComparer.Ordinal).FirstOrDefault()
                    is { } own
            )
                return new(own, AsThere(own, origin.Reading));
            if (slots.TryGetValue(origin.Slot, out var known))
                return origin with { Slot = known };
            if (into.Slots.FirstOrDefault(s => s.Value.Role == slot.Role && s.Value.File.Equals(slot.File)).Key is { } same)
                return origin with { Slot = slots[origin.Slot] = same };
            var free = FreeNames.Of(origin.Slot, n => into.Slots.ContainsKey(n) || slots.ContainsValue(n));
            Needed.Add(new SlotEdit(free, slot));
            return origin with { Slot = slots[origin.Slot] = free };
        }

        /// <summary>
        /// How the other look reads that file already, where it does; another file may be in another space, or have its green turned.
        /// </summary>
        private Reading AsThere(string own, Reading wanted)
        {
            if (LookReadings.OfSlot(into, own).FirstOrDefault(r => r.Kind == wanted.Kind) is { } known)
                return known with
                {
                    Channel = wanted.Kind == ReadingKind.Scalar && known.Channel is MapChannel.Luminance ? wanted.Channel : known.Channel,
                };
            var file = into.Slots[own].File;
            return wanted with
            {
                Space = UsualReading.Space(wanted.Kind, file.IsFloat, file.EmbeddedColour),
                NormalY = null,
                Authority = ReadingAuthority.Role,
                Reason = "as files of this kind are usually read; the lane was taken from another look",
            };
        }
    }
}
