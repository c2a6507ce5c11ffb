using System.Net;
using System.Net.Http.Json;
using System.Text.Json;

namespace Kiln.Server.Tests.Studio;

/// <summary>Dialect profiles of the studio: checked, tried, kept as versions, and never breaking looks unseen.</summary>
public sealed class ProfileTests(ServerFixture server) : IClassFixture<ServerFixture>
{
    private static async Task<string> TextAsync(HttpClient client, string dialect) =>
        (await client.GetFromJsonAsync<JsonElement>($"profiles/{dialect}/text")).GetProperty("text").GetString()!;

    /// <summary>A packed texture is told by what is in it: the network's text stays the same, and only its pixels change.</summary>
    [Theory]
    [InlineData("\"grit\": \"specular_roughness\"", "\"grit\": \"specular_roughness * 0.5\"", "grit")]
    [InlineData("\"skin\": \"base_color * base_weight\"", "\"skin\": \"base_color * base_weight * 0.5\"", "skin")]
    public async Task AChangeThatIsOnlyInBakedPixelsIsSeen(string now, string then, string input)
    {
        using var artist = await server.SignedInAsync("mika");
        var text = await TextAsync(artist, "saggar");
        Assert.Contains(now, text);
        var verdict = await Api.DoneAsync(
            await artist.PostAsJsonAsync("profiles/check", new { text = text.Replace(now, then, StringComparison.Ordinal) })
        );
        Assert.NotEmpty(verdict.GetProperty("affected").EnumerateArray());
        Assert.All(verdict.GetProperty("affected").EnumerateArray(), a =>
            Assert.Equal([input], a.GetProperty("changed").EnumerateArray().Select(c => c.GetString()))
        );
    }

    [Fact]
    public async Task AProfileIsCheckedTriedKeptAndTakenBack()
    {
        var admin = await server.SignedInAsync("ada");
        var text = await TextAsync(admin, "bisque");
        var look = (await admin.GetFromJsonAsync<JsonElement>("looks"))[0].GetProperty("id").GetString();

        // The same text changes nothing.
        var same = await Api.DoneAsync(await admin.PostAsJsonAsync("profiles/check", new { text }));
        Assert.Empty(same.GetProperty("problems").EnumerateArray());
        Assert.Empty(same.GetProperty("affected").EnumerateArray());

        // Another width changes every look with a roughness, and says which input.
        var wider = text.Replace("1 - pow(specular_roughness, 1.3333333)", "1 - specular_roughness", StringComparison.Ordinal);
        Assert.NotEqual(text, wider);
        var verdict = await Api.DoneAsync(await admin.PostAsJsonAsync("profiles/check", new { text = wider }));
        Assert.Equal("Bisque", verdict.GetProperty("replaces").GetString());
        Assert.All(verdict.GetProperty("affected").EnumerateArray(), a =>
            Assert.Contains("polish", a.GetProperty("changed").EnumerateArray().Select(c => c.GetString()))
        );
        Assert.NotEmpty(verdict.GetProperty("affected").EnumerateArray());

        // A profile in use is not changed silently.
        var silent = await admin.PostAsJsonAsync(
            "profiles",
            new
            {
                text = wider,
                note = "",
                knowing = false,
            }
        );
        Assert.Equal(HttpStatusCode.UnprocessableEntity, silent.StatusCode);
        Assert.Contains("would be written otherwise", await silent.Content.ReadAsStringAsync());
        Assert.Equal(text, await TextAsync(admin, "bisque"));

        var tried = await Api.DoneAsync(await admin.PostAsJsonAsync($"profiles/try?look={look}", new { text = wider }));
        Assert.StartsWith("data:image/jpeg;base64,", tried.GetProperty("picture").GetString());
        Assert.NotEmpty(tried.GetProperty("network").GetProperty("nodes").EnumerateArray());

        var before = await (await admin.GetAsync($"looks/{look}/network?dialect=bisque")).Content.ReadAsStringAsync();
        var first = await Api.DoneAsync(
            await admin.PostAsJsonAsync(
                "profiles",
                new
                {
                    text = wider,
                    note = "width as it is",
                    knowing = true,
                }
            )
        );
        Assert.Equal(1, first.GetProperty("version").GetInt32());
        Assert.Equal(wider, await TextAsync(admin, "bisque"));
        Assert.NotEqual(before, await (await admin.GetAsync($"looks/{look}/network?dialect=bisque")).Content.ReadAsStringAsync());

        // A further version, then a restart: the newest is in force.
        await Api.DoneAsync(
            await admin.PostAsJsonAsync(
                "profiles",
                new
                {
                    text = wider.Replace("\"title\": \"Bisque\"", "\"title\": \"Bisque of ours\"", StringComparison.Ordinal),
                    note = "title",
                    knowing = true,
                }
            )
        );
        server.Stop();
        await server.StartAsync(again: true);
        admin = await server.SignedInAsync("ada");
        var listed = (await admin.GetFromJsonAsync<JsonElement>("profiles"))
            .EnumerateArray()
            .Single(p => p.GetProperty("id").GetString() == "bisque");
        Assert.Equal(("Bisque of ours", 2), (listed.GetProperty("title").GetString(), listed.GetProperty("houseVersion").GetInt32()));

        (await admin.DeleteAsync("profiles/bisque")).EnsureSuccessStatusCode();
        Assert.Equal(text, await TextAsync(admin, "bisque"));
        Assert.Equal(before, await (await admin.GetAsync($"looks/{look}/network?dialect=bisque")).Content.ReadAsStringAsync());
    }

