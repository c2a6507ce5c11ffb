using System.IO.Compression;
using System.Security.Cryptography;
using System.Text;
using System.Text.Json;
using System.Text.RegularExpressions;
using Dapper;
using Kiln.Store.Contents;
using Kiln.Store.People;

namespace Kiln.Store.Archives;

/// <summary>
/// A collection as one file that restores everything on another server: looks with history and versions, rules, trims, every map, checksums
/// (the format sha256sum reads).
/// </summary>
public sealed partial class ArchiveWriter(Database database, ContentStore store)
{
    private static readonly DateTimeOffset FixedTime = new(1980, 1, 1, 0, 0, 0, TimeSpan.Zero);

    private sealed record LookOfCollection(
        Guid Id,
        string Name,
        string Document,
        int Revision,
        string Section,
        string CreatedBy,
        DateTime Created,
        DateTime Changed
    );

    /// <exception cref="ArchiveException">There is no such collection.</exception>
    public async Task WriteAsync(Stream stream, Guid collection)
    {
        await using var c = await database.OpenAsync();
        await using var t = await c.BeginTransactionAsync(System.Data.IsolationLevel.RepeatableRead);
        var found = (
            await c.QueryAsync<(string Name, string? WorkingSpace)>(
                "select name, working_space from collections where id = @collection",
                new { collection },
                t
            )
        ).ToList();
        var row = found.Count == 1 ? found[0] : throw new MissingException("collection.missing", "There is no such collection.");
        var rules = await c.QueryAsync<ArchivedRules>(
            "select r.revision, r.text, p.name as Person, r.at from collection_rules r join people p on p.id = r.person_id where "
                + "r.collection_id = @collection order by r.revision",
            new { collection },
            t
        );
        var trims = await c.QueryAsync<ArchivedTrims>(
            "select t.dialect, t.trims::text as Trims, p.name as Person from house_trims t join people p on p.id = t.person_id "
                + "where t.collection_id = @collection order by t.dialect",
            new { collection },
            t
        );
        var looks = (
            await c.QueryAsync<LookOfCollection>(
                """
                select l.id, l.name, l.document, l.revision, cl.section, p.name as CreatedBy, l.created, l.changed
                from looks l join collection_looks cl on cl.look_id = l.id join people p on p.id = l.created_by
                where cl.collection_id = @collection and l.archived is null order by l.name, l.id
                """,
                new { collection },
                t
            )
        ).ToList();
        var profiles = new SortedDictionary<string, string>(StringComparer.Ordinal);
        using var zip = new ZipArchive(stream, ZipArchiveMode.Create, leaveOpen: true);
        var sums = new SortedDictionary<string, string>(StringComparer.Ordinal);
        var contents = new SortedSet<string>(StringComparer.Ordinal);
        foreach (var look in looks)
        {
            var history = (
                await c.QueryAsync<ArchivedEdit>(
                    "select h.number, h.words as Sentence, h.edit, h.inverse, h.undone, coalesce(h.origin, p.name) as Person, "
                        + "h.at from look_history h join people p on p.id = h.person_id where h.look_id = @Id order by h.number",
                    new { look.Id },
                    t
                )
            ).ToList();
            var versions = (
                await c.QueryAsync<ArchivedVersion>(
                    """
                    select v.id, v.number, v.document, v.hash, v.note, coalesce(v.origin, p.name) as Person, v.at, v.state, j.name as ReviewedBy, v.judged_at as ReviewedAt, v.judgement as Review, v.working_space as WorkingSpace,
                           v.space_names::text as SpaceNames, v.profiles::text as Profiles, v.house_trims::text as StudioTrims
                    from look_versions v join people p on p.id = v.person_id left join people j on j.id = v.judged_by where v.look_id = @Id order by v.number
                    """,
                    new { look.Id },
                    t
                )
            ).ToList();
            foreach (
                var hash in versions
                    .SelectMany(v => JsonSerializer.Deserialize<Dictionary<string, string>>(v.Profiles)!.Values)
                    .Distinct()
                    .Where(h => !profiles.ContainsKey(h))
            )
                profiles[hash] = await c.QuerySingleAsync<string>("select text from profile_texts where hash = @hash", new { hash }, t);
            // Whatever any of its texts names by checksum, the files that edits went away from included.
            foreach (
                var text in history
                    .SelectMany(h => (string[])[h.Edit, h.Inverse])
                    .Concat(versions.Select(v => v.Document))
                    .Append(look.Document)
            )
            foreach (Match match in Checksum().Matches(text))
                if (store.Has(match.Value))
                    contents.Add(match.Value);
            Add(
                $"looks/{look.Id}.json",
                JsonSerializer.SerializeToUtf8Bytes(
                    new ArchivedLook(
                        look.Id,
                        look.Name,
                        look.Document,
                        look.Revision,
                        look.Section,
                        look.CreatedBy,
                        look.Created,
                        look.Changed,
                        history,
                        versions
                    ),
                    JsonSerializerOptions.Web
                )
            );
        }
        foreach (var content in contents)
            await AddFileAsync($"contents/{content}", store.PathOf(content));
        Add(
            "archive.json",
            JsonSerializer.SerializeToUtf8Bytes(
                new ArchiveHeader(
                    ArchiveHeader.Current,
                    DateTime.UtcNow,
                    new(row.Name, row.WorkingSpace, [.. rules], [.. trims]),
                    [.. looks.Select(l => l.Id)],
                    profiles
                ),
                JsonSerializerOptions.Web
            )
        );
        var list = Encoding.UTF8.GetBytes(string.Concat(sums.Select(s => $"{s.Value}  {s.Key}\n")));
        using var last = Entry("checksums.txt", CompressionLevel.Optimal);
        last.Write(list);

        Stream Entry(string path, CompressionLevel level)
        {
            var entry = zip.CreateEntry(path, level);
            entry.LastWriteTime = FixedTime;
            return entry.Open();
        }

        void Add(string path, byte[] bytes)
        {
            using var to = Entry(path, CompressionLevel.Optimal);
            to.Write(bytes);
            sums[path] = Convert.ToHexStringLower(SHA256.HashData(bytes));
        }

        async Task AddFileAsync(string path, string file)
        {
            await using var to = Entry(path, CompressionLevel.NoCompression);
            await using var from = File.OpenRead(file);
            using var hash = SHA256.Create();
            await using (var both = new CryptoStream(to, hash, CryptoStreamMode.Write, leaveOpen: true))
                await from.CopyToAsync(both);
            sums[path] = Convert.ToHexStringLower(hash.Hash!);
        }
    }

    [GeneratedRegex("[0-9a-f]{64}")]
    private static partial Regex Checksum();
}
