using System.Net;
using System.Net.Http.Json;
using System.Security.Cryptography;
using System.Text.Json;
using static Kiln.Server.Tests.Api;

namespace Kiln.Server.Tests.Collections;

/// <summary>Versions: handed in, judged once, the same bytes for ever, never changed by anything that happens later.</summary>
[Collection(nameof(LooksServer))]
public sealed class VersionTests(ServerFixture server)
{
    private static async Task<(string Id, int Revision)> LookAsync(HttpClient client, string name)
    {
        var id = (await GetAsync(client, "looks"))
            .EnumerateArray()
            .First(l => l.GetProperty("name").GetString() == name)
            .GetProperty("id")
            .GetString()!;
        return (id, (await GetAsync(client, $"looks/{id}")).GetProperty("revision").GetInt32());
    }

    private static async Task<HttpResponseMessage> AddAsync(
        HttpClient client,
        string id,
        int revision,
        string note,
        bool publishes = false
    ) => await SentAsync(client, $"looks/{id}/versions", revision, new { note, publishes });

    private static Task<HttpResponseMessage> SentAsync(HttpClient client, string path, int revision, object body)
    {
        var request = new HttpRequestMessage(HttpMethod.Post, path) { Content = JsonContent.Create(body) };
        request.Headers.TryAddWithoutValidation("If-Match", $"\"{revision}\"");
        return client.SendAsync(request);
    }

    private static async Task<string> HashAsync(HttpClient client, string path) =>
        Convert.ToHexStringLower(SHA256.HashData(await client.GetByteArrayAsync(path)));

