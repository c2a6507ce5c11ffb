using System.IO.Compression;
using System.Net;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json;
using Kiln.Testing.Files;
using Kiln.Usd;
using static Kiln.Server.Tests.Api;

namespace Kiln.Server.Tests.Models;

/// <summary>Models through the HTTP API: they come with deliveries, looks are bound to their parts, and they are shown.</summary>
[Collection(nameof(LooksServer))]
public sealed class ModelTests(ServerFixture server)
{
    /// <summary>Two squares beside each other: one with UVs and the name of a look, one with neither.</summary>
    private const string Squares = """
        mtllib squares.mtl
        v 0 0 0
        v 1 0 0
        v 1 1 0
        v 0 1 0
        v 2 0 0
        v 2 1 0
        vt 0 0
        vt 1 0
        vt 1 1
        vt 0 1
        o speakerCloth
        usemtl one
        f 1/1 2/2 3/3 4/4
        o plate
        usemtl two
        f 2 5 6 3
        """;

    private static Task<JsonElement> DeliveredAsync(HttpClient client, params (string Name, string Text)[] files) =>
        DeliveredAsync(client, [.. files.Select(f => (f.Name, Encoding.UTF8.GetBytes(f.Text)))]);

    private static async Task<JsonElement> DeliveredAsync(HttpClient client, params (string Name, byte[] Bytes)[] files)
    {
        var id = await NewDeliveryAsync(client, "models " + Guid.NewGuid().ToString("N")[..8]);
        foreach (var (name, bytes) in files)
            await client.PutAsync($"deliveries/{id}/files/{name}", new ByteArrayContent(bytes));
        await client.PostAsync($"deliveries/{id}/analyse", null);
        Assert.Equal("ready", (await DoneAsync(client, id)).GetProperty("state").GetString());
        return await GetAsync(client, $"deliveries/{id}/models");
    }

    private static async Task<string> SquaresAsync(HttpClient client) =>
        (await DeliveredAsync(client, ("squares.obj", Squares), ("squares.mtl", "newmtl one\nnewmtl two\n")))
            .GetProperty("models")[0]
            .GetProperty("id")
            .GetString()!;

    private static async Task<JsonElement[]> PartsAsync(HttpClient client, string id) =>
        [.. (await GetAsync(client, $"models/{id}")).GetProperty("parts").EnumerateArray()];

    private static string? LookOf(JsonElement part) =>
        part.TryGetProperty("lookName", out var name) && name.ValueKind == JsonValueKind.String ? name.GetString() : null;

    private static Task<HttpResponseMessage> BindAsync(
        HttpClient client,
        string id,
        string? look,
        params (string Path, string? Was)[] parts
    ) => client.PutAsJsonAsync($"models/{id}/bindings", new { look, parts = parts.Select(p => new { path = p.Path, was = p.Was }) });

    /// <summary>The radio of the demo comes with its maps: what names say for sure is bound, the rest is asked.</summary>
    [Fact]
    public async Task TheDemosRadioIsBoundByName()
    {
        using var client = await server.SignedInAsync();
        var radio = (await GetAsync(client, "models")).EnumerateArray().First(m => m.GetProperty("name").GetString() == "fr2");
        var parts = await PartsAsync(client, radio.GetProperty("id").GetString()!);
        Assert.Equal(8, parts.Length);
        Assert.Equal("anodised body", LookOf(parts[0]));
        Assert.Equal("speaker cloth", LookOf(parts[1]));
        Assert.All(parts[4..], p => Assert.Equal("rubber foot", LookOf(p)));
        Assert.All(parts[2..4], p => Assert.Equal((null, 1), (LookOf(p), p.GetProperty("candidates").GetArrayLength())));
    }

