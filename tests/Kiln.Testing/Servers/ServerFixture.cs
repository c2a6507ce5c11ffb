using System.Collections.Concurrent;
using System.Net;
using System.Net.Http.Json;
using System.Text.Json;

namespace Kiln.Testing.Servers;

/// <summary>
/// A real server process on a free port with a database of its own, holding the demo; it can be killed and started again on the same data.
/// </summary>
public sealed class ServerFixture : IAsyncLifetime
{
    public string Database { get; } = "kiln_" + Guid.NewGuid().ToString("N")[..10];
    private readonly ConcurrentDictionary<string, CookieContainer> sessions = new();
    private readonly ServerProcess process;

    public ServerFixture() => process = new(Folder, Database);

    public string Folder { get; } = Directory.CreateTempSubdirectory("kiln-server-").FullName;

    public string DemoFolder => Path.Combine(Folder, "demo");

    public string Address { get; private set; } = "";

    public async Task InitializeAsync()
    {
        await DemoState.CopyAsync(Folder, Database);
        await StartAsync();
    }

    /// <param name="again">At the address it had, for whoever waits there.</param>
    public Task StartAsync(bool again = false)
    {
        if (!again)
            Address = ServerProcess.FreeAddress();
        return process.StartAsync(Address);
    }

    public void Kill() => process.Kill();

    public void Stop() => process.Stop();

    /// <summary>
    /// A client signed in as one of the demo people: in the session that the person has already, since only so many sign in a minute.
    /// </summary>
    public Task<HttpClient> SignedInAsync(string name = "noor") => SignedInAsync(Address, name, sessions.GetOrAdd(name, _ => new()));

    public static async Task<HttpClient> SignedInAsync(string address, string name, CookieContainer? cookies = null)
    {
        var client = new HttpClient(new HttpClientHandler { CookieContainer = cookies ?? new() })
        {
            BaseAddress = new(address + "/api/v1/"),
            // A fit on a busy machine takes longer than the 100 seconds that are usual; a hung server is found by the run's own limit.
            Timeout = TimeSpan.FromMinutes(10),
        };
        if (await SessionAsync(client) == name)
            return client;
        (await client.PostAsJsonAsync("session", new { name, password = name + "-kiln" })).EnsureSuccessStatusCode();
        await SessionAsync(client);
        return client;
    }

    /// <summary>Who is signed in; the client has the session's token from then on.</summary>
    private static async Task<string?> SessionAsync(HttpClient client)
    {
        var session = await client.GetFromJsonAsync<JsonElement>("session");
        client.DefaultRequestHeaders.Remove("X-Kiln-Token");
        client.DefaultRequestHeaders.Add("X-Kiln-Token", session.GetProperty("token").GetString());
        return session.TryGetProperty("name", out var name) ? name.GetString() : null;
    }

    public async Task DisposeAsync()
    {
        Kill();
        await DemoState.RunAsync($"drop database if exists {Database} with (force)");
        Directory.Delete(Folder, recursive: true);
    }
}
