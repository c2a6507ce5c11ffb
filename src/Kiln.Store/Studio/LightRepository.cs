using Kiln.Looks.Ids;
using Kiln.Pixels;

namespace Kiln.Store.Studio;

public sealed record OwnLight(LightId Id, string Name, ContentHash Content, string MadeBy, DateTime Created);

/// <summary>Lights that people brought, known by their names.</summary>
public sealed class LightRepository(Database database)
{
    private const string Columns =
        "select l.id, l.name, l.content, p.display_name as MadeBy, l.created from own_lights l join people p on p.id = l.made_by";

    public async Task<IReadOnlyList<OwnLight>> ListAsync()
    {
        await using var c = await database.OpenAsync();
        return [.. await c.QueryAsync<OwnLight>(Columns + " order by l.name")];
    }

    public async Task<OwnLight?> FindAsync(string name)
    {
        await using var c = await database.OpenAsync();
        return await c.QuerySingleOrDefaultAsync<OwnLight>(Columns + " where l.name = @name", new { name });
    }

    /// <summary>False where the name is taken.</summary>
    public async Task<bool> AddAsync(string name, ContentHash content, long bytes, PersonId person)
    {
        await using var c = await database.OpenAsync();
        await c.ExecuteAsync("insert into contents (hash, bytes) values (@content, @bytes) on conflict do nothing", new { content, bytes });
        return await c.ExecuteAsync(
                "insert into own_lights (id, name, content, made_by) values (@id, @name, @content, @person) on conflict (name) do nothing",
                new
                {
                    id = Ids.New<LightId>(),
                    name,
                    content,
                    person,
                }
            ) > 0;
    }

    public async Task<bool> RemoveAsync(string name)
    {
        await using var c = await database.OpenAsync();
        return await c.ExecuteAsync("delete from own_lights where name = @name", new { name }) > 0;
    }
}
