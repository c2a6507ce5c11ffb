using System.IO.Compression;
using System.Net;
using System.Net.Http.Json;
using System.Text.Json;
using static Kiln.Server.Tests.Api;

namespace Kiln.Server.Tests.Intake;

/// <summary>Deliveries through the HTTP API: pieces, folders of the server, questions, corrections and the rules they offer.</summary>
[Collection(nameof(LooksServer))]
public sealed class IntakeTests(ServerFixture server)
{
    private async Task<JsonElement> DemoAsync(HttpClient client, string name)
    {
        var all = await client.GetFromJsonAsync<JsonElement>("deliveries");
        var id = all.EnumerateArray()
            .First(d => d.GetProperty("name").GetString()!.Contains(name, StringComparison.Ordinal))
            .GetProperty("id")
            .GetString();
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
        Assert.Contains(
            "did not arrive completely",
            (await JsonAsync(await client.PostAsync($"deliveries/{id}/analyse", null))).GetProperty("title").GetString()
        );
        Assert.Equal(
            HttpStatusCode.Conflict,
            (
                await client.PutAsync(
                    $"deliveries/{id}/files/maps.zip?from={half + 5}&of={bytes.Length}",
                    new ByteArrayContent(bytes[half..])
                )
            ).StatusCode
        );
        Assert.Equal(
            HttpStatusCode.NoContent,
            (
                await client.PutAsync($"deliveries/{id}/files/maps.zip?from={half}&of={bytes.Length}", new ByteArrayContent(bytes[half..]))
            ).StatusCode
        );
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
        Assert.Equal(
            HttpStatusCode.Forbidden,
            (await artist.PostAsJsonAsync("server-folders", new { path = server.DemoFolder })).StatusCode
        );
        Assert.Contains(
            "no folder",
            (await JsonAsync(await admin.PostAsJsonAsync("server-folders", new { path = "/no/such/place" })))
                .GetProperty("title")
                .GetString()
        );
        var secret = Directory.CreateTempSubdirectory("kiln-secret-").FullName;
        var link = Path.Combine(server.DemoFolder, "link-out");
        Directory.CreateSymbolicLink(link, secret);
        var folder = (await JsonAsync(await admin.PostAsJsonAsync("server-folders", new { path = server.DemoFolder })))
            .GetProperty("id")
            .GetString();
        var entries = await artist.GetFromJsonAsync<JsonElement>($"server-folders/{folder}/entries");
        Assert.DoesNotContain(entries.EnumerateArray(), e => e.GetProperty("name").GetString() == "link-out");
        foreach (var path in new[] { "..", "link-out", "link-out/..", "/etc", "shoreline_scans_v2/../../.." })
        {
            Assert.False(
                (await artist.GetAsync($"server-folders/{folder}/entries?path={Uri.EscapeDataString(path)}")).IsSuccessStatusCode,
                path
            );
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
        var answered = await JsonAsync(
            await client.PostAsJsonAsync(
                $"deliveries/{id}/answer",
                new
                {
                    phrase = "reflection",
                    role = "specularLevel",
                    remember = true,
                }
            )
        );
        var map = answered
            .GetProperty("result")
            .GetProperty("sets")
            .EnumerateArray()
            .SelectMany(s => s.GetProperty("maps").EnumerateArray())
            .Single(m => m.GetProperty("path").GetString()!.Contains("Reflection", StringComparison.Ordinal));
        Assert.Equal(1, map.GetProperty("confidence").GetDouble());
        Assert.Equal(0, answered.GetProperty("result").GetProperty("questions").GetArrayLength());
        // The next delivery in this style is not asked about.
        var again = await NewDeliveryAsync(client, "once more");
        await client.PutAsync(
            $"deliveries/{again}/files/timber.zip",
            new ByteArrayContent(await File.ReadAllBytesAsync(Path.Combine(server.DemoFolder, "Tide Organ Timber and Slate.zip")))
        );
        await client.PostAsync($"deliveries/{again}/analyse", null);
        var done = await DoneAsync(client, again);
        Assert.Equal(0, done.GetProperty("result").GetProperty("questions").GetArrayLength());
        // Switched off, it is asked about again by name.
        var rule = (await client.GetFromJsonAsync<JsonElement>("naming/rules"))
            .EnumerateArray()
            .Single(r => r.GetProperty("rule").GetProperty("phrase").GetString() == "reflection");
        Assert.Equal("Noor Teale", rule.GetProperty("author").GetString());
        await client.PostAsJsonAsync($"naming/rules/{rule.GetProperty("id").GetString()}/switch", new { enabled = false });
        Assert.Contains(
            " or ",
            (await JsonAsync(await client.PostAsJsonAsync("naming/try", new { name = "sill_reflection.png" })))
                .GetProperty("likely")
                .GetString()
        );
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
        var corrected = await JsonAsync(
            await client.PostAsJsonAsync(
                $"deliveries/{id}/move",
                new
                {
                    path = "quay_wetness.jpg",
                    toSet = "quay",
                    toRole = "coat",
                }
            )
        );
        var offer = corrected.GetProperty("offer");
        Assert.Equal(("wetness", "coat"), (offer.GetProperty("phrase").GetString(), offer.GetProperty("role").GetString()));
        var effect = await JsonAsync(await client.PostAsJsonAsync("naming/effect", offer));
        Assert.Equal(1, effect.GetProperty("files").GetInt32());
        Assert.Contains("quay_wetness.jpg", effect.GetProperty("changes")[0].GetProperty("path").GetString());
        Assert.Equal(
            HttpStatusCode.OK,
            (await client.PostAsJsonAsync("naming/rules", new { rule = offer, reason = "corrected" })).StatusCode
        );
        Assert.Equal(
            "coat",
            (await JsonAsync(await client.PostAsJsonAsync("naming/try", new { name = "pier_wetness_2k.png" })))
                .GetProperty("likely")
                .GetString()
        );
        var faulty = await client.PostAsJsonAsync(
            "naming/rules",
            new
            {
                rule = new
                {
                    phrase = "Wet-Ness",
                    kind = "role",
                    role = "coat",
                },
            }
        );
        Assert.Contains("lower case", (await JsonAsync(faulty)).GetProperty("title").GetString());
    }

    /// <summary>Who has no maps at hand takes the demo's delivery in like any other; who only looks on does not.</summary>
    [Fact]
    public async Task TheDemoDeliveryIsTakenInLikeAnyOther()
    {
        using var client = await server.SignedInAsync("mika");
        var made = await JsonAsync(await client.PostAsync("deliveries/demo", null));
        var result = (await DoneAsync(client, made.GetProperty("id").GetString()!)).GetProperty("result");
        Assert.Equal(2, result.GetProperty("sets").GetArrayLength());
        Assert.All(result.GetProperty("sets").EnumerateArray(), s => Assert.True(s.GetProperty("ready").GetBoolean()));
        using var viewer = await server.SignedInAsync("vera");
        Assert.Equal(HttpStatusCode.Forbidden, (await viewer.PostAsync("deliveries/demo", null)).StatusCode);
    }

    /// <summary>The rules as one text: tried with what it would change, kept for whoever saw the newest, authors stay.</summary>
    [Fact]
    public async Task NamingRulesAreTriedAndReplacedAsOneText()
    {
        using var noor = await server.SignedInAsync();
        using var mika = await server.SignedInAsync("mika");
        await noor.PostAsJsonAsync("naming/rules", new { rule = new { phrase = "gravel", kind = "ignored" }, reason = "a place" });
        var before = await mika.GetFromJsonAsync<JsonElement>("naming/rules/text");
        var (text, stamp) = (before.GetProperty("text").GetString()!, before.GetProperty("stamp").GetString());
        var longer = text.TrimEnd()[..^1].TrimEnd() + ",\n  {\"phrase\":\"kelp\",\"kind\":\"role\",\"role\":\"bump\"}\n]\n";
        var tried = await JsonAsync(await mika.PostAsJsonAsync("naming/rules/try", new { text = longer }));
        Assert.Equal(["“kelp” means bump"], tried.GetProperty("added").EnumerateArray().Select(a => a.GetString()));
        Assert.Equal((0, 0), (tried.GetProperty("removed").GetArrayLength(), tried.GetProperty("problems").GetArrayLength()));

        var kept = await JsonAsync(await mika.PutAsJsonAsync("naming/rules/text", new { text = longer, stamp }));
        Assert.NotEqual(stamp, kept.GetProperty("stamp").GetString());
        var authors = (await noor.GetFromJsonAsync<JsonElement>("naming/rules"))
            .EnumerateArray()
            .ToDictionary(r => r.GetProperty("rule").GetProperty("phrase").GetString()!, r => r.GetProperty("author").GetString());
        Assert.Equal(("Noor Teale", "Mika Orrell"), (authors["gravel"], authors["kelp"]));

        // Who saw older ones overwrites nothing.
        var stale = await noor.PutAsJsonAsync("naming/rules/text", new { text = "[]", stamp });
        Assert.Equal(HttpStatusCode.PreconditionFailed, stale.StatusCode);
        Assert.Contains("in the meantime", (await JsonAsync(stale)).GetProperty("title").GetString());
        var faulty = await noor.PutAsJsonAsync("naming/rules/text", new { text = "[ 7 ]", stamp = kept.GetProperty("stamp").GetString() });
        Assert.Equal(HttpStatusCode.UnprocessableEntity, faulty.StatusCode);

        var back = await noor.PutAsJsonAsync("naming/rules/text", new { text, stamp = kept.GetProperty("stamp").GetString() });
        Assert.Equal(text, (await JsonAsync(back)).GetProperty("text").GetString());
    }

    /// <summary>
    /// A delivery that gives no surface is no dead end: chosen files become one, a single file begins one under the role it is put into.
    /// </summary>
    [Fact]
    public async Task FilesOfTheTrayBecomeASurface()
    {
        using var client = await server.SignedInAsync();
        var id = await NewDeliveryAsync(client, "no names");
        foreach (var (name, value) in new[] { ("0001.png", (byte)90), ("0002.png", (byte)140), ("0003.png", (byte)200) })
            await client.PutAsync($"deliveries/{id}/files/{name}", new ByteArrayContent(TestMaps.Grey(64, 64, value)));
        await client.PostAsync($"deliveries/{id}/analyse", null);
        var result = (await DoneAsync(client, id)).GetProperty("result");
        Assert.Equal((0, 3), (result.GetProperty("sets").GetArrayLength(), result.GetProperty("unsorted").GetArrayLength()));

        var made = (
            await DoneAsync(
                await client.PostAsJsonAsync(
                    $"deliveries/{id}/surfaces",
                    new
                    {
                        name = "wet plank",
                        paths = new[] { "0001.png", "0002.png" },
                        role = (string?)null,
                    }
                )
            )
        ).GetProperty("result");
        var set = Assert.Single(made.GetProperty("sets").EnumerateArray());
        Assert.Equal("wet plank", set.GetProperty("name").GetString());
        // Nothing is known of them, so nothing is claimed: each has a role of its own, and asks.
        Assert.Equal(2, set.GetProperty("maps").EnumerateArray().Select(m => m.GetProperty("role").GetString()).Distinct().Count());
        Assert.All(set.GetProperty("maps").EnumerateArray(), m => Assert.True(m.GetProperty("confidence").GetDouble() < 0.9));
        Assert.Equal("0003.png", Assert.Single(made.GetProperty("unsorted").EnumerateArray()).GetProperty("path").GetString());

        // Put into a cell of the new row: as the person says.
        var alone = (
            await DoneAsync(
                await client.PostAsJsonAsync(
                    $"deliveries/{id}/surfaces",
                    new
                    {
                        name = "wet plank",
                        paths = new[] { "0003.png" },
                        role = "roughness",
                    }
                )
            )
        ).GetProperty("result");
        var second = alone.GetProperty("sets").EnumerateArray().Single(s => s.GetProperty("name").GetString() == "wet plank_2");
        Assert.Equal(
            ("roughness", 1),
            (
                second.GetProperty("maps")[0].GetProperty("role").GetString(),
                second.GetProperty("maps")[0].GetProperty("confidence").GetInt32()
            )
        );
        Assert.Equal(0, alone.GetProperty("unsorted").GetArrayLength());
        foreach (
            var wrong in new object[]
            {
                new
                {
                    name = "x",
                    paths = Array.Empty<string>(),
                    role = (string?)null,
                },
                new
                {
                    name = "x",
                    paths = new[] { "0009.png" },
                    role = (string?)null,
                },
                new
                {
                    name = "a\u0001b",
                    paths = new[] { "0003.png" },
                    role = (string?)null,
                },
            }
        )
            Assert.Equal(HttpStatusCode.UnprocessableEntity, (await client.PostAsJsonAsync($"deliveries/{id}/surfaces", wrong)).StatusCode);
        // What it was made of goes along when it is wired.
        Assert.Equal(
            1,
            (
                await DoneAsync(
                    await client.PostAsJsonAsync(
                        $"deliveries/{id}/wire",
                        new { sets = new[] { "wet plank_2" }, collection = (string?)null }
                    )
                )
            ).GetArrayLength()
        );
    }

    [Fact]
    public async Task TwoStatementsAboutTheReflectionAreAskedOnce()
    {
        using var client = await server.SignedInAsync();
        var id = await NewDeliveryAsync(client, "two reflections");
        foreach (var surface in (string[])["sill", "step"])
        foreach (var (word, value) in new[] { ("reflection", (byte)120), ("specular", (byte)200) })
            await client.PutAsync($"deliveries/{id}/files/{surface}_{word}.png", new ByteArrayContent(TestMaps.Grey(64, 64, value)));
        await client.PostAsync($"deliveries/{id}/analyse", null);
        var result = (await DoneAsync(client, id)).GetProperty("result");
        // One question for both surfaces, and none for the words alone.
        Assert.Equal((2, 0), (result.GetProperty("reflectionPairs").GetArrayLength(), result.GetProperty("questions").GetArrayLength()));
        var answered = (
            await DoneAsync(await client.PostAsJsonAsync($"deliveries/{id}/reflections", new { meaning = "reflectionIsTheCoat" }))
        ).GetProperty("result");
        Assert.Equal(0, answered.GetProperty("reflectionPairs").GetArrayLength());
        Assert.All(answered.GetProperty("sets").EnumerateArray(), s =>
            Assert.Equal(["specularLevel", "coat"], s.GetProperty("maps").EnumerateArray().Select(m => m.GetProperty("role").GetString()!))
        );
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (await client.PostAsJsonAsync($"deliveries/{id}/reflections", new { meaning = "reflectionIsTheCoat" })).StatusCode
        );
    }

