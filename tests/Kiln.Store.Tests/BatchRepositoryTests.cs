using Kiln.Looks.Ids;
using Kiln.Store.Collections;

namespace Kiln.Store.Tests;

/// <summary>A collection ordered in a dialect: one look after the other, what failed again, what was cancelled not at all.</summary>
public sealed class BatchesTests(StoreFixture store) : IClassFixture<StoreFixture>
{
    private readonly BatchRepository batches = new(store.Database);

    private async Task<BatchId> OrderedAsync(int looks) =>
        await batches.AddAsync(
            "hull",
            "gltf",
            store.Noor,
            [.. Enumerable.Range(0, looks).Select(i => new BatchOrder(Ids.New<LookId>(), $"look {i}", [(byte)i], "acescg"))]
        );

    [Fact]
    public async Task LooksAreWrittenInTheirOrderAndFailedOnesAgain()
    {
        var id = await OrderedAsync(4);
        Assert.Contains(id, await batches.UnfinishedAsync());
        for (var i = 0; i < 4; i++)
        {
            var next = (await batches.NextAsync(id))!;
            Assert.Equal((i, $"look {i}", "acescg"), (next.Position, next.Name, next.WorkingSpace));
            Assert.Equal([(byte)i], next.Document);
            await batches.EndAsync(
                id,
                i,
                i == 2
                    ? new("failed", "The map is gone.")
                    : new("done", Exact: 3, Lost: 1, Bytes: 5_000_000_000, Seconds: 1.5f, File: $"look_{i}.zip")
            );
        }
        Assert.Null(await batches.NextAsync(id));
        Assert.DoesNotContain(id, await batches.UnfinishedAsync());
        var looks = await batches.LooksAsync(id);
        Assert.Equal(["done", "done", "failed", "done"], looks.Select(l => l.State));
        Assert.Equal((3, 1, 5_000_000_000L, "look_0.zip"), (looks[0].Exact, looks[0].Lost, looks[0].Bytes, looks[0].File));
        Assert.True(await batches.AgainAsync(id));
        Assert.Equal(2, (await batches.NextAsync(id))!.Position);
        Assert.Null((await batches.LooksAsync(id))[2].Message);
        await batches.EndAsync(id, 2, new("done"));
        Assert.False(await batches.AgainAsync(id));
    }

    [Fact]
    public async Task WhatWasCancelledRestsUntilItIsAskedForAgain()
    {
        var id = await OrderedAsync(2);
        await batches.CancelAsync(id);
        Assert.Null(await batches.NextAsync(id));
        Assert.DoesNotContain(id, await batches.UnfinishedAsync());
        Assert.True((await batches.FindAsync(id))!.Cancelled);
        Assert.True(await batches.AgainAsync(id));
        Assert.Equal(0, (await batches.NextAsync(id))!.Position);
        await batches.RemoveAsync(id);
        Assert.Null(await batches.FindAsync(id));
        Assert.Empty(await batches.LooksAsync(id));
    }

    [Fact]
    public async Task EverybodySeesTheirOwnNewestFirst()
    {
        var mine = new List<BatchId>();
        for (var i = 0; i < 22; i++)
            mine.Add(await batches.AddAsync($"collection {i}", "saggar", store.Mika, []));
        var seen = await batches.OfAsync(store.Mika);
        Assert.Equal(mine.AsEnumerable().Reverse().Take(20), seen.Select(b => b.Id));
        Assert.DoesNotContain(await batches.OfAsync(store.Noor), b => mine.Contains(b.Id));
    }
}
