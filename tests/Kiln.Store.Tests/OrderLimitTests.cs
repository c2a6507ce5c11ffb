using Kiln.Looks.Ids;
using Kiln.Store.Collections;
using Kiln.Store.People;

namespace Kiln.Store.Tests;

/// <summary>
/// So much of one person may wait, however quickly it is asked for; what is finished counts no more, and others have their own.
/// </summary>
public sealed class PersonOrdersTests(StoreFixture store) : IClassFixture<StoreFixture>
{
    [Fact]
    public async Task ManyAtOnceAreCountedToo()
    {
        var sheets = new SheetRepository(store.Database);
        async Task<SheetId?> AskedAsync(PersonId person)
        {
            try
            {
                return await sheets.AddAsync("contact", "Hull", [Ids.New<LookId>()], person);
            }
            catch (TooManyOrdersException)
            {
                return null;
            }
        }
        var asked = await Task.WhenAll(Enumerable.Range(0, 30).Select(_ => AskedAsync(store.Noor)));
        var taken = asked.OfType<SheetId>().ToList();
        Assert.Equal(8, taken.Count);
        Assert.NotNull(await AskedAsync(store.Mika));
        await sheets.EndAsync(taken[0], "done", []);
        Assert.NotNull(await AskedAsync(store.Noor));
        Assert.Null(await AskedAsync(store.Noor));
    }
}
