using Kiln.Colour.Spaces;
using Kiln.Looks.Document;
using Kiln.Looks.Ids;
using Kiln.Store.Collections;
using Kiln.Store.Looks;
using Kiln.Store.People;

namespace Kiln.Store.Tests;

/// <summary>
/// What a look stands under beside its own document: the studio's choice, its collections', and neither where those disagree.
/// </summary>
public sealed class LookSurroundingsTests(StoreFixture store) : IClassFixture<StoreFixture>
{
    private readonly LookContextRepository around = new(store.Database);
    private readonly CollectionRepository collections = new(store.Database);

    private async Task<(LookId Look, CollectionId One, CollectionId Other)> InTwoAsync(string name)
    {
        var (look, one, other) = (
            await store.CreateAsync(name),
            await collections.EnsureAsync(name + ", one"),
            await collections.EnsureAsync(name + ", other")
        );
        await collections.AddAsync(one, look);
        await collections.AddAsync(other, look);
        return (look, one, other);
    }

    [Fact]
    public async Task CollectionsGoBeforeTheStudioWhereTheyAgree()
    {
        var (look, one, other) = await InTwoAsync("spaces");
        Assert.Equal("as the product comes", (await around.OfStudioAsync()).Reason);
        await around.ChooseAsync(WorkingSpace.Find("lin_rec709"), store.Noor);
        Assert.Equal(
            ("lin_rec709", "chosen in Studio by Noor Teale"),
            ((await around.OfLookAsync(look)).Space.Id, (await around.OfLookAsync(look)).Reason)
        );
        Assert.True(await around.SetForCollectionAsync(one, WorkingSpace.AcesCg));
        Assert.Equal(
            ("acescg", "set by the collection spaces, one"),
            ((await around.OfLookAsync(look)).Space.Id, (await around.OfLookAsync(look)).Reason)
        );
        Assert.True(await around.SetForCollectionAsync(other, WorkingSpace.AcesCg));
        Assert.Equal("acescg", (await around.OfLookAsync(look)).Space.Id);
        Assert.True(await around.SetForCollectionAsync(other, WorkingSpace.Find("lin_rec709")));
        var disagreeing = await around.OfLookAsync(look);
        Assert.Equal("lin_rec709", disagreeing.Space.Id);
        Assert.Equal("the studio's, because the collections spaces, one and spaces, other disagree", disagreeing.Reason);
        Assert.True(await around.SetForCollectionAsync(other, null));
        Assert.Equal("acescg", (await around.OfLookAsync(look)).Space.Id);
        Assert.False(await around.SetForCollectionAsync(Ids.New<CollectionId>(), null));
        await around.ChooseAsync(WorkingSpace.AcesCg, store.Mika);
        Assert.Equal("chosen in Studio by Mika Orrell", (await around.OfStudioAsync()).Reason);
    }

    [Fact]
    public async Task TrimsThatDisagreeHoldNowhere()
    {
        var (look, one, other) = await InTwoAsync("trims");
        Trim wider = new("specular_roughness", "gain", 1.1f),
            narrower = wider with { Value = 0.9f };
        await around.SetTrimsAsync(one, "celadon", [wider], store.Noor);
        Assert.Equal([wider], (await around.OfLookAsync(look)).Trims["celadon"].ToArray());
        await around.SetTrimsAsync(other, "celadon", [wider], store.Noor);
        Assert.Equal(["trims, one", "trims, other"], Assert.Single(await around.TrimsOfLookAsync(look)).Collections);
        await around.SetTrimsAsync(other, "celadon", [narrower], store.Mika);
        Assert.Empty((await around.OfLookAsync(look)).Trims);
        Assert.True(Assert.Single(await around.TrimsOfLookAsync(look)).Disagree);
        // Another dialect is not touched by it, and what stands in a collection is told with its author.
        await around.SetTrimsAsync(other, "bisque", [narrower], store.Mika);
        Assert.Equal([narrower], (await around.OfLookAsync(look)).Trims["bisque"].ToArray());
        Assert.Equal(
            [("bisque", "Mika Orrell"), ("celadon", "Mika Orrell")],
            (await around.TrimsAsync(other)).Select(t => (t.Dialect, t.Person))
        );
        await around.SetTrimsAsync(other, "celadon", [], store.Mika);
        Assert.Equal([wider], (await around.OfLookAsync(look)).Trims["celadon"].ToArray());
        // Looks that stand under the same are kept together, others apart.
        var stranger = await store.CreateAsync("stranger");
        Assert.NotEqual((await around.OfLookAsync(stranger)).Key, (await around.OfLookAsync(look)).Key);
    }

    [Fact]
    public async Task TrimsThatCannotBeAreSentences()
    {
        var collection = await collections.EnsureAsync("wrong trims");
        foreach (
            var (trim, expected) in new (Trim, string)[]
            {
                (new("geometry_normal", "gain", 1), "takes no trim"),
                (new("specular_roughness", "twist", 1), "no trim 'twist'"),
                (new("specular_roughness", "gain", -1), "needs a number"),
                (new("specular_roughness", "power", 0), "needs a number"),
                (new("specular_roughness", "offset", float.NaN), "needs a number"),
            }
        )
            Assert.Contains(
                expected,
                (await Assert.ThrowsAsync<LookException>(() => around.SetTrimsAsync(collection, "bisque", [trim], store.Noor))).Message,
                StringComparison.Ordinal
            );
        Assert.Empty(await around.TrimsAsync(collection));
        Assert.Contains(
            "no such collection",
            (
                await Assert.ThrowsAsync<MissingException>(() => around.SetTrimsAsync(Ids.New<CollectionId>(), "bisque", [], store.Noor))
            ).Message,
            StringComparison.Ordinal
        );
    }

    [Fact]
    public async Task ManyAreAskedAtOnce()
    {
        var (look, one, _) = await InTwoAsync("many");
        await around.SetForCollectionAsync(one, WorkingSpace.Find("lin_rec709"));
        var alone = await store.CreateAsync("alone");
        var found = await around.OfLooksAsync([look, alone, look]);
        Assert.Equal(2, found.Count);
        Assert.Equal("lin_rec709", found[look].Space.Id);
        Assert.Equal((await around.OfStudioAsync()).Space.Id, found[alone].Space.Id);
    }
}
