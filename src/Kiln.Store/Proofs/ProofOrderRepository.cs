using Kiln.Looks.Ids;
using Kiln.Store.People;

namespace Kiln.Store.Proofs;

/// <summary>An ordered picture. State: waiting, rendering, done, failed or cancelled; done and total count samples of all frames.</summary>
public sealed record ProofOrderRow(
    ProofOrderId Id,
    LookId LookId,
    string LookName,
    byte[] Document,
    string WorkingSpace,
    PersonId PersonId,
    string Asked,
    string State,
    long Done,
    long Total,
    string? Message,
    DateTime Created
);

public sealed class ProofOrderRepository(Database database)
{
    private const string Columns =
        "select id, look_id as LookId, look_name as LookName, document, working_space as WorkingSpace, person_id as PersonId, "
        + "asked::text as Asked, state, done, total, message, created from proof_orders";

    /// <exception cref="TooManyOrdersException">Too many of the person are not finished.</exception>
    public async Task<ProofOrderId> AddAsync(
        LookId look,
        string name,
        byte[] document,
        string workingSpace,
        PersonId person,
        string asked,
        long total
    )
    {
        await using var c = await database.BeginAsync();
        await OrderLimit.CheckAsync(
            c,
            person,
            "select count(*) from proof_orders where person_id = @person and state in ('waiting', 'rendering')",
            "ordered pictures"
        );
        var id = Ids.New<ProofOrderId>();
        await c.ExecuteAsync(
            "insert into proof_orders (id, look_id, look_name, document, working_space, person_id, asked, total) values (@id, "
                + "@look, @name, @document, @workingSpace, @person, @asked::jsonb, @total)",
            new
            {
                id,
                look,
                name,
                document,
                workingSpace,
                person,
                asked,
                total,
            }
        );
        await c.CommitAsync();
        return id;
    }

    public async Task<ProofOrderRow?> FindAsync(ProofOrderId id)
    {
        await using var c = await database.OpenAsync();
        return await c.QuerySingleOrDefaultAsync<ProofOrderRow>(Columns + " where id = @id", new { id });
    }

    /// <summary>The newest orders of a person.</summary>
    public async Task<IReadOnlyList<ProofOrderRow>> OfAsync(PersonId person)
    {
        await using var c = await database.OpenAsync();
        return
        [
            .. await c.QueryAsync<ProofOrderRow>(Columns + " where person_id = @person order by created desc limit 50", new { person }),
        ];
    }

    /// <summary>Counts on; false where the order was cancelled or removed meanwhile.</summary>
    public async Task<bool> ProgressAsync(ProofOrderId id, long done)
    {
        await using var c = await database.OpenAsync();
        return await c.ExecuteAsync(
                "update proof_orders set state = 'rendering', done = @done where id = @id and state in ('waiting', 'rendering')",
                new { id, done }
            ) > 0;
    }

    /// <summary>Ends an order that is not at its end yet.</summary>
    public async Task<bool> EndAsync(ProofOrderId id, string state, string? message = null)
    {
        await using var c = await database.OpenAsync();
        return await c.ExecuteAsync(
                "update proof_orders set state = @state, message = @message, done = case when @state = 'done' then total else "
                    + "done end where id = @id and state in ('waiting', 'rendering')",
                new
                {
                    id,
                    state,
                    message,
                }
            ) > 0;
    }

    public async Task RemoveAsync(ProofOrderId id)
    {
        await using var c = await database.OpenAsync();
        await c.ExecuteAsync("delete from proof_orders where id = @id", new { id });
    }
}
