using Kiln.Looks.Ids;

namespace Kiln.Store.Intake;

/// <summary>A folder of the server from which deliveries may be taken.</summary>
public sealed record ServerFolder(FolderId Id, string Name, string Path);

public sealed class ServerFolderRepository(Database database)
{
    public async Task<IReadOnlyList<ServerFolder>> ListAsync()
    {
        await using var c = await database.OpenAsync();
        return [.. await c.QueryAsync<ServerFolder>("select id, name, path from server_folders order by name")];
    }

    public async Task<ServerFolder?> FindAsync(FolderId id)
    {
        await using var c = await database.OpenAsync();
        return await c.QuerySingleOrDefaultAsync<ServerFolder>("select id, name, path from server_folders where id = @id", new { id });
    }

    public async Task AddAsync(ServerFolder folder, PersonId person)
    {
        await using var c = await database.OpenAsync();
        await c.ExecuteAsync(
            "insert into server_folders (id, name, path, added_by) values (@Id, @Name, @Path, @person) on conflict (path) do nothing",
            new
            {
                folder.Id,
                folder.Name,
                folder.Path,
                person,
            }
        );
    }

    public async Task<bool> DeleteAsync(FolderId id)
    {
        await using var c = await database.OpenAsync();
        return await c.ExecuteAsync("delete from server_folders where id = @id", new { id }) == 1;
    }
}
