using System.Text.Json;
using Dapper;
using Kiln.Looks.Document;
using Kiln.Looks.Intake;

namespace Kiln.Store;

public sealed record DeliveryRow(Guid Id, string Name, string State, string? Message, int Files, long Bytes, DateTime Created, string? Result)
{
    public IntakeResult? Intake() => Result is null ? null : JsonSerializer.Deserialize<IntakeResult>(Result, LookJson.Options);
}

public sealed class Deliveries(Database database)
{
    private const string Columns = "id, name, state, message, files, bytes, created, result";

    public async Task<Guid> CreateAsync(string name, Guid person)
    {
        var id = Guid.CreateVersion7();
        await using var c = await database.OpenAsync();
        await c.ExecuteAsync("insert into deliveries (id, name, state, created_by) values (@id, @name, 'receiving', @person)", new { id, name, person });
        return id;
    }

    public async Task<DeliveryRow?> FindAsync(Guid id)
    {
        await using var c = await database.OpenAsync();
        return await c.QuerySingleOrDefaultAsync<DeliveryRow>($"select {Columns} from deliveries where id = @id", new { id });
    }

    public async Task<IReadOnlyList<DeliveryRow>> ListAsync(int limit = 100)
    {
        await using var c = await database.OpenAsync();
        return [.. await c.QueryAsync<DeliveryRow>("select id, name, state, message, files, bytes, created, null::text as result from deliveries order by created desc limit @limit", new { limit })];
    }

    public async Task SetStateAsync(Guid id, string state, string? message = null)
    {
        await using var c = await database.OpenAsync();
        await c.ExecuteAsync("update deliveries set state = @state, message = @message, changed = now() where id = @id", new { id, state, message });
    }

    /// <summary>Moves a delivery on, unless somebody cancelled it or it is gone; says whether it did.</summary>
    public async Task<bool> AdvanceAsync(Guid id, string from, string to)
    {
        await using var c = await database.OpenAsync();
        return await c.ExecuteAsync("update deliveries set state = @to, message = null, changed = now() where id = @id and state = @from", new { id, from, to }) == 1;
    }

    /// <summary>The finished analysis and the contents it names, in one transaction; the files are in the store already.</summary>
    public async Task<bool> FinishAsync(Guid id, IntakeResult result, IReadOnlyList<DeliveredFile> files)
    {
        await using var c = await database.OpenAsync();
        await using var t = await c.BeginTransactionAsync();
        await c.ExecuteAsync("insert into contents (hash, bytes) values (@Content, @Length) on conflict do nothing", files.DistinctBy(f => f.Content), t);
        await c.ExecuteAsync("insert into delivery_contents (delivery_id, hash, path) values (@id, @Content, @Path)", files.Select(f => new { id, f.Content, f.Path }), t);
        var done = await c.ExecuteAsync(
            "update deliveries set state = 'ready', message = null, result = @result, files = @count, bytes = @bytes, changed = now() where id = @id and state = 'analysing'",
            new { id, result = JsonSerializer.Serialize(result, LookJson.Options), count = files.Count, bytes = files.Sum(f => f.Length) }, t) == 1;
        if (done)
            await t.CommitAsync();
        return done;
    }

    /// <summary>Replaces the analysis by a corrected one. The row is locked, so two people's corrections follow one another.</summary>
    public async Task<IntakeResult> ChangeAsync(Guid id, Func<IntakeResult, IntakeResult> change)
    {
        await using var c = await database.OpenAsync();
        await using var t = await c.BeginTransactionAsync();
        var json = await c.QuerySingleOrDefaultAsync<string>("select result from deliveries where id = @id for update", new { id }, t)
            ?? throw new DeliveryException("The delivery is not there or not analysed yet.");
        var result = change(JsonSerializer.Deserialize<IntakeResult>(json, LookJson.Options)!);
        await c.ExecuteAsync("update deliveries set result = @result, changed = now() where id = @id", new { id, result = JsonSerializer.Serialize(result, LookJson.Options) }, t);
        await t.CommitAsync();
        return result;
    }

    /// <summary>What was under way when the server stopped did not finish, and says so.</summary>
    public async Task<IReadOnlyList<Guid>> MarkUnfinishedAsync()
    {
        await using var c = await database.OpenAsync();
        return [.. await c.QueryAsync<Guid>(
            "update deliveries set state = 'failed', message = 'The server stopped before this delivery was analysed. Nothing of it was kept; bring it in again.', changed = now() where state in ('receiving', 'analysing') returning id")];
    }

    public async Task<bool> DeleteAsync(Guid id)
    {
        await using var c = await database.OpenAsync();
        return await c.ExecuteAsync("delete from deliveries where id = @id", new { id }) == 1;
    }
}
