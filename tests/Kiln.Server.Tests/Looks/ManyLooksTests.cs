using System.Net;
using System.Net.Http.Headers;
using System.Net.Http.Json;
using System.Text.Json;
using Kiln.Pixels;
using Kiln.Pixels.Decoding;
using Kiln.Pixels.Decoding.Workers;
using Kiln.Pixels.Writing;
using static Kiln.Server.Tests.Api;

namespace Kiln.Server.Tests.Looks;

/// <summary>Lanes given to other looks, pictures dropped on the bench, evidence pictures, twins, and what lanes cost.</summary>
[Collection(nameof(LooksServer))]
public sealed class ManyLooksTests(ServerFixture server)
{
    private static string Id(JsonElement look) => look.GetProperty("id").GetString()!;

    private static JsonElement Chain(JsonElement look, string lane) =>
        look.GetProperty("document").GetProperty("lanes").GetProperty(lane).GetProperty("chain");

    private static async Task<HttpResponseMessage> DropAsync(
        HttpClient client,
        JsonElement look,
        string? lane,
        params (string Name, byte[] Bytes)[] files
    )
    {
        var form = new MultipartFormDataContent();
        foreach (var (name, bytes) in files)
        {
            var part = new ByteArrayContent(bytes);
            part.Headers.ContentType = new MediaTypeHeaderValue("application/octet-stream");
            form.Add(part, "files", name);
        }
        var request = new HttpRequestMessage(HttpMethod.Post, $"looks/{Id(look)}/maps{(lane is null ? "" : $"?lane={lane}")}")
        {
            Content = form,
        };
        request.Headers.TryAddWithoutValidation("If-Match", $"\"{look.GetProperty("revision").GetInt32()}\"");
        return await client.SendAsync(request);
    }

    private static byte[] Grey(int seed)
    {
        var picture = new ImageBuffer(64, 64, ImageBuffer.Grey, SampleType.U8);
        new Random(seed).NextBytes(picture.Data);
        return PictureWriter.Png(picture);
    }

    [Fact]
    public async Task ALaneIsGivenToOthersAndTakenBackInOneGesture()
    {
        using var client = await server.SignedInAsync();
        var from = await LookAsync(client, "verdigris copper pipe");
        var others = new[]
        {
            await LookAsync(client, "rubber foot"),
            await LookAsync(client, "sail canvas"),
            await LookAsync(client, "glazed blue tile"),
        };
        var given = (
            await JsonAsync(
                await client.PostAsJsonAsync(
                    "looks/lanes",
                    new
                    {
                        from = Id(from),
                        lanes = new[] { "specular_roughness" },
                        looks = others.Select(Id),
                    }
                )
            )
        ).EnumerateArray().ToList();
        Assert.Equal(3, given.Count);
        var foot = await LookAsync(client, "rubber foot");
        // Its own file under the pipe's steps.
        Assert.Equal(
            Chain(from, "specular_roughness").GetProperty("steps").GetArrayLength(),
            Chain(foot, "specular_roughness").GetProperty("steps").GetArrayLength()
        );
        Assert.Contains(
            "taken from verdigris copper pipe",
            (await GetAsync(client, $"looks/{Id(foot)}/history"))[0].GetProperty("words").GetString()
        );
        // Somebody goes on with one of them: there it is not taken back.
        var tile = await LookAsync(client, "glazed blue tile");
        await EditAsync(
            client,
            Id(tile),
            tile.GetProperty("revision").GetInt32(),
            new
            {
                edit = "value",
                lane = "coat_weight",
                value = new { kind = "scalar", number = 0.3 },
            }
        );
        var undone = (
            await JsonAsync(
                await client.PostAsJsonAsync(
                    "looks/undo",
                    given.Select(g => new { id = g.GetProperty("id").GetString(), revision = g.GetProperty("revision").GetInt32() })
                )
            )
        )
            .EnumerateArray()
            .ToList();
        Assert.Single(undone, u => u.TryGetProperty("refused", out var r) && r.ValueKind == JsonValueKind.String);
        foreach (var before in others.Take(2))
            Assert.Equal(
                before.GetProperty("document").GetRawText(),
                (await GetAsync(client, $"looks/{Id(before)}")).GetProperty("document").GetRawText()
            );
    }

