using Kiln.Looks.Ids;
using Kiln.Store.People;

namespace Kiln.Store.Collections;

/// <summary>An ordered sheet. Kind: contact or looks. State: waiting, done or failed.</summary>
public sealed record SheetRow
{
    public required SheetId Id { get; init; }

    public required string Kind { get; init; }

    public required string Title { get; init; }

    public required LookId[] Looks { get; init; }

    public required PersonId PersonId { get; init; }

    public required string State { get; init; }

    /// <summary>Looks that are pictured already.</summary>
    public required int Done { get; init; }

    public string? Message { get; init; }

    public required string[] Files { get; init; }

    public required DateTime Created { get; init; }
}

/// <summary>Sheets that people ordered.</summary>
public sealed class SheetRepository(Database database)
{
    private const string Select = "select id, kind, title, looks, person_id as PersonId, state, done, message, files, created from sheets ";

    /// <exception cref="TooManyOrdersException">Too many of the person are not finished.</exception>
    public async Task<SheetId> AddAsync(string kind, string title, IReadOnlyList<LookId> looks, PersonId person)
    {
        await using var c = await database.BeginAsync();
        await OrderLimit.CheckAsync(c, person, "select count(*) from sheets where person_id = @person and state = 'waiting'", "sheets");
        var id = Ids.New<SheetId>();
        await c.ExecuteAsync(
            "insert into sheets (id, kind, title, looks, person_id) values (@id, @kind, @title, @looks, @person)",
            new
            {
                id,
                kind,
                title,
                looks = looks.ToArray(),
                person,
            }
        );
        await c.CommitAsync();
        return id;
    }

    public async Task<SheetRow?> FindAsync(SheetId id)
    {
        await using var c = await database.OpenAsync();
        return await c.QuerySingleOrDefaultAsync<SheetRow>(Select + "where id = @id", new { id });
    }

    /// <summary>The newest of a person.</summary>
    public async Task<IReadOnlyList<SheetRow>> OfAsync(PersonId person)
    {
        await using var c = await database.OpenAsync();
        return [.. await c.QueryAsync<SheetRow>(Select + "where person_id = @person order by created desc limit 20", new { person })];
    }

    public async Task<IReadOnlyList<SheetId>> WaitingAsync()
    {
        await using var c = await database.OpenAsync();
        return [.. await c.QueryAsync<SheetId>("select id from sheets where state = 'waiting' order by created")];
    }

    /// <summary>False where it was removed in the meantime.</summary>
    public async Task<bool> ProgressAsync(SheetId id, int done)
    {
        await using var c = await database.OpenAsync();
        return await c.ExecuteAsync("update sheets set done = @done where id = @id", new { id, done }) == 1;
    }

    public async Task EndAsync(SheetId id, string state, IReadOnlyList<string> files, string? message = null)
    {
        await using var c = await database.OpenAsync();
        await c.ExecuteAsync(
            "update sheets set state = @state, files = @files, message = @message where id = @id",
            new
            {
                id,
                state,
                files = files.ToArray(),
                message,
            }
        );
    }

    public async Task RemoveAsync(SheetId id)
    {
        await using var c = await database.OpenAsync();
        await c.ExecuteAsync("delete from sheets where id = @id", new { id });
    }
}
