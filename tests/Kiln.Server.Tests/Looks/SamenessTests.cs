using System.Net.Http.Headers;
using System.Net.Http.Json;
using static Kiln.Server.Tests.Api;

namespace Kiln.Server.Tests.Looks;

/// <summary>Looks found by what was measured of them, made alike, and their maps replaced wherever they are used.</summary>
public sealed class SamenessTests(ServerFixture server) : IClassFixture<ServerFixture>
{
    private static async Task<List<string>> FoundAsync(HttpClient client, string query)
    {
        for (var tries = 0; ; tries++, await Task.Delay(300))
        {
            using var answer = await client.GetAsync("looks?" + query);
            Assert.True(answer.IsSuccessStatusCode, await answer.Content.ReadAsStringAsync());
            if (!answer.Headers.Contains("X-Kiln-Unmeasured") || tries > 300)
                return
                [
                    .. (await answer.Content.ReadFromJsonAsync<System.Text.Json.JsonElement>())
                        .EnumerateArray()
                        .Select(l => l.GetProperty("name").GetString()!),
                ];
        }
    }

    [Fact]
    public async Task LooksAreFoundByColourDialectAndFindingAndFiltersAreKept()
    {
        using var lead = await server.SignedInAsync("noor");
        var all = await FoundAsync(lead, "");
        var blue = await FoundAsync(lead, "colour=lab%2035%205%20-30&within=30");
        Assert.Contains("glazed blue tile", blue);
        Assert.True(blue.Count < all.Count / 2, string.Join(", ", blue));
        Assert.Equal(all, await FoundAsync(lead, "colour=%23808080&within=1000"));
        // As the table of the same looks says.
        var organ = (await GetAsync(lead, "collections"))
            .EnumerateArray()
            .First(c => c.GetProperty("name").GetString() == "The Tide Organ")
            .GetProperty("id")
            .GetString();
        var rows = (await GetAsync(lead, $"collections/{organ}/table")).GetProperty("rows").EnumerateArray().ToList();
        foreach (var dialect in (string[])["gltf", "usd_preview", "openpbr"])
            Assert.Equal(
                rows.Where(r => r.GetProperty("lossy").EnumerateArray().All(d => d.GetString() != dialect))
                    .Select(r => r.GetProperty("name").GetString()),
                await FoundAsync(lead, $"collection={organ}&dialect={dialect}")
            );
        var codes = (await GetAsync(lead, "looks/finding-codes")).EnumerateArray().Select(c => c.GetString()!).ToList();
        Assert.NotEmpty(codes);
        var found = await FoundAsync(lead, $"finding={codes[0]}");
        Assert.InRange(found.Count, 1, all.Count - 1);
        Assert.Contains(
            "is no colour",
            await (await lead.GetAsync("looks?colour=bluish")).Content.ReadAsStringAsync(),
            StringComparison.Ordinal
        );

        await DoneAsync(await lead.PostAsJsonAsync("filters", new { name = "blues", query = new { colour = "#203060", within = "30" } }));
        var filter = Assert.Single((await GetAsync(lead, "filters")).EnumerateArray());
        Assert.Equal("#203060", filter.GetProperty("query").GetProperty("colour").GetString());
        using var other = await server.SignedInAsync("mika");
        Assert.Empty((await GetAsync(other, "filters")).EnumerateArray());
        Assert.False((await other.DeleteAsync($"filters/{filter.GetProperty("id").GetString()}")).IsSuccessStatusCode);
        Assert.True((await lead.DeleteAsync($"filters/{filter.GetProperty("id").GetString()}")).IsSuccessStatusCode);
    }