    [Fact]
    public async Task AStepIsGivenToOthersAndAWrongOneIsRefusedInEach()
    {
        using var client = await server.SignedInAsync();
        var from = await LookAsync(client, "verdigris copper pipe");
        var step = Chain(from, "specular_roughness").GetProperty("steps")[0].GetProperty("id").GetString();
        var canvas = await LookAsync(client, "kelp concrete");
        var steps = Chain(canvas, "specular_roughness").GetProperty("steps").GetArrayLength();
        await client.PostAsJsonAsync(
            "looks/lanes",
            new
            {
                from = Id(from),
                lanes = new[] { "specular_roughness" },
                step,
                looks = new[] { Id(canvas), Id(from) },
            }
        );
        Assert.Equal(
            steps + 1,
            Chain(await LookAsync(client, "kelp concrete"), "specular_roughness").GetProperty("steps").GetArrayLength()
        );
        Assert.Equal(
            from.GetProperty("revision").GetInt32(),
            (await LookAsync(client, "verdigris copper pipe")).GetProperty("revision").GetInt32()
        );
        var refused = await JsonAsync(
            await client.PostAsJsonAsync(
                "looks/lanes",
                new
                {
                    from = Id(from),
                    lanes = new[] { "specular_roughness" },
                    step = "s99",
                    looks = new[] { Id(canvas) },
                }
            )
        );
        Assert.Contains("no such step", refused[0].GetProperty("refused").GetString());
    }

