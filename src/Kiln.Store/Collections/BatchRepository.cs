using Kiln.Looks.Ids;
using Kiln.Store.People;

namespace Kiln.Store.Collections;

/// <summary>A collection ordered in a dialect.</summary>
public sealed record BatchRow(BatchId Id, string CollectionName, string Dialect, PersonId PersonId, bool Cancelled, DateTime Created);

/// <summary>One look of it. State: waiting, done or failed; counts are lines of its report.</summary>
public sealed record BatchLookRow(
    int Position,
    LookId LookId,
    string Name,
    string State,
    string? Message,
    int Exact,
    int Approximated,
    int Baked,
    int Lost,
    long Bytes,
    float Seconds,
    string? File,
    int? Version = null
);

/// <summary>A look to be written: its document as it was ordered.</summary>
/// <param name="Version">The published version to write; null for the document as it is.</param>
public sealed record BatchTask(int Position, string Name, byte[] Document, string WorkingSpace, LookId LookId, int? Version);

/// <summary>A look as it is ordered.</summary>
/// <param name="Fault">Why it is not written; null where it is.</param>
public sealed record BatchOrder(LookId Look, string Name, byte[] Document, string WorkingSpace, int? Version = null, string? Fault = null);

/// <summary>What writing one look gave.</summary>
public sealed record BatchOutcome(
    string State,
    string? Message = null,
    int Exact = 0,
    int Approximated = 0,
    int Baked = 0,
    int Lost = 0,
    long Bytes = 0,
    float Seconds = 0,
    string? File = null
);

public sealed class BatchRepository(Database database)
{
    private const string Select =
        "select id, collection_name as CollectionName, dialect, person_id as PersonId, cancelled, created from batches ";

    /// <exception cref="TooManyOrdersException">Too many of the person are not finished.</exception>
    public async Task<BatchId> AddAsync(string collection, string dialect, PersonId person, IReadOnlyList<BatchOrder> looks)
    {
        await using var c = await database.BeginAsync();
        await OrderLimit.CheckAsync(
            c,
            person,
            "select count(*) from batches b where person_id = @person and not cancelled and exists (select 1 from batch_looks l "
                + "where l.batch_id = b.id and l.state = 'waiting')",
            "batches"
        );
        var id = Ids.New<BatchId>();
        await c.ExecuteAsync(
            "insert into batches (id, collection_name, dialect, person_id) values (@id, @collection, @dialect, @person)",
            new
            {
                id,
                collection,
                dialect,
                person,
            }
        );
        await c.ExecuteAsync(
            "insert into batch_looks (batch_id, position, look_id, name, document, working_space, version, state, message) "
                + "values (@id, @position, @Look, @Name, @Document, @WorkingSpace, @Version, @state, @Fault)",
            looks.Select(
                (l, position) =>
                    new
                    {
                        id,
                        position,
                        l.Look,
                        l.Name,
                        l.Document,
                        l.WorkingSpace,
                        l.Version,
                        state = l.Fault is null ? "waiting" : "failed",
                        l.Fault,
                    }
            )
        );
        await c.CommitAsync();
        return id;
    }

    public async Task<BatchRow?> FindAsync(BatchId id)
    {
        await using var c = await database.OpenAsync();
        return await c.QuerySingleOrDefaultAsync<BatchRow>(Select + "where id = @id", new { id });
    }

    /// <summary>The newest of a person.</summary>
    public async Task<IReadOnlyList<BatchRow>> OfAsync(PersonId person)
    {
        await using var c = await database.OpenAsync();
        return [.. await c.QueryAsync<BatchRow>(Select + "where person_id = @person order by created desc limit 20", new { person })];
    }

    public async Task<IReadOnlyList<BatchLookRow>> LooksAsync(BatchId id)
    {
        await using var c = await database.OpenAsync();
        return
        [
            .. await c.QueryAsync<BatchLookRow>(
                "select position, look_id as LookId, name, state, message, exact, approximated, baked, lost, bytes, seconds, "
                    + "file, version from batch_looks where batch_id = @id order by position",
                new { id }
            ),
        ];
    }

    /// <summary>Batches with something still to be written, the oldest first.</summary>
    public async Task<IReadOnlyList<BatchId>> UnfinishedAsync()
    {
        await using var c = await database.OpenAsync();
        return
        [
            .. await c.QueryAsync<BatchId>(
                "select id from batches b where not cancelled and exists (select 1 from batch_looks l where l.batch_id = b.id "
                    + "and l.state = 'waiting') order by created"
            ),
        ];
    }

    /// <summary>The next look that nobody has written yet; null at the end, or where the batch was cancelled.</summary>
    public async Task<BatchTask?> NextAsync(BatchId id)
    {
        await using var c = await database.OpenAsync();
        return await c.QueryFirstOrDefaultAsync<BatchTask>(
            "select l.position, l.name, l.document, l.working_space as WorkingSpace, l.look_id as LookId, l.version from "
                + "batch_looks l join batches b on b.id = l.batch_id where b.id = @id and not b.cancelled and l.state = 'waiting' "
                + "order by l.position limit 1",
            new { id }
        );
    }

    public async Task EndAsync(BatchId id, int position, BatchOutcome outcome)
    {
        await using var c = await database.OpenAsync();
        await c.ExecuteAsync(
            "update batch_looks set state = @State, message = @Message, exact = @Exact, approximated = @Approximated, baked = "
                + "@Baked, lost = @Lost, bytes = @Bytes, seconds = @Seconds, file = @File where batch_id = @id and position = @position",
            new
            {
                id,
                position,
                outcome.State,
                outcome.Message,
                outcome.Exact,
                outcome.Approximated,
                outcome.Baked,
                outcome.Lost,
                outcome.Bytes,
                outcome.Seconds,
                outcome.File,
            }
        );
    }

    /// <summary>What failed waits again; true where there is something to do.</summary>
    public async Task<bool> AgainAsync(BatchId id)
    {
        await using var c = await database.OpenAsync();
        await c.ExecuteAsync(
            "update batch_looks set state = 'waiting', message = null where batch_id = @id and state = 'failed' and length(document) > 0",
            new { id }
        );
        await c.ExecuteAsync("update batches set cancelled = false where id = @id", new { id });
        return await c.ExecuteScalarAsync<bool>(
            "select exists (select 1 from batch_looks where batch_id = @id and state = 'waiting')",
            new { id }
        );
    }

    public async Task CancelAsync(BatchId id)
    {
        await using var c = await database.OpenAsync();
        await c.ExecuteAsync("update batches set cancelled = true where id = @id", new { id });
    }

    public async Task RemoveAsync(BatchId id)
    {
        await using var c = await database.OpenAsync();
        await c.ExecuteAsync("delete from batches where id = @id", new { id });
    }
}
