using System.Data;
using DbUp;
using Npgsql;

namespace Kiln.Store;

/// <summary>The PostgreSQL database: connections, and its schema brought up to date by ordered migrations.</summary>
public sealed class Database : IAsyncDisposable
{
    /// <summary>
    /// Connections of one server for requests and for its jobs: together well below PostgreSQL's usual hundred, so that two servers and a
    /// tool fit.
    /// </summary>
    public const int ForRequests = 24,
        ForJobs = 12;

    /// <summary>
    /// Seconds that a request waits for a connection of the pool: many at once are served one after another, not refused.
    /// </summary>
    private const int WaitSeconds = 60;

    static Database() => ColumnTypes.Register();

    private readonly NpgsqlDataSource source;
    private readonly Func<CancellationToken> stops;
    private readonly AsyncLocal<UnitOfWork?> larger = new();

    /// <param name="most">Connections at a time, unless the text says so itself.</param>
    /// <param name="stops">What stops the work at hand, asked whenever a unit of work is opened; nothing where it is null.</param>
    public Database(string connectionString, int most = ForRequests, Func<CancellationToken>? stops = null)
    {
        ConnectionString = Pooled(connectionString, most);
        this.stops = stops ?? (() => CancellationToken.None);
        source = NpgsqlDataSource.Create(ConnectionString);
    }

    /// <summary>A connection text with a bound for its pool, unless it has one.</summary>
    /// <exception cref="ArgumentException">The text is none.</exception>
    public static string Pooled(string connectionString, int most)
    {
        var text = new NpgsqlConnectionStringBuilder(connectionString);
        if (!text.ContainsKey("Maximum Pool Size") || text.MaxPoolSize == new NpgsqlConnectionStringBuilder().MaxPoolSize)
            text.MaxPoolSize = most;
        if (text.Timeout == new NpgsqlConnectionStringBuilder().Timeout)
            text.Timeout = WaitSeconds;
        return text.ConnectionString;
    }

    public string ConnectionString { get; }

    /// <summary>A unit whose writes hold one by one; within <see cref="TogetherAsync"/> a part of that.</summary>
    /// <param name="cancel">What stops it, where that is not what stops the work at hand.</param>
    public Task<UnitOfWork> OpenAsync(CancellationToken? cancel = null) =>
        larger.Value is { } all ? Task.FromResult(all.Reading()) : UnitOfWork.OpenAsync(source, cancel ?? stops());

    /// <summary>A unit whose writes hold together, from its commit on; within <see cref="TogetherAsync"/> a part of that.</summary>
    public Task<UnitOfWork> BeginAsync(IsolationLevel level = IsolationLevel.ReadCommitted) =>
        larger.Value is { } all ? all.PartAsync() : UnitOfWork.BeginAsync(source, level, stops());

    /// <summary>
    /// Makes one unit of all that is read and written meanwhile, by whichever repository: it holds together, or not at all. What is done
    /// meanwhile must not be started side by side, since it shares a connection.
    /// </summary>
    public async Task<T> TogetherAsync<T>(Func<Task<T>> work)
    {
        if (larger.Value is not null)
            return await work();
        await using var all = await BeginAsync();
        larger.Value = all;
        var made = await work();
        await all.CommitAsync();
        return made;
    }

    /// <exception cref="InvalidOperationException">A migration failed; the database is as it was before that migration.</exception>
    public void Migrate()
    {
        EnsureDatabase.For.PostgresqlDatabase(ConnectionString, new DbUp.Engine.Output.NoOpUpgradeLog());
        var result = DeployChanges
            .To.PostgresqlDatabase(ConnectionString)
            .WithScriptsEmbeddedInAssembly(typeof(Database).Assembly)
            .WithTransactionPerScript()
            .LogToNowhere()
            .Build()
            .PerformUpgrade();
        if (!result.Successful)
            throw new InvalidOperationException(
                $"The database could not be brought up to date at {result.ErrorScript?.Name}: {result.Error.Message}",
                result.Error
            );
    }

    public ValueTask DisposeAsync() => source.DisposeAsync();
}
