using System.Collections.Immutable;
using System.Text.Json;
using Kiln.Colour.Spaces;
using Kiln.Looks.Document;
using Kiln.Looks.Ids;
using Kiln.Store.People;

namespace Kiln.Store.Looks;

/// <summary>What a look stands under beside its own document.</summary>
/// <param name="Reason">Who says which working space, in words.</param>
/// <param name="Trims">The studio trims that hold, by dialect.</param>
public sealed record LookContext(WorkingSpace Space, string Reason, IReadOnlyDictionary<string, ImmutableArray<Trim>> Trims)
{
    /// <summary>The same for looks that stand under the same, to keep by what is made of them.</summary>
    public string Key =>
        Space.Id + string.Concat(Trims.OrderBy(t => t.Key, StringComparer.Ordinal).Select(t => $"/{t.Key}:{string.Join(',', t.Value)}"));
}

/// <summary>Studio trims as they stand in a collection.</summary>
public sealed record StudioTrimsRow(string Dialect, IReadOnlyList<Trim> Trims, string Person, DateTime At);

/// <summary>
/// Studio trims of a look's collections: those that hold, and whose they are; none hold where collections say different ones.
/// </summary>
public sealed record TrimsOfCollections(string Dialect, IReadOnlyList<Trim> Trims, IReadOnlyList<string> Collections, bool Disagree);

/// <summary>The working space and the studio trims of looks: the studio's, or what their collections agree on.</summary>
public sealed class LookContextRepository(Database database)
{
    private const string Key = "working-space";

    private sealed record Chosen(string Value, string By);

    private sealed record OfCollection(LookId Look, string Name, string WorkingSpace);

    private sealed record TrimmedBy(LookId Look, string Name, string Dialect, string Trims);

    private sealed record StoredTrims(string Dialect, string Trims, string Person, DateTime At);

    public async Task<LookContext> OfStudioAsync()
    {
        await using var c = await database.OpenAsync();
        var row = await c.QuerySingleOrDefaultAsync<Chosen>(
            "select h.value, p.display_name as By from house_choices h join people p on p.id = h.chosen_by where h.key = @Key",
            new { Key }
        );
        return row is null
            ? new(WorkingSpace.AcesCg, "as the product comes", None)
            : new(WorkingSpace.Find(row.Value), $"chosen in Studio by {row.By}", None);
    }

    private static readonly IReadOnlyDictionary<string, ImmutableArray<Trim>> None = ImmutableDictionary<
        string,
        ImmutableArray<Trim>
    >.Empty;

    public async Task ChooseAsync(WorkingSpace space, PersonId person)
    {
        await using var c = await database.OpenAsync();
        await c.ExecuteAsync(
            """
            insert into house_choices (key, value, chosen_by) values (@Key, @Id, @person)
            on conflict (key) do update set value = excluded.value, chosen_by = excluded.chosen_by, chosen = now()
            """,
            new
            {
                Key,
                space.Id,
                person,
            }
        );
    }

    /// <param name="space">Null to follow the studio.</param>
    /// <returns>Whether the collection is there.</returns>
    public async Task<bool> SetForCollectionAsync(CollectionId collection, WorkingSpace? space)
    {
        await using var c = await database.OpenAsync();
        return await c.ExecuteAsync("update collections set working_space = @Id where id = @collection", new { space?.Id, collection }) > 0;
    }

    public async Task<IReadOnlyList<StudioTrimsRow>> TrimsAsync(CollectionId collection)
    {
        await using var c = await database.OpenAsync();
        var rows = await c.QueryAsync<StoredTrims>(
            "select t.dialect, t.trims::text as Trims, p.display_name as Person, t.at from house_trims t join people p on p.id = "
                + "t.person_id where t.collection_id = @collection order by t.dialect",
            new { collection }
        );
        return [.. rows.Select(r => new StudioTrimsRow(r.Dialect, Parsed(r.Trims), r.Person, r.At))];
    }

