using System.Net;
using System.Net.Http.Json;
using System.Text.Json;
using static Kiln.Server.Tests.Api;

namespace Kiln.Server.Tests;

public sealed class ServerTests(ServerFixture server) : IClassFixture<ServerFixture>
{
    [Fact]
    public async Task StrangersAndForgedRequestsAreRefused()
    {
        using var stranger = new HttpClient { BaseAddress = new(server.Address + "/api/v1/") };
        Assert.Equal(HttpStatusCode.Unauthorized, (await stranger.GetAsync("looks")).StatusCode);
        Assert.Equal("token", (await JsonAsync(await stranger.PostAsJsonAsync("session", new { name = "noor", password = "noor-kiln" }))).GetProperty("code").GetString());
        using var client = await server.SignedInAsync();
        client.DefaultRequestHeaders.Remove("X-Kiln-Token");
        Assert.Equal(HttpStatusCode.BadRequest, (await client.PostAsJsonAsync("collections", new { name = "x" })).StatusCode);
        var page = await stranger.GetAsync(server.Address + "/healthz");
        Assert.Contains("default-src 'none'", string.Join(' ', page.Headers.GetValues("Content-Security-Policy")));
    }

    [Fact]
    public async Task ASecondWriterGetsASentenceAndTheFirstEditStays()
    {
        using var one = await server.SignedInAsync();
        using var two = await server.SignedInAsync("ada");
        var look = await LookAsync(one, "limewashed wall");
        var (id, revision) = (look.GetProperty("id").GetString()!, look.GetProperty("revision").GetInt32());
        var first = await EditAsync(one, id, revision, new { edit = "value", lane = "base_weight", value = new { kind = "scalar", number = 0.5 } });
        Assert.Equal(HttpStatusCode.OK, first.StatusCode);
        var second = await EditAsync(two, id, revision, new { edit = "value", lane = "base_weight", value = new { kind = "scalar", number = 0.9 } });
        Assert.Equal(HttpStatusCode.PreconditionFailed, second.StatusCode);
        var problem = await JsonAsync(second);
        Assert.Equal("look.conflict", problem.GetProperty("code").GetString());
        Assert.Contains("Noor Teale changed this look", problem.GetProperty("title").GetString());
        Assert.Equal(0.5, (await one.GetFromJsonAsync<JsonElement>($"looks/{id}")).GetProperty("document").GetProperty("lanes").GetProperty("base_weight").GetProperty("value").GetProperty("number").GetDouble());
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
        var wrong = await EditAsync(client, id, revision, new { edit = "value", lane = "no_such_input", value = new { kind = "scalar", number = 1 } });
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
        using var zip = new System.IO.Compression.ZipArchive(await (await client.GetAsync($"looks/{look.GetProperty("id").GetString()}/package?dialect={dialect}")).Content.ReadAsStreamAsync());
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

    [Fact]
    public async Task TheProofStreamRefines()
    {
        using var client = await server.SignedInAsync();
        var look = await LookAsync(client);
        var response = await client.PostAsJsonAsync($"looks/{look.GetProperty("id").GetString()}/proof", new { viewer = "test", dialect = "bisque", form = "tile", light = "overcast", width = 64, height = 64, samples = 4, zoom = 1, lightRotation = 0, exposure = 0, view = "plain", background = true, moving = false });
        var bytes = await response.Content.ReadAsByteArrayAsync();
        var samples = new List<int>();
        for (var at = 0; at < bytes.Length;)
        {
            int json = BitConverter.ToInt32(bytes, at), picture = BitConverter.ToInt32(bytes, at + 4);
            var frame = JsonDocument.Parse(bytes.AsMemory(at + 8, json)).RootElement;
            Assert.True(frame.GetProperty("error").ValueKind == JsonValueKind.Null, frame.ToString());
            samples.Add(frame.GetProperty("samples").GetInt32());
            Assert.Equal([0xff, 0xd8], bytes[(at + 8 + json)..(at + 10 + json)]);
            at += 8 + json + picture;
        }
        Assert.Equal([1, 2, 4], samples);
    }

    [Fact]
    public async Task TheOpenApiDocumentIsTheCommittedOne()
    {
        using var client = new HttpClient();
        var served = JsonDocument.Parse(await client.GetStringAsync(server.Address + "/openapi/v1.json"));
        var folder = AppContext.BaseDirectory;
        while (!File.Exists(Path.Combine(folder, "docs", "openapi.json")))
            folder = Path.GetDirectoryName(folder)!;
        var committed = JsonDocument.Parse(await File.ReadAllTextAsync(Path.Combine(folder, "docs", "openapi.json")));
        Assert.Equal(committed.RootElement.GetProperty("paths").GetRawText(), served.RootElement.GetProperty("paths").GetRawText());
        Assert.Equal(committed.RootElement.GetProperty("components").GetRawText(), served.RootElement.GetProperty("components").GetRawText());
    }
}
