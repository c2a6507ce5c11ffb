using Kiln.Looks.Document;
using Kiln.Looks.Edits;
using Kiln.Looks.Ids;
using Kiln.Store.Collections;
using Kiln.Store.Looks;

namespace Kiln.Store.Tests;

/// <summary>Looks found page by page and by what is known of them.</summary>
public sealed class LookListTests(StoreFixture store) : IClassFixture<StoreFixture>
{
    private readonly LookListRepository list = new(store.Database);
    private readonly CollectionRepository collections = new(store.Database);

    private async Task<List<LookSummary>> AllAsync(LookQuery query, Func<int, Task>? between = null)
    {
        var all = new List<LookSummary>();
        for (
            var page = await list.FindAsync(query);
            page.Count > 0;
            page = await list.FindAsync(query with { AfterName = page[^1].Name, AfterId = page[^1].Id })
        )
        {
            all.AddRange(page);
            if (between is not null)
                await between(all.Count);
        }
        return all;
    }

    /// <summary>
    /// Names that are the same, and looks that come in while somebody turns pages: every look that was there is met once.
    /// </summary>
    [Fact]
    public async Task EveryLookIsOnOnePage()
    {
        var collection = await collections.EnsureAsync("pages");
        var made = new List<LookId>();
        for (var i = 0; i < 53; i++)
        {
            made.Add(await store.CreateAsync(i % 3 == 0 ? "tile" : $"tile {i % 7}"));
            await collections.AddAsync(collection, made[^1]);
        }
        var met = await AllAsync(new(collection, Most: 10), async so =>
        {
            foreach (var name in (string[])["a tile before", "tile 3", "zinc after"])
                if (so <= 30)
                    await collections.AddAsync(collection, await store.CreateAsync(name));
        });
        Assert.Equal(met.Count, met.Select(l => l.Id).Distinct().Count());
        Assert.Empty(made.Except(met.Select(l => l.Id)));
        Assert.Equal(met.Select(l => l.Name), met.Select(l => l.Name).Order(StringComparer.Ordinal));
        Assert.Equal(3, (await list.FindAsync(new(collection, Most: 3))).Count);
        Assert.True((await list.FindAsync(new(Most: 1_000_000))).Count <= LookListRepository.LongestPage);
    }

    /// <summary>What a person types is looked for as it stands: no sign in it is a pattern.</summary>
    [Theory]
    [InlineData("100%", "glaze 100% matt")]
    [InlineData("a_b", "slip a_b")]
    [InlineData("back\\slash", "back\\slash bowl")]
    [InlineData("GLAZE matt", "glaze 100% matt")]
    [InlineData("'; drop table looks; --", null)]
    [InlineData("fired", "raku, plain")]
    public async Task WordsAreFoundAsTheyStand(string words, string? expected)
    {
        var collection = await collections.EnsureAsync("words " + words);
        foreach (
            var (name, tag) in (
                new[]
                {
                    ("glaze 100% matt", "a"),
                    ("glaze 100 gloss", "b"),
                    ("slip a_b", "c"),
                    ("slip axb", "d"),
                    ("back\\slash bowl", "e"),
                    ("backslash bowl", "f"),
                    ("raku, plain", "low fired"),
                }
            )
        )
            await collections.AddAsync(collection, await store.CreateAsync(name, tag));
        Assert.Equal(expected is null ? [] : [expected], (await list.FindAsync(new(collection, words))).Select(l => l.Name));
    }

    [Fact]
    public async Task ConditionsHoldTogether()
    {
        var collection = await collections.EnsureAsync("conditions");
        var (mine, theirs, away) = (
            await store.CreateAsync("celadon jar", "jar"),
            await new LookRepository(store.Database).CreateAsync(StoreFixture.Look("celadon dish", "dish"), store.Mika, null),
            await store.CreateAsync("celadon jar, old", "jar")
        );
        foreach (var id in (LookId[])[mine, theirs, away])
            await collections.AddAsync(collection, id);
        Assert.True(await list.ArchiveAsync(away, true));
        Assert.False(await list.ArchiveAsync(Ids.New<LookId>(), true));
        async Task<string[]> Names(LookQuery q) => [.. (await list.FindAsync(q with { Collection = collection })).Select(l => l.Name)];
        Assert.Equal(["celadon dish", "celadon jar"], await Names(new()));
        Assert.Equal(["celadon jar, old"], await Names(new(Archived: true)));
        Assert.Equal(["celadon jar"], await Names(new(Tag: "jar")));
        Assert.Empty(await Names(new(Tag: "ja")));
        Assert.Equal(["celadon dish"], await Names(new(Author: "mika")));
        Assert.Empty(await Names(new(Author: "nobody")));
        Assert.Empty(await Names(new(Since: DateTime.UtcNow.AddMinutes(5))));
        Assert.Empty(await Names(new(Role: "normal")));
        Assert.Equal(["celadon dish", "celadon jar"], await Names(new(State: "draft")));
        Assert.Contains(
            "hexagon",
            (await Assert.ThrowsAsync<LookException>(() => list.FindAsync(new(Colour: "hexagon")))).Message,
            StringComparison.Ordinal
        );
        await list.ArchiveAsync(away, false);
        Assert.Equal(3, (await Names(new())).Length);
    }

