using Kiln.Server.Proofs.Scheduling;

namespace Kiln.Server.Tests.Proofs;

/// <summary>Who goes before whom at the renderer.</summary>
public class RenderRankTests
{
    private readonly RenderScheduler scheduler = new();
    private readonly CancellationTokenSource guard = new(TimeSpan.FromSeconds(60));

    public RenderRankTests() => ThreadPool.SetMinThreads(24, 16);

    /// <summary>Stands still as a piece of rendering does; true when it had to.</summary>
    private bool Stands(Func<bool> hold, Func<bool> until)
    {
        var stood = false;
        while (!until() && !guard.IsCancellationRequested)
        {
            stood |= hold();
            Thread.Sleep(1);
        }
        return stood;
    }

    [Theory]
    [InlineData(RenderRank.Shared)]
    [InlineData(RenderRank.Batch)]
    public async Task WhoHasNothingBeforeThemDoesNotWaitForAPieceThatRuns(RenderRank later)
    {
        var (begun, isOver, stands) = (new TaskCompletionSource(), false, false);
        var running = scheduler.RenderAsync(
            hold =>
            {
                begun.SetResult();
                return Stands(
                    () =>
                    {
                        if (hold())
                            Volatile.Write(ref stands, true);
                        return hold();
                    },
                    () => Volatile.Read(ref isOver)
                );
            },
            guard.Token,
            later
        );
        await begun.Task;
        // It runs while the other is still in its piece, and that one stands still meanwhile.
        var seen = await scheduler.RenderAsync(
            _ => !Stands(() => false, () => Volatile.Read(ref stands)) && Volatile.Read(ref stands),
            guard.Token,
            RenderRank.Awaited
        );
        Volatile.Write(ref isOver, true);
        Assert.True(seen);
        Assert.True(await running);
    }

    [Fact]
    public async Task NobodyStandsBeforeTheirOwnRank()
    {
        var order = new List<int>();
        async Task One(int number) =>
            await scheduler.RenderAsync(
                hold =>
                {
                    Assert.False(hold());
                    lock (order)
                        order.Add(number);
                    return true;
                },
                guard.Token
            );
        await Task.WhenAll(Enumerable.Range(0, 8).Select(One));
        Assert.Equal(8, order.Count);
    }

    [Fact]
    public async Task ABatchStandsBehindWhatIsSharedOutButNotForever()
    {
        var isOver = false;
        var begun = new TaskCompletionSource();
        var shared = Enumerable
            .Range(0, 2)
            .Select(i =>
                Task.Run(async () =>
                {
                    while (!Volatile.Read(ref isOver) && !guard.IsCancellationRequested)
                        await scheduler.RenderAsync(
                            _ =>
                            {
                                begun.TrySetResult();
                                Thread.Sleep(5);
                                return true;
                            },
                            guard.Token,
                            person: $"{i}"
                        );
                })
            )
            .ToList();
        // Once the first of them has begun.
        await begun.Task;
        var (asked, stood) = (Environment.TickCount64, 0L);
        // There is always something shared out, and the batch has its piece all the same.
        await scheduler.RenderAsync(
            _ =>
            {
                stood = Environment.TickCount64 - asked;
                return true;
            },
            guard.Token,
            RenderRank.Batch
        );
        Volatile.Write(ref isOver, true);
        await Task.WhenAll(shared);
        Assert.False(guard.IsCancellationRequested);
        // Its patience is what it waited for: it did not go first.
        Assert.True(stood >= 500, $"{stood} ms");
    }

    [Fact]
    public async Task OneThatIsGivenUpLeavesItsRank()
    {
        using var gone = new CancellationTokenSource();
        await gone.CancelAsync();
        await Assert.ThrowsAnyAsync<OperationCanceledException>(() => scheduler.RenderAsync(_ => true, gone.Token, RenderRank.Awaited));
        await Assert.ThrowsAsync<InvalidOperationException>(() =>
            scheduler.RenderAsync<bool>(_ => throw new InvalidOperationException(), guard.Token, RenderRank.Awaited)
        );
        Assert.False(await scheduler.RenderAsync(hold => hold(), guard.Token, RenderRank.Batch));
    }
}
