using Kiln.Server.Platform;

namespace Kiln.Server.Tests.Operation;

/// <summary>The cache of the server: made once for all who ask, never kept when it failed, bounded.</summary>
public sealed class StudioCacheTests
{
    [Fact]
    public async Task ManyWhoAskAtTheSameTimeGetOneThing()
    {
        using var cache = new StudioCache(100);
        var (made, go) = (0, new TaskCompletionSource());
        async Task<string> MakeAsync()
        {
            Interlocked.Increment(ref made);
            await go.Task;
            return new string('x', 3);
        }
        var asked = Enumerable.Range(0, 20).Select(_ => cache.OnceAsync("thing", "a", MakeAsync)).ToList();
        go.SetResult();
        var things = await Task.WhenAll(asked);
        Assert.Equal(1, made);
        Assert.All(things, t => Assert.Same(things[0], t));
        await cache.OnceAsync("other", "a", MakeAsync);
        Assert.Equal(2, made);
    }

    [Fact]
    public async Task WhatFailedIsTriedAgain()
    {
        using var cache = new StudioCache(100);
        var tries = 0;
        Task<string> MakeAsync() => ++tries == 1 ? throw new IOException("away") : Task.FromResult("there");
        await Assert.ThrowsAsync<IOException>(() => cache.OnceAsync("thing", "a", MakeAsync));
        Assert.Equal("there", await cache.OnceAsync("thing", "a", MakeAsync));
    }

    [Fact]
    public async Task ItNeverHoldsMoreThanItMay()
    {
        using var cache = new StudioCache(100);
        var made = new List<WeakReference>();
        for (var i = 0; i < 200; i++)
            made.Add(await MadeAsync(cache, i));
        // What does not fit is thrown out beside the requests.
        int Alive()
        {
            GC.Collect();
            GC.WaitForPendingFinalizers();
            return made.Count(m => m.IsAlive);
        }
        for (var tries = 0; tries < 300 && Alive() > 10; tries++)
            await Task.Delay(20);
        Assert.InRange(Alive(), 1, 10);
    }

    /// <summary>A thing of ten megabytes, by its word; nothing here holds it.</summary>
    private static async Task<WeakReference> MadeAsync(StudioCache cache, int number) =>
        new(await cache.OnceAsync("thing", $"{number}", () => Task.FromResult(new object()), _ => 10));

    [Fact]
    public async Task WhatIsLargerThanTheCacheIsGivenAllTheSame()
    {
        using var cache = new StudioCache(100);
        Assert.Equal("huge", await cache.OnceAsync("thing", "a", () => Task.FromResult("huge"), _ => 1000));
    }

    [Fact]
    public async Task HitsAndMissesAreCounted()
    {
        using var cache = new StudioCache(100);
        var counted = new System.Collections.Concurrent.ConcurrentDictionary<string, long>();
        using var listener = new System.Diagnostics.Metrics.MeterListener
        {
            InstrumentPublished = (instrument, l) =>
            {
                if (StudioCache.Meters.Contains(instrument.Meter.Name))
                    l.EnableMeasurementEvents(instrument);
            },
        };
        listener.SetMeasurementEventCallback<long>(
            (instrument, value, _, _) => counted.AddOrUpdate(instrument.Name, value, (_, sum) => sum + value)
        );
        listener.Start();
        for (var i = 0; i < 3; i++)
            await cache.OnceAsync("thing", "a", () => Task.FromResult("there"));
        Assert.Contains(counted, c => c.Key.EndsWith("hit", StringComparison.Ordinal) && c.Value >= 2);
        Assert.Contains(counted, c => c.Key.EndsWith("miss", StringComparison.Ordinal) && c.Value >= 1);
    }
}
