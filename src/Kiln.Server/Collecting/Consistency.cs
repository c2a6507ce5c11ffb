using System.Collections.Concurrent;
using System.Security.Cryptography;
using System.Text;
using System.Text.Json;
using Kiln.Analysis.Consistency;
using Kiln.Analysis.Findings;
using Kiln.Dialects.Profiles;
using Kiln.Faults;
using Kiln.Looks.Document;
using Kiln.Looks.Evaluation;
using Kiln.Looks.Ids;
using Kiln.Pixels;
using Kiln.Server.Configs;
using Kiln.Server.Looks;
using Kiln.Server.Platform;
using Kiln.Store.Looks;

namespace Kiln.Server.Collecting;

/// <summary>What was measured of a look; the measures are null where a map of it is gone, and then it is said why.</summary>
/// <param name="Findings">Codes of its findings; null where it was measured before they were kept.</param>
public sealed record MeasuredLook(
    LookMeasures? Measures,
    IReadOnlyList<string> Lossy,
    long Bytes,
    string? Trouble,
    IReadOnlyList<string>? Findings = null
);

/// <summary>
/// Measures looks once for each document and what they stand under, in the background, one after another, with maps as small as a contact
/// sheet needs.
/// </summary>
public sealed class Consistency(
    MeasureRepository measures,
    LookCompilation compilation,
    DialectProfiles profiles,
    StudioMaps maps,
    LookContextRepository spaces,
    ConfigRegistry colour,
    ILogger<Consistency> log
)
{
    private const int Textures = 512,
        Written = 64;

    /// <summary>Raised when more is measured, so that it is measured anew.</summary>
    private const string Edition = "2/";

    private readonly ConcurrentDictionary<string, byte> underWay = new();
    private readonly SemaphoreSlim one = new(1);

    /// <summary>What is known of looks by now; the rest is measured from now on, and how many that are is told.</summary>
    public async Task<(IReadOnlyDictionary<LookId, MeasuredLook> Known, int Pending)> OfAsync(IReadOnlyList<LookRow> rows)
    {
        var known = new Dictionary<LookId, MeasuredLook>();
        var pending = 0;
        foreach (var group in await GroupedAsync(rows))
        {
            var hashes = group
                .Select(r => (r.Id, r.Readable().Look))
                .Where(r => r.Look is not null)
                .ToDictionary(r => r.Id, r => LookJson.Hash(r.Look!));
            var found = await measures.FindAsync(hashes.Values, group.Key);
            foreach (var row in group)
            {
                if (!hashes.ContainsKey(row.Id))
                {
                    known[row.Id] = new(null, [], 0, row.Readable().Fault);
                    continue;
                }
                if (found.TryGetValue(hashes[row.Id], out var json))
                {
                    known[row.Id] = JsonSerializer.Deserialize<MeasuredLook>(json, JsonSerializerOptions.Web)!;
                    continue;
                }
                pending++;
                Begin(row, hashes[row.Id], group.Key);
            }
        }
        return (known, pending);
    }

    /// <summary>As rules need it; of a look that has not been measured, nothing.</summary>
    public LookKnowledge Knowledge(MeasuredLook? of) =>
        new(of?.Measures, (of?.Lossy ?? []).Where(profiles.Has).ToDictionary(id => id, id => profiles.Find(id).Title), of?.Bytes ?? 0);

    /// <summary>What is known of a look; null where it has not been measured. Nothing is begun.</summary>
    public async Task<MeasuredLook?> KnownAsync(LookRow row)
    {
        var under = (await GroupedAsync([row])).Single().Key;
        return (await measures.FindAsync([LookJson.Hash(row.Look())], under)).Values.FirstOrDefault() is { } json
            ? JsonSerializer.Deserialize<MeasuredLook>(json, JsonSerializerOptions.Web)
            : null;
    }

    private async Task<IEnumerable<IGrouping<string, LookRow>>> GroupedAsync(IReadOnlyList<LookRow> rows)
    {
        var under = Convert.ToHexStringLower(
            SHA256.HashData(
                Encoding.UTF8.GetBytes(
                    Edition
                        + string.Concat(profiles.All.OrderBy(p => p.Id, StringComparer.Ordinal).Select(p => p.Hash))
                        + colour.Current.Names?.Config.Hash
                )
            )
        )[..16];
        var chosen = await spaces.OfLooksAsync([.. rows.Select(r => r.Id)]);
        return rows.GroupBy(row => $"{chosen[row.Id].Key}/{under}");
    }

    private void Begin(LookRow row, string hash, string under)
    {
        if (!underWay.TryAdd(hash + under, 0))
            return;
        _ = WorkAtHand.Apart(async () =>
        {
            await one.WaitAsync();
            try
            {
                await measures.KeepAsync(hash, under, JsonSerializer.Serialize(await MeasureAsync(row), JsonSerializerOptions.Web));
            }
            catch (Exception e)
            {
                // Asked for again, it is tried again.
                log.LogError(e, "{Look} could not be measured", row.Name);
            }
            finally
            {
                one.Release();
                underWay.TryRemove(hash + under, out _);
            }
        });
    }

    private async Task<MeasuredLook> MeasureAsync(LookRow row)
    {
        var around = await spaces.OfLookAsync(row.Id);
        var (look, working) = (row.Look().Under(around.Trims), around.Space);
        var bytes = look.FilesWithVariants()
            .SelectMany(f => f.Contents)
            .Distinct()
            .Where(maps.Store.Has)
            .Sum(c => new FileInfo(maps.Store.PathOf(c)).Length);
        try
        {
            var measures = await LookMeasures.OfAsync(look, maps.Textures, working, Textures);
            var lossy = new List<string>();
            foreach (var profile in profiles.All)
                if ((await compilation.CompileAsync(look, profile.Id, working, Written)).Report.Lost.Length > 0)
                    lossy.Add(profile.Id);
            var findings = LookFindings
                .Of(look, await maps.Measuring.OfAsync(look), maps.Store.Has)
                .Select(f => f.Code)
                .Distinct()
                .ToList();
            return new(measures, lossy, bytes, null, findings);
        }
        catch (KilnException e)
        {
            return new(null, [], bytes, e.Message);
        }
    }
}
