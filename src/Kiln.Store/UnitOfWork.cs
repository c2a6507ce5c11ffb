using System.Data;
using Dapper;
using Npgsql;

namespace Kiln.Store;

/// <summary>
/// One connection for one piece of work. Its queries end where the work is cancelled; where it was begun as a transaction
/// (<see cref="Database.BeginAsync"/>), what it wrote holds from <see cref="CommitAsync"/> on, or not at all. Queries of one unit run one
/// after another.
/// </summary>
public sealed class UnitOfWork : IAsyncDisposable
{
    /// <summary>Within a larger unit: what this one wrote can be taken back by itself.</summary>
    private const string Savepoint = "part";

    private readonly NpgsqlConnection connection;
    private readonly NpgsqlTransaction? transaction;
    private readonly bool isPart;
    private readonly bool holds;
    private readonly CancellationToken cancel;
    private bool committed;

    private UnitOfWork(NpgsqlConnection connection, NpgsqlTransaction? transaction, bool isPart, bool holds, CancellationToken cancel)
    {
        this.connection = connection;
        this.transaction = transaction;
        this.isPart = isPart;
        this.holds = holds;
        this.cancel = cancel;
    }

    internal static async Task<UnitOfWork> OpenAsync(NpgsqlDataSource source, CancellationToken cancel) =>
        new(await source.OpenConnectionAsync(cancel), null, isPart: false, holds: false, cancel);

    internal static async Task<UnitOfWork> BeginAsync(NpgsqlDataSource source, IsolationLevel level, CancellationToken cancel)
    {
        var connection = await source.OpenConnectionAsync(cancel);
        try
        {
            return new(connection, await connection.BeginTransactionAsync(level, cancel), isPart: false, holds: true, cancel);
        }
        catch
        {
            await connection.DisposeAsync();
            throw;
        }
    }

    /// <summary>A unit that reads within this one.</summary>
    internal UnitOfWork Reading() => new(connection, transaction, isPart: true, holds: false, cancel);

    /// <summary>
    /// A unit that writes within this one: what it does not commit is undone, and what it commits holds when this one commits.
    /// </summary>
    internal async Task<UnitOfWork> PartAsync()
    {
        await transaction!.SaveAsync(Savepoint, cancel);
        return new(connection, transaction, isPart: true, holds: true, cancel);
    }

    public Task<int> ExecuteAsync(string sql, object? parameters = null) => connection.ExecuteAsync(Command(sql, parameters));

    public Task<T?> ExecuteScalarAsync<T>(string sql, object? parameters = null) =>
        connection.ExecuteScalarAsync<T>(Command(sql, parameters));

    public Task<IEnumerable<T>> QueryAsync<T>(string sql, object? parameters = null) => connection.QueryAsync<T>(Command(sql, parameters));

    public Task<T> QuerySingleAsync<T>(string sql, object? parameters = null) => connection.QuerySingleAsync<T>(Command(sql, parameters));

    public Task<T?> QuerySingleOrDefaultAsync<T>(string sql, object? parameters = null) =>
        connection.QuerySingleOrDefaultAsync<T>(Command(sql, parameters));

    public Task<T?> QueryFirstOrDefaultAsync<T>(string sql, object? parameters = null) =>
        connection.QueryFirstOrDefaultAsync<T>(Command(sql, parameters));

    /// <exception cref="OperationCanceledException">The work was cancelled; nothing was written.</exception>
    public async Task CommitAsync()
    {
        if (isPart)
            await transaction!.ReleaseAsync(Savepoint, cancel);
        else
            await transaction!.CommitAsync(cancel);
        committed = true;
    }

    public async ValueTask DisposeAsync()
    {
        if (isPart)
        {
            if (holds && !committed && connection.State == ConnectionState.Open)
                await transaction!.RollbackAsync(Savepoint);
            return;
        }
        if (transaction is not null)
            await transaction.DisposeAsync();
        await connection.DisposeAsync();
    }

    private CommandDefinition Command(string sql, object? parameters) => new(sql, parameters, cancellationToken: cancel);
}
