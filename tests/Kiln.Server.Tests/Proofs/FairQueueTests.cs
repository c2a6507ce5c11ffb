using Kiln.Server.Proofs.Scheduling;

namespace Kiln.Server.Tests.Proofs;

/// <summary>Who is next at the renderer.</summary>
public class FairTurnsTests
{
    [Fact]
    public async Task ManyPanelsOfOneDoNotLeaveAnotherWaiting()
    {
        // As the server does: whoever asks again must not wait for the pool to grow.
        ThreadPool.SetMinThreads(24, 16);
        var turns = new FairQueue();
        var had = new Dictionary<string, int> { ["noor"] = 0, ["ada"] = 0 };
        var order = new List<string>();
        using var stop = new CancellationTokenSource();
        async Task Panel(string person)
        {
            while (!stop.IsCancellationRequested)
                await turns.RunAsync(
                    person,
                    () =>
                    {
                        lock (order)
                        {
                            had[person]++;
                            order.Add(person);
                        }
                        Thread.Sleep(10);
                        return true;
                    },
                    CancellationToken.None
                );
        }
        var panels = Enumerable.Range(0, 6).Select(_ => Task.Run(() => Panel("noor"))).Append(Task.Run(() => Panel("ada"))).ToList();
        for (var had200 = false; !had200; await Task.Delay(20))
            lock (order)
                had200 = order.Count >= 200;
        await stop.CancelAsync();
        await Task.WhenAll(panels);
        // Six panels against one: in turn of arrival ada would get a seventh.
        var share = had["ada"] / (double)(had["ada"] + had["noor"]);
        Assert.True(share is > 0.4 and < 0.6, $"ada had {share:0.00} of {order.Count} turns");
    }

    [Fact]
    public async Task OneThatIsGivenUpWhileWaitingLeavesTheOthersTheirTurn()
    {
        var turns = new FairQueue();
        var gate = new ManualResetEventSlim();
        var first = turns.RunAsync(
            "noor",
            () =>
            {
                gate.Wait();
                return 1;
            },
            CancellationToken.None
        );
        using var cancel = new CancellationTokenSource();
        var second = turns.RunAsync("ada", () => 2, cancel.Token);
        var third = turns.RunAsync("ada", () => 3, CancellationToken.None);
        await cancel.CancelAsync();
        await Assert.ThrowsAnyAsync<OperationCanceledException>(() => second);
        gate.Set();
        Assert.Equal((1, 3), (await first, await third));
        Assert.Equal(4, await turns.RunAsync("noor", () => 4, CancellationToken.None));
    }

    [Fact]
    public async Task APieceThatFailsGivesItsTurnBack()
    {
        var turns = new FairQueue();
        await Assert.ThrowsAsync<InvalidOperationException>(() =>
            turns.RunAsync<int>("noor", () => throw new InvalidOperationException(), CancellationToken.None)
        );
        Assert.Equal(1, await turns.RunAsync("ada", () => 1, CancellationToken.None));
    }
}
