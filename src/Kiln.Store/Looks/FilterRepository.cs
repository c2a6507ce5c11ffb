using Kiln.Looks.Ids;

namespace Kiln.Store.Looks;

/// <summary>What a person looks for again and again.</summary>
/// <param name="Query">Its conditions as JSON.</param>
public sealed record SavedFilter(FilterId Id, string Name, string Query);

public sealed class FilterRepository(Database database)
{
    public const int Most = 100;

    public async Task<IReadOnlyList<SavedFilter>> OfAsync(PersonId person)
    {
        await using var c = await database.OpenAsync();
        return
        [
            .. await c.QueryAsync<SavedFilter>(
                "select id, name, query::text as query from saved_filters where person_id = @person order by name",
                new { person }
            ),
        ];
    }

    /// <summary>Keeps it; one of that name gives way.</summary>
    public async Task KeepAsync(PersonId person, string name, string query)
    {
        await using var c = await database.OpenAsync();
        await c.ExecuteAsync(
            "insert into saved_filters (id, person_id, name, query) values (@id, @person, @name, @query::jsonb) on conflict "
                + "(person_id, name) do update set query = excluded.query",
            new
            {
                id = Ids.New<FilterId>(),
                person,
                name,
                query,
            }
        );
    }

    public async Task<bool> RemoveAsync(PersonId person, FilterId id)
    {
        await using var c = await database.OpenAsync();
        return await c.ExecuteAsync("delete from saved_filters where id = @id and person_id = @person", new { id, person }) == 1;
    }
}