    /// <summary>For the viewport: each look once, grey for parts without; texts that the asker has are left out; the triangles of all
    /// parts.</summary>
    [Fact]
    public async Task TheViewportIsToldLooksPartsAndTriangles()
    {
        using var client = await server.SignedInAsync();
        var radio = (await GetAsync(client, "models")).EnumerateArray().First(m => m.GetProperty("name").GetString() == "fr2");
        var id = radio.GetProperty("id").GetString()!;
        var scene = await GetAsync(client, $"models/{id}/viewport");
        var looks = scene.GetProperty("looks").EnumerateArray().ToList();
        var parts = scene
            .GetProperty("parts")
            .EnumerateArray()
            .ToDictionary(p => p.GetProperty("path").GetString()!, p => p.GetProperty("look").GetInt32());
        var bound = (await PartsAsync(client, id)).ToDictionary(p => p.GetProperty("path").GetString()!, LookOf);
        Assert.Equal(bound.Values.Distinct().Count(), looks.Count);
        Assert.Equal(bound.Keys.Order(), parts.Keys.Order());
        foreach (var same in bound.GroupBy(b => b.Value))
            Assert.Single(same.Select(b => parts[b.Key]).Distinct());
        Assert.All(looks, l => Assert.True(l.TryGetProperty("source", out var text) && text.GetString()!.Contains("kilnLook")));
        var again = await GetAsync(
            client,
            $"models/{id}/viewport?have={Uri.EscapeDataString(looks[0].GetProperty("structure").GetString()!)}"
        );
        Assert.False(again.GetProperty("looks")[0].TryGetProperty("source", out _));
        Assert.True(again.GetProperty("looks")[1].TryGetProperty("source", out _));
        // One part alone: its look and grey.
        var only = await GetAsync(client, $"models/{id}/viewport?only={Uri.EscapeDataString(bound.Keys.First())}");
        Assert.Equal(2, only.GetProperty("looks").GetArrayLength());

        var shape = scene.GetProperty("shape").GetString();
        var bytes = await client.GetByteArrayAsync($"models/{id}/viewport/shape?shape={shape}");
        using var head = JsonDocument.Parse(bytes.AsMemory(4, BitConverter.ToInt32(bytes)));
        var ranges = head.RootElement.GetProperty("head").GetProperty("parts").EnumerateArray().ToList();
        Assert.Equal(bound.Keys, ranges.Select(r => r.GetProperty("path").GetString()!));
        var next = 0;
        foreach (var range in ranges)
        {
            Assert.Equal(next, range.GetProperty("first").GetInt32());
            next += range.GetProperty("triangles").GetInt32();
        }
        var indices = head.RootElement.GetProperty("parts").EnumerateArray().Single(p => p.GetProperty("name").GetString() == "indices");
        Assert.Equal(3 * next, indices.GetProperty("count").GetInt32());
        Assert.True(next >= radio.GetProperty("triangles").GetInt32());
        // Of another shape than is asked for nothing is sent.
        var refused = await client.GetAsync($"models/{id}/viewport/shape?shape=other");
        Assert.Equal(HttpStatusCode.Conflict, refused.StatusCode);
        Assert.Contains("changed meanwhile", await refused.Content.ReadAsStringAsync(), StringComparison.Ordinal);
    }

    /// <summary>A click in the picture finds the part that is seen there.</summary>
    [Fact]
    public async Task ThePartAtAPlaceOfThePictureIsFound()
    {
        using var client = await server.SignedInAsync();
        var id = await SquaresAsync(client);
        async Task<string?> AtAsync(string x, string y) =>
            (await GetAsync(client, $"models/{id}/part-at?x={x}&y={y}&width=300&height=300&yaw=0&pitch=0")).TryGetProperty(
                "path",
                out var path
            )
                ? path.GetString()
                : null;
        Assert.Equal("/speakerCloth", await AtAsync("0.4", "0.5"));
        Assert.Equal("/plate", await AtAsync("0.6", "0.5"));
        Assert.Null(await AtAsync("0.01", "0.01"));
    }

    [Fact]
    public async Task AModelThatCannotBeReadIsASentenceAndTheRestComesIn()
    {
        using var client = await server.SignedInAsync();
        var came = await DeliveredAsync(client, ("in/squares.obj", Squares), ("broken.fbx", "nothing"));
        Assert.Equal(1, came.GetProperty("models").GetArrayLength());
        var refused = came.GetProperty("refused").EnumerateArray().ToDictionary(r => r.GetProperty("path").GetString()!);
        Assert.Contains("broken.fbx", refused["broken.fbx"].GetProperty("reason").GetString());
    }

