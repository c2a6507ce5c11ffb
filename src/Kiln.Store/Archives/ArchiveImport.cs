using System.Security.Cryptography;
using System.Text;
using Dapper;
using Kiln.Looks.Document;
using Kiln.Store.Contents;
using Kiln.Store.Looks;
using Kiln.Store.People;
using Npgsql;

namespace Kiln.Store.Archives;

/// <summary>
/// How a look of an archive stands to what is here: new; same, with the same history; older or changed, under the same identity with
/// something else in it.
/// </summary>
/// <param name="NameTaken">Whether another look here has its name.</param>
public sealed record ArchivedLookState(Guid Id, string Name, string State, bool NameTaken, int Edits, int Versions);

/// <summary>What an archive would bring.</summary>
/// <param name="Remarks">What of it is left out, and why.</param>
public sealed record ArchivePlan(
    string Collection,
    bool CollectionIsHere,
    IReadOnlyList<ArchivedLookState> Looks,
    int Contents,
    long Bytes,
    IReadOnlyList<string> Remarks
);

/// <summary>Brings an archive in: in one transaction, after its files lie in the store.</summary>
public sealed class ArchiveImport(Database database, ContentStore store)
{
    private sealed record Here(Guid Id, string Name, string Document, int Revision, int Edits, int Versions);

    public async Task<ArchivePlan> PlanAsync(OpenedArchive archive)
    {
        await using var c = await database.OpenAsync();
        var here = await HereAsync(c, null, archive);
        var names = (
            await c.QueryAsync<string>(
                "select name from looks where name = any(@names) and not id = any(@ids)",
                new { names = archive.Looks.Select(l => l.Name).ToArray(), ids = archive.Looks.Select(l => l.Id).ToArray() }
            )
        ).ToHashSet();
        var collection = await c.QuerySingleOrDefaultAsync<Guid?>(
            "select id from collections where name = @Name",
            new { archive.Header.Collection.Name }
        );
        var remarks = new List<string>();
        if (
            collection is not null
            && archive.Header.Collection.Rules.Count > 0
            && await c.ExecuteScalarAsync<bool>(
                "select exists (select 1 from collection_rules where collection_id = @collection)",
                new { collection }
            )
        )
            remarks.Add("The collection here has rules of its own; those of the archive are left out.");
        if (
            collection is not null
            && archive.Header.Collection.Trims.Count > 0
            && await c.ExecuteScalarAsync<bool>(
                "select exists (select 1 from house_trims where collection_id = @collection)",
                new { collection }
            )
        )
            remarks.Add("The collection here has studio trims of its own; those of the archive are left out.");
        if (People(archive).ToList() is { Count: > 0 } people)
            remarks.Add(
                $"What {string.Join(", ", people.Take(8))}{(people.Count > 8 ? $" and {people.Count - 8} more" : "")} did "
                    + "elsewhere is marked as coming from this archive; it stands under nobody's name here."
            );
        return new(
            archive.Header.Collection.Name,
            collection is not null,
            [
                .. archive.Looks.Select(l => new ArchivedLookState(
                    l.Id,
                    l.Name,
                    State(l, here),
                    names.Contains(l.Name),
                    l.History.Count,
                    l.Versions.Count
                )),
            ],
            archive.Contents.Count(k => !store.Has(k.Key)),
            archive.Contents.Where(k => !store.Has(k.Key)).Sum(k => new FileInfo(k.Value).Length),
            remarks
        );
    }

