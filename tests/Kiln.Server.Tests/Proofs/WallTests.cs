using System.Net;
using System.Net.Http.Json;
using System.Text.Json;
using static Kiln.Server.Tests.Api;

namespace Kiln.Server.Tests.Proofs;

/// <summary>Walls of proofs: pictures, differences, and comparisons that are kept.</summary>
[Collection(nameof(PicturesServer))]
public sealed class WallTests(ServerFixture server)
{
    private static object Cell(string look, string? dialect = null, string light = "overcast", float exposure = 0) =>
        new
        {
            look,
            dialect,
            form = "sphere",
            light,
            exposure,
            size = 64,
            samples = 8,
        };

    private static object Wall(params string[] looks) =>
        new
        {
            rows = looks.Select(l => new { look = l }),
            columns = new[] { new { form = "vessel", light = "softbox" }, new { form = "sphere", light = "night" } },
        };

    [Fact]
    public async Task TheSameQuestionIsTheSamePicture()
    {
        using var client = await server.SignedInAsync();
        var look = (await LookAsync(client)).GetProperty("id").GetString();
        var first = await client.GetByteArrayAsync($"proofs/cell?look={look}&form=cloth&light=lowsun&size=48&samples=4");
        Assert.Equal(first, await client.GetByteArrayAsync($"proofs/cell?look={look}&form=cloth&light=lowsun&size=48&samples=4"));
        Assert.NotEqual(
            first,
            await client.GetByteArrayAsync($"proofs/cell?look={look}&form=cloth&light=lowsun&size=48&samples=4&lightRotation=90")
        );
    }

    [Fact]
    public async Task DifferencesAreMeasuredOnWhatIsDisplayed()
    {
        using var client = await server.SignedInAsync();
        var look = (await LookAsync(client)).GetProperty("id").GetString()!;
        async Task<JsonElement> Between(object first, object second) =>
            await JsonAsync(await client.PostAsJsonAsync("proofs/difference", new { first, second }));
        var none = await Between(Cell(look), Cell(look));
        Assert.Equal(0, none.GetProperty("greatest").GetDouble());
        // The network of the dialect that has the same inputs shows the same.
        Assert.True((await Between(Cell(look), Cell(look, "openpbr"))).GetProperty("mean").GetDouble() < 0.3);
        var brighter = await Between(Cell(look), Cell(look, exposure: 1));
        Assert.True(brighter.GetProperty("mean").GetDouble() > 3);
        Assert.True(brighter.GetProperty("secondLightness").GetDouble() > brighter.GetProperty("firstLightness").GetDouble());
        Assert.StartsWith("iVBOR", brighter.GetProperty("map").GetString());
        var sizes = await client.PostAsJsonAsync("proofs/difference", new { first = Cell(look), second = new { look, size = 32 } });
        Assert.Equal(HttpStatusCode.BadRequest, sizes.StatusCode);
        Assert.Contains("different sizes", await sizes.Content.ReadAsStringAsync());
    }

    /// <summary>Light is of the surface and the lamp; exposure and view change what is displayed of it, by the numbers of the picture
    /// itself.</summary>
    [Fact]
    public async Task APlaceIsReadFromTheLightThatThePictureShows()
    {
        using var client = await server.SignedInAsync();
        var look = (await LookAsync(client)).GetProperty("id").GetString()!;
        async Task<JsonElement> Read(object first, object? second = null, float u = 0.5f) =>
            await JsonAsync(
                await client.PostAsJsonAsync(
                    "proofs/cell-readout",
                    new
                    {
                        first,
                        second,
                        u,
                        v = 0.5f,
                        patch = 1,
                    }
                )
            );
        var plain = await Read(Cell(look), Cell(look, exposure: 1));
        JsonElement first = plain.GetProperty("first"),
            second = plain.GetProperty("second");
        Assert.Equal(first.GetProperty("working").ToString(), second.GetProperty("working").ToString());
        Assert.True(second.GetProperty("displayed")[1].GetDouble() > first.GetProperty("displayed")[1].GetDouble() + 0.02);
        Assert.True(plain.GetProperty("deltaE").GetDouble() > 3);
        var same = await Read(Cell(look), Cell(look));
        Assert.Equal(0, same.GetProperty("deltaE").GetDouble());
        var alone = await Read(Cell(look));
        Assert.True(alone.GetProperty("first").TryGetProperty("hex", out _));
        Assert.False(alone.TryGetProperty("deltaE", out var between) && between.ValueKind != JsonValueKind.Null);
        // What is displayed is what stands in the picture at that place.
        var png = await client.GetByteArrayAsync($"proofs/cell?look={look}&form=sphere&light=overcast&size=64&samples=8");
        var path = Path.GetTempFileName();
        await File.WriteAllBytesAsync(path, png);
        var picture = Kiln.Pixels.Decoding.Workers.DecodeWorker.InProcess(path, null, Kiln.Pixels.Decoding.DecodeLimits.Default);
        File.Delete(path);
        for (var c = 0; c < 3; c++)
            Assert.Equal(picture[32, 32, c], first.GetProperty("displayed")[c].GetDouble(), 0.6 / 255);
        var beyond = await client.PostAsJsonAsync(
            "proofs/cell-readout",
            new
            {
                first = new { look = Guid.NewGuid() },
                u = 7,
                v = -3,
            }
        );
        Assert.Equal(HttpStatusCode.NotFound, beyond.StatusCode);
    }

