using Dapper;

namespace Kiln.Store;

public sealed record Person(Guid Id, string Name, string DisplayName, string Role, string PasswordHash);

public sealed class People(Database database)
{
    public async Task<Person?> FindAsync(string name)
    {
        await using var c = await database.OpenAsync();
        return await c.QuerySingleOrDefaultAsync<Person>("select id, name, display_name as DisplayName, role, password_hash as PasswordHash from people where name = @name", new { name });
    }

    public async Task AddAsync(Person person)
    {
        await using var c = await database.OpenAsync();
        await c.ExecuteAsync("insert into people (id, name, display_name, role, password_hash) values (@Id, @Name, @DisplayName, @Role, @PasswordHash) on conflict (name) do nothing", person);
    }
}
