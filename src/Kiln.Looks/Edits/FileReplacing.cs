using System.Collections.Immutable;
using Kiln.Looks.Document;
using Kiln.Looks.Maps;
using Kiln.Looks.Readings;
using Kiln.Pixels;

namespace Kiln.Looks.Edits;

/// <summary>One file in the place of another, wherever a look uses it.</summary>
public static class FileReplacing
{
    /// <exception cref="LookException">The look does not use the file, or reads of it what the other does not have.</exception>
    public static LookEdit In(Look look, ContentHash content, MapFile by)
    {
        var edits = new List<LookEdit>();
        var before = "";
        foreach (var (name, slot) in look.Slots.Where(s => s.Value.File.Contents.Contains(content)))
        {
            if (!by.Channels.Contains("A") && LookReadings.OfSlot(look, name).Any(r => r.Channel == MapChannel.A))
                throw new LookException($"{by.Name} has no alpha channel, which is read of the {name} map.");
            before = slot.File.Name;
            edits.Add(
                new SlotEdit(
                    name,
                    slot with
                    {
                        File = by,
                        Candidates = slot.Candidates.Any(c => c.Equals(by)) ? slot.Candidates : slot.Candidates.Add(by),
                    }
                )
            );
        }
        if (look.Variants.Any(v => v.Maps.Values.Any(f => f.Contents.Contains(content))))
            edits.Add(
                new VariantsEdit([
                    .. look.Variants.Select(v =>
                        v with
                        {
                            Maps = v.Maps.ToImmutableSortedDictionary(m => m.Key, m => m.Value.Contents.Contains(content) ? by : m.Value),
                        }
                    ),
                ])
            );
        if (edits.Count == 0)
            throw new LookException("It does not use that file any more.");
        return new BatchEdit($"{by.Name} in the place of {(before.Length > 0 ? before : "a variant's map")}", [.. edits]);
    }
}
