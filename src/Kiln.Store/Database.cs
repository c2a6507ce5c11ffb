using DbUp;
using Npgsql;

namespace Kiln.Store;

/// <summary>The PostgreSQL database: connections, and its schema brought up to date by ordered migrations.</summary>
public sealed class Database : IAsyncDisposable
{
    private readonly NpgsqlDataSource source;

    public Database(string connectionString)
    {
        ConnectionString = connectionString;
        source = NpgsqlDataSource.Create(connectionString);
    }

    public string ConnectionString { get; }

    public ValueTask<NpgsqlConnection> OpenAsync(CancellationToken cancel = default) => source.OpenConnectionAsync(cancel);

    /// <exception cref="InvalidOperationException">A migration failed; the database is as it was before that migration.</exception>
    public void Migrate()
    {
        EnsureDatabase.For.PostgresqlDatabase(ConnectionString, new DbUp.Engine.Output.NoOpUpgradeLog());
        var result = DeployChanges.To.PostgresqlDatabase(ConnectionString)
            .WithScriptsEmbeddedInAssembly(typeof(Database).Assembly)
            .WithTransactionPerScript()
            .LogToNowhere()
            .Build()
            .PerformUpgrade();
        if (!result.Successful)
            throw new InvalidOperationException($"The database could not be brought up to date at {result.ErrorScript?.Name}: {result.Error.Message}", result.Error);
    }

    public ValueTask DisposeAsync() => source.DisposeAsync();
}
