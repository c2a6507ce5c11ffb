using System.Collections.Immutable;
using Kiln.Looks.Document;
using Kiln.Looks.Edits;
using Kiln.Store.Looks;

namespace Kiln.Store.Tests;

/// <summary>Versions: numbers without gaps however many hand in, one judgement, and what they were made under for ever.</summary>
public sealed class LookVersionsTests(StoreFixture store) : IClassFixture<StoreFixture>
{
    private readonly VersionRepository versions = new(store.Database);
    private readonly LookRepository looks = new(store.Database);

    private static VersionContext Under(string space = "acescg", string profile = "a profile") =>
        new(
            space,
            new Dictionary<string, string> { ["acescg"] = "ACES - ACEScg" },
            new Dictionary<string, string> { ["bisque"] = profile },
            new Dictionary<string, ImmutableArray<Trim>> { ["bisque"] = [new("specular_roughness", "gain", 0.9f)] }
        );

    [Fact]
    public async Task NumbersFollowOneAnotherWhoeverHandsIn()
    {
        var id = await store.CreateAsync("oxblood");
        var rows = await Task.WhenAll(
            Enumerable.Range(0, 12).Select(i => versions.AddAsync(id, 1, $"note {i}", i % 2 == 0 ? store.Noor : store.Mika, false, Under()))
        );
        Assert.Equal(Enumerable.Range(1, 12), rows.Select(r => r.Number).Order());
        Assert.Equal(12, rows.Select(r => r.Note).Distinct().Count());
        Assert.Equal(Enumerable.Range(1, 12).Reverse(), (await versions.ListAsync(id)).Select(r => r.Number));
        Assert.All(rows, r => Assert.Equal(("in review", null), (r.State, r.ReviewedBy)));
    }

    [Fact]
    public async Task OnlyTheRevisionThatWasSeenIsHandedIn()
    {
        var id = await store.CreateAsync("kaki");
        await looks.EditAsync(id, 1, new RenameEdit("kaki, thin"), store.Mika);
        var conflict = await Assert.ThrowsAsync<LookConflictException>(() => versions.AddAsync(id, 1, "", store.Noor, true, Under()));
        Assert.Equal(2, conflict.Revision);
        Assert.Empty(await versions.ListAsync(id));
    }

    /// <summary>Of eight leads at once one is heard; the others are told by whom.</summary>
    [Fact]
    public async Task OneJudgementCounts()
    {
        var id = await store.CreateAsync("nuka");
        await versions.AddAsync(id, 1, "first", store.Mika, false, Under());
        var heard = 0;
        var told = new List<string>();
        await Task.WhenAll(
            Enumerable
                .Range(0, 8)
                .Select(async i =>
                {
                    try
                    {
                        await versions.ReviewAsync(id, 1, i % 2 == 0, $"word {i}", store.Noor);
                        Interlocked.Increment(ref heard);
                    }
                    catch (LookException e)
                    {
                        lock (told)
                            told.Add(e.Message);
                    }
                })
        );
        Assert.Equal(1, heard);
        Assert.Equal(7, told.Count);
        Assert.All(told, m => Assert.Contains("by Noor Teale", m, StringComparison.Ordinal));
        Assert.Contains(
            "no version 7",
            (await Assert.ThrowsAsync<LookException>(() => versions.ReviewAsync(id, 7, true, "", store.Noor))).Message,
            StringComparison.Ordinal
        );
    }

    [Fact]
    public async Task WhatItWasMadeUnderStays()
    {
        var id = await store.CreateAsync("ash");
        var first = await versions.AddAsync(id, 1, "as it was", store.Noor, true, Under(profile: "old words"));
        await looks.EditAsync(id, 1, new ValueEdit("specular_roughness", LookValue.Of(0.9f)), store.Mika);
        await versions.AddAsync(id, 2, "as it is", store.Noor, true, Under("lin_rec709", "new words"));
        var kept = (await versions.FindAsync(id, 1))!;
        Assert.Equal(
            ("acescg", "old words", "ACES - ACEScg"),
            (kept.Context.WorkingSpace, kept.Context.Profiles["bisque"], kept.Context.SpaceNames["acescg"])
        );
        Assert.Equal(first.Hash, LookJson.Hash(kept.Look));
        Assert.Empty(kept.Look.Lanes);
        // The studio trims of then are in what is rendered and not in the look.
        Assert.Equal([new Trim("specular_roughness", "gain", 0.9f)], kept.Rendered.Trims["bisque"].ToArray());
        Assert.Empty(kept.Look.Trims);
        Assert.Equal(
            ("lin_rec709", "new words"),
            ((await versions.FindAsync(id, 2))!.Context.WorkingSpace, (await versions.FindAsync(id, 2))!.Context.Profiles["bisque"])
        );
        Assert.Null(await versions.FindAsync(id, 3));
        var list = new LookListRepository(store.Database);
        Assert.Equal(2, (await list.FindAsync(new(Words: "ash", State: "published"))).Single().Version);
    }
}
