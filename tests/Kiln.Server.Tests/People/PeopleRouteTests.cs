using System.Diagnostics;
using System.Net;
using System.Net.Http.Json;
using System.Net.Sockets;
using System.Text.Json;

namespace Kiln.Server.Tests.People;

/// <summary>People, sessions and links over HTTP.</summary>
public sealed class PeopleRouteTests(ServerFixture server) : IClassFixture<ServerFixture>
{
    private const string Passphrase = "seven slow kilns glow";

    private async Task<HttpClient> StrangerAsync()
    {
        var client = new HttpClient(new HttpClientHandler { CookieContainer = new() }) { BaseAddress = new(server.Address + "/api/v1/") };
        await TokenAsync(client);
        return client;
    }

    private static async Task TokenAsync(HttpClient client)
    {
        client.DefaultRequestHeaders.Remove("X-Kiln-Token");
        client.DefaultRequestHeaders.Add("X-Kiln-Token", (await Api.GetAsync(client, "session")).GetProperty("token").GetString());
    }

    private async Task<(HttpClient Client, JsonElement Invited)> InvitedAsync(string name, string role)
    {
        using var admin = await server.SignedInAsync("ada");
        var invited = await Api.DoneAsync(
            await admin.PostAsJsonAsync(
                "people",
                new
                {
                    name,
                    role,
                    shownName = "Otto Reed",
                }
            )
        );
        var client = await StrangerAsync();
        await Api.DoneAsync(await client.PostAsJsonAsync("session/link", new { token = TokenOf(invited), password = Passphrase }));
        await TokenAsync(client);
        return (client, invited);
    }

    private static string TokenOf(JsonElement invited) => invited.GetProperty("link").GetString()!.Split('#')[1];

    [Fact]
    public async Task SomebodyInvitedChoosesAPasswordOnceAndIsIn()
    {
        var (otto, invited) = await InvitedAsync("otto", "artist");
        Assert.Equal("artist", (await Api.GetAsync(otto, "session")).GetProperty("role").GetString());
        using var second = await StrangerAsync();
        var again = await second.PostAsJsonAsync("session/link", new { token = TokenOf(invited), password = Passphrase });
        Assert.Equal(
            ("link.spent", HttpStatusCode.Conflict),
            ((await Api.JsonAsync(again)).GetProperty("code").GetString(), again.StatusCode)
        );
        Assert.True((await second.PostAsJsonAsync("session", new { name = "otto", password = Passphrase })).IsSuccessStatusCode);
    }

    /// <summary>Who listens for progress hears nothing more once the session has ended.</summary>
    [Fact]
    public async Task AConnectionEndsWithItsSession()
    {
        var (iris, _) = await InvitedAsync("iris", "artist");
        var hub = server.Address + "/progress";
        var negotiated = await Api.DoneAsync(await iris.PostAsync($"{hub}/negotiate?negotiateVersion=1", null));
        var place = $"{hub}?id={negotiated.GetProperty("connectionToken").GetString()}";
        using var opened = await iris.GetAsync(place);
        (await iris.PostAsync(place, new StringContent("{\"protocol\":\"json\",\"version\":1}\u001e"))).EnsureSuccessStatusCode();
        Assert.Contains("{}", await iris.GetStringAsync(place), StringComparison.Ordinal);
        var listening = iris.GetAsync(place);
        await Task.Delay(500);
        Assert.False(listening.IsCompleted);
        using var admin = await server.SignedInAsync("ada");
        await Api.DoneAsync(await admin.PatchAsJsonAsync("people/iris", new { disabled = true }));
        Assert.Same(listening, await Task.WhenAny(listening, Task.Delay(60_000)));
        // Long polling's word for an end, or a last message that closes.
        using var last = await listening;
        Assert.True(
            last.StatusCode == HttpStatusCode.NoContent
                || (await last.Content.ReadAsStringAsync()).Contains("\"type\":7", StringComparison.Ordinal),
            last.StatusCode.ToString()
        );
    }

    [Fact]
    public async Task ARoleThatChangesEndsTheSessionAndADisabledPersonIsOut()
    {
        var (client, _) = await InvitedAsync("rolf", "artist");
        using var admin = await server.SignedInAsync("ada");
        await Api.DoneAsync(await admin.PatchAsJsonAsync("people/rolf", new { role = "viewer" }));
        Assert.Equal(HttpStatusCode.Unauthorized, (await client.GetAsync("looks")).StatusCode);
        await TokenAsync(client);
        await Api.DoneAsync(await client.PostAsJsonAsync("session", new { name = "rolf", password = Passphrase }));
        await TokenAsync(client);
        Assert.Equal(HttpStatusCode.Forbidden, (await client.PostAsJsonAsync("collections", new { name = "not for viewers" })).StatusCode);
        await Api.DoneAsync(await admin.PatchAsJsonAsync("people/rolf", new { disabled = true }));
        Assert.Equal(HttpStatusCode.Unauthorized, (await client.GetAsync("looks")).StatusCode);
        await TokenAsync(client);
        Assert.Equal(
            HttpStatusCode.Unauthorized,
            (await client.PostAsJsonAsync("session", new { name = "rolf", password = Passphrase })).StatusCode
        );
    }

