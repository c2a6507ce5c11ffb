using System.IO.Compression;
using System.Net;
using System.Net.Http.Json;
using System.Text.Json;
using static Kiln.Server.Tests.Api;

namespace Kiln.Server.Tests;

/// <summary>Deliveries through the HTTP API: pieces, folders of the server, questions, corrections and the rules they offer.</summary>
[Collection(nameof(LooksServer))]
public sealed class IntakeTests(ServerFixture server)
{
    private async Task<JsonElement> DemoAsync(HttpClient client, string name)
    {
        var all = await client.GetFromJsonAsync<JsonElement>("deliveries");
        var id = all.EnumerateArray().First(d => d.GetProperty("name").GetString()!.Contains(name, StringComparison.Ordinal)).GetProperty("id").GetString();
        return await client.GetFromJsonAsync<JsonElement>($"deliveries/{id}");
    }

    [Fact]
    public async Task AFileMayArriveInPieces()
    {
        using var client = await server.SignedInAsync();
        var bytes = await File.ReadAllBytesAsync(Path.Combine(server.DemoFolder, "FennFR2-product-maps.zip"));
        var id = await NewDeliveryAsync(client, "in pieces");
        var half = bytes.Length / 2;
        var first = await client.PutAsync($"deliveries/{id}/files/maps.zip?from=0&of={bytes.Length}", new ByteArrayContent(bytes[..half]));
        Assert.Equal(HttpStatusCode.Accepted, first.StatusCode);
        var arrived = await client.GetFromJsonAsync<JsonElement>($"deliveries/{id}/files/maps.zip");
        Assert.Equal((half, false), (arrived.GetProperty("bytes").GetInt32(), arrived.GetProperty("complete").GetBoolean()));
        // Analysing before all is there, or going on from the wrong place, is refused in words.
        Assert.Contains("did not arrive completely", (await JsonAsync(await client.PostAsync($"deliveries/{id}/analyse", null))).GetProperty("title").GetString());
        Assert.Equal(HttpStatusCode.Conflict, (await client.PutAsync($"deliveries/{id}/files/maps.zip?from={half + 5}&of={bytes.Length}", new ByteArrayContent(bytes[half..]))).StatusCode);
        Assert.Equal(HttpStatusCode.NoContent, (await client.PutAsync($"deliveries/{id}/files/maps.zip?from={half}&of={bytes.Length}", new ByteArrayContent(bytes[half..]))).StatusCode);
        await client.PostAsync($"deliveries/{id}/analyse", null);
        var done = await DoneAsync(client, id);
        Assert.Equal("ready", done.GetProperty("state").GetString());
        Assert.Equal(2, done.GetProperty("result").GetProperty("sets").GetArrayLength());
    }

    [Fact]
    public async Task FoldersOfTheServerAreTakenAndNothingOutsideIsReached()
    {
        using var admin = await server.SignedInAsync("ada");
        using var artist = await server.SignedInAsync();
        Assert.Equal(HttpStatusCode.Forbidden, (await artist.PostAsJsonAsync("server-folders", new { path = server.DemoFolder })).StatusCode);
        Assert.Contains("no folder", (await JsonAsync(await admin.PostAsJsonAsync("server-folders", new { path = "/no/such/place" }))).GetProperty("title").GetString());
        var secret = Directory.CreateTempSubdirectory("kiln-secret-").FullName;
        var link = Path.Combine(server.DemoFolder, "link-out");
        Directory.CreateSymbolicLink(link, secret);
        var folder = (await JsonAsync(await admin.PostAsJsonAsync("server-folders", new { path = server.DemoFolder }))).GetProperty("id").GetString();
        var entries = await artist.GetFromJsonAsync<JsonElement>($"server-folders/{folder}/entries");
        Assert.DoesNotContain(entries.EnumerateArray(), e => e.GetProperty("name").GetString() == "link-out");
        foreach (var path in new[] { "..", "link-out", "link-out/..", "/etc", "shoreline_scans_v2/../../.." })
        {
            Assert.False((await artist.GetAsync($"server-folders/{folder}/entries?path={Uri.EscapeDataString(path)}")).IsSuccessStatusCode, path);
            Assert.False((await artist.PostAsJsonAsync("deliveries/from-folder", new { folder, path })).IsSuccessStatusCode, path);
        }
        var taken = await JsonAsync(await artist.PostAsJsonAsync("deliveries/from-folder", new { folder, path = "shoreline_scans_v2" }));
        var done = await DoneAsync(artist, taken.GetProperty("id").GetString()!);
        Assert.Equal("ready", done.GetProperty("state").GetString());
        Assert.True(done.GetProperty("fromServer").GetBoolean());
        // What came from a folder is sorted as what was sent.
        Assert.Equal((await DemoAsync(artist, "shoreline")).GetProperty("result").GetRawText(), done.GetProperty("result").GetRawText());
        Assert.True(File.Exists(Path.Combine(server.DemoFolder, "shoreline_scans_v2", "IMG_0417.png")));
        Directory.Delete(link);
    }

