using Kiln.Looks.Ids;

namespace Kiln.Store.Studio;

/// <param name="File">The config file, relative to the config's own folder.</param>
public sealed record ColourConfigRow(ConfigId Id, string Name, string File, string Hash, string AddedBy, DateTime Created);

/// <param name="Config">Null where the studio wants none, whatever the environment says.</param>
public sealed record ChosenConfig(ConfigId? Config, string By, DateTime At);

/// <summary>The configs that were brought in and the one that the studio has chosen.</summary>
public sealed class ColourConfigRepository(Database database)
{
    private const string Key = "colour.config";

    public async Task<IReadOnlyList<ColourConfigRow>> ListAsync()
    {
        await using var c = await database.OpenAsync();
        return
        [
            .. await c.QueryAsync<ColourConfigRow>(
                "select k.id, k.name, k.file, k.hash, p.display_name as AddedBy, k.created from colour_configs k join people p "
                    + "on p.id = k.added_by order by k.created"
            ),
        ];
    }

    public async Task AddAsync(ConfigId id, string name, string file, string hash, PersonId person)
    {
        await using var c = await database.OpenAsync();
        await c.ExecuteAsync(
            "insert into colour_configs (id, name, file, hash, added_by) values (@id, @name, @file, @hash, @person)",
            new
            {
                id,
                name,
                file,
                hash,
                person,
            }
        );
    }

    public async Task<bool> RemoveAsync(ConfigId id)
    {
        await using var c = await database.OpenAsync();
        return await c.ExecuteAsync("delete from colour_configs where id = @id", new { id }) == 1;
    }

    /// <summary>Null where nobody has chosen, so that the environment decides.</summary>
    public async Task<ChosenConfig?> ChosenAsync()
    {
        await using var c = await database.OpenAsync();
        var row = await c.QuerySingleOrDefaultAsync<(string Value, string By, DateTime At)?>(
            "select h.value, p.display_name, h.chosen from house_choices h join people p on p.id = h.chosen_by where h.key = @Key",
            new { Key }
        );
        return row is { } r ? new(ConfigId.TryParse(r.Value, out var id) ? id : null, r.By, r.At) : null;
    }

    /// <param name="config">Null for none.</param>
    public async Task ChooseAsync(ConfigId? config, PersonId person)
    {
        await using var c = await database.OpenAsync();
        await c.ExecuteAsync(
            """
            insert into house_choices (key, value, chosen_by) values (@Key, @value, @person)
            on conflict (key) do update set value = excluded.value, chosen_by = excluded.chosen_by, chosen = now()
            """,
            new
            {
                Key,
                value = config?.ToString() ?? "none",
                person,
            }
        );
    }

    /// <summary>Leaves the choice to the environment again.</summary>
    public async Task ForgetAsync()
    {
        await using var c = await database.OpenAsync();
        await c.ExecuteAsync("delete from house_choices where key = @Key", new { Key });
    }
}
