using System.Net;
using System.Net.Http.Headers;
using System.Text;
using System.Text.Json;
using System.Text.RegularExpressions;
using Xunit.Abstractions;

namespace Kiln.Server.Tests.Operation;

/// <summary>
/// Every operation of the OpenAPI document with bodies and identifiers that nobody should send: no 500, no web page, always a problem
/// document with a code,
/// without a path of the server in it and with the security headers.
/// </summary>
public sealed partial class OddRequests(ServerFixture server, ITestOutputHelper output) : IClassFixture<ServerFixture>
{
    private const string Missing = "00000000-0000-0000-0000-00000000dead";

    /// <summary>
    /// Bodies by name: of the wrong kind, cut off, too deep, with what no field is called, with numbers and characters at the edges.
    /// </summary>
    private static IEnumerable<(string Name, HttpContent? Body)> Bodies(bool takesForm)
    {
        static HttpContent Json(string text) => new StringContent(text, Encoding.UTF8, "application/json");
        yield return ("none", null);
        yield return ("empty", Json(""));
        yield return ("null", Json("null"));
        yield return ("a number", Json("42"));
        yield return ("a text", Json("\"text\""));
        yield return ("a list", Json("[]"));
        yield return ("an empty object", Json("{}"));
        yield return ("cut off", Json("{\"name\": \"a"));
        yield return ("an unknown field", Json("{\"nosuchfield\": 1}"));
        yield return (
            "null everywhere",
            Json("{\"name\": null, \"text\": null, \"looks\": null, \"lane\": null, \"edit\": null, \"rows\": null}")
        );
        yield return (
            "wrong kinds",
            Json("{\"name\": {}, \"text\": [], \"looks\": 3, \"lane\": true, \"edit\": 7, \"rows\": \"x\", \"revision\": \"x\"}")
        );
        yield return ("zero characters", Json("{\"name\": \"a\\u0000b\", \"text\": \"\\u0000\"}"));
        yield return ("lone surrogates", Json("{\"name\": \"\\ud800\"}"));
        yield return (
            "huge numbers",
            Json("{\"size\": 1e400, \"width\": 99999999999999999999, \"samples\": -2147483649, \"revision\": 1e9}")
        );
        yield return ("a thousand levels", Json(string.Concat(Enumerable.Repeat("{\"a\":", 1000)) + "1" + new string('}', 1000)));
        yield return ("a long name", Json($"{{\"name\": \"{new string('n', 100_000)}\"}}"));
        yield return ("two megabytes", Json($"{{\"name\": \"{new string('n', 2 << 20)}\"}}"));
        yield return ("not JSON", new StringContent("<html>", Encoding.UTF8, "text/html"));
        yield return ("bytes", new ByteArrayContent([0, 255, 254, 0, 1, 2, 3]));
        yield return ("latin bytes as JSON", Bytes([0x7b, 0x22, 0xe9, 0x22, 0x3a, 0x31, 0x7d], "application/json"));
        if (takesForm)
        {
            yield return ("a form without a file", new MultipartFormDataContent { { new StringContent("x"), "name" } });
            yield return (
                "a form with bytes",
                new MultipartFormDataContent { { new ByteArrayContent([1, 2, 3]), "file", "a\u0001b.png" } }
            );
        }

        static ByteArrayContent Bytes(byte[] bytes, string type)
        {
            var content = new ByteArrayContent(bytes);
            content.Headers.ContentType = new(type);
            return content;
        }
    }

    /// <summary>What stands in a path where an identifier, a number or a name is wanted.</summary>
    private static readonly string[] Identifiers =
    [
        Missing,
        "not-an-id",
        "%01",
        "..%2f..%2fetc%2fpasswd",
        "99999999999999999999",
        "-1",
        new string('a', 300),
        "%F0%9F%94%A5",
        "a%20b%27%22",
    ];

    private static readonly string[] Queries =
    [
        "",
        "?size=-1&width=x&samples=1e9&most=0",
        "?name=%00&dialect=%00&lane=%00&viewer=%00&path=%00",
        "?after=x&since=never&number=NaN&u=NaN&v=Infinity&steps=999999999999",
        "?name=..%2f..%2fx&dialect=nosuch&lane=cover:-1:x&form=teapot&light=moon",
    ];

    [GeneratedRegex(@"\{[^}]*\}")]
    private static partial Regex Place { get; }