    /// <param name="asCopies">Looks that are here with something else in them and come in once more, as looks of their own; the others of
    /// that kind are left.</param>
    /// <returns>How many looks came in.</returns>
    public async Task<int> ImportAsync(OpenedArchive archive, IReadOnlyCollection<Guid> asCopies, Guid person)
    {
        foreach (var (content, file) in archive.Contents)
            store.Take(file, content);
        await using var c = await database.OpenAsync();
        await using var t = await c.BeginTransactionAsync();
        await c.ExecuteAsync(
            "insert into contents (hash, bytes) values (@hash, @bytes) on conflict do nothing",
            archive.Contents.Select(k => new { hash = k.Key, bytes = new FileInfo(k.Value).Length }),
            t
        );
        foreach (var (hash, text) in archive.Header.Profiles)
            if (Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(text))) == hash)
                await c.ExecuteAsync(
                    "insert into profile_texts (hash, text) values (@hash, @text) on conflict do nothing",
                    new { hash, text },
                    t
                );
        var of = archive.Header.Collection;
        var collection = await c.QuerySingleAsync<Guid>(
            "insert into collections (id, name, working_space) values (@id, @Name, @WorkingSpace) on conflict (name) do update "
                + "set name = excluded.name returning id",
            new
            {
                id = Guid.CreateVersion7(),
                of.Name,
                of.WorkingSpace,
            },
            t
        );
        if (
            !await c.ExecuteScalarAsync<bool>(
                "select exists (select 1 from collection_rules where collection_id = @collection)",
                new { collection },
                t
            )
        )
            await c.ExecuteAsync(
                "insert into collection_rules (id, collection_id, revision, text, person_id, at) values (@id, @collection, "
                    + "@Revision, @Text, @by, @At)",
                of.Rules.Select(r => new
                {
                    id = Guid.CreateVersion7(),
                    collection,
                    r.Revision,
                    r.Text,
                    by = person,
                    r.At,
                }),
                t
            );
        if (
            !await c.ExecuteScalarAsync<bool>(
                "select exists (select 1 from house_trims where collection_id = @collection)",
                new { collection },
                t
            )
        )
            await c.ExecuteAsync(
                "insert into house_trims (collection_id, dialect, trims, person_id) values (@collection, @Dialect, @Trims::jsonb, @by)",
                of.Trims.Select(r => new
                {
                    collection,
                    r.Dialect,
                    r.Trims,
                    by = person,
                }),
                t
            );
        var here = await HereAsync(c, t, archive);
        var assigned = 0;
        foreach (var look in archive.Looks)
        {
            var state = State(look, here);
            var isCopy = state == "changed" && asCopies.Contains(look.Id);
            var id = isCopy ? Guid.CreateVersion7() : look.Id;
            if (state == "new" || isCopy)
            {
                await InsertAsync(c, t, look, id, isCopy, person);
                assigned++;
            }
            await c.ExecuteAsync(
                "insert into collection_looks (collection_id, look_id, section) values (@collection, @id, @Section) on conflict do nothing",
                new
                {
                    collection,
                    id,
                    look.Section,
                },
                t
            );
        }
        await t.CommitAsync();
        return assigned;
    }

    private static async Task InsertAsync(NpgsqlConnection c, NpgsqlTransaction t, ArchivedLook look, Guid id, bool isCopy, Guid person)
    {
        var facts = LookFacts.Of(LookJson.Read(Encoding.UTF8.GetBytes(look.Document)));
        await c.ExecuteAsync(
            "insert into looks (id, name, document, revision, created_by, created, changed, tags, roles, hash, contents, search) "
                + "values (@id, @Name, @Document, @Revision, @by, @Created, @Changed, @Tags, @Roles, @Hash, @Contents, @Search)",
            new
            {
                id,
                look.Name,
                look.Document,
                look.Revision,
                by = person,
                look.Created,
                look.Changed,
                facts.Tags,
                facts.Roles,
                facts.Hash,
                facts.Contents,
                facts.Search,
            },
            t
        );
        await c.ExecuteAsync(
            "insert into look_history (look_id, number, words, edit, inverse, undone, person_id, at, origin) values (@id, "
                + "@Number, @Sentence, @Edit, @Inverse, @Undone, @by, @At, @Person)",
            look.History.Select(h => new
            {
                id,
                h.Number,
                h.Sentence,
                h.Edit,
                h.Inverse,
                h.Undone,
                by = person,
                h.At,
                h.Person,
            }),
            t
        );
        await c.ExecuteAsync(
            """
            insert into look_versions (id, look_id, number, document, hash, note, person_id, at, state, judged_by, judged_at, judgement, working_space, space_names, profiles, house_trims, contents, origin)
            values (@version, @id, @Number, @Document, @Hash, @Note, @by, @At, @State, @reviewer, @ReviewedAt, @Review, @WorkingSpace, @SpaceNames::jsonb, @Profiles::jsonb, @StudioTrims::jsonb, @contents, @Person)
            """,
            look.Versions.Select(v => new
            {
                version = isCopy ? Guid.CreateVersion7() : v.Id,
                id,
                v.Number,
                v.Document,
                v.Hash,
                v.Note,
                by = person,
                v.Person,
                v.At,
                v.State,
                reviewer = v.ReviewedAt is null ? (Guid?)null : person,
                v.ReviewedAt,
                v.Review,
                v.WorkingSpace,
                v.SpaceNames,
                v.Profiles,
                v.StudioTrims,
                contents = LookFacts.Of(LookJson.Read(Encoding.UTF8.GetBytes(v.Document))).Contents,
            }),
            t
        );
    }

    private static IEnumerable<string> People(OpenedArchive archive) =>
        archive
            .Looks.SelectMany(l =>
                l.History.Select(h => h.Person)
                    .Concat(l.Versions.Select(v => v.Person))
                    .Concat(l.Versions.Select(v => v.ReviewedBy).OfType<string>())
                    .Append(l.CreatedBy)
            )
            .Concat(archive.Header.Collection.Rules.Select(r => r.Person))
            .Distinct();

    private static string State(ArchivedLook look, Dictionary<Guid, Here> here) =>
        !here.TryGetValue(look.Id, out var there) ? "new"
        : there.Document == look.Document
        && there.Revision == look.Revision
        && there.Edits == look.History.Count
        && there.Versions == look.Versions.Count
            ? "same"
        : "changed";

    private static async Task<Dictionary<Guid, Here>> HereAsync(NpgsqlConnection c, NpgsqlTransaction? t, OpenedArchive archive) =>
        (
            await c.QueryAsync<Here>(
                """
                select id, name, document, revision, (select count(*) from look_history h where h.look_id = l.id)::int as Edits, (select count(*) from look_versions v where v.look_id = l.id)::int as Versions
                from looks l where id = any(@ids)
                """,
                new { ids = archive.Looks.Select(l => l.Id).ToArray() },
                t
            )
        ).ToDictionary(h => h.Id);
}
