using System.Collections.Immutable;
using Kiln.Looks.Document;
using Kiln.Looks.Readings;
using Kiln.Pixels;
using Kiln.Pixels.Decoding;

namespace Kiln.Looks.Intake;

/// <summary>From the files of a delivery to map sets: facts from headers, claims from names, evidence from pixels, then sets and choices.</summary>
public sealed class IntakeAnalysis(IPictureDecoder decoder, NamingTables? tables = null, DecodeLimits? limits = null)
{
    private const int EvidenceSize = 256;
    private readonly NamingTables tables = tables ?? NamingTables.Shipped;
    private readonly DecodeLimits limits = limits ?? DecodeLimits.Default;

    /// <param name="deliveryName">Names surfaces whose files and folders say nothing.</param>
    public async Task<IntakeResult> RunAsync(DeliveryListing listing, string deliveryName, IProgress<IntakeProgress>? progress = null, CancellationToken cancel = default)
    {
        var rejected = listing.Rejected.Select(r => new RejectedFile(r.Path, r.Reason)).ToList();
        var setAside = listing.SetAside.Select(s => new LooseFile(s.Path, s.Reason)).ToList();
        var pictures = Facts(listing.Files, rejected, setAside);
        var evidence = await EvidenceAsync(pictures, rejected, progress, cancel);
        var analysed = pictures.Where(p => evidence.ContainsKey(p.File.Path)).Select(p => p with { Evidence = evidence[p.File.Path], Map = p.Map with { EqualChannels = evidence[p.File.Path].Chroma < 1e-3f } }).ToList();
        var sets = new SetGrouping(tables, deliveryName).Group(analysed, out var unsorted, setAside);
        progress?.Report(new("measuring normal directions", 0, sets.Count));
        var measured = new List<MapSet>();
        foreach (var set in sets)
        {
            cancel.ThrowIfCancellationRequested();
            measured.Add(AlternateChoice.Choose(await DirectionsAsync(set, listing.Files, cancel)));
            progress?.Report(new("measuring normal directions", measured.Count, sets.Count));
        }
        return new([.. measured.OrderBy(s => s.Name, StringComparer.Ordinal)], [.. unsorted.OrderBy(u => u.Path, StringComparer.Ordinal)],
            [.. setAside.OrderBy(s => s.Path, StringComparer.Ordinal)], [.. rejected.OrderBy(r => r.Path, StringComparer.Ordinal)]);
    }

    private List<DeliveredPicture> Facts(IEnumerable<DeliveredFile> files, List<RejectedFile> rejected, List<LooseFile> setAside)
    {
        var pictures = new List<DeliveredPicture>();
        foreach (var file in files)
        {
            var extension = Path.GetExtension(file.Path);
            var stem = Path.GetFileNameWithoutExtension(file.Path).ToLowerInvariant();
            if (tables.ModelExtensions.Contains(extension))
                setAside.Add(new(file.Path, "a model file, kept with the delivery"));
            else if (tables.NoteExtensions.Contains(extension) || tables.NoteNames.Contains(stem))
                setAside.Add(new(file.Path, "a readme, licence or note"));
            else
                try
                {
                    using var stream = File.OpenRead(file.LocalPath);
                    var facts = HeaderReader.Read(stream, limits);
                    pictures.Add(new(file, facts, MapFile.Of(file.Content, file.Path[(file.Path.LastIndexOf('/') + 1)..], facts), NameReading.Of(file.Path, tables), null!));
                }
                catch (PictureException e) when (!PictureFormats.Extensions.Contains(extension) && extension.Length > 0 && file.Length > 0)
                {
                    setAside.Add(new(file.Path, "no picture: " + e.Message));
                }
                catch (PictureException e)
                {
                    rejected.Add(new(file.Path, e.Message));
                }
        }
        return pictures;
    }

    private async Task<Dictionary<string, ContentEvidence>> EvidenceAsync(List<DeliveredPicture> pictures, List<RejectedFile> rejected, IProgress<IntakeProgress>? progress, CancellationToken cancel)
    {
        var found = new Dictionary<string, ContentEvidence>();
        var done = 0;
        var gate = new Lock();
        progress?.Report(new("looking at pictures", 0, pictures.Count));
        await Parallel.ForEachAsync(pictures, new ParallelOptions { CancellationToken = cancel, MaxDegreeOfParallelism = Math.Max(2, Environment.ProcessorCount) }, async (picture, token) =>
        {
            try
            {
                var copy = await decoder.DecodeAsync(picture.File.LocalPath, EvidenceSize, token);
                var evidence = ContentEvidence.Of(copy);
                lock (gate)
                    found[picture.File.Path] = evidence;
            }
            catch (PictureException e)
            {
                lock (gate)
                    rejected.Add(new(picture.File.Path, e.Message));
            }
            lock (gate)
                progress?.Report(new("looking at pictures", ++done, pictures.Count));
        });
        return found;
    }

    private async Task<MapSet> DirectionsAsync(MapSet set, List<DeliveredFile> files, CancellationToken cancel)
    {
        if (set.Maps.All(m => m.Role != MapRole.Normal))
            return set;
        string Local(PlacedMap map) => files.First(f => f.Path == map.Path).LocalPath;
        var relief = set.Maps.FirstOrDefault(m => m.Role is MapRole.Height or MapRole.Bump);
        var maps = new List<PlacedMap>();
        foreach (var map in set.Maps)
            if (map.Role != MapRole.Normal)
                maps.Add(map);
            else
            {
                var copy = await decoder.DecodeAsync(Local(map), NormalDirection.CopySize, cancel);
                var height = relief is not null && relief.Udim == map.Udim ? await decoder.DecodeAsync(Local(relief), NormalDirection.CopySize, cancel) : null;
                maps.Add(WithDirection(map, NormalDirection.Measure(copy, height)));
            }
        return set with { Maps = [.. maps] };
    }

    /// <summary>The pixels outweigh the name; where they say nothing the name counts; where both are silent the direction stays open.</summary>
    private static PlacedMap WithDirection(PlacedMap map, DirectionMeasurement measured)
    {
        var named = map.NormalY;
        var direction = measured.Direction ?? named;
        float? confidence = measured.Direction is null ? named is null ? null : 0.85f : named is null || named == measured.Direction ? 0.98f : 0.95f;
        var contradiction = named is not null && measured.Direction is not null && named != measured.Direction
            ? $"; the name says Y {named.ToString()!.ToLowerInvariant()}, the pixels are believed" : named is not null && measured.Direction is null ? $"; the name says Y {named.ToString()!.ToLowerInvariant()}" : "";
        var sentence = measured.Words + contradiction;
        return map with
        {
            NormalY = direction,
            NormalYConfidence = confidence,
            Reading = map.Reading with { NormalY = direction, Reason = map.Reading.Reason + "; " + sentence },
            Evidence = map.Evidence.Add(sentence),
        };
    }
}

/// <summary>A picture of a delivery with all that is known of it before sets are made.</summary>
public sealed record DeliveredPicture(DeliveredFile File, PictureFacts Facts, MapFile Map, NameReading Name, ContentEvidence Evidence);
