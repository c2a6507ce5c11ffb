using Dapper;
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

    /// <param name="most">Connections at a time, unless the text says so itself.</param>
    public Database(string connectionString, int most = ForRequests)
    {
        ConnectionString = Pooled(connectionString, most);
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

    public ValueTask<NpgsqlConnection> OpenAsync(CancellationToken cancel = default) => source.OpenConnectionAsync(cancel);

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
