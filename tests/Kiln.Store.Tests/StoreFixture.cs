using Kiln.Looks.Document;
using Kiln.Looks.Ids;
using Kiln.Store.Looks;
using Kiln.Store.People;
using Npgsql;

namespace Kiln.Store.Tests;

/// <summary>A database of its own for a class, brought up to date, with two people in it.</summary>
public sealed class StoreFixture : IAsyncLifetime
{
    private static readonly string Cluster = Environment.GetEnvironmentVariable("KILN_TEST_DATABASE")
        ?? throw new InvalidOperationException("KILN_TEST_DATABASE is not set; run ./test, which starts a database.");

    private readonly string name = "kiln_store_" + Guid.NewGuid().ToString("N")[..10];

    public StoreFixture() => Database = new($"{Cluster};Database={name}");

    public Database Database { get; }

    public PersonId Noor { get; private set; }

    public PersonId Mika { get; private set; }

    public async Task InitializeAsync()
    {
        Database.Migrate();
        var people = new PersonRepository(Database);
        Noor = (await people.AddAsync("noor", "Noor Teale", "lead", "-", new("test"))).Id;
        Mika = (await people.AddAsync("mika", "Mika Orrell", "artist", "-", new("test"))).Id;
    }

    public static Look Look(string name, params string[] tags) => new() { Name = name, Tags = [.. tags] };

    public Task<LookId> CreateAsync(string look, params string[] tags) =>
        new LookRepository(Database).CreateAsync(Look(look, tags), Noor, null);

    public async Task DisposeAsync()
    {
        await Database.DisposeAsync();
        await using var connection = new NpgsqlConnection($"{Cluster};Database=postgres;Pooling=false");
        await connection.OpenAsync();
        await using var command = new NpgsqlCommand($"drop database if exists {name} with (force)", connection);
        await command.ExecuteNonQueryAsync();
    }
}
