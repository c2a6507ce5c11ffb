using System.Security.Cryptography;
using Kiln.Looks.Ids;
using Kiln.Store.Contents;
using Kiln.Store.People;

namespace Kiln.Store.Archives;

/// <summary>
/// How a look of an archive stands to what is here: new; same, with the same history; older or changed, under the same identity with
/// something else in it.
/// </summary>
/// <param name="NameTaken">Whether another look here has its name.</param>
public sealed record ArchivedLookState(LookId Id, string Name, string State, bool NameTaken, int Edits, int Versions);

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
    private sealed record Here(LookId Id, string Name, string Document, int Revision, int Edits, int Versions);

    public async Task<ArchivePlan> PlanAsync(OpenedArchive archive)
    {
        await using var c = await database.OpenAsync();
        var here = await HereAsync(c, archive);
        var names = (
            await c.QueryAsync<string>(
                "select name from looks where name = any(@names) and not id = any(@ids)",
                new { names = archive.Looks.Select(l => l.Name).ToArray(), ids = archive.Looks.Select(l => l.Id).ToArray() }
            )
        ).ToHashSet();
        var collection = await c.QuerySingleOrDefaultAsync<CollectionId?>(
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
    public async Task<int> ImportAsync(OpenedArchive archive, IReadOnlyCollection<LookId> asCopies, PersonId person)
    {
        foreach (var (content, file) in archive.Contents)
            store.Take(file, content);
        await using var c = await database.BeginAsync();
        var into = new ArchiveRows(c, person);
        await into.ContentsAsync(archive.Contents);
        await into.ProfilesAsync(archive.Header.Profiles);
        var collection = await into.CollectionAsync(archive.Header.Collection);
        var here = await HereAsync(c, archive);
        var assigned = 0;
        foreach (var look in archive.Looks)
        {
            var state = State(look, here);
            var isCopy = state == "changed" && asCopies.Contains(look.Id);
            var id = isCopy ? Ids.New<LookId>() : look.Id;
            if (state == "new" || isCopy)
            {
                await into.WithPastAsync(look, id);
                assigned++;
            }
            await into.InCollectionAsync(collection, id, look.Section);
        }
        await c.CommitAsync();
        return assigned;
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

    private static string State(ArchivedLook look, Dictionary<LookId, Here> here) =>
        !here.TryGetValue(look.Id, out var there) ? "new"
        : there.Document == look.Document
        && there.Revision == look.Revision
        && there.Edits == look.History.Count
        && there.Versions == look.Versions.Count
            ? "same"
        : "changed";

    private static async Task<Dictionary<LookId, Here>> HereAsync(UnitOfWork c, OpenedArchive archive) =>
        (
            await c.QueryAsync<Here>(
                """
                select id, name, document, revision,
                       (select count(*) from look_history h where h.look_id = l.id)::int as Edits,
                       (select count(*) from look_versions v where v.look_id = l.id)::int as Versions
                from looks l where id = any(@ids)
                """,
                new { ids = archive.Looks.Select(l => l.Id).ToArray() }
            )
        ).ToDictionary(h => h.Id);
}