    [Fact]
    public async Task NoneIsAnsweredWith500OrAPage()
    {
        using var admin = await server.SignedInAsync("ada");
        using var document = JsonDocument.Parse(await admin.GetStringAsync(server.Address + "/openapi/v1.json"));
        var wrong = new List<string>();
        var (asked, operations) = (0, 0);
        foreach (var path in document.RootElement.GetProperty("paths").EnumerateObject())
        foreach (var method in path.Value.EnumerateObject())
        {
            // Ending the session would end the test.
            if (path.Name.EndsWith("/session", StringComparison.Ordinal) && method.Name == "delete")
                continue;
            operations++;
            var takesForm =
                method.Value.TryGetProperty("requestBody", out var body)
                && body.GetProperty("content").TryGetProperty("multipart/form-data", out _);
            var bodies = method.Name is "get" or "delete" ? [("none", (HttpContent?)null)] : Bodies(takesForm).ToArray();
            var places = path.Name.Contains('{') ? Identifiers : [""];
            var queries = method.Name == "get" ? Queries : Queries[..1];
            // Each body with the first identifier, each identifier and query with the first body.
            foreach (
                var (at, name, content, query) in bodies
                    .Select(b => (places[0], b.Item1, b.Item2, ""))
                    .Concat(
                        places
                            .Skip(1)
                            .Select(p =>
                                (
                                    p,
                                    "an empty object",
                                    method.Name == "get" ? null : (HttpContent?)new StringContent("{}", Encoding.UTF8, "application/json"),
                                    ""
                                )
                            )
                    )
                    .Concat(queries.Skip(1).Select(q => (places[0], "none", (HttpContent?)null, q)))
            )
            {
                asked++;
                if (await FaultAsync(admin, method.Name, Place.Replace(path.Name, _ => at) + query, content) is { } fault)
                    wrong.Add($"{method.Name.ToUpperInvariant()} {path.Name} [{(at.Length > 40 ? at[..40] : at)}{query}] {name}: {fault}");
            }
        }
        output.WriteLine($"{operations} operations, {asked} odd requests, {wrong.Count} answered wrongly");
        Assert.True(operations > 120 && asked > 1500, $"only {operations} operations and {asked} requests");
        Assert.True(wrong.Count == 0, $"{wrong.Count} of {asked}:\n" + string.Join('\n', wrong.Take(60)));
    }

    private static async Task<string?> FaultAsync(HttpClient client, string method, string path, HttpContent? content)
    {
        var bytes = content is null ? null : await content.ReadAsByteArrayAsync();
        // A connection that the server closed after the large body before it is found closed by whoever uses it next (RFC 9112, 9.3.1):
        // asked once more.
        if (
            await AskAsync(client, method, path, bytes, content?.Headers) is var fault
            && fault?.StartsWith(Closed, StringComparison.Ordinal) == true
        )
            fault = await AskAsync(client, method, path, bytes, content?.Headers);
        return fault;
    }

    private const string Closed = "the connection was closed";

    private static async Task<string?> AskAsync(HttpClient client, string method, string path, byte[]? bytes, HttpContentHeaders? headers)
    {
        using var request = new HttpRequestMessage(new(method.ToUpperInvariant()), new Uri(client.BaseAddress!, path));
        request.Headers.TryAddWithoutValidation("If-Match", "\"1\"");
        if (bytes is not null)
        {
            request.Content = new ByteArrayContent(bytes);
            foreach (var (name, values) in headers!)
                request.Content.Headers.TryAddWithoutValidation(name, values);
        }
        using var cancel = new CancellationTokenSource(TimeSpan.FromSeconds(30));
        try
        {
            using var response = await client.SendAsync(request, HttpCompletionOption.ResponseHeadersRead, cancel.Token);
            return await FaultAsync(response, cancel.Token);
        }
        catch (HttpRequestException e) when (e.InnerException is IOException)
        {
            // On a body that it does not take it may close: it said so, and it could not be read here.
            return bytes?.Length > 1 << 20 ? null : $"{Closed}: {e.Message}";
        }
        catch (OperationCanceledException)
        {
            return "no answer within 30 seconds";
        }
    }

    internal static async Task<string?> FaultAsync(HttpResponseMessage response, CancellationToken cancel)
    {
        if (!response.Headers.Contains("X-Content-Type-Options") || !response.Headers.Contains("Content-Security-Policy"))
            return $"{(int)response.StatusCode} without security headers";
        if ((int)response.StatusCode < 400)
            return response.Content.Headers.ContentType?.MediaType == "text/html" ? "a page" : null;
        var text = await response.Content.ReadAsStringAsync(cancel);
        if ((int)response.StatusCode >= 500)
            return $"{(int)response.StatusCode} {text}";
        if (response.Content.Headers.ContentType?.MediaType != "application/problem+json")
            return $"{(int)response.StatusCode} as {response.Content.Headers.ContentType}: {text[..Math.Min(80, text.Length)]}";
        using var problem = JsonDocument.Parse(text);
        if (!problem.RootElement.TryGetProperty("code", out var code) || code.GetString() is null or "")
            return $"{(int)response.StatusCode} without a code: {text}";
        return Regex.IsMatch(text, @"/(tmp|work|home|usr|root)/|Exception|System\.|Kiln\.")
            ? $"it tells of the server's insides: {text}"
            : null;
    }

