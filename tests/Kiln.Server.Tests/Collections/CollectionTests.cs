using System.Diagnostics;
using System.Net;
using System.Net.Http.Json;
using System.Text.Json;
using static Kiln.Server.Tests.Api;

namespace Kiln.Server.Tests.Collections;

/// <summary>The table of a collection, its rules, and how looks are found.</summary>
[Collection(nameof(DemoServer))]
public sealed class CollectionTests(ServerFixture server)
{
    private static async Task<string> TideAsync(HttpClient client) =>
        (await GetAsync(client, "collections"))
            .EnumerateArray()
            .First(c => c.GetProperty("name").GetString()!.Contains("Tide", StringComparison.Ordinal))
            .GetProperty("id")
            .GetString()!;

    private static async Task<JsonElement> MeasuredAsync(HttpClient client, string id)
    {
        for (var i = 0; i < 2400; i++)
        {
            var table = await GetAsync(client, $"collections/{id}/table");
            if (table.GetProperty("pending").GetInt32() == 0)
                return table;
            await Task.Delay(200);
        }
        throw new TimeoutException("The collection was not measured.");
    }

    /// <summary>
    /// The CSV as Python's csv module reads it (RFC 4180), and the medians and deviations as its statistics module has them.
    /// </summary>
    [Fact]
    public async Task TheTableAgreesWithStatisticsFromOutside()
    {
        using var client = await server.SignedInAsync("vera");
        var id = await TideAsync(client);
        var table = await MeasuredAsync(client, id);
        var csv = Path.Combine(server.Folder, "table.csv");
        await File.WriteAllBytesAsync(csv, await client.GetByteArrayAsync($"collections/{id}/table.csv"));
        const string script = """
            import csv, json, statistics, sys
            rows = list(csv.reader(open(sys.argv[1], newline="", encoding="utf-8"), strict=True))
            out = {"lengths": sorted({len(r) for r in rows}), "columns": []}
            for i in range(1, 8):
                v = [float(r[i]) for r in rows[1:] if r[i]]
                m = statistics.median(v)
                out["columns"].append([m, statistics.median([abs(x - m) for x in v])])
            print(json.dumps(out))
            """;
        var start = new ProcessStartInfo("/usr/bin/python3", ["-c", script, csv]) { RedirectStandardOutput = true };
        using var process = Process.Start(start)!;
        using var read = JsonDocument.Parse(await process.StandardOutput.ReadToEndAsync());
        Assert.Equal([14], read.RootElement.GetProperty("lengths").EnumerateArray().Select(l => l.GetInt32()));
        foreach (
            var (ours, theirs) in table
                .GetProperty("columns")
                .EnumerateArray()
                .Zip(read.RootElement.GetProperty("columns").EnumerateArray())
        )
        {
            Assert.Equal(theirs[0].GetDouble(), ours.GetProperty("median").GetDouble(), 1e-5);
            Assert.Equal(theirs[1].GetDouble(), ours.GetProperty("deviation").GetDouble(), 1e-5);
        }
        // The one glossy surface among rough ones.
        var tile = table
            .GetProperty("rows")
            .EnumerateArray()
            .First(r => r.GetProperty("name").GetString() == "glazed blue tile")
            .GetProperty("cells");
        Assert.True(tile[3].GetProperty("isOutlier").GetBoolean());
        // One metre to a repeat, and maps of one size.
        Assert.All(table.GetProperty("rows").EnumerateArray(), r =>
            Assert.Equal(
                r.GetProperty("cells")[6].GetProperty("value").GetDouble(),
                r.GetProperty("cells")[5].GetProperty("value").GetDouble()
            )
        );
    }

