using System.Text.Json;
using Kiln.Intake;
using Kiln.Intake.Listing;
using Kiln.Looks.Document;
using Kiln.Looks.Ids;

namespace Kiln.Store.Intake;

public sealed record DeliveryRow(
    DeliveryId Id,
    string Name,
    string State,
    string? Message,
    int Files,
    long Bytes,
    DateTime Created,
    string? Result,
    string? Source = null
)
{
    public IntakeResult? Intake() => Result is null ? null : JsonSerializer.Deserialize<IntakeResult>(Result, LookJson.Options);
}

public sealed class DeliveryRepository(Database database)
{
    private const string Stopped =
        "The server stopped before this delivery was analysed. Nothing of it is in the studio yet: resume it, or cancel it to "
        + "remove its files.";

    private const string HalfArrived =
        "The server stopped while this delivery was arriving: send the rest, or cancel it to remove what came.";

    private const string Columns = "id, name, state, message, files, bytes, created, result, source";

    /// <param name="source">A folder of the server that is read where it lies; null for what is sent.</param>
    public async Task<DeliveryId> CreateAsync(string name, PersonId person, string? source = null)
    {
        var id = Ids.New<DeliveryId>();
        await using var c = await database.OpenAsync();
        await c.ExecuteAsync(
            "insert into deliveries (id, name, state, created_by, source) values (@id, @name, 'receiving', @person, @source)",
            new
            {
                id,
                name,
                person,
                source,
            }
        );
        return id;
    }

    public async Task<DeliveryRow?> FindAsync(DeliveryId id)
    {
        await using var c = await database.OpenAsync();
        return await c.QuerySingleOrDefaultAsync<DeliveryRow>($"select {Columns} from deliveries where id = @id", new { id });
    }

    public async Task<IReadOnlyList<DeliveryRow>> ListAsync(int limit = 100)
    {
        await using var c = await database.OpenAsync();
        return
        [
            .. await c.QueryAsync<DeliveryRow>(
                "select id, name, state, message, files, bytes, created, null::text as result, source from deliveries order by "
                    + "created desc limit @limit",
                new { limit }
            ),
        ];
    }

    public async Task SetStateAsync(DeliveryId id, string state, string? message = null)
    {
        await using var c = await database.OpenAsync();
        await c.ExecuteAsync(
            "update deliveries set state = @state, message = @message, changed = now() where id = @id",
            new
            {
                id,
                state,
                message,
            }
        );
    }

    /// <summary>Moves a delivery on, unless somebody cancelled it or it is gone; says whether it did.</summary>
    public async Task<bool> AdvanceAsync(DeliveryId id, string from, string to)
    {
        await using var c = await database.OpenAsync();
        return await c.ExecuteAsync(
                "update deliveries set state = @to, message = null, changed = now() where id = @id and state = @from",
                new
                {
                    id,
                    from,
                    to,
                }
            ) == 1;
    }

    /// <summary>Lets a delivery that is being analysed wait; one that a person paused or cancelled stays as they said.</summary>
    public async Task WaitAsync(DeliveryId id)
    {
        await using var c = await database.OpenAsync();
        await c.ExecuteAsync(
            "update deliveries set state = 'paused', message = @message, changed = now() where id = @id and state = 'analysing'",
            new { id, message = Stopped }
        );
    }

    /// <summary>The finished analysis and the contents it names, in one transaction; the files are in the store already.</summary>
    public async Task<bool> FinishAsync(DeliveryId id, IntakeResult result, IReadOnlyList<DeliveredFile> files)
    {
        await using var c = await database.BeginAsync();
        await c.ExecuteAsync(
            "insert into contents (hash, bytes) values (@Content, @Length) on conflict do nothing",
            files.DistinctBy(f => f.Content)
        );
        await c.ExecuteAsync(
            "insert into delivery_contents (delivery_id, hash, path) values (@id, @Content, @Path)",
            files.Select(f => new
            {
                id,
                f.Content,
                f.Path,
            })
        );
        var done =
            await c.ExecuteAsync(
                "update deliveries set state = 'ready', message = null, result = @result, files = @count, bytes = @bytes, "
                    + "changed = now() where id = @id and state = 'analysing'",
                new
                {
                    id,
                    result = JsonSerializer.Serialize(result, LookJson.Options),
                    count = files.Count,
                    bytes = files.Sum(f => f.Length),
                }
            ) == 1;
        if (done)
            await c.CommitAsync();
        return done;
    }

