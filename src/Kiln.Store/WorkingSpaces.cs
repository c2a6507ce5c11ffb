using Dapper;
using Kiln.Colour;

namespace Kiln.Store;

/// <param name="Reason">Who says so, in words.</param>
public sealed record WorkingChoice(WorkingSpace Space, string Reason);

/// <summary>Which working space holds: the house's, or what a look's collections agree on.</summary>
public sealed class WorkingSpaces(Database database)
{
    private const string Key = "working-space";

    private sealed record Chosen(string Value, string By);

    private sealed record OfCollection(Guid Look, string Name, string WorkingSpace);

    public async Task<WorkingChoice> OfHouseAsync()
    {
        await using var c = await database.OpenAsync();
        var row = await c.QuerySingleOrDefaultAsync<Chosen>("select h.value, p.display_name as By from house_choices h join people p on p.id = h.chosen_by where h.key = @Key", new { Key });
        return row is null ? new(WorkingSpace.AcesCg, "as the product comes") : new(WorkingSpace.Find(row.Value), $"chosen in House by {row.By}");
    }

    public async Task ChooseAsync(WorkingSpace space, Guid person)
    {
        await using var c = await database.OpenAsync();
        await c.ExecuteAsync("""
            insert into house_choices (key, value, chosen_by) values (@Key, @Id, @person)
            on conflict (key) do update set value = excluded.value, chosen_by = excluded.chosen_by, chosen = now()
            """, new { Key, space.Id, person });
    }

    /// <param name="space">Null to follow the house.</param>
    /// <returns>Whether the collection is there.</returns>
    public async Task<bool> SetForCollectionAsync(Guid collection, WorkingSpace? space)
    {
        await using var c = await database.OpenAsync();
        return await c.ExecuteAsync("update collections set working_space = @Id where id = @collection", new { space?.Id, collection }) > 0;
    }

    public async Task<WorkingChoice> OfLookAsync(Guid look) => (await OfLooksAsync([look]))[look];

    /// <summary>The same for many at once.</summary>
    public async Task<IReadOnlyDictionary<Guid, WorkingChoice>> OfLooksAsync(IReadOnlyCollection<Guid> looks)
    {
        await using var c = await database.OpenAsync();
        var said = (await c.QueryAsync<OfCollection>(
            "select cl.look_id as Look, n.name, n.working_space as WorkingSpace from collection_looks cl join collections n on n.id = cl.collection_id where cl.look_id = any(@looks) and n.working_space is not null order by n.name",
            new { looks = looks.ToArray() })).ToLookup(s => s.Look);
        var house = await OfHouseAsync();
        return looks.Distinct().ToDictionary(look => look, look => said[look].ToList() switch
        {
            [] => house,
            [var first, ..] own when own.All(s => s.WorkingSpace == first.WorkingSpace) => new(WorkingSpace.Find(first.WorkingSpace), $"set by the collection {first.Name}"),
            var own => house with { Reason = $"the house's, because the collections {string.Join(" and ", own.Select(s => s.Name))} disagree" },
        });
    }
}
