using System.Collections.Concurrent;
using System.Security.Cryptography;
using System.Text;
using Kiln.Looks.Document;
using Kiln.Looks.Ids;
using Kiln.Pixels;

namespace Kiln.Store.Contents;

/// <summary>What was looked at, and everything that is not as it was written.</summary>
/// <param name="Summary">SHA-256 over all hashes in order: two stores with the same summary hold the same.</param>
public sealed record Verified(
    int Contents,
    long Bytes,
    int Looks,
    int Versions,
    int Profiles,
    string Summary,
    IReadOnlyList<string> Faults
);

/// <summary>
/// Holds a studio against its own hashes: every stored file, every look and version, every profile text that a version was made under.
/// </summary>
public static class Verification
{
    private const string OfContent = "content ";

    /// <summary>Replaces stored files with faults by true copies found in a folder or below it.</summary>
    /// <returns>The hashes that were put right.</returns>
    public static IEnumerable<ContentHash> Mend(ContentStore store, Verified verified, string copies, CancellationToken cancel)
    {
        var wanted = verified
            .Faults.Where(f => f.StartsWith(OfContent, StringComparison.Ordinal))
            .Select(f => ContentHash.Parse(f[OfContent.Length..].Split(':')[0]))
            .ToHashSet();
        foreach (var copy in Directory.EnumerateFiles(copies, "*", SearchOption.AllDirectories).TakeWhile(_ => wanted.Count > 0))
        {
            cancel.ThrowIfCancellationRequested();
            ContentHash hash;
            using (var file = File.OpenRead(copy))
                hash = ContentHash.Of(file);
            if (!wanted.Remove(hash))
                continue;
            store.Mend(copy, hash);
            yield return hash;
        }
    }

    private sealed record Document(LookId Id, string Name, int Number, string Text, string? Hash);

    public static async Task<Verified> RunAsync(Database database, ContentStore store, CancellationToken cancel = default)
    {
        await using var c = await database.OpenAsync(cancel);
        var faults = new ConcurrentBag<string>();
        var contents = (await c.QueryAsync<(string Hash, long Bytes)>("select hash, bytes from contents order by hash")).ToList();
        await Parallel.ForEachAsync(contents, cancel, async (row, token) =>
        {
            if (!ContentHash.TryParse(row.Hash, out var content))
            {
                faults.Add($"content {row.Hash}: that is no content hash");
                return;
            }
            if (!store.Has(content))
            {
                faults.Add($"content {content}: the file is gone");
                return;
            }
            await using var file = File.OpenRead(store.PathOf(content));
            if (Convert.ToHexStringLower(await SHA256.HashDataAsync(file, token)) != content.ToString())
                faults.Add($"content {content}: the file is not what its name says");
        });
        var looks = (await c.QueryAsync<Document>("select id, name, 0 as Number, document as Text, hash from looks order by id")).ToList();
        var versions = (
            await c.QueryAsync<Document>(
                "select v.look_id as Id, l.name, v.number, v.document as Text, v.hash from look_versions v join looks l on l.id "
                    + "= v.look_id order by v.look_id, v.number"
            )
        ).ToList();
        foreach (var fault in looks.Concat(versions).SelectMany(d => FaultsOf(d, store)))
            faults.Add(fault);
        var profiles = (await c.QueryAsync<(string Hash, string Text)>("select hash, text from profile_texts order by hash")).ToList();
        foreach (var (hash, text) in profiles)
            if (Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(text))) != hash)
                faults.Add($"profile text {hash}: it is not what its hash says");
        var all = contents
            .Select(k => k.Hash)
            .Concat(looks.Concat(versions).Select(d => $"{d.Id} {d.Number} {d.Hash}"))
            .Concat(profiles.Select(p => p.Hash));
        return new(
            contents.Count,
            contents.Sum(k => k.Bytes),
            looks.Count,
            versions.Count,
            profiles.Count,
            Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(string.Join('\n', all)))),
            [.. faults.Order(StringComparer.Ordinal)]
        );
    }

    private static IEnumerable<string> FaultsOf(Document document, ContentStore store)
    {
        var what = document.Number == 0 ? $"look {document.Name}" : $"version {document.Number} of {document.Name}";
        var faults = new List<string>();
        try
        {
            var bytes = Encoding.UTF8.GetBytes(document.Text);
            var look = LookJson.Read(bytes);
            if (document.Hash is { } hash && LookJson.HashOf(bytes) != hash)
                faults.Add($"{what}: the document is not what its hash says");
            faults.AddRange(
                look.FilesWithVariants()
                    .SelectMany(f => f.Contents)
                    .Distinct()
                    .Where(k => !store.Has(k))
                    .Select(content => $"{what}: the map {content} is gone")
            );
        }
        catch (LookException e)
        {
            faults.Add($"{what}: {e.Message}");
        }
        return faults;
    }
}