    /// <summary>No name that a person sends is one of ours; asking how far a file is makes nothing.</summary>
    [Fact]
    public async Task NamesAreNeverTakenForFilesThatArrive()
    {
        using var client = await server.SignedInAsync();
        var id = await NewDeliveryAsync(client, "odd endings");
        var uploads = Path.Combine(server.Folder, "data", "uploads", Guid.Parse(id).ToString("N"));
        Assert.Equal(0, (await GetAsync(client, $"deliveries/{id}/files/deep/down/here.png")).GetProperty("bytes").GetInt32());
        Assert.False(Directory.Exists(uploads));
        foreach (var name in (string[])["wall_albedo.png", "x.png.kiln-part", "wall_rough.png.name"])
            Assert.Equal(
                HttpStatusCode.NoContent,
                (await client.PutAsync($"deliveries/{id}/files/{name}", new ByteArrayContent(TestMaps.BaseColour()))).StatusCode
            );
        Assert.Equal(HttpStatusCode.Accepted, (await client.PostAsync($"deliveries/{id}/analyse", null)).StatusCode);
        Assert.Equal("ready", (await DoneAsync(client, id)).GetProperty("state").GetString());
    }

    [Fact]
    public async Task APackedFileIsTakenApartByHand()
    {
        using var client = await server.SignedInAsync();
        var id = await NewDeliveryAsync(client, "packed");
        using var zip = ZipFile.OpenRead(Path.Combine(server.DemoFolder, "FennFR2-product-maps.zip"));
        foreach (
            var (entry, name) in new[]
            {
                ("T_KnurledSteelKnob_BaseColor.png", "dial_color.png"),
                ("T_KnurledSteelKnob_ORM.png", "dial_xyz.png"),
            }
        )
        {
            using var stream = zip.GetEntry(entry)!.Open();
            await client.PutAsync($"deliveries/{id}/files/{name}", new StreamContent(stream));
        }
        await client.PostAsync($"deliveries/{id}/analyse", null);
        await DoneAsync(client, id);
        var channels = new Dictionary<string, string>
        {
            ["r"] = "ambientOcclusion",
            ["g"] = "roughness",
            ["b"] = "metalness",
        };
        var corrected = await JsonAsync(
            await client.PostAsJsonAsync(
                $"deliveries/{id}/move",
                new
                {
                    path = "dial_xyz.png",
                    toSet = "dial",
                    channels,
                }
            )
        );
        var maps = corrected
            .GetProperty("delivery")
            .GetProperty("result")
            .GetProperty("sets")[0]
            .GetProperty("maps")
            .EnumerateArray()
            .Where(m => m.GetProperty("path").GetString() == "dial_xyz.png")
            .ToDictionary(m => m.GetProperty("channel").GetString()!, m => m.GetProperty("role").GetString());
        Assert.Equal(channels, maps!);
        Assert.Equal("packed", corrected.GetProperty("offer").GetProperty("kind").GetString());
    }
}