    [Fact]
    public async Task SigningOutEndsTheSessionOnTheServer()
    {
        var cookies = new CookieContainer();
        using var client = new HttpClient(new HttpClientHandler { CookieContainer = cookies })
        {
            BaseAddress = new(server.Address + "/api/v1/"),
        };
        await TokenAsync(client);
        await Api.DoneAsync(await client.PostAsJsonAsync("session", new { name = "vera", password = "vera-kiln" }));
        await TokenAsync(client);
        // Somebody who took the cookie along.
        var stolen = new CookieContainer();
        foreach (Cookie cookie in cookies.GetAllCookies())
            stolen.Add(new Cookie(cookie.Name, cookie.Value, cookie.Path, cookie.Domain));
        using var thief = new HttpClient(new HttpClientHandler { CookieContainer = stolen }) { BaseAddress = client.BaseAddress };
        Assert.True((await thief.GetAsync("looks")).IsSuccessStatusCode);
        (await client.DeleteAsync("session")).EnsureSuccessStatusCode();
        Assert.Equal(HttpStatusCode.Unauthorized, (await thief.GetAsync("looks")).StatusCode);
    }

    [Fact]
    public async Task OnesOwnPasswordChangesByThePresentOne()
    {
        var (client, _) = await InvitedAsync("tilda", "artist");
        var wrong = await client.PutAsJsonAsync("session/password", new { current = "not this one", password = "eight quick kilns cool" });
        Assert.Equal("password.wrong", (await Api.JsonAsync(wrong)).GetProperty("code").GetString());
        var weak = await client.PutAsJsonAsync("session/password", new { current = Passphrase, password = "tilda-tilda-tilda" });
        Assert.Equal("password.common", (await Api.JsonAsync(weak)).GetProperty("code").GetString());
        (
            await client.PutAsJsonAsync("session/password", new { current = Passphrase, password = "eight quick kilns cool" })
        ).EnsureSuccessStatusCode();
        Assert.True((await client.GetAsync("looks")).IsSuccessStatusCode);
        Assert.Single((await Api.GetAsync(client, "sessions")).EnumerateArray());
    }

    [Fact]
    public async Task TheLastAdminStaysAndTheAuditTells()
    {
        using var admin = await server.SignedInAsync("ada");
        var last = await admin.PatchAsJsonAsync("people/ada", new { role = "viewer" });
        Assert.Equal(
            ("person.last-admin", HttpStatusCode.Conflict),
            ((await Api.JsonAsync(last)).GetProperty("code").GetString(), last.StatusCode)
        );
        Assert.Equal(HttpStatusCode.NotFound, (await admin.PatchAsJsonAsync("people/nobody", new { role = "viewer" })).StatusCode);
        Assert.Equal(HttpStatusCode.Conflict, (await admin.PostAsJsonAsync("people", new { name = "ada", role = "viewer" })).StatusCode);
        await Api.DoneAsync(await admin.PostAsJsonAsync("people", new { name = "uma", role = "viewer" }));
        var line = (await Api.GetAsync(admin, "people/audit"))[0];
        Assert.Equal(
            ("ada", "person.added", "uma"),
            (line.GetProperty("person").GetString(), line.GetProperty("action").GetString(), line.GetProperty("subject").GetString())
        );
    }

    /// <summary>The demo's people are made once: whoever an admin disables or changes stays so after a restart.</summary>
    [Fact]
    public async Task TheDemosPeopleAreNotBroughtBack()
    {
        using (var admin = await server.SignedInAsync("ada"))
            await Api.DoneAsync(await admin.PatchAsJsonAsync("people/mika", new { disabled = true }));
        server.Stop();
        await server.StartAsync();
        using var client = await StrangerAsync();
        Assert.Equal(
            HttpStatusCode.Unauthorized,
            (await client.PostAsJsonAsync("session", new { name = "mika", password = "mika-kiln" })).StatusCode
        );
    }

    /// <summary>
    /// A name that nobody has costs the work of a wrong password. The two take turns and their quickest answers are compared: a busy
    /// machine slows both, and what it adds never makes an answer quicker than its hashing.
    /// </summary>
    [Fact]
    public async Task KnownAndUnknownNamesCostTheSameWork()
    {
        // From addresses of their own, so that the limits of one do not meet the other.
        using var known = await FromAsync("127.0.0.21");
        using var unknown = await FromAsync("127.0.0.22");
        var (quickestKnown, quickestUnknown) = (double.MaxValue, double.MaxValue);
        for (var i = 0; i < 15; i++)
        {
            quickestKnown = Math.Min(quickestKnown, await RefusedAsync(known, "noor"));
            quickestUnknown = Math.Min(quickestUnknown, await RefusedAsync(unknown, "nobody-here"));
        }
        // An answer without hashing takes a twentieth.
        Assert.InRange(quickestUnknown / quickestKnown, 0.4, 2.5);
    }

    private async Task<HttpClient> FromAsync(string address)
    {
        var handler = new SocketsHttpHandler { CookieContainer = new() };
        handler.ConnectCallback = async (c, cancel) =>
        {
            var socket = new Socket(SocketType.Stream, ProtocolType.Tcp) { NoDelay = true };
            socket.Bind(new IPEndPoint(IPAddress.Parse(address), 0));
            await socket.ConnectAsync(c.DnsEndPoint, cancel);
            return new NetworkStream(socket, ownsSocket: true);
        };
        var client = new HttpClient(handler) { BaseAddress = new(server.Address + "/api/v1/") };
        await TokenAsync(client);
        return client;
    }

    /// <summary>Milliseconds until a wrong password is refused.</summary>
    private static async Task<double> RefusedAsync(HttpClient client, string name)
    {
        var clock = Stopwatch.StartNew();
        using var answer = await client.PostAsJsonAsync("session", new { name, password = "wrong password here" });
        Assert.Equal(HttpStatusCode.Unauthorized, answer.StatusCode);
        return clock.Elapsed.TotalMilliseconds;
    }
}