    [Fact]
    public async Task SectionsAreOfACollection()
    {
        var (one, other) = (await collections.EnsureAsync("hull"), await collections.EnsureAsync("deck"));
        Assert.Equal(one, await collections.EnsureAsync("hull"));
        var id = await store.CreateAsync("tar");
        foreach (var collection in (CollectionId[])[one, other, one])
            await collections.AddAsync(collection, id);
        await collections.SetSectionAsync(one, [id], "below the water");
        Assert.Equal("below the water", Assert.Single(await list.FindAsync(new(one))).Section);
        Assert.Equal("", Assert.Single(await list.FindAsync(new(other))).Section ?? "");
        Assert.Equal("deck, hull", Assert.Single(await list.FindAsync(new(one))).Collections);
        await collections.RemoveAsync(one, id);
        Assert.Empty(await list.FindAsync(new(one)));
        Assert.Single(await list.FindAsync(new(other)));
    }

    [Fact]
    public async Task WhatListsNeedFollowsTheDocument()
    {
        var collection = await collections.EnsureAsync("follows");
        var id = await store.CreateAsync("ash glaze", "first");
        await collections.AddAsync(collection, id);
        await new LookRepository(store.Database).EditAsync(
            id,
            1,
            new BatchEdit("both", [new RenameEdit("wood ash"), new TagsEdit(["second"])]),
            store.Noor
        );
        Assert.Single(await list.FindAsync(new(collection, "wood second")));
        Assert.Empty(await list.FindAsync(new(collection, "first")));
        Assert.Empty(await list.FindAsync(new(collection, Tag: "first")));
    }

    /// <summary>Colours are compared in CIELAB; what nobody has measured is not found, and said to be so.</summary>
    [Fact]
    public async Task MeasurementsAreAskedOfTheNewest()
    {
        var collection = await collections.EnsureAsync("measured");
        var store1 = new LookRepository(store.Database);
        var id = await store.CreateAsync("orange enamel");
        await store1.EditAsync(id, 1, new ValueEdit("specular_roughness", LookValue.Of(0.111f)), store.Noor);
        await collections.AddAsync(collection, id);
        var hash = LookJson.Hash((await store1.FindAsync(id))!.Look());
        Assert.Contains(await list.UnmeasuredAsync(1000), l => l.Id == id);
        Assert.Empty(await list.FindAsync(new(collection, Finding: "metal")));
        // sRGB 255, 127, 0: CIELAB 67.05, 42.83, 74.02 under D65 (from memory, to about a unit).
        var measures = new MeasureRepository(store.Database);
        await measures.KeepAsync(hash, "then", """{"measures":{"baseLab":[10,0,0]},"lossy":["gltf"],"findings":["metal.grey"]}""");
        await Task.Delay(20);
        await measures.KeepAsync(
            hash,
            "now",
            """{"measures":{"baseLab":[67.05,42.83,74.02]},"lossy":["saggar"],"findings":["map.seam"]}"""
        );
        Assert.DoesNotContain(await list.UnmeasuredAsync(1000), l => l.Id == id);
        Assert.Single(await list.FindAsync(new(collection, Colour: "#ff7f00", Within: 3)));
        Assert.Empty(await list.FindAsync(new(collection, Colour: "#0000ff", Within: 15)));
        Assert.Single(await list.FindAsync(new(collection, Dialect: "gltf")));
        Assert.Empty(await list.FindAsync(new(collection, Dialect: "saggar")));
        Assert.Single(await list.FindAsync(new(collection, Finding: "map.")));
        Assert.Empty(await list.FindAsync(new(collection, Finding: "metal.grey")));
        Assert.Empty(await list.FindAsync(new(collection, Finding: "m_p.seam")));
        Assert.Contains("map.seam", await list.FindingCodesAsync());
        Assert.Contains("metal.grey", (await measures.FindAsync([hash, "0123"], "then"))[hash], StringComparison.Ordinal);
    }
}