    [Fact]
    public async Task AnAmbiguousWordIsAskedOnceAndTheAnswerIsRemembered()
    {
        using var client = await server.SignedInAsync();
        var delivery = await DemoAsync(client, "Timber");
        var id = delivery.GetProperty("id").GetString();
        var question = delivery.GetProperty("result").GetProperty("questions").EnumerateArray().Single();
        Assert.Equal("reflection", question.GetProperty("phrase").GetString());
        var answered = await JsonAsync(await client.PostAsJsonAsync($"deliveries/{id}/answer", new { phrase = "reflection", role = "specularLevel", remember = true }));
        var map = answered.GetProperty("result").GetProperty("sets").EnumerateArray().SelectMany(s => s.GetProperty("maps").EnumerateArray()).Single(m => m.GetProperty("path").GetString()!.Contains("Reflection", StringComparison.Ordinal));
        Assert.Equal(1, map.GetProperty("confidence").GetDouble());
        Assert.Equal(0, answered.GetProperty("result").GetProperty("questions").GetArrayLength());
        // The next delivery in this style is not asked about.
        var again = await NewDeliveryAsync(client, "once more");
        await client.PutAsync($"deliveries/{again}/files/timber.zip", new ByteArrayContent(await File.ReadAllBytesAsync(Path.Combine(server.DemoFolder, "Tide Organ Timber and Slate.zip"))));
        await client.PostAsync($"deliveries/{again}/analyse", null);
        var done = await DoneAsync(client, again);
        Assert.Equal(0, done.GetProperty("result").GetProperty("questions").GetArrayLength());
        // Switched off, it is asked about again by name.
        var rule = (await client.GetFromJsonAsync<JsonElement>("naming/rules")).EnumerateArray().Single(r => r.GetProperty("rule").GetProperty("phrase").GetString() == "reflection");
        Assert.Equal("Noor Teale", rule.GetProperty("author").GetString());
        await client.PostAsJsonAsync($"naming/rules/{rule.GetProperty("id").GetString()}/switch", new { enabled = false });
        Assert.Contains(" or ", (await JsonAsync(await client.PostAsJsonAsync("naming/try", new { name = "sill_reflection.png" }))).GetProperty("likely").GetString());
    }

    [Fact]
    public async Task ACorrectionOffersARuleAndShowsWhatItWouldChange()
    {
        using var client = await server.SignedInAsync();
        var id = await NewDeliveryAsync(client, "odd words");
        var picture = await File.ReadAllBytesAsync(Path.Combine(server.DemoFolder, "shoreline_scans_v2", "1K", "kelpConcrete_RGH_1k.jpg"));
        var colour = await File.ReadAllBytesAsync(Path.Combine(server.DemoFolder, "shoreline_scans_v2", "1K", "kelpConcrete_DIF_1k.jpg"));
        await client.PutAsync($"deliveries/{id}/files/quay_albedo.jpg", new ByteArrayContent(colour));
        await client.PutAsync($"deliveries/{id}/files/quay_wetness.jpg", new ByteArrayContent(picture));
        await client.PostAsync($"deliveries/{id}/analyse", null);
        await DoneAsync(client, id);
        var corrected = await JsonAsync(await client.PostAsJsonAsync($"deliveries/{id}/move", new { path = "quay_wetness.jpg", toSet = "quay", toRole = "coat" }));
        var offer = corrected.GetProperty("offer");
        Assert.Equal(("wetness", "coat"), (offer.GetProperty("phrase").GetString(), offer.GetProperty("role").GetString()));
        var effect = await JsonAsync(await client.PostAsJsonAsync("naming/effect", offer));
        Assert.Equal(1, effect.GetProperty("files").GetInt32());
        Assert.Contains("quay_wetness.jpg", effect.GetProperty("changes")[0].GetProperty("path").GetString());
        Assert.Equal(HttpStatusCode.OK, (await client.PostAsJsonAsync("naming/rules", new { rule = offer, reason = "corrected" })).StatusCode);
        Assert.Equal("coat", (await JsonAsync(await client.PostAsJsonAsync("naming/try", new { name = "pier_wetness_2k.png" }))).GetProperty("likely").GetString());
        var faulty = await client.PostAsJsonAsync("naming/rules", new { rule = new { phrase = "Wet-Ness", kind = "role", role = "coat" } });
        Assert.Contains("lower case", (await JsonAsync(faulty)).GetProperty("title").GetString());
    }

    [Fact]
    public async Task APackedFileIsTakenApartByHand()
    {
        using var client = await server.SignedInAsync();
        var id = await NewDeliveryAsync(client, "packed");
        using var zip = ZipFile.OpenRead(Path.Combine(server.DemoFolder, "FennFR2-product-maps.zip"));
        foreach (var (entry, name) in new[] { ("T_KnurledSteelKnob_BaseColor.png", "dial_color.png"), ("T_KnurledSteelKnob_ORM.png", "dial_xyz.png") })
        {
            using var stream = zip.GetEntry(entry)!.Open();
            await client.PutAsync($"deliveries/{id}/files/{name}", new StreamContent(stream));
        }
        await client.PostAsync($"deliveries/{id}/analyse", null);
        await DoneAsync(client, id);
        var channels = new Dictionary<string, string> { ["r"] = "ambientOcclusion", ["g"] = "roughness", ["b"] = "metalness" };
        var corrected = await JsonAsync(await client.PostAsJsonAsync($"deliveries/{id}/move", new { path = "dial_xyz.png", toSet = "dial", channels }));
        var maps = corrected.GetProperty("delivery").GetProperty("result").GetProperty("sets")[0].GetProperty("maps").EnumerateArray().Where(m => m.GetProperty("path").GetString() == "dial_xyz.png")
            .ToDictionary(m => m.GetProperty("channel").GetString()!, m => m.GetProperty("role").GetString());
        Assert.Equal(channels, maps!);
        Assert.Equal("packed", corrected.GetProperty("offer").GetProperty("kind").GetString());
    }
}
