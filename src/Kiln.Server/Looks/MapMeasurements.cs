using System.Collections.Concurrent;
using Kiln.Judge.Findings;
using Kiln.Looks.Document;
using Kiln.Looks.Intake;
using Kiln.Looks.Readings;
using Kiln.Pixels;
using Kiln.Pixels.Decoding;
using Kiln.Store;

namespace Kiln.Server.Looks;

/// <summary>Measures of maps by content, made once.</summary>
public sealed class MapMeasurements(IPictureDecoder decoder, ContentStore store)
{
    private readonly ConcurrentDictionary<string, MapMeasurement> kept = new();

    public async Task<IReadOnlyDictionary<string, MapMeasurement>> OfAsync(Look look, CancellationToken cancel)
    {
        foreach (var slot in look.Slots.Values.Where(s => s.Role == MapRole.Normal && !kept.ContainsKey(s.File.Content) && store.Has(s.File.Content)))
            try
            {
                var copy = await decoder.DecodeAsync(store.PathOf(slot.File.Content), NormalDirection.CopySize, cancel);
                kept[slot.File.Content] = new(NormalDirection.Measure(copy), null);
            }
            catch (PictureException)
            {
                kept[slot.File.Content] = new(null, null);
            }
        return kept;
    }
}