    [Fact]
    public async Task ADroppedPictureIsWiredWhereItFell()
    {
        using var client = await server.SignedInAsync();
        var look = await LookAsync(client, "barnacle iron");
        var dropped = await DropAsync(client, look, "coat_weight", ("IMG_2231.png", Grey(1)));
        Assert.Equal(HttpStatusCode.OK, dropped.StatusCode);
        var after = (await JsonAsync(dropped)).GetProperty("look");
        var slot = Chain(after, "coat_weight").GetProperty("origin").GetProperty("slot").GetString()!;
        var file = after.GetProperty("document").GetProperty("slots").GetProperty(slot).GetProperty("file");
        Assert.Equal("IMG_2231.png", file.GetProperty("name").GetString());
        Assert.Equal("raw", Chain(after, "coat_weight").GetProperty("origin").GetProperty("reading").GetProperty("space").GetString());
        Assert.Equal(HttpStatusCode.OK, (await client.GetAsync($"looks/{Id(look)}/tile?lane=coat_weight")).StatusCode);
        // On an old revision nothing is written; a file that is no picture is named.
        Assert.Equal(HttpStatusCode.PreconditionFailed, (await DropAsync(client, look, "coat_weight", ("b.png", Grey(2)))).StatusCode);
        var broken = await DropAsync(client, after, "coat_weight", ("torn.png", Grey(3)[..200]));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, broken.StatusCode);
        Assert.Contains("torn.png", (await JsonAsync(broken)).GetProperty("title").GetString());
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (await DropAsync(client, after, "coat_weight", ("a.png", Grey(4)), ("b.png", Grey(5)))).StatusCode
        );
        Assert.True((int)(await DropAsync(client, after, null, ("../../../outside.png", Grey(6)))).StatusCode is 422 or 200);
        Assert.False(File.Exists(Path.Combine(Path.GetTempPath(), "outside.png")));
    }

    [Fact]
    public async Task PicturesDroppedOnTheBoardAreSortedFirst()
    {
        using var client = await server.SignedInAsync();
        var look = await LookAsync(client, "knurled steel knob");
        var name = look.GetProperty("document")
            .GetProperty("slots")
            .EnumerateObject()
            .First(s => s.Name == "roughness")
            .Value.GetProperty("file")
            .GetProperty("name")
            .GetString();
        var done = await JsonAsync(
            await DropAsync(client, look, null, ("knob_roughness_v2.png", Grey(7)), ("notes.txt", "about"u8.ToArray()))
        );
        var slot = done.GetProperty("look").GetProperty("document").GetProperty("slots").GetProperty("roughness");
        Assert.Equal("knob_roughness_v2.png", slot.GetProperty("file").GetProperty("name").GetString());
        Assert.Contains(slot.GetProperty("candidates").EnumerateArray(), c => c.GetProperty("name").GetString() == name);
        var words = done.GetProperty("brought")
            .EnumerateArray()
            .ToDictionary(b => b.GetProperty("file").GetString()!, b => b.GetProperty("words").GetString());
        Assert.Contains("takes the place of", words["knob_roughness_v2.png"]);
        Assert.Contains("notes.txt", words.Keys);
        // Nothing that could be sorted: said, and nothing written.
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (await DropAsync(client, done.GetProperty("look"), null, ("only-notes.txt", "x"u8.ToArray()))).StatusCode
        );
    }

    [Fact]
    public async Task EvidenceIsStripedBroughtTogetherOrCropped()
    {
        using var client = await server.SignedInAsync();
        var content = (await LookAsync(client, "tarred rope"))
            .GetProperty("document")
            .GetProperty("slots")
            .GetProperty("baseColor")
            .GetProperty("file")
            .GetProperty("content")
            .GetString();
        async Task<ImageBuffer> PictureAsync(string more)
        {
            var file = Path.Combine(Path.GetTempPath(), $"kiln-evidence-{Guid.NewGuid():N}.png");
            await File.WriteAllBytesAsync(
                file,
                await client.GetByteArrayAsync($"contents/{content}/thumbnail?kind=colour&space=srgb_texture&channel=rgb&size=128{more}")
            );
            var picture = DecodeWorker.InProcess(file, null, DecodeLimits.Default);
            File.Delete(file);
            return picture;
        }
        var plain = await PictureAsync("");
        var halved = await PictureAsync("&halved=true");
        Assert.Equal(plain[10, 20, 0], halved[(10 + plain.Width / 2) % plain.Width, (20 + plain.Height / 2) % plain.Height, 0], 1.5f / 255);
        // Everything below white is marked: black and white stripes and nothing else.
        var marked = await PictureAsync("&mark=below%201.1");
        Assert.All(Enumerable.Range(0, marked.Width), x => Assert.True(marked[x, 5, 0] is 0 or 1));
        Assert.Equal(64, (await PictureAsync("&crop=64")).Width);
        Assert.Equal(
            HttpStatusCode.BadRequest,
            (await client.GetAsync($"contents/{content}/thumbnail?kind=colour&space=srgb_texture&channel=rgb&mark=around")).StatusCode
        );
    }

    [Fact]
    public async Task ALookWithoutALaneIsAnotherPictureAndCostsAreShares()
    {
        using var client = await server.SignedInAsync();
        var look = await LookAsync(client, "limewashed wall");
        var with = await client.GetByteArrayAsync($"looks/{Id(look)}/picture?size=48");
        Assert.NotEqual(with, await client.GetByteArrayAsync($"looks/{Id(look)}/picture?size=48&without=base_color"));
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (await client.GetAsync($"looks/{Id(look)}/picture?size=48&without=nothing")).StatusCode
        );
        var costs = (await GetAsync(client, $"looks/{Id(look)}/costs"))
            .EnumerateObject()
            .ToDictionary(c => c.Name, c => c.Value.GetDouble());
        Assert.Contains("base_color", costs.Keys);
        Assert.DoesNotContain("occlusion", costs.Keys);
        Assert.All(costs.Values, share => Assert.InRange(share, 0, 1));
        Assert.InRange(costs.Values.Sum(), 0, 1);
    }

    [Fact]
    public async Task TwoLooksThatDifferInNothingAreFound()
    {
        using var client = await server.SignedInAsync();
        var (beam, document) = (
            await LookAsync(client, "salt worn beam"),
            (await LookAsync(client, "anodised body")).GetProperty("document")
        );
        async Task<bool> TwinAsync() =>
            (await GetAsync(client, $"looks/{Id(beam)}/board"))
                .GetProperty("findings")
                .EnumerateArray()
                .Any(f => f.GetProperty("code").GetString() == "dup.look");
        Assert.False(await TwinAsync());
        // As another person would: the whole document of one look becomes the other's.
        var made = await EditAsync(
            client,
            Id(beam),
            beam.GetProperty("revision").GetInt32(),
            new
            {
                edit = "restore",
                document,
                to = "a copy",
            }
        );
        Assert.Equal(HttpStatusCode.OK, made.StatusCode);
        Assert.True(await TwinAsync());
        await EditAsync(client, Id(beam), (await JsonAsync(made)).GetProperty("revision").GetInt32(), new { }, "undo");
        Assert.False(await TwinAsync());
    }

    [Fact]
    public async Task AMissingTileOfTheDemoIsFound()
    {
        using var client = await server.SignedInAsync();
        var body = await LookAsync(client, "anodised body");
        var findings = (await GetAsync(client, $"looks/{Id(body)}/board")).GetProperty("findings").EnumerateArray().ToList();
        Assert.Contains(findings, f =>
            f.GetProperty("code").GetString() == "map.mixed" && f.GetProperty("message").GetString()!.Contains("no tile")
        );
    }
}
