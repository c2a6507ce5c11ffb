using System.Net;
using System.Text;
using System.Text.Json;

namespace Kiln.Server.Tests.People;

/// <summary>Every route for every role: allowed or refused as docs/roles.md says, and no route that the table does not know.</summary>
public sealed class RoleTests(ServerFixture server) : IClassFixture<ServerFixture>
{
    private static readonly string[] Roles = ["nobody", "viewer", "artist", "lead", "admin"];

    /// <summary>Route to the least role that may use it, as the document's table says.</summary>
    private static SortedDictionary<string, string> Table()
    {
        var rows = File.ReadLines(Repository.Path("docs", "roles.md"))
            .Where(l => l.StartsWith("| `", StringComparison.Ordinal))
            .Select(l => l.Split('|', StringSplitOptions.TrimEntries));
        return new(rows.ToDictionary(r => r[1].Trim('`'), r => r[2]), StringComparer.Ordinal);
    }

    private async Task<SortedDictionary<string, string>> FoundAsync()
    {
        using var stranger = new HttpClient { BaseAddress = new(server.Address) };
        var clients = new List<HttpClient?> { null };
        foreach (var name in (string[])["vera", "mika", "noor", "ada"])
            clients.Add(await server.SignedInAsync(name));
        var found = new SortedDictionary<string, string>(StringComparer.Ordinal);
        using var document = JsonDocument.Parse(await stranger.GetStringAsync("/openapi/v1.json"));
        foreach (var path in document.RootElement.GetProperty("paths").EnumerateObject())
        foreach (var method in path.Value.EnumerateObject())
        {
            var route = $"{method.Name.ToUpperInvariant()} {path.Name}";
            // Signing out would end the very sessions that are tried.
            if (path.Name.EndsWith("/session", StringComparison.Ordinal))
                continue;
            var takesForm =
                method.Value.TryGetProperty("requestBody", out var body)
                && body.GetProperty("content").TryGetProperty("multipart/form-data", out _);
            var allowed = new List<bool>();
            for (var i = 0; i < Roles.Length; i++)
            {
                var client = clients[i];
                using var bare = client is null ? new HttpClient { BaseAddress = new(server.Address) } : null;
                allowed.Add(
                    await StatusAsync(client ?? bare!, method.Name, path.Name, takesForm)
                        is not (HttpStatusCode.Unauthorized or HttpStatusCode.Forbidden)
                );
            }
            // Who may more may also what others may.
            var least = allowed.IndexOf(true);
            found[route] =
                least < 0 ? "none"
                : allowed.Skip(least).All(a => a) ? Roles[least]
                : "mixed: " + string.Join(' ', allowed);
        }
        return found;
    }

    /// <summary>Asked for things that are not there, so that nothing happens where it is allowed.</summary>
    private static async Task<HttpStatusCode> StatusAsync(HttpClient client, string method, string path, bool takesForm)
    {
        var place = System.Text.RegularExpressions.Regex.Replace(path.TrimStart('/'), @"\{[^}]*\}", m => m.Value switch
            {
                "{number}" => "987654",
                "{dialect}" or "{name}" or "{path}" or "{hash}" => "none",
                _ => "00000000-0000-0000-0000-00000000dead",
            });
        using var request = new HttpRequestMessage(new(method.ToUpperInvariant()), "/" + place)
        {
            Content =
                method == "get" ? null
                : takesForm ? new MultipartFormDataContent { { new ByteArrayContent([1]), "file", "a.bin" } }
                : new StringContent("{}", Encoding.UTF8, "application/json"),
        };
        request.Headers.TryAddWithoutValidation("If-Match", "\"987654\"");
        using var cancel = new CancellationTokenSource(TimeSpan.FromSeconds(60));
        using var response = await client.SendAsync(request, HttpCompletionOption.ResponseHeadersRead, cancel.Token);
        return response.StatusCode;
    }

    [Fact]
    public async Task EveryRouteIsOpenToWhomTheTableSays()
    {
        var (table, found) = (Table(), await FoundAsync());
        if (Environment.GetEnvironmentVariable("KILN_SHOW_TABLE") is { Length: > 0 } file)
            await File.WriteAllLinesAsync(file, found.Select(f => $"| `{f.Key}` | {f.Value} |"));
        Assert.True(found.Count > 100, $"only {found.Count} routes were found");
        var differing = found
            .Where(f => table.GetValueOrDefault(f.Key) != f.Value)
            .Select(f => $"{f.Key}: {f.Value}, the table says {table.GetValueOrDefault(f.Key) ?? "nothing"}")
            .Concat(table.Keys.Except(found.Keys).Select(k => $"{k} is in the table and not in the server"))
            .ToList();
        Assert.True(differing.Count == 0, string.Join('\n', differing));
    }
}
