using Kiln.Looks.Ids;

namespace Kiln.Store.Collections;

public sealed record CollectionRow(CollectionId Id, string Name, int Looks, string? WorkingSpace);

public sealed class CollectionRepository(Database database)
{
    public async Task<IReadOnlyList<CollectionRow>> ListAsync()
    {
        await using var c = await database.OpenAsync();
        return
        [
            .. await c.QueryAsync<CollectionRow>(
                "select n.id, n.name, (select count(*) from collection_looks cl where cl.collection_id = n.id)::int as looks, "
                    + "n.working_space as WorkingSpace from collections n order by n.name"
            ),
        ];
    }

    /// <summary>The collection of that name, made when it is not there.</summary>
    public async Task<CollectionId> EnsureAsync(string name)
    {
        await using var c = await database.OpenAsync();
        return await c.QuerySingleAsync<CollectionId>(
            "insert into collections (id, name) values (@id, @name) on conflict (name) do update set name = excluded.name returning id",
            new { id = Ids.New<CollectionId>(), name }
        );
    }

    public async Task AddAsync(CollectionId collection, LookId look)
    {
        await using var c = await database.OpenAsync();
        await c.ExecuteAsync(
            "insert into collection_looks (collection_id, look_id) values (@collection, @look) on conflict do nothing",
            new { collection, look }
        );
    }

    /// <summary>Puts looks of a collection into one of its sections; empty takes them out of theirs.</summary>
    public async Task SetSectionAsync(CollectionId collection, IReadOnlyList<LookId> looks, string section)
    {
        await using var c = await database.OpenAsync();
        await c.ExecuteAsync(
            "update collection_looks set section = @section where collection_id = @collection and look_id = any(@looks)",
            new
            {
                collection,
                looks = looks.ToArray(),
                section,
            }
        );
    }

    public async Task RemoveAsync(CollectionId collection, LookId look)
    {
        await using var c = await database.OpenAsync();
        await c.ExecuteAsync(
            "delete from collection_looks where collection_id = @collection and look_id = @look",
            new { collection, look }
        );
    }
}
