using Kiln.Faults;
using Kiln.Looks.Ids;
using Kiln.Store.People;

namespace Kiln.Store.Collections;

public sealed record RulesRow(int Revision, string Text, string Person, DateTime At);

/// <summary>The rules of one of a look's collections.</summary>
public sealed record RulesOfLook(string Collection, string Text);

/// <summary>Somebody else changed the rules in the meantime; nothing was written.</summary>
public sealed class RulesConflictException(int revision, string who)
    : KilnException(
        FaultKind.Stale,
        "rules.conflict",
        $"{who} changed these rules in the meantime (revision {revision}). Nothing of yours was written; look at theirs first."
    );

/// <summary>The rules of collections, every revision of them.</summary>
public sealed class RuleRepository(Database database)
{
    /// <summary>The newest; null where a collection has none.</summary>
    public async Task<RulesRow?> FindAsync(CollectionId collection)
    {
        await using var c = await database.OpenAsync();
        return await c.QuerySingleOrDefaultAsync<RulesRow>(
            "select r.revision, r.text, p.display_name as Person, r.at from collection_rules r join people p on p.id = "
                + "r.person_id where r.collection_id = @collection order by r.revision desc limit 1",
            new { collection }
        );
    }

    /// <summary>The newest rules of every collection that a look lies in.</summary>
    public async Task<IReadOnlyList<RulesOfLook>> OfLookAsync(LookId look)
    {
        await using var c = await database.OpenAsync();
        return
        [
            .. await c.QueryAsync<RulesOfLook>(
                """
                select distinct on (n.id) n.name as Collection, r.text from collection_looks cl
                join collections n on n.id = cl.collection_id join collection_rules r on r.collection_id = n.id
                where cl.look_id = @look order by n.id, r.revision desc
                """,
                new { look }
            ),
        ];
    }

    /// <param name="revision">The one that the person saw; 0 for none.</param>
    /// <exception cref="RulesConflictException">It is not the newest any more.</exception>
    public async Task<RulesRow> KeepAsync(CollectionId collection, int revision, string text, PersonId person)
    {
        await using var c = await database.OpenAsync();
        var done = await c.ExecuteAsync(
            """
            insert into collection_rules (id, collection_id, revision, text, person_id)
            select @id, @collection, @revision + 1, @text, @person
            where coalesce((select max(revision) from collection_rules where collection_id = @collection), 0) = @revision
            on conflict (collection_id, revision) do nothing
            """,
            new
            {
                id = Guid.CreateVersion7(),
                collection,
                revision,
                text,
                person,
            }
        );
        var row = await FindAsync(collection);
        return done == 1 ? row! : throw new RulesConflictException(row?.Revision ?? 0, row?.Person ?? "Somebody");
    }
}
