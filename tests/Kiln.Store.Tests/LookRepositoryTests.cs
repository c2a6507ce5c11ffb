using Kiln.Looks.Document;
using Kiln.Looks.Edits;
using Kiln.Looks.Ids;
using Kiln.Store.Looks;

namespace Kiln.Store.Tests;

/// <summary>Edits with their history, against a model of it that is two stacks; two editors at once; going back in time.</summary>
public sealed class LookStoreTests(StoreFixture store) : IClassFixture<StoreFixture>
{
    private readonly LookRepository looks = new(store.Database);

    private static ValueEdit Roughness(float value) => new("specular_roughness", LookValue.Of(value));

    private static float? RoughnessOf(LookRow row) =>
        (row.Look().Lanes.GetValueOrDefault("specular_roughness")?.Value as ScalarValue)?.Number;

    /// <summary>Four hundred random edits, undos and redos: the document is always what two stacks say, and so is the history.</summary>
    [Fact]
    public async Task UndoAndRedoAreTwoStacks()
    {
        var id = await store.CreateAsync("clinker");
        var random = new Random(11);
        var (done, undone) = (new Stack<string>(), new Stack<string>());
        var hashes = new Dictionary<string, string>();
        var before = LookJson.Hash((await looks.FindAsync(id))!.Look());
        var revision = 1;
        // A state is called by the edits that led to it.
        string State() => string.Join('/', done.Reverse());
        hashes[State()] = before;
        for (var i = 0; i < 400; i++)
        {
            LookRow row;
            switch (random.Next(5))
            {
                case 0 when done.Count > 0:
                    row = await looks.UndoAsync(id, revision, store.Noor);
                    undone.Push(done.Pop());
                    break;
                case 1 when undone.Count > 0:
                    row = await looks.RedoAsync(id, revision, store.Mika);
                    done.Push(undone.Pop());
                    break;
                default:
                    LookEdit edit = random.Next(3) switch
                    {
                        0 => new RenameEdit($"clinker {i}"),
                        1 => new TagsEdit([$"kiln {i}"]),
                        _ => Roughness(i / 400f),
                    };
                    row = await looks.EditAsync(id, revision, edit, store.Noor);
                    done.Push($"{i}");
                    undone.Clear();
                    break;
            }
            Assert.Equal(++revision, row.Revision);
            var hash = LookJson.Hash(row.Look());
            if (hashes.TryGetValue(State(), out var known))
                Assert.Equal(known, hash);
            hashes[State()] = hash;
        }
        var history = await looks.HistoryAsync(id);
        Assert.Equal(Math.Min(200, done.Count + undone.Count), history.Count);
        Assert.Equal(undone.Count, history.Count(h => h.Undone));
        while (done.Count > 0)
        {
            await looks.UndoAsync(id, revision++, store.Noor);
            done.Pop();
        }
        Assert.Equal(before, LookJson.Hash((await looks.FindAsync(id))!.Look()));
        Assert.Contains(
            "nothing to undo",
            (await Assert.ThrowsAsync<LookException>(() => looks.UndoAsync(id, revision, store.Noor))).Message,
            StringComparison.Ordinal
        );
    }

    /// <summary>What is too large to be read again is not written: neither as a look nor by an edit.</summary>
    [Fact]
    public async Task WhatCouldNotBeReadIsNotWritten()
    {
        var heavy = StoreFixture.Look("heavy") with { Remarks = [new string('r', LookJson.MaximumBytes)] };
        Assert.Contains(
            "at most 4 MB",
            (await Assert.ThrowsAsync<LookException>(() => looks.CreateAsync(heavy, store.Noor, null))).Message,
            StringComparison.Ordinal
        );
        var id = await store.CreateAsync("light");
        await Assert.ThrowsAsync<LookException>(() =>
            looks.EditAsync(id, 1, new TagsEdit([.. Enumerable.Range(0, 70_000).Select(i => $"{i} {new string('t', 60)}")]), store.Noor)
        );
        Assert.Equal(1, (await looks.FindAsync(id))!.Revision);
        Assert.DoesNotContain(await new LookListRepository(store.Database).DocumentsAsync(), l => l.Name == "heavy");
    }