    /// <summary>USD in its three forms, with units and an upward axis of its own; what does not come in is said.</summary>
    [Fact]
    public async Task UsdLayersOfADeliveryAreModels()
    {
        using var client = await server.SignedInAsync();
        const string Layer = """
            #usda 1.0
            ( metersPerUnit = 0.01 upAxis = "Z" )
            def Xform "radio"
            {
                def Mesh "speakerCloth"
                {
                    uniform token subdivisionScheme = "none"
                    int[] faceVertexCounts = [4]
                    int[] faceVertexIndices = [0, 1, 2, 3]
                    point3f[] points = [(0, 0, 0), (100, 0, 0), (100, 0, 50), (0, 0, 50)]
                    texCoord2f[] primvars:st = [(0, 0), (1, 0), (1, 1), (0, 1)] ( interpolation = "vertex" )
                }
                def Xform "chair" ( references = @./chair.usd@ ) { }
            }
            """;
        var binary = CrateWriter.Of(UsdText.Parse(Layer));
        using var archive = new MemoryStream();
        using (var zip = new ZipArchive(archive, ZipArchiveMode.Create, leaveOpen: true))
        using (var to = zip.CreateEntry("radio.usdc", CompressionLevel.NoCompression).Open())
            to.Write(binary);
        var came = await DeliveredAsync(
            client,
            ("text.usda", Encoding.UTF8.GetBytes(Layer)),
            ("binary.usdc", binary),
            ("either.usd", binary),
            ("packed.usdz", archive.ToArray())
        );
        Assert.Empty(came.GetProperty("refused").EnumerateArray().Select(r => r.GetProperty("reason").GetString()));
        var models = came.GetProperty("models").EnumerateArray().ToList();
        Assert.Equal(4, models.Count);
        foreach (var model in models)
        {
            var id = model.GetProperty("id").GetString()!;
            var read = await GetAsync(client, $"models/{id}");
            Assert.Equal("/radio/speakerCloth", read.GetProperty("parts").EnumerateArray().Single().GetProperty("path").GetString());
            var picture = await client.GetAsync($"models/{id}/picture?width=64&height=64&samples=1");
            Assert.Equal(HttpStatusCode.OK, picture.StatusCode);
            await client.DeleteAsync($"models/{id}");
        }
        var said = models.Single(m => m.GetProperty("name").GetString() == "text").GetProperty("remarks").EnumerateArray();
        Assert.Contains(said, r => r.GetString()!.Contains("references", StringComparison.Ordinal));
    }

    [Fact]
    public async Task LooksArePutOnPartsAndNobodyIsOverruledUnseen()
    {
        using var client = await server.SignedInAsync();
        var id = await SquaresAsync(client);
        var cloth = (await LookAsync(client, "speaker cloth")).GetProperty("id").GetString();
        var foot = (await LookAsync(client, "rubber foot")).GetProperty("id").GetString();
        Assert.Equal(HttpStatusCode.NoContent, (await BindAsync(client, id, foot, ("/speakerCloth", null), ("/plate", null))).StatusCode);
        // Who saw it bare does not overrule who has put something on it, and not even half of what was asked is done.
        var late = await BindAsync(client, id, cloth, ("/speakerCloth", foot), ("/plate", null));
        Assert.Equal(HttpStatusCode.Conflict, late.StatusCode);
        Assert.Contains("/plate was given another look", (await JsonAsync(late)).GetProperty("title").GetString());
        Assert.All(await PartsAsync(client, id), p => Assert.Equal("rubber foot", LookOf(p)));
        Assert.Equal(HttpStatusCode.NoContent, (await BindAsync(client, id, null, ("/speakerCloth", foot))).StatusCode);
        // By name only what has nothing: the other part keeps what a person chose.
        Assert.Equal(HttpStatusCode.NoContent, (await client.PostAsync($"models/{id}/bindings/by-name", null)).StatusCode);
        Assert.Equal(["speaker cloth", "rubber foot"], (await PartsAsync(client, id)).Select(LookOf));
        Assert.Equal(HttpStatusCode.Conflict, (await BindAsync(client, id, cloth, ("/nowhere", null))).StatusCode);
        Assert.Equal(HttpStatusCode.BadRequest, (await BindAsync(client, id, cloth)).StatusCode);
    }

