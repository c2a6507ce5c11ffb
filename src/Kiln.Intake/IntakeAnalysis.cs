using System.Collections.Concurrent;
using System.Collections.Immutable;
using Kiln.Colour.Configs;
using Kiln.Intake.Content;
using Kiln.Intake.Listing;
using Kiln.Intake.Naming;
using Kiln.Intake.Sets;
using Kiln.Looks.Maps;
using Kiln.Looks.Readings;
using Kiln.Pixels;
using Kiln.Pixels.Decoding;
using Kiln.Pixels.Decoding.Headers;

namespace Kiln.Intake;

/// <summary>
/// From the files of a delivery to map sets: facts from headers, claims from names, evidence from pixels, then sets and choices.
/// </summary>
public sealed class IntakeAnalysis(
    IPictureDecoder decoder,
    NamingTables? tables = null,
    DecodeLimits? limits = null,
    ConfigNames? config = null
)
{
    private const int EvidenceSize = 256;

    /// <summary>Copies of relief maps kept until their sets are known; beyond this they are decoded again.</summary>
    private const long KeptCopyBytes = 192L << 20;

    private readonly NamingTables tables = tables ?? NamingTables.Shipped;
    private readonly DecodeLimits limits = limits ?? DecodeLimits.Default;

    /// <summary>What looking at the pixels gave, by path.</summary>
    private sealed class Looks
    {
        public ConcurrentDictionary<string, ContentEvidence> Evidence { get; } = new();

        public ConcurrentDictionary<string, DirectionMeasurement> Directions { get; } = new();

        public ConcurrentDictionary<string, ImageBuffer> Reliefs { get; } = new();

        public long KeptBytes;
    }

    /// <param name="deliveryName">Names surfaces whose files and folders say nothing.</param>
    public async Task<IntakeResult> RunAsync(
        DeliveryListing listing,
        string deliveryName,
        IProgress<IntakeProgress>? progress = null,
        CancellationToken cancel = default
    )
    {
        var rejected = listing.Rejected.Select(r => new RejectedFile(r.Path, r.Reason)).ToList();
        var setAside = listing.SetAside.Select(s => new LooseFile(s.Path, s.Reason)).ToList();
        var models = new List<string>();
        var pictures = Facts(listing.Files, rejected, setAside, models);
        var looks = await LookAsync(pictures, rejected, progress, cancel);
        var analysed = pictures
            .Where(p => looks.Evidence.ContainsKey(p.File.Path))
            .Select(p =>
                p with
                {
                    Evidence = looks.Evidence[p.File.Path],
                    Map = p.Map with
                    {
                        EqualChannels = looks.Evidence[p.File.Path].Chroma < 1e-3f,
                        Likeness = looks.Evidence[p.File.Path].Likeness.ToString("x16", System.Globalization.CultureInfo.InvariantCulture),
                    },
                }
            )
            .ToList();
        var sets = new SetGrouping(tables, deliveryName, looks.Reliefs).Group(analysed, out var unsorted, setAside);
        progress?.Report(new("measuring normal directions", 0, sets.Count));
        var local = listing.Files.ToDictionary(f => f.Path, f => f.LocalPath);
        var measured = new List<MapSet>();
        foreach (var set in sets)
        {
            cancel.ThrowIfCancellationRequested();
            measured.Add(AlternateChoice.Choose(await DirectionsAsync(set, local, looks, cancel)));
            progress?.Report(new("measuring normal directions", measured.Count, sets.Count));
        }
        return new(
            [.. measured.OrderBy(s => s.Name, StringComparer.Ordinal)],
            [.. unsorted.OrderBy(u => u.Path, StringComparer.Ordinal)],
            [.. setAside.OrderBy(s => s.Path, StringComparer.Ordinal)],
            [.. rejected.OrderBy(r => r.Path, StringComparer.Ordinal)]
        )
        {
            Questions = Questions(measured),
            ReflectionPairs = TwoReflections.Pairs(measured),
            Models = [.. models.Order(StringComparer.Ordinal)],
        };
    }

    /// <summary>One question for all files that use the same ambiguous words.</summary>
    private static ImmutableArray<IntakeQuestion> Questions(IEnumerable<MapSet> sets) =>
        [
            .. sets.SelectMany(s => s.Maps)
                .Where(m => m.Asks && m.AmbiguousPhrase is not null && m.BesideReflection is null)
                .GroupBy(m => m.AmbiguousPhrase!)
                .OrderBy(g => g.Key, StringComparer.Ordinal)
                .Select(g => new IntakeQuestion(
                    g.Key,
                    [.. g.SelectMany(m => m.AmbiguousRoles).Distinct()],
                    [.. g.Select(m => m.Path).Distinct().Order(StringComparer.Ordinal)]
                )),
        ];

    private List<DeliveredPicture> Facts(
        IEnumerable<DeliveredFile> files,
        List<RejectedFile> rejected,
        List<LooseFile> setAside,
        List<string> models
    )
    {
        var pictures = new List<DeliveredPicture>();
        foreach (var file in files)
        {
            var extension = Path.GetExtension(file.Path);
            var stem = Path.GetFileNameWithoutExtension(file.Path).ToLowerInvariant();
            if (tables.ModelExtensions.Contains(extension))
            {
                models.Add(file.Path);
                setAside.Add(new(file.Path, "a model file, kept with the delivery"));
            }
            else if (tables.NoteExtensions.Contains(extension) || tables.NoteNames.Contains(stem))
                setAside.Add(new(file.Path, "a readme, licence or note"));
            else
                try
                {
                    using var stream = File.OpenRead(file.LocalPath);
                    var facts = HeaderReader.Read(stream, limits);
                    pictures.Add(
                        new(
                            file,
                            facts,
                            MapFile.Of(file.Content, file.Path[(file.Path.LastIndexOf('/') + 1)..], facts),
                            NameReading.Of(file.Path, tables),
                            null!
                        )
                        {
                            Claim = ConfigClaim.Of(config, file.Path),
                        }
                    );
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

    /// <summary>
    /// Every picture is decoded once: evidence of its kind, the curl of a normal map, and a small copy of what may be relief.
    /// </summary>
    private async Task<Looks> LookAsync(
        List<DeliveredPicture> pictures,
        List<RejectedFile> rejected,
        IProgress<IntakeProgress>? progress,
        CancellationToken cancel
    )
    {
        var looks = new Looks();
        // A picture that came twice is looked at once.
        var distinct = pictures.GroupBy(p => p.File.Content).Select(g => g.ToList()).ToList();
        var done = 0;
        var gate = new Lock();
        progress?.Report(new("looking at pictures", 0, pictures.Count));
        await Parallel.ForEachAsync(
            distinct,
            new ParallelOptions { CancellationToken = cancel, MaxDegreeOfParallelism = Math.Max(2, Environment.ProcessorCount) + 2 },
            async (same, token) =>
            {
                try
                {
                    // Only what may be a normal map is measured at the finer size.
                    var fine = same.Any(p =>
                        p.Name.Candidates.Count == 0
                        || p.Name.Candidates.Any(c => c.Claim.Packed is null && c.Claim.Roles.Any(r => r is MapRole.Normal or MapRole.Bump))
                    );
                    var (copy, probe) = await decoder.ExamineAsync(
                        same[0].File.LocalPath,
                        fine ? NormalDirection.CopySize : EvidenceSize,
                        token
                    );
                    foreach (var picture in same)
                        Remember(looks, picture, copy, probe);
                }
                catch (PictureException e)
                {
                    lock (gate)
                        rejected.AddRange(same.Select(p => new RejectedFile(p.File.Path, e.Message)));
                }
                lock (gate)
                    progress?.Report(new("looking at pictures", done += same.Count, pictures.Count));
            }
        );
        return looks;
    }

    private static void Remember(Looks looks, DeliveredPicture picture, ImageBuffer copy, PictureProbe probe)
    {
        var path = picture.File.Path;
        var small = Resample.ToFit(copy, EvidenceSize, copy.Type);
        var evidence = looks.Evidence[path] = ContentEvidence.Of(small, probe);
        var named = picture.Name.Candidates;
        if (evidence.IsNormal || named.Any(c => c.Claim.Roles.Contains(MapRole.Normal)) && small.ChannelCount >= 2)
            looks.Directions[path] = NormalDirection.ByCurl(copy);
        else if (!evidence.IsGrey || named.Count > 0 && !named.Any(c => c.Claim.Roles.Any(r => r is MapRole.Height or MapRole.Bump)))
            return;
        if (Interlocked.Add(ref looks.KeptBytes, small.Data.Length) <= KeptCopyBytes)
            looks.Reliefs[path] = small;
    }

    private async Task<MapSet> DirectionsAsync(MapSet set, Dictionary<string, string> local, Looks looks, CancellationToken cancel)
    {
        if (set.Maps.All(m => m.Role != MapRole.Normal))
            return set;
        async Task<ImageBuffer> CopyAsync(PlacedMap map) =>
            looks.Reliefs.TryGetValue(map.Path, out var kept) ? kept : await decoder.DecodeAsync(local[map.Path], EvidenceSize, cancel);
        var maps = new List<PlacedMap>();
        foreach (var map in set.Maps)
            if (map.Role != MapRole.Normal)
                maps.Add(map);
            else
            {
                var relief = set
                    .Maps.Where(m => m.Role is MapRole.Height or MapRole.Bump && m.Udim == map.Udim && m.Channel == MapChannel.Luminance)
                    .OrderBy(m => m.Role == MapRole.Height ? 0 : 1)
                    .FirstOrDefault();
                var byHeight = relief is null ? null : NormalDirection.ByHeight(await CopyAsync(map), await CopyAsync(relief));
                maps.Add(
                    WithDirection(map, byHeight ?? (looks.Directions.TryGetValue(map.Path, out var curl) ? curl : new(null, 1, 0, null)))
                );
            }
        return set with { Maps = [.. maps] };
    }

    /// <summary>
    /// The pixels outweigh the name; where they say nothing the name counts; where both are silent the direction stays open.
    /// </summary>
    private static PlacedMap WithDirection(PlacedMap map, DirectionMeasurement measured)
    {
        var named = map.NormalY;
        var direction = measured.Direction ?? named;
        float? confidence = measured.Direction is null
            ? named is null
                ? null
                : 0.85f
            : named is null || named == measured.Direction
                ? 0.98f
                : 0.95f;
        var contradiction =
            named is not null && measured.Direction is not null && named != measured.Direction
                ? $"; the name says Y {named.ToString()!.ToLowerInvariant()}, the pixels are believed"
            : named is not null && measured.Direction is null ? $"; the name says Y {named.ToString()!.ToLowerInvariant()}"
            : "";
        var sentence = measured.Sentence + contradiction;
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
public sealed record DeliveredPicture(DeliveredFile File, PictureFacts Facts, MapFile Map, NameReading Name, ContentEvidence? Evidence)
{
    /// <summary>What the studio's colour config says by the file's name.</summary>
    public ConfigClaim? Claim { get; init; }
}
