using System.Security.Cryptography;
using System.Text;
using Kiln.Looks.Document;
using Kiln.Looks.Ids;
using Kiln.Pixels;
using Kiln.Store.Looks;

namespace Kiln.Store.Archives;

/// <summary>What an archive holds, as rows of this database; in the name of whoever brings it in.</summary>
internal sealed class ArchiveRows(UnitOfWork work, PersonId by)
{
    public Task ContentsAsync(IReadOnlyDictionary<ContentHash, string> files) =>
        InsertAsync(
            "insert into contents (hash, bytes) values (@hash, @bytes) on conflict do nothing",
            files.Select(k => new { hash = k.Key, bytes = new FileInfo(k.Value).Length })
        );

    /// <summary>Those that are what their hash says; another is nobody's.</summary>
    public Task ProfilesAsync(IReadOnlyDictionary<string, string> texts) =>
        InsertAsync(
            "insert into profile_texts (hash, text) values (@hash, @text) on conflict do nothing",
            texts
                .Where(p => Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(p.Value))) == p.Key)
                .Select(p => new { hash = p.Key, text = p.Value })
        );

    /// <summary>The collection of that name, made where there is none; rules and trims only where it has none of its own.</summary>
    public async Task<CollectionId> CollectionAsync(ArchivedCollection archived)
    {
        var collection = await work.QuerySingleAsync<CollectionId>(
            "insert into collections (id, name, working_space) values (@id, @Name, @WorkingSpace) on conflict (name) do update "
                + "set name = excluded.name returning id",
            new
            {
                id = Ids.New<CollectionId>(),
                archived.Name,
                archived.WorkingSpace,
            }
        );
        if (!await HasAsync("collection_rules", collection))
            await InsertAsync(
                "insert into collection_rules (id, collection_id, revision, text, person_id, at) values (@id, @collection, "
                    + "@Revision, @Text, @by, @At)",
                archived.Rules.Select(r => new
                {
                    id = Guid.CreateVersion7(),
                    collection,
                    r.Revision,
                    r.Text,
                    by,
                    r.At,
                })
            );
        if (!await HasAsync("house_trims", collection))
            await InsertAsync(
                "insert into house_trims (collection_id, dialect, trims, person_id) values (@collection, @Dialect, @Trims::jsonb, @by)",
                archived.Trims.Select(r => new
                {
                    collection,
                    r.Dialect,
                    r.Trims,
                    by,
                })
            );
        return collection;
    }

    public Task InCollectionAsync(CollectionId collection, LookId id, string section) =>
        work.ExecuteAsync(
            "insert into collection_looks (collection_id, look_id, section) values (@collection, @id, @section) "
                + "on conflict do nothing",
            new
            {
                collection,
                id,
                section,
            }
        );

    /// <summary>The look with its history and versions.</summary>
    /// <param name="id">Its own, or another one where it comes in as a copy.</param>
    public async Task WithPastAsync(ArchivedLook look, LookId id)
    {
        var facts = LookFacts.Of(LookJson.Read(Encoding.UTF8.GetBytes(look.Document)));
        await work.ExecuteAsync(
            "insert into looks (id, name, document, revision, created_by, created, changed, tags, roles, hash, contents, search) "
                + "values (@id, @Name, @Document, @Revision, @by, @Created, @Changed, @Tags, @Roles, @Hash, @Contents, @Search)",
            new
            {
                id,
                look.Name,
                look.Document,
                look.Revision,
                by,
                look.Created,
                look.Changed,
                facts.Tags,
                facts.Roles,
                facts.Hash,
                facts.Contents,
                facts.Search,
            }
        );
        await HistoryAsync(look.History, id);
        await VersionsAsync(look.Versions, id, isCopy: id != look.Id);
    }

    private Task HistoryAsync(IReadOnlyList<ArchivedEdit> history, LookId id) =>
        InsertAsync(
            "insert into look_history (look_id, number, words, edit, inverse, undone, person_id, at, origin) values (@id, "
                + "@Number, @Sentence, @Edit, @Inverse, @Undone, @by, @At, @Person)",
            history.Select(h => new
            {
                id,
                h.Number,
                h.Sentence,
                h.Edit,
                h.Inverse,
                h.Undone,
                by,
                h.At,
                h.Person,
            })
        );

    private Task VersionsAsync(IReadOnlyList<ArchivedVersion> versions, LookId id, bool isCopy) =>
        InsertAsync(
            """
            insert into look_versions (id, look_id, number, document, hash, note, person_id, at, state,
                judged_by, judged_at, judgement, working_space, space_names, profiles, house_trims, contents, origin)
            values (@version, @id, @Number, @Document, @Hash, @Note, @by, @At, @State,
                @reviewer, @ReviewedAt, @Review, @WorkingSpace, @SpaceNames::jsonb, @Profiles::jsonb, @StudioTrims::jsonb,
                @contents, @Person)
            """,
            versions.Select(v => new
            {
                version = isCopy ? Ids.New<VersionId>() : v.Id,
                id,
                v.Number,
                v.Document,
                v.Hash,
                v.Note,
                by,
                v.Person,
                v.At,
                v.State,
                reviewer = v.ReviewedAt is null ? (PersonId?)null : by,
                v.ReviewedAt,
                v.Review,
                v.WorkingSpace,
                v.SpaceNames,
                v.Profiles,
                v.StudioTrims,
                contents = LookFacts.Of(LookJson.Read(Encoding.UTF8.GetBytes(v.Document))).Contents,
            })
        );

    private Task<bool> HasAsync(string table, CollectionId collection) =>
        work.ExecuteScalarAsync<bool>($"select exists (select 1 from {table} where collection_id = @collection)", new { collection });

    private Task InsertAsync<T>(string sql, IEnumerable<T> rows) => work.ExecuteAsync(sql, rows);
}