    [Fact]
    public async Task APictureShowsWhatLiesOnTheParts()
    {
        using var client = await server.SignedInAsync();
        var id = await SquaresAsync(client);
        async Task<byte[]> PictureAsync(string more = "")
        {
            var response = await client.GetAsync($"models/{id}/picture?width=96&height=64&samples=2{more}");
            Assert.Equal("image/jpeg", response.Content.Headers.ContentType?.MediaType);
            return await response.Content.ReadAsByteArrayAsync();
        }
        var bare = await PictureAsync();
        Assert.Equal(bare, await PictureAsync());
        // A part without UVs takes a look with maps too: they lie on it from six sides.
        var foot = (await LookAsync(client, "rubber foot")).GetProperty("id").GetString();
        await BindAsync(client, id, foot, ("/plate", null));
        var dressed = await PictureAsync();
        Assert.NotEqual(bare, dressed);
        Assert.Equal(bare, await PictureAsync("&only=/speakerCloth"));
        Assert.NotEqual(dressed, await PictureAsync("&yaw=120"));
        Assert.Equal(HttpStatusCode.BadRequest, (await client.GetAsync($"models/{id}/picture?light=nowhere")).StatusCode);
        Assert.Equal(HttpStatusCode.NoContent, (await client.DeleteAsync($"models/{id}")).StatusCode);
        Assert.Equal(HttpStatusCode.NotFound, (await client.GetAsync($"models/{id}")).StatusCode);
    }

