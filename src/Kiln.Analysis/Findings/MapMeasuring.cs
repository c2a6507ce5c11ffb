using System.Collections.Concurrent;
using Kiln.Faults;
using Kiln.Intake.Content;
using Kiln.Looks.Document;
using Kiln.Looks.Evaluation;
using Kiln.Looks.Readings;
using Kiln.Pixels;
using Kiln.Pixels.Decoding;

namespace Kiln.Analysis.Findings;

/// <summary>What makes a measurement, or gives the one that was made: by a key, and never one that failed.</summary>
public delegate Task<MapMeasurement> KeptMeasurement(string key, Func<Task<MapMeasurement>> measure);

/// <summary>Measures the maps of looks, each content once for each thing that it may be measured for.</summary>
/// <param name="kept">Where measurements are kept; null for as long as this lives.</param>
public sealed class MapMeasuring(IPictureDecoder decoder, IContentFiles files, KeptMeasurement? kept = null)
{
    /// <summary>What one measurement takes in memory, about: its levels, its small copy and its slopes.</summary>
    public const int Kilobytes = 64;

    private readonly KeptMeasurement kept = kept ?? new Own().OfAsync;

    /// <summary>
    /// By content; a map that is gone or cannot be read is left out, or known not to be known. A file in several slots is measured for the
    /// one that tells most: a direction before a height before anything else.
    /// </summary>
    public async Task<IReadOnlyDictionary<ContentHash, MapMeasurement>> OfAsync(Look look, CancellationToken cancel = default)
    {
        var slots = look.Slots.Values.OrderBy(s => For(s.Role)).DistinctBy(s => s.File.Content).ToList();
        var measured = await Task.WhenAll(slots.Select(MeasureAsync)).WaitAsync(cancel);
        return slots.Zip(measured).ToDictionary(p => p.First.File.Content, p => p.Second);
    }

    private enum Purpose
    {
        Direction,
        Relief,
        Other,
    }

    private static Purpose For(MapRole role) =>
        role switch
        {
            MapRole.Normal => Purpose.Direction,
            MapRole.Height or MapRole.Bump => Purpose.Relief,
            _ => Purpose.Other,
        };

    private async Task<MapMeasurement> MeasureAsync(Slot slot)
    {
        try
        {
            return await kept($"{slot.File.Content}/{For(slot.Role)}", async () =>
            {
                var path = files.PathOf(slot.File.Content);
                var (copy, probe) = await decoder.ExamineAsync(path, NormalDirection.CopySize, CancellationToken.None);
                return MapMeasurement.Of(copy, probe, slot.Role);
            });
        }
        catch (KilnException)
        {
            // It may be back later.
            return MapMeasurement.Unknown;
        }
    }

    private sealed class Own
    {
        private readonly ConcurrentDictionary<string, Lazy<Task<MapMeasurement>>> kept = new();

        public async Task<MapMeasurement> OfAsync(string key, Func<Task<MapMeasurement>> measure)
        {
            try
            {
                return await kept.GetOrAdd(key, _ => new(() => Task.Run(measure))).Value;
            }
            catch
            {
                kept.TryRemove(key, out _);
                throw;
            }
        }
    }
}
