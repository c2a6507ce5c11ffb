using System.Text.Json;
using System.Text.RegularExpressions;
using Kiln.Looks.Ids;
using Kiln.Pixels;
using Kiln.Store.Contents;

namespace Kiln.Store.Archives;

/// <summary>
/// A collection as one file that restores everything on another server: looks with history and versions, rules, trims, every map, checksums
/// (the format sha256sum reads).
/// </summary>
public sealed partial class ArchiveWriter(Database database, ContentStore store)
{
    private sealed record LookOfCollection(
        LookId Id,
        string Name,
        string Document,
        int Revision,
        string Section,
        string CreatedBy,
        DateTime Created,
        DateTime Changed
    );

    private sealed record Profile(string Hash, string Text);

    /// <exception cref="ArchiveException">There is no such collection.</exception>
    public async Task WriteAsync(Stream stream, CollectionId collection)
    {
        await using var c = await database.BeginAsync(System.Data.IsolationLevel.RepeatableRead);
        var own = await CollectionAsync(c, collection);
        var rows = await LooksAsync(c, collection);
        var profiles = new SortedDictionary<string, string>(StringComparer.Ordinal);
        var contents = new SortedSet<ContentHash>();
        using var zip = new SummedZip(stream);
        foreach (var row in rows)
        {
            var look = await WithPastAsync(c, row);
            var hashes = look.Versions.SelectMany(v => JsonSerializer.Deserialize<Dictionary<string, string>>(v.Profiles)!.Values);
            foreach (var profile in await ProfilesAsync(c, hashes.Distinct().Where(h => !profiles.ContainsKey(h))))
                profiles[profile.Hash] = profile.Text;
            contents.UnionWith(Named(look));
            zip.Add($"looks/{look.Id}.json", JsonSerializer.SerializeToUtf8Bytes(look, JsonSerializerOptions.Web));
        }
        foreach (var content in contents)
            await zip.AddFileAsync($"contents/{content}", store.PathOf(content));
        var header = new ArchiveHeader(ArchiveHeader.Current, DateTime.UtcNow, own, [.. rows.Select(l => l.Id)], profiles);
        zip.Add("archive.json", JsonSerializer.SerializeToUtf8Bytes(header, JsonSerializerOptions.Web));
        zip.AddSums("checksums.txt");
    }

    private static async Task<ArchivedCollection> CollectionAsync(UnitOfWork c, CollectionId collection)
    {
        var found = (
            await c.QueryAsync<(string Name, string? WorkingSpace)>(
                "select name, working_space from collections where id = @collection",
                new { collection }
            )
        ).ToList();
        var row = found.Count == 1 ? found[0] : throw new MissingException("collection.missing", "There is no such collection.");
        var rules = await c.QueryAsync<ArchivedRules>(
            "select r.revision, r.text, p.name as Person, r.at from collection_rules r join people p on p.id = r.person_id where "
                + "r.collection_id = @collection order by r.revision",
            new { collection }
        );
        var trims = await c.QueryAsync<ArchivedTrims>(
            "select t.dialect, t.trims::text as Trims, p.name as Person from house_trims t join people p on p.id = t.person_id "
                + "where t.collection_id = @collection order by t.dialect",
            new { collection }
        );
        return new(row.Name, row.WorkingSpace, [.. rules], [.. trims]);
    }

    private static async Task<IReadOnlyList<LookOfCollection>> LooksAsync(UnitOfWork c, CollectionId collection) =>
        [
            .. await c.QueryAsync<LookOfCollection>(
                """
                select l.id, l.name, l.document, l.revision, cl.section, p.name as CreatedBy, l.created, l.changed
                from looks l join collection_looks cl on cl.look_id = l.id join people p on p.id = l.created_by
                where cl.collection_id = @collection and l.archived is null order by l.name, l.id
                """,
                new { collection }
            ),
        ];

    private static async Task<ArchivedLook> WithPastAsync(UnitOfWork c, LookOfCollection look)
    {
        var history = await c.QueryAsync<ArchivedEdit>(
            "select h.number, h.words as Sentence, h.edit, h.inverse, h.undone, coalesce(h.origin, p.name) as Person, "
                + "h.at from look_history h join people p on p.id = h.person_id where h.look_id = @Id order by h.number",
            new { look.Id }
        );
        var versions = await c.QueryAsync<ArchivedVersion>(
            """
            select v.id, v.number, v.document, v.hash, v.note, coalesce(v.origin, p.name) as Person, v.at, v.state,
                   j.name as ReviewedBy, v.judged_at as ReviewedAt, v.judgement as Review, v.working_space as WorkingSpace,
                   v.space_names::text as SpaceNames, v.profiles::text as Profiles, v.house_trims::text as StudioTrims
            from look_versions v join people p on p.id = v.person_id left join people j on j.id = v.judged_by
            where v.look_id = @Id order by v.number
            """,
            new { look.Id }
        );
        return new(
            look.Id,
            look.Name,
            look.Document,
            look.Revision,
            look.Section,
            look.CreatedBy,
            look.Created,
            look.Changed,
            [.. history],
            [.. versions]
        );
    }

    private static Task<IEnumerable<Profile>> ProfilesAsync(UnitOfWork c, IEnumerable<string> hashes) =>
        c.QueryAsync<Profile>("select hash, text from profile_texts where hash = any(@hashes)", new { hashes = hashes.ToArray() });

    /// <summary>What any text of a look names by checksum and the store has: the files that edits went away from included.</summary>
    private IEnumerable<ContentHash> Named(ArchivedLook look)
    {
        var texts = look.History.SelectMany(h => (string[])[h.Edit, h.Inverse]).Concat(look.Versions.Select(v => v.Document));
        foreach (var text in texts.Append(look.Document))
        foreach (Match match in Checksum().Matches(text))
            if (ContentHash.TryParse(match.Value, out var named) && store.Has(named))
                yield return named;
    }

    [GeneratedRegex("[0-9a-f]{64}")]
    private static partial Regex Checksum();
}