    [Fact]
    public async Task OfTwoOnOneRevisionTheSecondIsToldWhoWasFirst()
    {
        var id = await store.CreateAsync("grog");
        await looks.EditAsync(id, 1, Roughness(0.2f), store.Mika);
        var conflict = await Assert.ThrowsAsync<LookConflictException>(() => looks.EditAsync(id, 1, Roughness(0.9f), store.Noor));
        Assert.Equal(2, conflict.Revision);
        Assert.StartsWith("Mika Orrell changed this look", conflict.Message, StringComparison.Ordinal);
        Assert.Equal(0.2f, RoughnessOf((await looks.FindAsync(id))!));
        Assert.Single(await looks.HistoryAsync(id));
    }

    /// <summary>Ten people at once, each of whom looks again and repeats: every edit is there, each once.</summary>
    [Fact]
    public async Task NothingIsLostWhenManyEditAtOnce()
    {
        var id = await store.CreateAsync("stoneware");
        var conflicts = 0;
        await Task.WhenAll(
            Enumerable
                .Range(0, 10)
                .Select(async person =>
                {
                    for (var i = 0; i < 8; i++)
                        while (true)
                        {
                            try
                            {
                                var row = (await looks.FindAsync(id))!;
                                await looks.EditAsync(
                                    id,
                                    row.Revision,
                                    new TagsEdit(row.Look().Tags.Add($"{person}-{i}")),
                                    person % 2 == 0 ? store.Noor : store.Mika
                                );
                                break;
                            }
                            catch (LookConflictException)
                            {
                                Interlocked.Increment(ref conflicts);
                            }
                        }
                })
        );
        var look = (await looks.FindAsync(id))!;
        Assert.Equal(81, look.Revision);
        Assert.Equal(80, look.Look().Tags.Distinct().Count());
        Assert.Equal(Enumerable.Range(1, 80), (await looks.HistoryAsync(id)).Select(h => h.Number).Order());
        Assert.True(conflicts > 0, "nobody met anybody, so nothing was tried");
    }

    [Fact]
    public async Task AnEditThatDoesNotFitLeavesNothing()
    {
        var id = await store.CreateAsync("bone ash");
        await Assert.ThrowsAsync<LookException>(() =>
            looks.EditAsync(id, 1, new ValueEdit("specular_roughness", LookValue.Of(float.NaN)), store.Noor)
        );
        Assert.Equal(1, (await looks.FindAsync(id))!.Revision);
        Assert.Empty(await looks.HistoryAsync(id));
        await Assert.ThrowsAsync<MissingException>(() => looks.EditAsync(Ids.New<LookId>(), 1, Roughness(0.5f), store.Noor));
    }

    [Fact]
    public async Task GoingBackIsAnEditAndThePastStaysReachable()
    {
        var id = await store.CreateAsync("temmoku bowl");
        foreach (var (i, value) in (new[] { 0.1f, 0.2f, 0.3f, 0.4f }).Index())
            await looks.EditAsync(id, i + 1, Roughness(value), store.Noor);
        Assert.Equal(0.2f, (Assert.IsType<ScalarValue>((await looks.AtAsync(id, 2)).Lanes["specular_roughness"].Value)).Number);
        Assert.Empty((await looks.AtAsync(id, 0)).Lanes);
        Assert.Equal(0.2f, RoughnessOf(await looks.RestoreAsync(id, 5, 2, store.Mika)));
        Assert.Equal(0.4f, RoughnessOf(await looks.UndoAsync(id, 6, store.Mika)));
        Assert.Equal(0.2f, RoughnessOf(await looks.RedoAsync(id, 7, store.Mika)));
        Assert.Equal(0.3f, (Assert.IsType<ScalarValue>((await looks.AtAsync(id, 3)).Lanes["specular_roughness"].Value)).Number);
        Assert.Contains(
            "has no edit 99",
            (await Assert.ThrowsAsync<LookException>(() => looks.AtAsync(id, 99))).Message,
            StringComparison.Ordinal
        );
    }

    [Fact]
    public async Task TwinsDifferInNameAndTagsOnly()
    {
        var first = await store.CreateAsync("shino", "white");
        await store.CreateAsync("shino again", "red", "fat");
        var other = await store.CreateAsync("shino, matt");
        await looks.EditAsync(other, 1, Roughness(0.8f), store.Noor);
        var twins = await looks.TwinsAsync(first);
        Assert.Contains("shino again", twins);
        Assert.DoesNotContain("shino, matt", twins);
    }
}
