using Kiln.Store.People;

namespace Kiln.Store.Tests;

/// <summary>People, their sessions, their links, and what the audit says of them.</summary>
public sealed class PeopleTests : IAsyncLifetime
{
    private readonly StoreFixture store = new();
    private static readonly Actor By = new("ada", "127.0.0.1");

    public Task InitializeAsync() => store.InitializeAsync();

    public Task DisposeAsync() => store.DisposeAsync();

    [Fact]
    public async Task AChangeOfRolePasswordOrStateEndsTheSessions()
    {
        var (people, sessions) = (new PersonRepository(store.Database), new SessionRepository(store.Database));
        foreach (
            var change in new Func<Task>[]
            {
                () => people.UpdateAsync("mika", "lead", null, null, By),
                () => people.SetPasswordAsync("mika", "hash", By),
                () => people.UpdateAsync("mika", null, true, null, By),
            }
        )
        {
            await people.UpdateAsync("mika", "artist", false, null, By);
            var session = await sessions.BeginAsync(store.Mika, "10.0.0.1", "test");
            Assert.Equal("mika", (await sessions.StandingAsync(session))!.Name);
            await change();
            Assert.Null(await sessions.StandingAsync(session));
        }
        Assert.Empty(await sessions.ListAsync(store.Mika));
    }

    [Fact]
    public async Task OneOwnSessionCanStayWhenThePasswordChanges()
    {
        var (people, sessions) = (new PersonRepository(store.Database), new SessionRepository(store.Database));
        var (kept, other) = (await sessions.BeginAsync(store.Noor, "", ""), await sessions.BeginAsync(store.Noor, "", ""));
        await people.SetPasswordAsync("noor", "hash", By, keep: kept);
        Assert.NotNull(await sessions.StandingAsync(kept));
        Assert.Null(await sessions.StandingAsync(other));
    }

    [Fact]
    public async Task ASessionIsEndedByItsOwnerOrAnAdminOnly()
    {
        var sessions = new SessionRepository(store.Database);
        var session = await sessions.BeginAsync(store.Noor, "", "");
        Assert.False(await sessions.EndAsync(session, store.Mika));
        Assert.NotNull(await sessions.StandingAsync(session));
        Assert.True(await sessions.EndAsync(session, null));
        Assert.False(await sessions.EndAsync(session, store.Noor));
    }

    [Fact]
    public async Task TheLastAdminStays()
    {
        var people = new PersonRepository(store.Database);
        await people.AddAsync("ada", "Ada", "admin", "hash", By);
        foreach (
            var change in new Func<Task>[]
            {
                () => people.UpdateAsync("ada", "lead", null, null, By),
                () => people.UpdateAsync("ada", null, true, null, By),
                () => people.ClearPasswordAsync("ada", By),
            }
        )
            Assert.Equal("person.last-admin", (await Assert.ThrowsAsync<PersonException>(change)).Code);
        await people.AddAsync("vera", "Vera", "admin", "hash", By);
        await people.UpdateAsync("ada", "lead", null, null, By);
    }

    [Fact]
    public async Task ALinkIsGoodOnceAndNoOtherIsGoodAfterIt()
    {
        var links = new LinkRepository(store.Database);
        var (old, _) = await links.MakeAsync(store.Noor);
        var (token, _) = await links.MakeAsync(store.Noor);
        Assert.Null(await links.FindAsync(old));
        Assert.Equal("noor", (await links.FindAsync(token))!.Name);
        Assert.Equal("noor", (await links.UseAsync(token, null, "hash", "")).Name);
        await Assert.ThrowsAsync<PersonException>(() => links.UseAsync(token, null, "other", ""));
        Assert.Equal("hash", (await new PersonRepository(store.Database).FindAsync("noor"))!.PasswordHash);
    }

    [Fact]
    public async Task TheFirstAdminsLinkIsForAStudioWithoutAnybodyWhoCanSignIn()
    {
        var (people, links) = (new PersonRepository(store.Database), new LinkRepository(store.Database));
        var (token, _) = await links.FirstAdminAsync();
        // The fixture's people have passwords.
        await Assert.ThrowsAsync<PersonException>(() => links.UseAsync(token, "ada", "hash", ""));
        Assert.False(await people.IsEmptyAsync());
    }

    [Theory]
    [InlineData("short")]
    [InlineData("aaaaaaaaaaaaaaaa")]
    [InlineData("noor-noor-noor")]
    [InlineData("123456789012")]
    [InlineData("qwertyuiop123")]
    public void PasswordsThatAreTriedFirstAreRefused(string password) =>
        Assert.Throws<PersonException>(() => Passwords.Hash("noor", password));

    [Fact]
    public void APassphraseFits()
    {
        var hash = Passwords.Hash("noor", "three teal kilns hum");
        Assert.True(Passwords.Fits(hash, "three teal kilns hum"));
        Assert.False(Passwords.Fits(hash, "three teal kilns hum "));
        Assert.False(Passwords.Fits(null, "three teal kilns hum"));
        Assert.False(Passwords.Fits("", ""));
    }

    [Fact]
    public async Task TheAuditTellsWhoDidWhatFromWhere()
    {
        var people = new PersonRepository(store.Database);
        await people.AddAsync("otto", "Otto", "viewer", "", By);
        await people.UpdateAsync("otto", "artist", true, null, By);
        var lines = await new AuditRepository(store.Database).ListAsync();
        Assert.Equal(["person.disabled", "person.role", "person.added"], lines.Take(3).Select(l => l.Action));
        Assert.All(lines.Take(3), l => Assert.Equal(("ada", "otto", "127.0.0.1"), (l.Person, l.Subject, l.Address)));
        Assert.Equal("viewer to artist", lines[1].Detail);
    }
}