    [Theory]
    [InlineData("GET", "/api/v1/nosuch", 404)]
    [InlineData("GET", "/api/nosuch", 404)]
    [InlineData("POST", "/api/v1/house", 405)]
    [InlineData("GET", "/api/v1/looks/00000000-0000-0000-0000-00000000dead", 404)]
    [InlineData("GET", "/api/v1/looks/not-an-id", 404)]
    public async Task UnknownPlacesAreProblemsOfTheirOwn(string method, string path, int status)
    {
        using var client = await server.SignedInAsync();
        using var request = new HttpRequestMessage(new(method), new Uri(client.BaseAddress!, path));
        request.Headers.Accept.Add(new MediaTypeWithQualityHeaderValue("text/html"));
        using var response = await client.SendAsync(request);
        Assert.Equal((HttpStatusCode)status, response.StatusCode);
        Assert.Null(await FaultAsync(response, CancellationToken.None));
    }

    /// <summary>Unknown fields are refused by name, and so are missing ones.</summary>
    [Fact]
    public async Task FieldsAreRefusedByName()
    {
        using var client = await server.SignedInAsync();
        var look = await Api.LookAsync(client, "limewashed wall");
        var (id, revision) = (look.GetProperty("id").GetString()!, look.GetProperty("revision").GetInt32());
        async Task<string> SentenceAsync(object edit)
        {
            var answer = await Api.EditAsync(client, id, revision, edit);
            Assert.Equal(HttpStatusCode.BadRequest, answer.StatusCode);
            return (await Api.JsonAsync(answer)).GetProperty("title").GetString()!;
        }
        Assert.Contains(
            "'vlaue'",
            await SentenceAsync(
                new
                {
                    edit = "value",
                    lane = "base_weight",
                    vlaue = new { kind = "scalar", number = 0.5 },
                }
            ),
            StringComparison.Ordinal
        );
        Assert.Contains(
            "number",
            await SentenceAsync(
                new
                {
                    edit = "value",
                    lane = "base_weight",
                    value = new { kind = "scalar" },
                }
            ),
            StringComparison.Ordinal
        );
        Assert.Equal(revision, (await Api.LookAsync(client, "limewashed wall")).GetProperty("revision").GetInt32());
    }

    /// <summary>JSON routes take a megabyte, whoever sends it; nothing larger is read.</summary>
    [Fact]
    public async Task BodiesHaveLimits()
    {
        using var client = new HttpClient { BaseAddress = new(server.Address + "/api/v1/") };
        var token = (await Api.GetAsync(client, "session")).GetProperty("token").GetString();
        client.DefaultRequestHeaders.Add("X-Kiln-Token", token);
        using var large = new StringContent(
            $"{{\"name\":\"{new string('a', 3 << 20)}\",\"password\":\"x\"}}",
            Encoding.UTF8,
            "application/json"
        );
        try
        {
            using var response = await client.PostAsync("session", large);
            Assert.Equal(HttpStatusCode.RequestEntityTooLarge, response.StatusCode);
        }
        catch (HttpRequestException)
        {
            // It closed the connection before the whole of it was sent.
        }
        Assert.Equal("ready", await client.GetStringAsync(server.Address + "/healthz"));
    }

    /// <summary>A lane that is none is told in the same words wherever it is named.</summary>
    [Fact]
    public async Task ALaneThatIsNoneIsASentence()
    {
        using var client = await server.SignedInAsync();
        var look = await Api.LookAsync(client);
        var (id, revision) = (look.GetProperty("id").GetString()!, look.GetProperty("revision").GetInt32());
        var value = new { kind = "scalar", x = 1 };
        HttpResponseMessage[] answers =
        [
            await client.GetAsync($"looks/{id}/histogram?lane=cover:0:mask/s1&step=0"),
            await Api.EditAsync(
                client,
                id,
                revision,
                new
                {
                    edit = "value",
                    lane = "cover:0:mask/s1",
                    value,
                }
            ),
        ];
        Assert.All(await Task.WhenAll(answers.Select(Api.JsonAsync)), a =>
            Assert.Contains("'cover:0:mask/s1' names no lane; base_color,", a.GetProperty("title").GetString())
        );
    }

    /// <summary>Two hundred pictures at once beside a list: all are answered, and the list does not wait for them.</summary>
    [Fact]
    public async Task TwoHundredPicturesAtOnceLeaveTheListAlone()
    {
        using var client = await server.SignedInAsync();
        var looks = (await Api.GetAsync(client, "looks")).EnumerateArray().Select(l => l.GetProperty("id").GetString()).ToList();
        var pictures = Enumerable.Range(0, 200).Select(i => client.GetAsync($"looks/{looks[i % 8]}/picture?size=96")).ToList();
        await Task.Delay(300);
        var clock = System.Diagnostics.Stopwatch.StartNew();
        Assert.True((await client.GetAsync("looks")).IsSuccessStatusCode);
        var list = clock.Elapsed;
        Assert.All(await Task.WhenAll(pictures), p => Assert.Equal(HttpStatusCode.OK, p.StatusCode));
        var all = clock.Elapsed;
        output.WriteLine($"list {list.TotalSeconds:0.00} s, pictures {all.TotalSeconds:0.0} s");
        Assert.True(list < all / 5, $"the list took {list.TotalSeconds:0.0} s of the pictures' {all.TotalSeconds:0.0} s");
    }
}