    [Fact]
    public async Task RulesAreTriedShownKeptAndNeverOverwritten()
    {
        using var lead = await server.SignedInAsync("noor");
        using var artist = await server.SignedInAsync("mika");
        var id = await TideAsync(lead);
        await MeasuredAsync(lead, id);
        async Task<JsonElement> TriedAsync(string text, string? name = null) =>
            await JsonAsync(await artist.PostAsJsonAsync($"collections/{id}/rules/try", new { text, name }));

        const string rules = """{ "names": "[a-z]+( [a-z]+)*", "maps": ["height"], /* as scanned */ "texelDensity": { "least": 512 } }""";
        var tried = await TriedAsync(rules, "sail canvas");
        Assert.True(tried.GetProperty("nameFits").GetBoolean());
        Assert.Contains("brass reed plate", tried.GetProperty("effects").EnumerateArray().Select(e => e.GetProperty("name").GetString()));
        // What each rule does is told beside it, and where the looks stand.
        Assert.Contains("brass reed plate", tried.GetProperty("breaking").GetProperty("maps").EnumerateArray().Select(n => n.GetString()));
        var fields = (await GetAsync(artist, $"collections/{id}/rules/fields")).EnumerateArray().ToList();
        var density = fields.Single(f => f.GetProperty("id").GetString() == "texelDensity");
        Assert.Equal((10, "px/m"), (density.GetProperty("values").GetArrayLength(), density.GetProperty("unit").GetString()));
        Assert.Contains(
            "ambient occlusion",
            fields
                .Single(f => f.GetProperty("id").GetString() == "maps")
                .GetProperty("choices")
                .EnumerateArray()
                .Select(c => c.GetProperty("label").GetString())
        );
        Assert.False((await TriedAsync(rules, "Sail_canvas")).GetProperty("nameFits").GetBoolean());
        var kept = await JsonAsync(await lead.PutAsJsonAsync($"collections/{id}/rules", new { text = rules, revision = 0 }));
        Assert.Equal(1, kept.GetProperty("revision").GetInt32());
        Assert.Equal(
            HttpStatusCode.PreconditionFailed,
            (await lead.PutAsJsonAsync($"collections/{id}/rules", new { text = "{}", revision = 0 })).StatusCode
        );
        Assert.Equal(rules, (await GetAsync(artist, $"collections/{id}/rules")).GetProperty("text").GetString());
        var row = (await GetAsync(artist, $"collections/{id}/table"))
            .GetProperty("rows")
            .EnumerateArray()
            .First(r => r.GetProperty("name").GetString() == "brass reed plate");
        Assert.Contains("height", row.GetProperty("broken")[0].GetProperty("sentence").GetString());

        // A rule that excludes everything says so; one that nothing can keep, unknown ones and broken ones are sentences.
        Assert.Equal(0, (await TriedAsync("""{ "texelDensity": { "least": 1e9 } }""")).GetProperty("standing").GetInt32());
        foreach (
            var (text, part) in new[]
            {
                ("""{ "pixels": { "least": 10, "most": 5 } }""", "nothing"),
                ("""{ "nammes": "x" }""", "no rule"),
                ("{", "Line 1"),
                ("""{ "names": "(?=x)y" }""", "looking ahead"),
                ("""{ "names": "(" }""", "regular expression"),
                ("""{ "maps": ["shine"] }""", "no role"),
            }
        )
        {
            Assert.Contains(part, (await TriedAsync(text)).GetProperty("problem").GetString());
            Assert.Equal(
                HttpStatusCode.UnprocessableEntity,
                (await lead.PutAsJsonAsync($"collections/{id}/rules", new { text, revision = 1 })).StatusCode
            );
        }
    }

    [Fact]
    public async Task LooksAreFoundByWordsTagsRolesAndPages()
    {
        using var client = await server.SignedInAsync("vera");
        async Task<string[]> NamesAsync(string query) =>
            [.. (await GetAsync(client, "looks?" + query)).EnumerateArray().Select(l => l.GetProperty("name").GetString()!)];
        Assert.Equal(["limewash over copper", "verdigris copper pipe"], await NamesAsync("words=COPPER"));
        Assert.Equal(["limewash over copper"], await NamesAsync("words=copper%20wash"));
        Assert.Empty(await NamesAsync("words=%25"));
        Assert.Equal(["sail canvas"], await NamesAsync("role=bump"));
        Assert.Equal(["knurled steel knob"], await NamesAsync("state=in%20review"));
        Assert.Empty(await NamesAsync("author=mika"));
        var all = await NamesAsync("");
        var paged = new List<string>();
        for (JsonElement? last = null; ; )
        {
            var page = await GetAsync(
                client,
                "looks?most=4"
                    + (last is { } l ? $"&afterName={Uri.EscapeDataString($"{l.GetProperty("name")}")}&afterId={l.GetProperty("id")}" : "")
            );
            if (page.GetArrayLength() == 0)
                break;
            paged.AddRange(page.EnumerateArray().Select(p => p.GetProperty("name").GetString()!));
            last = page[page.GetArrayLength() - 1];
        }
        Assert.Equal(all, paged);
    }

    [Fact]
    public async Task AnArchivedLookIsOutOfTheWayAndStillThere()
    {
        using var artist = await server.SignedInAsync("mika");
        var id = (await GetAsync(artist, "looks?words=speaker")).EnumerateArray().Single().GetProperty("id").GetString();
        Assert.True((await artist.PutAsync($"looks/{id}/archived", null)).IsSuccessStatusCode);
        Assert.Empty((await GetAsync(artist, "looks?words=speaker")).EnumerateArray());
        Assert.Equal("speaker cloth", (await GetAsync(artist, $"looks/{id}")).GetProperty("name").GetString());
        Assert.Single((await GetAsync(artist, "looks?archived=true")).EnumerateArray());
        Assert.True((await artist.DeleteAsync($"looks/{id}/archived")).IsSuccessStatusCode);
        Assert.Single((await GetAsync(artist, "looks?words=speaker")).EnumerateArray());
    }
}
