using System.Collections.Concurrent;
using Kiln.Faults;
using Kiln.Intake.Content;
using Kiln.Looks.Document;
using Kiln.Looks.Evaluation;
using Kiln.Pixels;
using Kiln.Pixels.Decoding;

namespace Kiln.Analysis.Findings;

/// <summary>Measures the maps of looks, each content once.</summary>
public sealed class MapMeasuring(IPictureDecoder decoder, IContentFiles files)
{
    private readonly ConcurrentDictionary<ContentHash, Lazy<Task<MapMeasurement>>> kept = new();

    /// <summary>By content; a map that is gone or cannot be read is left out, or known not to be known.</summary>
    public async Task<IReadOnlyDictionary<ContentHash, MapMeasurement>> OfAsync(Look look, CancellationToken cancel = default)
    {
        var slots = look.Slots.Values.DistinctBy(s => s.File.Content).ToList();
        var measured = await Task.WhenAll(
                slots.Select(s =>
                    kept.GetOrAdd(s.File.Content, _ => new(() => Task.Run(() => MeasureAsync(s), CancellationToken.None))).Value
                )
            )
            .WaitAsync(cancel);
        return slots.Zip(measured).ToDictionary(p => p.First.File.Content, p => p.Second);
    }

    private async Task<MapMeasurement> MeasureAsync(Slot slot)
    {
        try
        {
            var (copy, probe) = await decoder.ExamineAsync(
                files.PathOf(slot.File.Content),
                NormalDirection.CopySize,
                CancellationToken.None
            );
            return MapMeasurement.Of(copy, probe, slot.Role);
        }
        catch (KilnException)
        {
            // It may be back later.
            kept.TryRemove(slot.File.Content, out _);
            return MapMeasurement.Unknown;
        }
    }
}