    /// <summary>Replaces the analysis by a corrected one. The row is locked, so two people's corrections follow one another.</summary>
    public async Task<IntakeResult> ChangeAsync(DeliveryId id, Func<IntakeResult, IntakeResult> change)
    {
        await using var c = await database.BeginAsync();
        var json = await c.QuerySingleOrDefaultAsync<string>("select result from deliveries where id = @id for update", new { id })
            ?? throw new DeliveryException("The delivery is not there or not analysed yet.");
        var result = change(JsonSerializer.Deserialize<IntakeResult>(json, LookJson.Options)!);
        await c.ExecuteAsync(
            "update deliveries set result = @result, changed = now() where id = @id",
            new { id, result = JsonSerializer.Serialize(result, LookJson.Options) }
        );
        await c.CommitAsync();
        return result;
    }

    /// <summary>What was under way when the server stopped did not finish, and says so; it can be taken up again or cancelled.</summary>
    public async Task MarkUnfinishedAsync()
    {
        await using var c = await database.OpenAsync();
        await c.ExecuteAsync(
            """
            update deliveries set state = 'paused', changed = now(),
                message = @stopped where state = 'analysing';
            update deliveries set changed = now(), message = @half where state = 'receiving';
            """,
            new { stopped = Stopped, half = HalfArrived }
        );
    }

    /// <summary>Deliveries whose files wait to be analysed or completed.</summary>
    public async Task<IReadOnlySet<DeliveryId>> WaitingAsync()
    {
        await using var c = await database.OpenAsync();
        return (
            await c.QueryAsync<DeliveryId>("select id from deliveries where state in ('receiving', 'analysing', 'paused')")
        ).ToHashSet();
    }

    /// <summary>Paths of all pictures of finished deliveries, newest delivery first.</summary>
    public async Task<IReadOnlyList<(DeliveryId Delivery, string Name, string Path)>> PathsAsync(int deliveries = 200)
    {
        await using var c = await database.OpenAsync();
        return
        [
            .. await c.QueryAsync<(DeliveryId, string, string)>(
                """
                select d.id, d.name, f.path
                from (select id, name, created from deliveries where state = 'ready' order by created desc limit @deliveries) d
                join delivery_contents f on f.delivery_id = d.id order by d.created desc, f.path
                """,
                new { deliveries }
            ),
        ];
    }

    /// <summary>The results of finished deliveries, newest first.</summary>
    public async Task<IReadOnlyList<IntakeResult>> ResultsAsync(int deliveries = 200) =>
        [.. (await NamedResultsAsync(deliveries)).Select(r => r.Result)];

    /// <summary>The same, with what they are called.</summary>
    public async Task<IReadOnlyList<(DeliveryId Id, string Name, IntakeResult Result)>> NamedResultsAsync(int deliveries = 200)
    {
        await using var c = await database.OpenAsync();
        var rows = await c.QueryAsync<(DeliveryId Id, string Name, string Result)>(
            "select id, name, result from deliveries where state = 'ready' and result is not null order by created desc limit @deliveries",
            new { deliveries }
        );
        return [.. rows.Select(r => (r.Id, r.Name, JsonSerializer.Deserialize<IntakeResult>(r.Result, LookJson.Options)!))];
    }

    public async Task<bool> DeleteAsync(DeliveryId id)
    {
        await using var c = await database.OpenAsync();
        return await c.ExecuteAsync("delete from deliveries where id = @id", new { id }) == 1;
    }
}