    [Fact]
    public async Task AComparisonIsSavedAndNobodysWorkIsWrittenOver()
    {
        using var noor = await server.SignedInAsync();
        using var ada = await server.SignedInAsync("ada");
        var look = (await LookAsync(noor)).GetProperty("id").GetString()!;
        var made = await JsonAsync(await noor.PostAsJsonAsync("comparisons", new { name = "pipe at night", wall = Wall(look) }));
        var id = made.GetProperty("id").GetString();
        var again = await GetAsync(ada, $"comparisons/{id}");
        Assert.Equal(made.GetProperty("wall").GetRawText(), again.GetProperty("wall").GetRawText());
        async Task<HttpResponseMessage> Put(HttpClient client, string name)
        {
            var request = new HttpRequestMessage(HttpMethod.Put, $"comparisons/{id}")
            {
                Content = JsonContent.Create(new { name, wall = Wall(look, look) }),
            };
            request.Headers.TryAddWithoutValidation("If-Match", "\"1\"");
            return await client.SendAsync(request);
        }
        Assert.Equal(HttpStatusCode.OK, (await Put(ada, "pipe at night")).StatusCode);
        var late = await Put(noor, "pipe at dusk");
        Assert.Equal(HttpStatusCode.Conflict, late.StatusCode);
        Assert.Contains("changed meanwhile", await late.Content.ReadAsStringAsync());
        Assert.Equal(2, (await GetAsync(noor, $"comparisons/{id}")).GetProperty("wall").GetProperty("rows").GetArrayLength());
        Assert.Equal(HttpStatusCode.NoContent, (await noor.DeleteAsync($"comparisons/{id}")).StatusCode);
        Assert.DoesNotContain((await GetAsync(noor, "comparisons")).EnumerateArray(), c => c.GetProperty("id").GetString() == id);
    }

    [Fact]
    public async Task BadWallsGetASentence()
    {
        using var client = await server.SignedInAsync();
        var look = (await LookAsync(client)).GetProperty("id").GetString()!;
        foreach (
            var (body, part) in new (object, string)[]
            {
                (new { name = "empty", wall = Wall() }, "1 to 24 rows"),
                (new { name = " ", wall = Wall(look) }, "1 to 80 characters"),
                (new { name = "many", wall = Wall([.. Enumerable.Repeat(look, 25)]) }, "1 to 24 rows"),
            }
        )
        {
            var response = await client.PostAsJsonAsync("comparisons", body);
            Assert.Equal(HttpStatusCode.BadRequest, response.StatusCode);
            Assert.Contains(part, await response.Content.ReadAsStringAsync());
        }
        foreach (
            var (query, part) in new[]
            {
                ("form=teapot", "no form 'teapot'"),
                ("light=noon", "no light 'noon'"),
                ("view=dream", "dream"),
                ("dialect=latin", "latin"),
            }
        )
        {
            var response = await client.GetAsync($"proofs/cell?look={look}&size=32&samples=1&{query}");
            Assert.Contains(response.StatusCode, (HttpStatusCode[])[HttpStatusCode.BadRequest, HttpStatusCode.UnprocessableEntity]);
            Assert.Contains(part, await response.Content.ReadAsStringAsync());
        }
    }
}
