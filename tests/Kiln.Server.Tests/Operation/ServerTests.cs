using System.Net;
using System.Net.Http.Json;
using System.Text.Json;
using static Kiln.Server.Tests.Api;

namespace Kiln.Server.Tests.Operation;

[Collection(nameof(PicturesServer))]
public sealed class ServerTests(ServerFixture server)
{
    [Fact]
    public async Task StrangersAndForgedRequestsAreRefused()
    {
        using var stranger = new HttpClient { BaseAddress = new(server.Address + "/api/v1/") };
        Assert.Equal(HttpStatusCode.Unauthorized, (await stranger.GetAsync("looks")).StatusCode);
        Assert.Equal(
            "token",
            (await JsonAsync(await stranger.PostAsJsonAsync("session", new { name = "noor", password = "noor-kiln" })))
                .GetProperty("code")
                .GetString()
        );
        using var client = await server.SignedInAsync();
        client.DefaultRequestHeaders.Remove("X-Kiln-Token");
        Assert.Equal(HttpStatusCode.BadRequest, (await client.PostAsJsonAsync("collections", new { name = "x" })).StatusCode);
        var page = await stranger.GetAsync(server.Address + "/healthz");
        Assert.Contains("default-src 'none'", string.Join(' ', page.Headers.GetValues("Content-Security-Policy")));
    }

    /// <summary>A client whose requests come from another address of this machine.</summary>
    private async Task<HttpClient> FromAsync(string address)
    {
        var handler = new SocketsHttpHandler
        {
            CookieContainer = new(),
            ConnectCallback = async (context, cancel) =>
            {
                var socket = new System.Net.Sockets.Socket(System.Net.Sockets.SocketType.Stream, System.Net.Sockets.ProtocolType.Tcp);
                socket.Bind(new IPEndPoint(IPAddress.Parse(address), 0));
                await socket.ConnectAsync(context.DnsEndPoint, cancel);
                return new System.Net.Sockets.NetworkStream(socket, ownsSocket: true);
            },
        };
        var client = new HttpClient(handler) { BaseAddress = new(server.Address + "/api/v1/") };
        client.DefaultRequestHeaders.Add(
            "X-Kiln-Token",
            (await client.GetFromJsonAsync<JsonElement>("session")).GetProperty("token").GetString()
        );
        return client;
    }

    /// <summary>
    /// Passwords are not tried a thousand times; whoever tries them keeps nobody else out. The tries may fall into two minutes, of which
    /// each takes twenty.
    /// </summary>
    [Fact]
    public async Task OnlySoManySignInsAMinuteAreTakenFromOneAddress()
    {
        using var guesser = await FromAsync("127.0.0.7");
        var answers = new List<HttpStatusCode>();
        for (var i = 0; i < 50; i++)
        {
            var answer = await guesser.PostAsJsonAsync("session", new { name = "noor", password = $"guess {i}" });
            answers.Add(answer.StatusCode);
            if (answer.StatusCode == HttpStatusCode.TooManyRequests)
                Assert.Contains("Wait a minute", (await JsonAsync(answer)).GetProperty("title").GetString(), StringComparison.Ordinal);
        }
        Assert.All(answers, a => Assert.Contains(a, new[] { HttpStatusCode.Unauthorized, HttpStatusCode.TooManyRequests }));
        Assert.True(
            answers.Count(a => a == HttpStatusCode.Unauthorized) is >= 20 and <= 40,
            $"{answers.Count(a => a == HttpStatusCode.Unauthorized)} guesses were taken"
        );
        using var other = await FromAsync("127.0.0.8");
        Assert.True((await other.PostAsJsonAsync("session", new { name = "noor", password = "noor-kiln" })).IsSuccessStatusCode);
    }

    [Fact]
    public async Task ASecondWriterGetsASentenceAndTheFirstEditStays()
    {
        using var one = await server.SignedInAsync();
        using var two = await server.SignedInAsync("ada");
        var look = await LookAsync(one, "limewashed wall");
        var (id, revision) = (look.GetProperty("id").GetString()!, look.GetProperty("revision").GetInt32());
        var first = await EditAsync(
            one,
            id,
            revision,
            new
            {
                edit = "value",
                lane = "base_weight",
                value = new { kind = "scalar", number = 0.5 },
            }
        );
        Assert.Equal(HttpStatusCode.OK, first.StatusCode);
        var second = await EditAsync(
            two,
            id,
            revision,
            new
            {
                edit = "value",
                lane = "base_weight",
                value = new { kind = "scalar", number = 0.9 },
            }
        );
        Assert.Equal(HttpStatusCode.PreconditionFailed, second.StatusCode);
        var problem = await JsonAsync(second);
        Assert.Equal("look.conflict", problem.GetProperty("code").GetString());
        Assert.Contains("Noor Teale changed this look", problem.GetProperty("title").GetString());
        Assert.Equal(
            0.5,
            (await one.GetFromJsonAsync<JsonElement>($"looks/{id}"))
                .GetProperty("document")
                .GetProperty("lanes")
                .GetProperty("base_weight")
                .GetProperty("value")
                .GetProperty("number")
                .GetDouble()
        );
        // Undo and redo go through the same revisions.
        Assert.Equal(HttpStatusCode.OK, (await EditAsync(one, id, revision + 1, new { }, "undo")).StatusCode);
        var back = await one.GetFromJsonAsync<JsonElement>($"looks/{id}");
        Assert.False(back.GetProperty("document").GetProperty("lanes").TryGetProperty("base_weight", out _));
        Assert.Equal(HttpStatusCode.OK, (await EditAsync(one, id, revision + 2, new { }, "redo")).StatusCode);
    }

