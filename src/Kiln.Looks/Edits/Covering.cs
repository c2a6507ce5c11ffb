using System.Collections.Immutable;
using Kiln.Looks.Document;
using Kiln.Looks.Maps;
using Kiln.Looks.Steps;
using Kiln.Looks.Steps.Kinds;

namespace Kiln.Looks.Edits;

/// <summary>
/// Lays one look over another: its files, sources and lanes come along under names that are free, as they are now. What changes in that
/// look later does not change the cover.
/// </summary>
public static class Layering
{
    /// <param name="pinned">Where the cover comes from, such as "LOOK@3"; null for a look that is not published.</param>
    /// <exception cref="LookException">The other look has covers of its own, or would not fit.</exception>
    public static BatchEdit Over(Look baseLayer, Look other, string? pinned)
    {
        if (!other.Layers.IsEmpty)
            throw new LookException(
                $"{other.Name} has layers itself; layers are not nested. Add its base layer and its layers one by one."
            );
        var name = FreeNames.Of(other.Name.Length > 50 ? other.Name[..50] : other.Name, n => baseLayer.Layers.Any(c => c.Name == n));
        var slots = other.Slots.Keys.ToDictionary(s => s, s => FreeNames.Of($"{name} {s}", baseLayer.Slots.ContainsKey));
        var sources = other.Sources.Keys.ToDictionary(
            s => s,
            s => FreeNames.Of(FreeNames.ShortSource($"{name} {s}"), baseLayer.Sources.ContainsKey)
        );
        var moved = ChainRewriting.Origins(other, origin => origin switch
            {
                SlotOrigin s => s with { Slot = slots[s.Slot] },
                SourceOrigin s => s with { Source = sources[s.Source] },
                _ => origin,
            });
        Lane Placed(Lane lane) =>
            lane.Chain is { } chain && other.Placement != baseLayer.Placement && !chain.Steps.Any(s => s is PlaceStep)
                ? lane with
                {
                    Chain = chain with { Steps = chain.Steps.Add(new PlaceStep(other.Placement) { Id = FreeNames.Step(chain) }) },
                }
                : lane;
        var lanes = moved
            .Lanes.Where(l => l.Key is not ("occlusion" or "displacement"))
            .ToImmutableSortedDictionary(l => l.Key, l => Placed(l.Value));
        var edits = other
            .Slots.Select(s => (LookEdit)new SlotEdit(slots[s.Key], s.Value))
            .Concat(moved.Sources.Select(s => new LaneEdit(LaneAddress.OfSource(sources[s.Key]), Placed(s.Value))))
            .Append(
                new LayerInsertEdit(baseLayer.Layers.Length, new Layer(name, lanes, new Lane(LookValue.Of(1f)), ReliefRule.Replace, pinned))
            );
        return new($"{other.Name} added as a layer", [.. edits]);
    }
}
