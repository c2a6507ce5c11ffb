using Kiln.Server.Platform;
using Kiln.Store;
using Microsoft.AspNetCore.Http;

namespace Kiln.Server.Tests.Operation;

/// <summary>Nothing is looked up for somebody who has left; what others wait for is made all the same.</summary>
public sealed class AbandonedRequests(ServerFixture server) : IClassFixture<ServerFixture>
{
    [Fact]
    public async Task TheQueryOfARequestEndsWithIt()
    {
        using var client = await server.SignedInAsync();
        await using var database = new Database($"{ServerProcess.Cluster};Database={server.Database}");
        await using var holder = await database.BeginAsync();
        await holder.ExecuteAsync("lock table looks in access exclusive mode");
        using var leave = new CancellationTokenSource();
        var asked = client.GetAsync("looks", leave.Token);
        Assert.True(await WaitingAsync(w => w > 0) > 0);
        await leave.CancelAsync();
        await Assert.ThrowsAnyAsync<OperationCanceledException>(() => asked);
        Assert.Equal(0, await WaitingAsync(w => w == 0));
        await holder.CommitAsync();
        Assert.True((await client.GetAsync("looks")).IsSuccessStatusCode);

        async Task<long> WaitingAsync(Func<long, bool> until)
        {
            // Not by the holder: within a transaction the view stays as it was first read.
            await using var seen = await database.OpenAsync();
            for (var tries = 0; ; tries++, await Task.Delay(50))
                if (
                    await seen.ExecuteScalarAsync<long>(
                        "select count(*) from pg_stat_activity where datname = current_database() and wait_event_type = 'Lock'"
                    )
                        is var now
                    && (until(now) || tries == 600)
                )
                    return now;
        }
    }

    /// <summary>Who asks first leaves; the second, who waits for the same, gets it.</summary>
    [Fact]
    public async Task WhatIsSharedGoesOn()
    {
        using var cache = new StudioCache(16);
        var (begun, goOn) = (new TaskCompletionSource(), new TaskCompletionSource());
        using var leave = new CancellationTokenSource();
        Task<string>? first = null;
        await WorkAtHand.OfRequestAsync(new DefaultHttpContext { RequestAborted = leave.Token }, _ =>
        {
            Assert.Equal(leave.Token, WorkAtHand.Stops);
            first = cache.OnceAsync("kind", "key", MakeAsync);
            return Task.CompletedTask;
        });
        Assert.Equal(CancellationToken.None, WorkAtHand.Stops);
        await begun.Task;
        await leave.CancelAsync();
        goOn.SetResult();
        Assert.Equal("made", await first!);

        async Task<string> MakeAsync()
        {
            begun.SetResult();
            await goOn.Task;
            WorkAtHand.Stops.ThrowIfCancellationRequested();
            return "made";
        }
    }
}