    [Fact]
    public async Task LooksComeToOneMeasureAndGoBackInOneGesture()
    {
        using var artist = await server.SignedInAsync("mika");
        var ids = new List<string>();
        foreach (var name in (string[])["kelp concrete", "limewashed wall", "salt worn beam"])
            ids.Add((await LookAsync(artist, name)).GetProperty("id").GetString()!);
        foreach (var quantity in (string[])["baseLuminance", "roughnessSpread", "texelDensity"])
        {
            var plan = await DoneAsync(await artist.PostAsJsonAsync("looks/alike/proposals", new { looks = ids, quantity }));
            var target = plan.GetProperty("target").GetDouble();
            var before = plan.GetProperty("looks").EnumerateArray().Select(l => l.GetProperty("before").GetDouble()).Order().ToList();
            Assert.Equal(before[1], target, 1e-9);
            foreach (
                var look in plan.GetProperty("looks")
                    .EnumerateArray()
                    .Where(l => l.TryGetProperty("edit", out var e) && e.ValueKind == System.Text.Json.JsonValueKind.Object)
            )
                // Clamping at 0 and 1 may take a little of a spread.
                Assert.InRange(
                    look.GetProperty("after").GetDouble(),
                    target * (quantity == "roughnessSpread" ? 0.9 : 0.995),
                    target * 1.005
                );
        }
        // Done to two of them by hand-picked value, then taken back.
        var wanted = await DoneAsync(
            await artist.PostAsJsonAsync(
                "looks/alike/proposals",
                new
                {
                    looks = ids,
                    quantity = "baseLuminance",
                    target = 0.3,
                }
            )
        );
        var edits = wanted
            .GetProperty("looks")
            .EnumerateArray()
            .Where(l => l.GetProperty("edit").ValueKind == System.Text.Json.JsonValueKind.Object)
            .Select(l => new
            {
                id = l.GetProperty("id").GetString(),
                revision = l.GetProperty("revision").GetInt32(),
                edit = l.GetProperty("edit"),
            })
            .ToList();
        var documents = new List<string>();
        foreach (var edit in edits)
            documents.Add((await GetAsync(artist, $"looks/{edit.id}")).GetProperty("document").GetRawText());
        var done = await DoneAsync(await artist.PostAsJsonAsync("looks/alike", edits));
        Assert.All(done.EnumerateArray(), d =>
            Assert.True(!d.TryGetProperty("refused", out var r) || r.ValueKind == System.Text.Json.JsonValueKind.Null)
        );
        var again = await DoneAsync(await artist.PostAsJsonAsync("looks/alike/proposals", new { looks = ids, quantity = "baseLuminance" }));
        Assert.All(again.GetProperty("looks").EnumerateArray().Where(l => edits.Any(e => e.id == l.GetProperty("id").GetString())), l =>
            Assert.Equal(0.3, l.GetProperty("before").GetDouble(), 2e-3)
        );
        // Whoever has not seen that is told.
        Assert.Contains(
            "went on with this look",
            (await DoneAsync(await artist.PostAsJsonAsync("looks/alike", edits)))[0].GetProperty("refused").GetString(),
            StringComparison.Ordinal
        );
        await DoneAsync(
            await artist.PostAsJsonAsync(
                "looks/undo",
                done.EnumerateArray()
                    .Select(d => new { id = d.GetProperty("id").GetString(), revision = d.GetProperty("revision").GetInt32() })
            )
        );
        for (var i = 0; i < edits.Count; i++)
            Assert.Equal(documents[i], (await GetAsync(artist, $"looks/{edits[i].id}")).GetProperty("document").GetRawText());
    }

    [Fact]
    public async Task AMapIsReplacedWhereverItIsUsedAndVersionsStay()
    {
        using var lead = await server.SignedInAsync("noor");
        var copper = await LookAsync(lead, "verdigris copper pipe");
        var content = copper
            .GetProperty("document")
            .GetProperty("slots")
            .GetProperty("baseColor")
            .GetProperty("file")
            .GetProperty("content")
            .GetString()!;
        var users = await GetAsync(lead, $"contents/{content}/users");
        Assert.Equal(
            ["limewash over copper", "verdigris copper pipe"],
            users.EnumerateArray().Select(u => u.GetProperty("name").GetString()!)
        );
        Assert.Equal(1, users[1].GetProperty("versions")[0].GetInt32());
        using var form = new MultipartFormDataContent();
        var picture = new ByteArrayContent(TestMaps.Grey(128, 128, 90));
        picture.Headers.ContentType = new MediaTypeHeaderValue("image/png");
        form.Add(picture, "files", "new_basecolor.png");
        var kept = await DoneAsync(await lead.PostAsync("maps", form));
        var ids = users.EnumerateArray().Select(u => u.GetProperty("id").GetString()).ToList();
        var by = new
        {
            content = kept.GetProperty("content").GetString(),
            name = "new_basecolor.png",
            looks = ids,
        };
        var version = await lead.GetByteArrayAsync($"looks/{ids[1]}/versions/1/package?dialect=openpbr");
        var trial = await DoneAsync(await lead.PostAsJsonAsync($"contents/{content}/replacement/trial", by));
        Assert.All(trial.EnumerateArray(), t => Assert.Equal("batch", t.GetProperty("edit").GetProperty("edit").GetString()));
        // A look as it would be, seen before anything is done.
        var picked = await lead.PostAsJsonAsync($"looks/{ids[1]}/picture-after?size=64", trial[1].GetProperty("edit"));
        Assert.Equal("image/jpeg", picked.Content.Headers.ContentType!.MediaType);
        await DoneAsync(await lead.PostAsJsonAsync($"contents/{content}/replacement", by));
        Assert.DoesNotContain((await GetAsync(lead, $"contents/{content}/users")).EnumerateArray(), u =>
            u.GetProperty("usesItNow").GetBoolean()
        );
        Assert.Equal(2, (await GetAsync(lead, $"contents/{by.content}/users")).GetArrayLength());
        Assert.Equal(version, await lead.GetByteArrayAsync($"looks/{ids[1]}/versions/1/package?dialect=openpbr"));
        Assert.Contains(
            "does not use that file",
            (await DoneAsync(await lead.PostAsJsonAsync($"contents/{content}/replacement", by)))[0].GetProperty("refused").GetString(),
            StringComparison.Ordinal
        );
        Assert.Contains(
            "is not here",
            await (
                await lead.PostAsJsonAsync($"contents/{content}/replacement", by with { content = new string('0', 64) })
            ).Content.ReadAsStringAsync(),
            StringComparison.Ordinal
        );
    }
}
