using Kiln.Looks.Edits;
using Kiln.Looks.Ids;
using Kiln.Store.Collections;
using Kiln.Store.Looks;

namespace Kiln.Store.Tests;

/// <summary>What holds together holds together, and what nobody waits for any more ends.</summary>
public sealed class UnitOfWorkTests(StoreFixture store) : IClassFixture<StoreFixture>
{
    private readonly LookRepository looks = new(store.Database);
    private readonly CollectionRepository collections = new(store.Database);

    private async Task<long> CountAsync(string sql, object? parameters = null)
    {
        await using var work = await store.Database.OpenAsync();
        return await work.ExecuteScalarAsync<long>(sql, parameters);
    }

    private Task<long> LooksCalledAsync(string name) => CountAsync("select count(*) from looks where name = @name", new { name });

    [Fact]
    public async Task AFaultTakesBackWhatOtherRepositoriesWrote()
    {
        var fault = await Assert.ThrowsAsync<InvalidOperationException>(() =>
            store.Database.TogetherAsync<bool>(async () =>
            {
                var collection = await collections.EnsureAsync("half");
                var id = await looks.CreateAsync(StoreFixture.Look("half a wiring"), store.Noor, null);
                await looks.EditAsync(id, 1, new TagsEdit(["seen within"]), store.Noor);
                await collections.AddAsync(collection, id);
                throw new InvalidOperationException("the third look cannot be made");
            })
        );
        Assert.Equal("the third look cannot be made", fault.Message);
        Assert.Equal(0, await LooksCalledAsync("half a wiring"));
        Assert.Equal(0, await CountAsync("select count(*) from collections where name = 'half'"));
    }

    [Fact]
    public async Task WhatIsCommittedWithinHoldsWithTheWhole()
    {
        var id = await store.Database.TogetherAsync(async () =>
        {
            var made = await looks.CreateAsync(StoreFixture.Look("whole"), store.Noor, null);
            // Nobody else sees it before the end.
            Assert.Equal(0, await OutsideAsync(made));
            await looks.EditAsync(made, 1, new RenameEdit("whole and renamed"), store.Noor);
            // Refused within its own part, which is undone alone.
            await Assert.ThrowsAsync<LookConflictException>(() => looks.EditAsync(made, 1, new RenameEdit("lost"), store.Mika));
            return made;
        });
        Assert.Equal(("whole and renamed", 2), await looks.GetAsync(id) is var row ? (row.Name, row.Revision) : default);

        async Task<long> OutsideAsync(LookId made)
        {
            await using var other = new Npgsql.NpgsqlConnection(store.Database.ConnectionString);
            await other.OpenAsync();
            await using var command = new Npgsql.NpgsqlCommand($"select count(*) from looks where id = '{made}'", other);
            return (long)(await command.ExecuteScalarAsync())!;
        }
    }

    [Fact]
    public async Task WhatIsNotCommittedIsNotWritten()
    {
        await using (var work = await store.Database.BeginAsync())
            await work.ExecuteAsync("insert into collections (id, name) values (gen_random_uuid(), 'never')");
        Assert.Equal(0, await CountAsync("select count(*) from collections where name = 'never'"));
    }

    /// <summary>A query that waits for a lock ends when the work is stopped, in the database too.</summary>
    [Fact]
    public async Task AStoppedQueryEndsInTheDatabase()
    {
        using var stop = new CancellationTokenSource();
        await using var database = new Database(store.Database.ConnectionString + ";Application Name=stopped", stops: () => stop.Token);
        await using var holder = await store.Database.BeginAsync();
        await holder.ExecuteAsync("lock table looks in access exclusive mode");
        var query = new LookRepository(database).FindAsync(Ids.New<LookId>());
        Assert.Equal(1, await WaitingAsync(1));
        await stop.CancelAsync();
        await Assert.ThrowsAnyAsync<OperationCanceledException>(() => query);
        Assert.Equal(0, await WaitingAsync(0));

        async Task<long> WaitingAsync(long until)
        {
            // Not by the holder: within a transaction the view stays as it was first read.
            await using var seen = await store.Database.OpenAsync();
            for (var tries = 0; ; tries++, await Task.Delay(50))
                if (
                    await seen.ExecuteScalarAsync<long>(
                        "select count(*) from pg_stat_activity where application_name = 'stopped' and state = 'active'"
                    )
                        is var now
                    && (now == until || tries == 600)
                )
                    return now;
        }
    }
}
