using Kiln.Looks.Ids;

namespace Kiln.Store.Looks;

/// <summary>A saved wall of proofs; the wall itself is the JSON that made it.</summary>
public sealed record ComparisonRow(ComparisonId Id, string Name, string Wall, string MadeBy, int Revision, DateTime Changed);

public sealed class ComparisonRepository(Database database)
{
    private const string Columns =
        "select c.id, c.name, c.wall::text as Wall, p.display_name as MadeBy, c.revision, c.changed from comparisons c join "
        + "people p on p.id = c.made_by";

    public async Task<IReadOnlyList<ComparisonRow>> ListAsync()
    {
        await using var c = await database.OpenAsync();
        return [.. await c.QueryAsync<ComparisonRow>(Columns + " order by c.changed desc limit 500")];
    }

    public async Task<ComparisonRow?> FindAsync(ComparisonId id)
    {
        await using var c = await database.OpenAsync();
        return await c.QuerySingleOrDefaultAsync<ComparisonRow>(Columns + " where c.id = @id", new { id });
    }

    public async Task<ComparisonId> AddAsync(string name, string wall, PersonId person)
    {
        await using var c = await database.OpenAsync();
        var id = Ids.New<ComparisonId>();
        await c.ExecuteAsync(
            "insert into comparisons (id, name, wall, made_by) values (@id, @name, @wall::jsonb, @person)",
            new
            {
                id,
                name,
                wall,
                person,
            }
        );
        return id;
    }

    /// <summary>Writes over the revision that the person saw; false where somebody else was quicker, or it is gone.</summary>
    public async Task<bool> ReplaceAsync(ComparisonId id, int revision, string name, string wall)
    {
        await using var c = await database.OpenAsync();
        return await c.ExecuteAsync(
                "update comparisons set name = @name, wall = @wall::jsonb, revision = revision + 1, changed = now() where id = "
                    + "@id and revision = @revision",
                new
                {
                    id,
                    revision,
                    name,
                    wall,
                }
            ) > 0;
    }

    public async Task<bool> RemoveAsync(ComparisonId id)
    {
        await using var c = await database.OpenAsync();
        return await c.ExecuteAsync("delete from comparisons where id = @id", new { id }) > 0;
    }
}
