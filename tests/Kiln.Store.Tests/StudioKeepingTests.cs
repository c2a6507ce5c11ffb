using System.Collections.Immutable;
using Kiln.Looks.Document;
using Kiln.Looks.Steps;
using Kiln.Looks.Steps.Kinds.Colours;
using Kiln.Looks.Steps.Kinds.Numbers;
using Kiln.Store.Looks;
using Kiln.Store.People;

namespace Kiln.Store.Tests;

/// <summary>Smaller things that a studio keeps: people, filters, chains of steps, accepted findings; and the schema itself.</summary>
public sealed class StudioKeepingTests(StoreFixture store) : IClassFixture<StoreFixture>
{
    [Fact]
    public async Task TheSchemaIsBroughtUpToDateOnce()
    {
        var id = await store.CreateAsync("stays");
        store.Database.Migrate();
        Assert.NotNull(await new LookRepository(store.Database).FindAsync(id));
        var unreachable = new Database("Host=127.0.0.1;Port=1;Username=kiln;Database=nowhere;Timeout=1");
        Assert.ThrowsAny<Exception>(unreachable.Migrate);
        await unreachable.DisposeAsync();
    }

    [Fact]
    public async Task ANameIsOnePersons()
    {
        var people = new PersonRepository(store.Database);
        Assert.Equal(
            "person.exists",
            (await Assert.ThrowsAsync<PersonException>(() => people.AddAsync("noor", "Somebody Else", "admin", "x", new("test")))).Code
        );
        var noor = (await people.FindAsync("noor"))!;
        Assert.Equal((store.Noor, "Noor Teale", "lead"), (noor.Id, noor.DisplayName, noor.Role));
        Assert.Null(await people.FindAsync("Noor"));
        Assert.Null(await people.FindAsync("' or 1=1 --"));
    }

    [Fact]
    public async Task FiltersAreOnesOwn()
    {
        var filters = new FilterRepository(store.Database);
        await filters.KeepAsync(store.Noor, "metals", """{"words":"steel"}""");
        await filters.KeepAsync(store.Noor, "metals", """{"words":"brass"}""");
        await filters.KeepAsync(store.Mika, "metals", """{"words":"tin"}""");
        var mine = Assert.Single(await filters.OfAsync(store.Noor));
        Assert.Contains("brass", mine.Query, StringComparison.Ordinal);
        Assert.False(await filters.RemoveAsync(store.Mika, mine.Id));
        Assert.True(await filters.RemoveAsync(store.Noor, mine.Id));
        Assert.Empty(await filters.OfAsync(store.Noor));
        Assert.Single(await filters.OfAsync(store.Mika));
    }

    [Fact]
    public async Task ChainsStandByThemselves()
    {
        var chains = new ChainRepository(store.Database);
        ImmutableArray<Step> steps = [new InvertStep { Id = "a" }, new RemapStep(0.1f, 0.9f, 0, 1, true) { Id = "b" }];
        var id = await chains.KeepAsync("  worn edge ", "from the hull", steps, store.Mika);
        var kept = Assert.Single(await chains.ListAsync());
        Assert.Equal((id, "worn edge", "from the hull", "Mika Orrell"), (kept.Id, kept.Name, kept.Summary, kept.MadeBy));
        Assert.Equal(steps.ToArray(), kept.Steps.ToArray());
        async Task<string> Refused(string name, ImmutableArray<Step> of) =>
            (await Assert.ThrowsAsync<LookException>(() => chains.KeepAsync(name, "", of, store.Noor))).Message;
        Assert.Contains("already", await Refused("worn edge", steps), StringComparison.Ordinal);
        Assert.Contains("1 to 80", await Refused(" ", steps), StringComparison.Ordinal);
        Assert.Contains("1 to 80", await Refused("two\nlines", steps), StringComparison.Ordinal);
        Assert.Contains("no steps", await Refused("empty", []), StringComparison.Ordinal);
        var leaning = new MixStep(MixMode.Multiply, new Lane(Chain: new(new SourceOrigin("dirt"), [])), new Feed(1)) { Id = "c" };
        Assert.Contains("stand by themselves", await Refused("leaning", [leaning]), StringComparison.Ordinal);
        Assert.True(await chains.RemoveAsync(id));
        Assert.False(await chains.RemoveAsync(id));
    }

    [Fact]
    public async Task AFindingIsAcceptedOnceWithTheLastReason()
    {
        var accepted = new AcceptedFindingRepository(store.Database);
        var look = await store.CreateAsync("accepted");
        await accepted.AcceptAsync(look, "map.unused", "height", "kept for later", store.Noor);
        await accepted.AcceptAsync(look, "map.unused", "height", "kept for the close-up", store.Mika);
        await accepted.AcceptAsync(look, "map.unused", "bump", "old", store.Noor);
        Assert.Equal(
            [("bump", "old", "Noor Teale"), ("height", "kept for the close-up", "Mika Orrell")],
            (await accepted.OfLookAsync(look)).Select(a => (a.Subject, a.Reason, a.Person)).Order()
        );
        Assert.True(await accepted.TakeBackAsync(look, "map.unused", "height"));
        Assert.False(await accepted.TakeBackAsync(look, "map.unused", "height"));
        Assert.Single(await accepted.OfLookAsync(look));
    }
}