    /// <param name="trims">None to take them away.</param>
    /// <exception cref="LookException">A trim that cannot be, or no such collection.</exception>
    public async Task SetTrimsAsync(CollectionId collection, string dialect, ImmutableArray<Trim> trims, PersonId person)
    {
        LookValidation.CheckTrims(dialect, trims);
        await using var c = await database.OpenAsync();
        if (!await c.ExecuteScalarAsync<bool>("select exists (select 1 from collections where id = @collection)", new { collection }))
            throw new MissingException("collection.missing", "There is no such collection.");
        await c.ExecuteAsync(
            trims.IsEmpty
                ? "delete from house_trims where collection_id = @collection and dialect = @dialect"
                : """
                insert into house_trims (collection_id, dialect, trims, person_id) values (@collection, @dialect, @trims::jsonb, @person)
                on conflict (collection_id, dialect) do update set trims = excluded.trims, person_id = excluded.person_id, at = now()
                """,
            new
            {
                collection,
                dialect,
                trims = JsonSerializer.Serialize(trims, LookJson.Options),
                person,
            }
        );
    }

    /// <summary>What the collections of a look say of its trims, dialect by dialect.</summary>
    public async Task<IReadOnlyList<TrimsOfCollections>> TrimsOfLookAsync(LookId look)
    {
        await using var c = await database.OpenAsync();
        return Agreed(await TrimmedAsync(c, [look]));
    }

    public async Task<LookContext> OfLookAsync(LookId look) => (await OfLooksAsync([look]))[look];

    /// <summary>The same for many at once.</summary>
    public async Task<IReadOnlyDictionary<LookId, LookContext>> OfLooksAsync(IReadOnlyCollection<LookId> looks)
    {
        // Before the connection is taken: who holds one and waits for another may wait for ever.
        var studio = await OfStudioAsync();
        await using var c = await database.OpenAsync();
        var wanted = looks.Distinct().ToArray();
        var said = (
            await c.QueryAsync<OfCollection>(
                "select cl.look_id as Look, n.name, n.working_space as WorkingSpace from collection_looks cl join collections n "
                    + "on n.id = cl.collection_id where cl.look_id = any(@wanted) and n.working_space is not null order by n.name",
                new { wanted }
            )
        ).ToLookup(s => s.Look);
        var trimmed = (await TrimmedAsync(c, wanted)).ToLookup(t => t.Look);
        return wanted.ToDictionary(
            look => look,
            look =>
                said[look].ToList() switch
                {
                    [] => studio,
                    [var first, ..] own when own.All(s => s.WorkingSpace == first.WorkingSpace) => studio with
                    {
                        Space = WorkingSpace.Find(first.WorkingSpace),
                        Reason = $"set by the collection {first.Name}",
                    },
                    var own => studio with
                    {
                        Reason = $"the studio's, because the collections {string.Join(" and ", own.Select(s => s.Name))} disagree",
                    },
                } with
                {
                    Trims = Agreed(trimmed[look]).Where(t => !t.Disagree).ToDictionary(t => t.Dialect, t => t.Trims.ToImmutableArray()),
                }
        );
    }

    private static async Task<IEnumerable<TrimmedBy>> TrimmedAsync(UnitOfWork c, LookId[] looks) =>
        await c.QueryAsync<TrimmedBy>(
            "select cl.look_id as Look, n.name, t.dialect, t.trims::text as Trims from collection_looks cl join house_trims t on "
                + "t.collection_id = cl.collection_id join collections n on n.id = cl.collection_id where cl.look_id = any(@looks) "
                + "order by t.dialect, n.name",
            new { looks }
        );

    private static IReadOnlyList<TrimsOfCollections> Agreed(IEnumerable<TrimmedBy> said) =>
        [
            .. said.GroupBy(t => t.Dialect)
                .Select(g => new TrimsOfCollections(
                    g.Key,
                    Parsed(g.First().Trims),
                    [.. g.Select(t => t.Name)],
                    g.Any(t => t.Trims != g.First().Trims)
                )),
        ];

    private static ImmutableArray<Trim> Parsed(string trims) => JsonSerializer.Deserialize<ImmutableArray<Trim>>(trims, LookJson.Options);
}