    [Fact]
    public async Task ANewDialectIsOneMore()
    {
        var admin = await server.SignedInAsync("ada");
        var text = (await TextAsync(admin, "celadon"))
            .Replace("\"id\": \"celadon\"", "\"id\": \"slip\"", StringComparison.Ordinal)
            .Replace("\"title\": \"Celadon\"", "\"title\": \"Slip\"", StringComparison.Ordinal);
        await Api.DoneAsync(
            await admin.PostAsJsonAsync(
                "profiles",
                new
                {
                    text,
                    note = "",
                    knowing = false,
                }
            )
        );
        var studio = await admin.GetFromJsonAsync<JsonElement>("house");
        Assert.Contains("slip", studio.GetProperty("dialects").EnumerateArray().Select(d => d.GetProperty("id").GetString()));
        var look = (await admin.GetFromJsonAsync<JsonElement>("looks"))[0].GetProperty("id").GetString();
        var package = await admin.GetAsync($"looks/{look}/package?dialect=slip");
        Assert.True(package.IsSuccessStatusCode, await package.Content.ReadAsStringAsync());
        (await admin.DeleteAsync("profiles/slip")).EnsureSuccessStatusCode();
    }

    [Fact]
    public async Task WrongProfilesAndWrongPeopleAreRefused()
    {
        var admin = await server.SignedInAsync("ada");
        var text = await TextAsync(admin, "tenmoku");
        var line = text[..text.IndexOf("\"mapping\"", StringComparison.Ordinal)].Count(c => c == '\n') + 1;
        var wrong = await Api.DoneAsync(
            await admin.PostAsJsonAsync(
                "profiles/check",
                new { text = text.Replace("\"mapping\"", "\"maping\"", StringComparison.Ordinal) }
            )
        );
        Assert.Equal(line, wrong.GetProperty("problems")[0].GetProperty("line").GetInt32());
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (
                await admin.PostAsJsonAsync(
                    "profiles",
                    new
                    {
                        text = "{}",
                        note = "",
                        knowing = true,
                    }
                )
            ).StatusCode
        );
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (await admin.PostAsJsonAsync("profiles/check", new { text = new string(' ', 600_000) })).StatusCode
        );
        var artist = await server.SignedInAsync();
        Assert.Equal(
            HttpStatusCode.Forbidden,
            (
                await artist.PostAsJsonAsync(
                    "profiles",
                    new
                    {
                        text,
                        note = "",
                        knowing = true,
                    }
                )
            ).StatusCode
        );
        Assert.Equal(HttpStatusCode.Forbidden, (await artist.DeleteAsync("profiles/tenmoku")).StatusCode);
        Assert.Equal(HttpStatusCode.OK, (await artist.PostAsJsonAsync("profiles/check", new { text })).StatusCode);
    }
}