    [Fact]
    public async Task AnArtistHandsInALeadPublishesAndAViewerSeesOnlyThat()
    {
        using var artist = await server.SignedInAsync("mika");
        using var lead = await server.SignedInAsync("noor");
        using var viewer = await server.SignedInAsync("vera");
        var (id, revision) = await LookAsync(artist, "sail canvas");
        Assert.Equal(HttpStatusCode.Forbidden, (await AddAsync(artist, id, revision, "mine", publishes: true)).StatusCode);
        var first = await JsonAsync(await AddAsync(artist, id, revision, "first weave"));
        Assert.Equal("in review", first.GetProperty("state").GetString());
        Assert.Empty((await GetAsync(viewer, $"looks/{id}/versions")).EnumerateArray());
        Assert.Equal(HttpStatusCode.NotFound, (await viewer.GetAsync($"looks/{id}/versions/1/package?dialect=gltf")).StatusCode);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await viewer.GetAsync($"looks/{id}/picture?version=1&size=32")).StatusCode);
        Assert.Equal(HttpStatusCode.OK, (await artist.GetAsync($"looks/{id}/picture?version=1&size=32")).StatusCode);
        Assert.Equal(
            HttpStatusCode.Forbidden,
            (await artist.PostAsJsonAsync($"looks/{id}/versions/1/judgement", new { publishes = true })).StatusCode
        );

        var back = await JsonAsync(
            await lead.PostAsJsonAsync($"looks/{id}/versions/1/judgement", new { publishes = false, words = "the weave is too large" })
        );
        Assert.Equal(
            ("sent back", "the weave is too large", "Noor Teale"),
            (back.GetProperty("state").GetString(), back.GetProperty("judgement").GetString(), back.GetProperty("judgedBy").GetString())
        );
        await AddAsync(artist, id, revision, "second weave");
        Assert.Equal(
            "published",
            (await JsonAsync(await lead.PostAsJsonAsync($"looks/{id}/versions/2/judgement", new { publishes = true })))
                .GetProperty("state")
                .GetString()
        );
        Assert.Equal(2, Assert.Single((await GetAsync(viewer, $"looks/{id}/versions")).EnumerateArray()).GetProperty("number").GetInt32());
        Assert.True((await viewer.GetAsync($"looks/{id}/versions/2/package?dialect=gltf")).IsSuccessStatusCode);
        Assert.Equal(
            2,
            (await GetAsync(viewer, "looks?state=published&words=sail")).EnumerateArray().Single().GetProperty("version").GetInt32()
        );
    }

    [Fact]
    public async Task OfTwoWhoSpeakAtOnceOneIsHeardAndTheOtherTold()
    {
        using var artist = await server.SignedInAsync("mika");
        using var noor = await server.SignedInAsync("noor");
        using var ada = await server.SignedInAsync("ada");
        var (id, revision) = await LookAsync(artist, "rubber foot");
        // Two hand in at once: two numbers, nothing lost.
        var numbers = await Task.WhenAll(
            Enumerable
                .Range(0, 6)
                .Select(async i =>
                    (await JsonAsync(await AddAsync(i % 2 == 0 ? artist : noor, id, revision, $"note {i}")))
                        .GetProperty("number")
                        .GetInt32()
                )
        );
        Assert.Equal(6, numbers.Distinct().Count());
        var words = await Task.WhenAll(
            noor.PostAsJsonAsync($"looks/{id}/versions/{numbers[0]}/judgement", new { publishes = true }),
            ada.PostAsJsonAsync($"looks/{id}/versions/{numbers[0]}/judgement", new { publishes = false })
        );
        Assert.Equal([HttpStatusCode.OK, HttpStatusCode.UnprocessableEntity], words.Select(w => w.StatusCode).Order());
        Assert.Contains(
            "does not wait",
            (await words.First(w => !w.IsSuccessStatusCode).Content.ReadFromJsonAsync<JsonElement>()).GetProperty("title").GetString()
        );
    }

    /// <summary>
    /// Edits of the look, another profile for the dialect, another working space, a changed kept chain: the version is written as before,
    /// byte for byte.
    /// </summary>
    [Fact]
    public async Task APublishedVersionIsWrittenTheSameWhateverHappensLater()
    {
        using var lead = await server.SignedInAsync("noor");
        using var admin = await server.SignedInAsync("ada");
        var (id, revision) = await LookAsync(lead, "brass reed plate");
        var number = (await JsonAsync(await AddAsync(lead, id, revision, "final", publishes: true))).GetProperty("number").GetInt32();
        string[] dialects = ["openpbr", "gltf", "usd_preview", "bisque", "celadon"];
        async Task<string[]> AllAsync() =>
            await Task.WhenAll(dialects.Select(d => HashAsync(lead, $"looks/{id}/versions/{number}/package?dialect={d}")));
        var before = await AllAsync();
        var draft = await HashAsync(lead, $"looks/{id}/package?dialect=celadon");

        var edited = await JsonAsync(
            await SentAsync(
                lead,
                $"looks/{id}/edits",
                revision,
                new
                {
                    edit = "value",
                    lane = "coat_weight",
                    value = new { kind = "scalar", number = 0.5 },
                }
            )
        );
        var text = (await GetAsync(lead, "profiles/celadon/text"))
            .GetProperty("text")
            .GetString()!
            .Replace("\"colourBake\": \"g22_rec709\"", "\"colourBake\": \"lin_rec709\"", StringComparison.Ordinal);
        await DoneAsync(
            await admin.PostAsJsonAsync(
                "profiles",
                new
                {
                    text,
                    note = "other colours",
                    knowing = true,
                }
            )
        );
        Assert.True((await admin.PutAsJsonAsync("house/working-space", new { id = "lin_rec709" })).IsSuccessStatusCode);
        try
        {
            Assert.Equal(before, await AllAsync());
            // The draft shows that all of that does change what is written.
            Assert.NotEqual(draft, await HashAsync(lead, $"looks/{id}/package?dialect=celadon"));
            var changes = (await GetAsync(lead, $"looks/{id}/versions/{number}/changes"))
                .EnumerateArray()
                .Select(c => c.GetProperty("place").GetString())
                .ToList();
            Assert.Equal(["coat_weight"], changes);
            var restored = await JsonAsync(
                await SentAsync(lead, $"looks/{id}/versions/{number}/restore", edited.GetProperty("revision").GetInt32(), new { })
            );
            Assert.False(restored.GetProperty("document").GetProperty("lanes").TryGetProperty("coat_weight", out _));
            Assert.Equal(before, await AllAsync());
        }
        finally
        {
            await admin.DeleteAsync("profiles/celadon");
            await admin.PutAsJsonAsync("house/working-space", new { id = "acescg" });
        }
    }

    [Fact]
    public async Task AVersionOfAnOldStateIsRefusedAndNothingIsLost()
    {
        using var lead = await server.SignedInAsync("noor");
        var (id, revision) = await LookAsync(lead, "tarred rope");
        await SentAsync(
            lead,
            $"looks/{id}/edits",
            revision,
            new
            {
                edit = "value",
                lane = "coat_weight",
                value = new { kind = "scalar", number = 0.1 },
            }
        );
        Assert.Equal(HttpStatusCode.PreconditionFailed, (await AddAsync(lead, id, revision, "late")).StatusCode);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await AddAsync(lead, id, revision + 1, new string('x', 501))).StatusCode);
        Assert.Equal(HttpStatusCode.NotFound, (await lead.GetAsync($"looks/{id}/versions/77")).StatusCode);
    }
}