    [Fact]
    public async Task EditsThatDoNotFitAreSentences()
    {
        using var client = await server.SignedInAsync();
        var look = await LookAsync(client);
        var (id, revision) = (look.GetProperty("id").GetString()!, look.GetProperty("revision").GetInt32());
        var wrong = await EditAsync(
            client,
            id,
            revision,
            new
            {
                edit = "value",
                lane = "no_such_input",
                value = new { kind = "scalar", number = 1 },
            }
        );
        Assert.Equal(HttpStatusCode.UnprocessableEntity, wrong.StatusCode);
        Assert.Contains("no input", (await JsonAsync(wrong)).GetProperty("title").GetString());
        Assert.Equal(HttpStatusCode.BadRequest, (await EditAsync(client, id, revision, new { edit = "nonsense" })).StatusCode);
    }

    [Theory]
    [InlineData("openpbr")]
    [InlineData("gltf")]
    [InlineData("bisque")]
    public async Task PackagesComeWithTheirChecksums(string dialect)
    {
        using var client = await server.SignedInAsync();
        var look = await LookAsync(client);
        using var zip = new System.IO.Compression.ZipArchive(
            await (
                await client.GetAsync($"looks/{look.GetProperty("id").GetString()}/package?dialect={dialect}")
            ).Content.ReadAsStreamAsync()
        );
        Assert.Contains(zip.Entries, e => e.FullName == "look.json");
        using var sums = new StreamReader(zip.GetEntry("checksums.txt")!.Open());
        foreach (var line in (await sums.ReadToEndAsync()).Split('\n', StringSplitOptions.RemoveEmptyEntries))
        {
            var (hash, path) = (line[..64], line[66..]);
            Assert.DoesNotContain("..", path);
            using var content = zip.GetEntry(path)!.Open();
            Assert.Equal(hash, Convert.ToHexStringLower(System.Security.Cryptography.SHA256.HashData(content)));
        }
    }

    private static async Task<List<JsonElement>> FramesAsync(HttpClient client, string look, object query)
    {
        var bytes = await (await client.PostAsJsonAsync($"looks/{look}/proof", query)).Content.ReadAsByteArrayAsync();
        var frames = new List<JsonElement>();
        for (var at = 0; at < bytes.Length; )
        {
            int json = BitConverter.ToInt32(bytes, at),
                picture = BitConverter.ToInt32(bytes, at + 4);
            var frame = JsonDocument.Parse(bytes.AsMemory(at + 8, json)).RootElement;
            Assert.True(frame.GetProperty("error").ValueKind == JsonValueKind.Null, frame.ToString());
            Assert.Equal([0xff, 0xd8], bytes[(at + 8 + json)..(at + 10 + json)]);
            frames.Add(frame);
            at += 8 + json + picture;
        }
        return frames;
    }

    private static IEnumerable<int> Samples(List<JsonElement> frames) => frames.Select(f => f.GetProperty("samples").GetInt32());

    [Fact]
    public async Task TheProofStreamRefinesAndGoesOnWhereItWasLeft()
    {
        using var client = await server.SignedInAsync();
        var look = (await LookAsync(client)).GetProperty("id").GetString()!;
        object Query(int samples, double exposure = 0, double untilNoise = 0, double[]? part = null) =>
            new
            {
                viewer = "test",
                dialect = "bisque",
                form = "tile",
                light = "overcast",
                width = 64,
                height = 64,
                samples,
                zoom = 1,
                lightRotation = 0,
                exposure,
                view = "plain",
                background = true,
                moving = false,
                untilNoise,
                part,
            };
        Assert.Equal([1, 2, 4], Samples(await FramesAsync(client, look, Query(4))));
        // Opened again, and shown brighter: what was rendered is there at once.
        Assert.Equal([4], Samples(await FramesAsync(client, look, Query(4, exposure: 1))));
        Assert.Equal([8, 16, 32], Samples(await FramesAsync(client, look, Query(32))));
        // A part alone, from where the whole stands.
        Assert.Equal([48, 64], Samples(await FramesAsync(client, look, Query(64, part: [0.2, 0.2, 0.6, 0.6]))));
        // Good enough already: nothing more is rendered.
        var enough = Assert.Single(await FramesAsync(client, look, Query(4000, untilNoise: 0.5)));
        Assert.True(enough.GetProperty("last").GetBoolean());
        Assert.Equal(32, enough.GetProperty("samples").GetInt32());
    }

    [Fact]
    public async Task TheOpenApiDocumentIsTheCommittedOne()
    {
        using var client = new HttpClient();
        var served = JsonDocument.Parse(await client.GetStringAsync(server.Address + "/openapi/v1.json"));
        var committed = JsonDocument.Parse(await File.ReadAllTextAsync(Repository.Path("docs", "openapi.json")));
        Assert.Equal(committed.RootElement.GetProperty("paths").GetRawText(), served.RootElement.GetProperty("paths").GetRawText());
        Assert.Equal(
            committed.RootElement.GetProperty("components").GetRawText(),
            served.RootElement.GetProperty("components").GetRawText()
        );
    }
}