    [Fact]
    public async Task UvsAreDrawnOverTheMapAndMeasured()
    {
        using var client = await server.SignedInAsync();
        var id = await SquaresAsync(client);
        async Task<byte[]> DrawnAsync(string asked)
        {
            var response = await client.GetAsync($"models/{id}/uvs?size=128{asked}");
            Assert.Equal("image/png", response.Content.Headers.ContentType?.MediaType);
            return await response.Content.ReadAsByteArrayAsync();
        }
        var bare = await DrawnAsync("&part=/speakerCloth");
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await client.GetAsync($"models/{id}/uvs?part=/plate")).StatusCode);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await client.GetAsync($"models/{id}/uvs?part=/nosuch")).StatusCode);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await client.GetAsync($"models/{id}/uvs?show=7")).StatusCode);
        var cloth = (await LookAsync(client, "speaker cloth")).GetProperty("id").GetString();
        await BindAsync(client, id, cloth, ("/speakerCloth", null), ("/plate", null));
        Assert.NotEqual(bare, await DrawnAsync("&part=/speakerCloth"));
        Assert.NotEqual(await DrawnAsync("&part=/speakerCloth"), await DrawnAsync("&part=/speakerCloth&show=stretch"));
        var figures = await GetAsync(client, $"models/{id}/uvs/figures?part=/speakerCloth&show=density");
        Assert.Equal(0, figures.GetProperty("overlap").GetDouble());
        Assert.Equal(1, figures.GetProperty("stretchP95").GetDouble(), 1e-4);
        // A metre of the part is a whole picture.
        Assert.True(figures.GetProperty("texelsPerMetre").GetDouble() >= 64);
        Assert.Equal(6, figures.GetProperty("steps").GetArrayLength());
        // With a look that has maps the plate is drawn as it is shown: from six sides.
        Assert.NotEmpty(await DrawnAsync("&part=/plate"));
    }

    private static object Settings(float shift = 0, string? projection = null) =>
        new { own = shift == 0 ? (object)new { } : new { placement = new { offsetU = shift, mirrorV = true } }, projection };

    private static Task<HttpResponseMessage> SetAsync(HttpClient client, string id, string path, object was, object now) =>
        client.PutAsJsonAsync(
            $"models/{id}/settings",
            new
            {
                parts = new[]
                {
                    new
                    {
                        path,
                        was,
                        now,
                    },
                },
            }
        );

    /// <summary>What a part has of its own changes its picture and no look; a second person who saw it otherwise changes nothing.</summary>
    [Fact]
    public async Task APartHasAPlacementAndUvsOfItsOwn()
    {
        using var client = await server.SignedInAsync();
        var id = await SquaresAsync(client);
        var cloth = await LookAsync(client, "speaker cloth");
        await BindAsync(client, id, cloth.GetProperty("id").GetString(), ("/speakerCloth", null), ("/plate", null));
        async Task<byte[]> PictureAsync() => await client.GetByteArrayAsync($"models/{id}/picture?width=128&height=128&samples=4");
        var before = await PictureAsync();
        Assert.Equal(HttpStatusCode.NoContent, (await SetAsync(client, id, "/speakerCloth", Settings(), Settings(0.25f))).StatusCode);
        var part = (await PartsAsync(client, id))[0];
        Assert.Equal(0.25f, part.GetProperty("own").GetProperty("placement").GetProperty("offsetU").GetSingle());
        var shifted = await PictureAsync();
        Assert.NotEqual(before, shifted);
        Assert.Equal(HttpStatusCode.Conflict, (await SetAsync(client, id, "/speakerCloth", Settings(), Settings(0.5f))).StatusCode);
        Assert.Equal(HttpStatusCode.NoContent, (await SetAsync(client, id, "/speakerCloth", Settings(0.25f), Settings())).StatusCode);
        Assert.Equal(before, await PictureAsync());
        Assert.Equal(HttpStatusCode.NoContent, (await SetAsync(client, id, "/plate", Settings(), Settings(0, "cylinder"))).StatusCode);
        Assert.Equal("cylinder", (await PartsAsync(client, id))[1].GetProperty("projection").GetString());
        Assert.NotEqual(before, await PictureAsync());
        Assert.Equal(
            cloth.GetProperty("revision").GetInt32(),
            (await LookAsync(client, "speaker cloth")).GetProperty("revision").GetInt32()
        );
    }

    [Fact]
    public async Task SettingsThatCannotBeAreSentences()
    {
        using var client = await server.SignedInAsync();
        var id = await SquaresAsync(client);
        async Task<string> SaidAsync(object now)
        {
            var answer = await SetAsync(client, id, "/plate", Settings(), now);
            Assert.Contains(answer.StatusCode, (HttpStatusCode[])[HttpStatusCode.BadRequest, HttpStatusCode.UnprocessableEntity]);
            return (await JsonAsync(answer)).GetProperty("title").GetString()!;
        }
        Assert.Contains("no projection 'wrap'", await SaidAsync(Settings(0, "wrap")), StringComparison.Ordinal);
        Assert.Contains(
            "more than zero repeats",
            await SaidAsync(new { own = new { placement = new { repeatsU = 0 } } }),
            StringComparison.Ordinal
        );
        Assert.Equal(HttpStatusCode.Conflict, (await SetAsync(client, id, "/nosuch", Settings(), Settings(0.5f))).StatusCode);
    }

    /// <summary>What is written of the demo's radio comes in again: every part with the look that lay on it.</summary>
    [Fact]
    public async Task ADressedModelIsWrittenAndReadAgain()
    {
        using var client = await server.SignedInAsync();
        var id = await SquaresAsync(client);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await client.GetAsync($"models/{id}/package?dialect=gltf")).StatusCode);
        var cloth = (await LookAsync(client, "speaker cloth")).GetProperty("id").GetString();
        await BindAsync(client, id, cloth, ("/speakerCloth", null), ("/plate", null));
        await SetAsync(client, id, "/plate", Settings(), Settings(0.25f));
        using var zip = new ZipArchive(new MemoryStream(await client.GetByteArrayAsync($"models/{id}/package?dialect=gltf")));
        Assert.Equal(["checksums.txt", "notes.txt", "squares.glb"], zip.Entries.Select(e => e.FullName).Order());
        using var notes = new StreamReader(zip.GetEntry("notes.txt")!.Open());
        var said = await notes.ReadToEndAsync();
        Assert.Contains("/plate: speaker_cloth_plate", said, StringComparison.Ordinal);
        Assert.Contains("no version of it is published", said, StringComparison.Ordinal);
        var folder = Directory.CreateTempSubdirectory("kiln-dressed-").FullName;
        zip.GetEntry("squares.glb")!.ExtractToFile(Path.Combine(folder, "squares.glb"));
        var read = Kiln.Models.ModelFiles.Read(Path.Combine(folder, "squares.glb"), program: "");
        Assert.Equal(
            [("/plate", "speaker_cloth_plate"), ("/speakerCloth", "speaker_cloth")],
            read.Parts.Select(p => (p.Path, p.Material!)).Order()
        );
        // The plate has no UVs of its own: it goes out with those that it is seen by here.
        Assert.All(read.Parts, p => Assert.Single(p.UvSets));
        Directory.Delete(folder, recursive: true);
        // Parts that have the same of their own share a material.
        await SetAsync(client, id, "/speakerCloth", Settings(), Settings(0.25f));
        using var again = new ZipArchive(new MemoryStream(await client.GetByteArrayAsync($"models/{id}/package?dialect=openpbr")));
        Assert.Equal(2, again.Entries.Count(e => e.FullName.EndsWith(".mtlx", StringComparison.Ordinal)));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await client.GetAsync($"models/{id}/package?dialect=nosuch")).StatusCode);
    }
}
