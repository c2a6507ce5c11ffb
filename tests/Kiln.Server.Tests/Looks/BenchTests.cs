using System.Net;
using System.Net.Http.Json;
using System.Text.Json;
using Kiln.Pixels.Decoding;
using Kiln.Pixels.Decoding.Workers;
using static Kiln.Server.Tests.Api;

namespace Kiln.Server.Tests.Looks;

/// <summary>
/// What the bench asks of the server beside the document: findings accepted, history gone back in, steps tried, chains kept, several looks
/// at once, networks shown, hostile edits.
/// </summary>
[Collection(nameof(LooksServer))]
public sealed class BenchTests(ServerFixture server)
{
    private static async Task<(string Id, int Revision, JsonElement Document)> OpenAsync(HttpClient client, string name)
    {
        var look = await LookAsync(client, name);
        return (look.GetProperty("id").GetString()!, look.GetProperty("revision").GetInt32(), look.GetProperty("document"));
    }

    private static async Task<JsonElement> FindingsAsync(HttpClient client, string id) =>
        (await GetAsync(client, $"looks/{id}/board")).GetProperty("findings");

    [Fact]
    public async Task AFindingIsAcceptedWithAReasonAndOpenedAgain()
    {
        using var client = await server.SignedInAsync();
        var (id, _, _) = await OpenAsync(client, "verdigris copper pipe");
        var finding = (await FindingsAsync(client, id)).EnumerateArray().First(f => f.GetProperty("code").GetString() == "map.unused");
        var subject = finding.GetProperty("subject").GetString();
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (
                await client.PutAsJsonAsync(
                    $"looks/{id}/findings/accepted",
                    new
                    {
                        code = "map.unused",
                        subject,
                        reason = " ",
                    }
                )
            ).StatusCode
        );
        Assert.Equal(
            HttpStatusCode.NoContent,
            (
                await client.PutAsJsonAsync(
                    $"looks/{id}/findings/accepted",
                    new
                    {
                        code = "map.unused",
                        subject,
                        reason = "kept for the close-up",
                    }
                )
            ).StatusCode
        );
        var accepted = (await FindingsAsync(client, id))
            .EnumerateArray()
            .First(f => f.GetProperty("code").GetString() == "map.unused")
            .GetProperty("accepted");
        Assert.Equal("kept for the close-up", accepted.GetProperty("reason").GetString());
        Assert.Equal("Noor Teale", accepted.GetProperty("person").GetString());
        Assert.Equal(
            HttpStatusCode.NoContent,
            (await client.DeleteAsync($"looks/{id}/findings/accepted?code=map.unused&subject={subject}")).StatusCode
        );
        Assert.Equal(
            HttpStatusCode.NotFound,
            (await client.DeleteAsync($"looks/{id}/findings/accepted?code=map.unused&subject={subject}")).StatusCode
        );
    }

    [Fact]
    public async Task GoingBackInHistoryIsAnEditAndCanBeTakenBack()
    {
        using var client = await server.SignedInAsync();
        var (id, revision, start) = await OpenAsync(client, "rubber foot");
        foreach (var value in new[] { 0.2, 0.4, 0.6 })
            revision = (
                await JsonAsync(
                    await EditAsync(
                        client,
                        id,
                        revision,
                        new
                        {
                            edit = "value",
                            lane = "coat_weight",
                            value = new { kind = "scalar", number = value },
                        }
                    )
                )
            ).GetProperty("revision").GetInt32();
        var history = (await GetAsync(client, $"looks/{id}/history")).EnumerateArray().ToList();
        Assert.Equal(3, history.Count);
        Assert.All(history, h => Assert.Equal("Noor Teale", h.GetProperty("person").GetString()));
        var first = history[^1].GetProperty("number").GetInt32();
        double Coat(JsonElement document) =>
            document.GetProperty("lanes").GetProperty("coat_weight").GetProperty("value").GetProperty("number").GetDouble();
        Assert.Equal(0.2, Coat(await GetAsync(client, $"looks/{id}/history/{first}")), 1e-5);
        var request = new HttpRequestMessage(HttpMethod.Post, $"looks/{id}/history/{first}/restore");
        request.Headers.TryAddWithoutValidation("If-Match", $"\"{revision}\"");
        var back = await JsonAsync(await client.SendAsync(request));
        Assert.Equal(0.2, Coat(back.GetProperty("document")), 1e-5);
        var undone = await JsonAsync(await EditAsync(client, id, back.GetProperty("revision").GetInt32(), new { }, "undo"));
        Assert.Equal(0.6, Coat(undone.GetProperty("document")), 1e-5);
        // Back to how it was wired: the very document.
        Assert.Equal(start.GetRawText(), (await GetAsync(client, $"looks/{id}/history/0")).GetRawText());
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await client.GetAsync($"looks/{id}/history/99")).StatusCode);
    }

    [Fact]
    public async Task AStepIsTriedWithoutBeingKeptAndItsNumbersAreCounted()
    {
        using var client = await server.SignedInAsync();
        var (id, revision, _) = await OpenAsync(client, "verdigris copper pipe");
        var steps = await GetAsync(client, $"looks/{id}/histogram?lane=specular_roughness&step=0");
        double before = steps.GetProperty("before").GetProperty("mean").GetDouble(),
            after = steps.GetProperty("after").GetProperty("mean").GetDouble();
        Assert.Equal(1 - before, after, 1e-4);
        Assert.Equal(1, steps.GetProperty("after").GetProperty("shares")[0].EnumerateArray().Sum(s => s.GetDouble()), 1e-3);
        var there = await GetAsync(client, $"looks/{id}/numbers?lane=specular_roughness&step=0&u=0.3&v=0.6");
        Assert.Equal(
            1 - there.GetProperty("before").GetProperty("values")[0].GetDouble(),
            there.GetProperty("after").GetProperty("values")[0].GetDouble(),
            1e-5
        );
        var tried = await client.PostAsJsonAsync(
            $"looks/{id}/try-step",
            new
            {
                lane = "specular_roughness",
                step = new
                {
                    kind = "remap",
                    id = "s1",
                    outLow = 0.4,
                    outHigh = 0.5,
                },
                size = 64,
            }
        );
        Assert.Equal("image/png", tried.Content.Headers.ContentType!.MediaType);
        Assert.Equal(revision, (await OpenAsync(client, "verdigris copper pipe")).Revision);
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (
                await client.PostAsJsonAsync(
                    $"looks/{id}/try-step",
                    new { lane = "specular_roughness", step = new { kind = "invert", id = "nothing" } }
                )
            ).StatusCode
        );
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (await client.GetAsync($"looks/{id}/histogram?lane=specular_roughness&step=9")).StatusCode
        );
    }

    /// <summary>An edit that is not kept: the lane's tiles from the step on, and its meter, which is what a remap makes of all
    /// numbers.</summary>
    [Fact]
    public async Task ALaneIsTriedWithoutKeepingAnything()
    {
        using var client = await server.SignedInAsync();
        var (id, revision, _) = await OpenAsync(client, "verdigris copper pipe");
        Task<HttpResponseMessage> Try(string lane, object edit) =>
            client.PostAsJsonAsync(
                $"looks/{id}/try-lane",
                new
                {
                    lane,
                    from = 0,
                    edit,
                }
            );
        var tried = await (
            await Try(
                "specular_roughness",
                new
                {
                    edit = "stepChange",
                    lane = "specular_roughness",
                    step = new
                    {
                        kind = "remap",
                        id = "s1",
                        outLow = 0.4,
                        outHigh = 0.5,
                        clamp = true,
                    },
                }
            )
        ).Content.ReadFromJsonAsync<JsonElement>();
        var tile = Assert.Single(tried.GetProperty("tiles").EnumerateArray().ToList());
        Assert.Equal("specular_roughness", tile.GetProperty("lane").GetString());
        Assert.Equal(1, tile.GetProperty("steps").GetInt32());
        Assert.Equal([0x89, (byte)'P', (byte)'N', (byte)'G'], Convert.FromBase64String(tile.GetProperty("picture").GetString()!)[..4]);
        var meter = tried.GetProperty("meters").GetProperty("specular_roughness");
        Assert.InRange(meter.GetProperty("minimum").GetDouble(), 0.4 - 1e-4, 0.5);
        Assert.InRange(meter.GetProperty("maximum").GetDouble(), 0.4, 0.5 + 1e-4);
        Assert.Equal(revision, (await OpenAsync(client, "verdigris copper pipe")).Revision);
        var refused = await Try(
            "specular_roughness",
            new
            {
                edit = "stepRemove",
                lane = "specular_roughness",
                stepId = "nothing",
            }
        );
        Assert.Equal(HttpStatusCode.UnprocessableEntity, refused.StatusCode);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await Try("coat_weight", new { edit = "rename", name = "another" })).StatusCode);
    }

    /// <summary>What is needed to match two distributions: quantiles of what comes into a step, and of another look's lane.</summary>
    [Fact]
    public async Task QuantilesOfALaneAreMeasuredWithAsManyComponentsAsAskedFor()
    {
        using var client = await server.SignedInAsync();
        var (id, _, _) = await OpenAsync(client, "verdigris copper pipe");
        async Task<double[][]> Quantiles(string query) =>
            (await GetAsync(client, $"looks/{id}/quantiles?{query}")).GetProperty("components").Deserialize<double[][]>()!;
        double[] before = (await Quantiles("lane=specular_roughness&step=0")).Single(),
            after = (await Quantiles("lane=specular_roughness")).Single();
        // The step inverts: the quantiles change places.
        Assert.All(before.Zip(after.Reverse()), p => Assert.Equal(1 - p.First, p.Second, 1e-5));
        Assert.True(before[0] < before[^1]);
        Assert.Equal(3, (await Quantiles("lane=base_color")).Length);
        Assert.Single(await Quantiles("lane=base_color&components=1"));
        Assert.Equal(3, (await Quantiles("lane=specular_roughness&components=3")).Length);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await client.GetAsync($"looks/{id}/quantiles?lane=geometry_normal")).StatusCode);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await client.GetAsync($"looks/{id}/quantiles?lane=coat_weight")).StatusCode);
    }

    [Fact]
    public async Task TheKindsOfStepsAreServedWithWhatTheInterfaceNeeds()
    {
        using var client = await server.SignedInAsync();
        var kinds = (await GetAsync(client, "steps")).EnumerateArray().ToDictionary(k => k.GetProperty("kind").GetString()!);
        Assert.Equal(Kiln.Looks.Steps.Table.StepTable.All.Select(e => e.Name).Order(), kinds.Keys.Order());
        var blend = kinds["heightBlend"];
        Assert.Equal("softness", blend.GetProperty("fields")[0].GetProperty("name").GetString());
        Assert.Equal("scalar", blend.GetProperty("sides")[0].GetProperty("takes").GetString());
        Assert.Equal(0.2, blend.GetProperty("fresh").GetProperty("softness").GetDouble(), 1e-6);
        Assert.False(blend.GetProperty("fresh").TryGetProperty("id", out _));
    }

    /// <summary>
    /// The usual mistake must be seen: a measurement read as sRGB is shown as the darker number it becomes (IEC 61966-2-1).
    /// </summary>
    [Fact]
    public async Task AMeasurementReadTheOtherWayLooksWrong()
    {
        using var client = await server.SignedInAsync();
        var (_, _, document) = await OpenAsync(client, "verdigris copper pipe");
        var content = document.GetProperty("slots").GetProperty("glossiness").GetProperty("file").GetProperty("content").GetString();
        async Task<float[]> ShownAsync(string space)
        {
            var file = Path.Combine(Path.GetTempPath(), $"kiln-shown-{Guid.NewGuid():N}.png");
            await File.WriteAllBytesAsync(
                file,
                await client.GetByteArrayAsync($"contents/{content}/thumbnail?kind=scalar&space={space}&channel=luminance&size=64")
            );
            var picture = DecodeWorker.InProcess(file, null, DecodeLimits.Default);
            File.Delete(file);
            var row = new float[picture.Width * picture.ChannelCount];
            picture.ReadRow(picture.Height / 2, row);
            return row;
        }
        float[] asStored = await ShownAsync("raw"),
            mistaken = await ShownAsync("srgb_texture");
        // Half a code of each picture, the first stretched by the curve's slope of at most 2.3.
        Assert.All(asStored.Zip(mistaken), p =>
            Assert.Equal(p.First <= 0.04045f ? p.First / 12.92f : MathF.Pow((p.First + 0.055f) / 1.055f, 2.4f), p.Second, 1.7f / 255)
        );
        Assert.True(asStored.Average() - mistaken.Average() > 0.1f);
    }

    [Fact]
    public async Task ChainsAreKeptForTheStudioAndThoseThatLeanOnALookAreNot()
    {
        using var client = await server.SignedInAsync();
        var kept = await client.PostAsJsonAsync(
            "chains",
            new
            {
                name = "worn edge roughness",
                words = "",
                steps = new object[]
                {
                    new
                    {
                        kind = "power",
                        id = "s1",
                        exponent = 1.6,
                    },
                    new
                    {
                        kind = "remap",
                        id = "s2",
                        outLow = 0.2,
                        outHigh = 0.7,
                    },
                },
            }
        );
        Assert.Equal(HttpStatusCode.OK, kept.StatusCode);
        var id = (await JsonAsync(kept)).GetProperty("id").GetString();
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (
                await client.PostAsJsonAsync(
                    "chains",
                    new
                    {
                        name = "worn edge roughness",
                        words = "",
                        steps = new object[] { new { kind = "invert", id = "s1" } },
                    }
                )
            ).StatusCode
        );
        var leaning = new
        {
            name = "leaning",
            words = "",
            steps = new object[]
            {
                new
                {
                    kind = "mix",
                    id = "s1",
                    mode = "multiply",
                    other = new { chain = new { origin = new { kind = "source", source = "wear" }, steps = Array.Empty<object>() } },
                    amount = new { value = 1 },
                },
            },
        };
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await client.PostAsJsonAsync("chains", leaning)).StatusCode);
        Assert.Equal("image/png", (await client.GetAsync($"chains/{id}/picture")).Content.Headers.ContentType!.MediaType);
        Assert.Equal(HttpStatusCode.NoContent, (await client.DeleteAsync($"chains/{id}")).StatusCode);
    }

    [Fact]
    public async Task OneEditForSeveralLooksSaysWhereItDidNotFit()
    {
        using var client = await server.SignedInAsync();
        var ids = new[] { "tarred rope", "sail canvas", "amber tuning window" }.Select(n => OpenAsync(client, n).Result.Id).ToArray();
        var done = (
            await JsonAsync(
                await client.PostAsJsonAsync(
                    "looks/edits",
                    new
                    {
                        looks = ids,
                        edit = new
                        {
                            edit = "stepInsert",
                            lane = "emission_color",
                            at = 0,
                            step = new
                            {
                                kind = "grade",
                                id = "s9",
                                value = 0.9,
                            },
                        },
                    }
                )
            )
        ).EnumerateArray().ToList();
        Assert.Equal(2, done.Count(d => d.TryGetProperty("refused", out var r) && r.ValueKind == JsonValueKind.String));
        Assert.Single(done, d => !d.TryGetProperty("refused", out var r) || r.ValueKind == JsonValueKind.Null);
    }

    [Fact]
    public async Task TheNetworkIsShownAsItIsWritten()
    {
        using var client = await server.SignedInAsync();
        var (id, _, _) = await OpenAsync(client, "verdigris copper pipe");
        var network = await GetAsync(client, $"looks/{id}/network?dialect=bisque");
        Assert.Contains("bisque_body", network.GetProperty("text").GetString());
        var nodes = network.GetProperty("nodes").EnumerateArray().ToList();
        var names = nodes.Select(n => n.GetProperty("name").GetString()).ToHashSet();
        Assert.Single(nodes, n => n.GetProperty("isSurface").GetBoolean());
        Assert.All(
            nodes
                .SelectMany(n => n.GetProperty("ports").EnumerateArray())
                .Where(p => p.TryGetProperty("from", out var f) && f.ValueKind == JsonValueKind.String),
            p => Assert.Contains(p.GetProperty("from").GetString(), names)
        );
        Assert.Equal(
            JsonValueKind.Null,
            (await GetAsync(client, $"looks/{id}/network?dialect=gltf")).TryGetProperty("text", out var text)
                ? text.ValueKind
                : JsonValueKind.Null
        );
    }

    /// <summary>A chain of 200 steps works; documents that cannot be are refused with a sentence and leave the look as it was.</summary>
    [Fact]
    public async Task LongChainsWorkAndDamagedEditsAreRefused()
    {
        using var client = await server.SignedInAsync();
        var (id, revision, _) = await OpenAsync(client, "speaker cloth");
        var edits = Enumerable
            .Range(0, 200)
            .Select(i => new
            {
                edit = "stepInsert",
                lane = "specular_roughness",
                at = 0,
                step = new
                {
                    kind = "gain",
                    id = $"g{i}",
                    gain = 1.001,
                },
            });
        var changed = await EditAsync(
            client,
            id,
            revision,
            new
            {
                edit = "batch",
                name = "many",
                edits,
            }
        );
        Assert.Equal(HttpStatusCode.OK, changed.StatusCode);
        revision = (await JsonAsync(changed)).GetProperty("revision").GetInt32();
        Assert.Equal(HttpStatusCode.OK, (await client.GetAsync($"looks/{id}/board?dialect=openpbr")).StatusCode);
        foreach (
            var damaged in new object[]
            {
                new
                {
                    edit = "lane",
                    lane = "specular_roughness/g1/nothing",
                    content = new { },
                },
                new
                {
                    edit = "lane",
                    lane = "source:a:b",
                    content = new { value = new { kind = "scalar", number = 1 } },
                },
                new
                {
                    edit = "coverMove",
                    from = 4,
                    to = 0,
                },
                new
                {
                    edit = "stepInsert",
                    lane = "specular_roughness",
                    at = 0,
                    step = new
                    {
                        kind = "curve",
                        id = "c",
                        points = new[] { new { x = 1, y = 0 }, new { x = 0, y = 1 } },
                    },
                },
                new
                {
                    edit = "stepInsert",
                    lane = "specular_roughness",
                    at = 0,
                    step = new
                    {
                        kind = "blur",
                        id = "b",
                        radius = 9,
                    },
                },
                new
                {
                    edit = "lane",
                    lane = "base_color",
                    content = new
                    {
                        chain = new
                        {
                            origin = new
                            {
                                kind = "slot",
                                slot = "nothing",
                                reading = new
                                {
                                    kind = "colour",
                                    space = "raw",
                                    channel = "rgb",
                                },
                            },
                            steps = Array.Empty<object>(),
                        },
                    },
                },
                new
                {
                    edit = "relief",
                    mode = "geometry",
                    displacement = new { on = true, heightMetres = -1 },
                },
            }
        )
        {
            var refused = await EditAsync(client, id, revision, damaged);
            Assert.True(
                refused.StatusCode is HttpStatusCode.UnprocessableEntity or HttpStatusCode.BadRequest,
                $"{(int)refused.StatusCode} for {JsonSerializer.Serialize(damaged)}"
            );
            Assert.NotEmpty((await JsonAsync(refused)).GetProperty("title").GetString()!);
        }
        Assert.Equal(revision, (await OpenAsync(client, "speaker cloth")).Revision);
    }

    [Fact]
    public async Task ALookIsLaidOverAnotherAndTheirsStaysAsItWas()
    {
        using var client = await server.SignedInAsync();
        var (wall, wallRevision, _) = await OpenAsync(client, "limewashed wall");
        var (id, revision, _) = await OpenAsync(client, "knurled steel knob");
        var request = new HttpRequestMessage(HttpMethod.Post, $"looks/{id}/covers")
        {
            Content = JsonContent.Create(new { look = wall, version = (int?)null }),
        };
        request.Headers.TryAddWithoutValidation("If-Match", $"\"{revision}\"");
        var covered = (await JsonAsync(await client.SendAsync(request))).GetProperty("document");
        Assert.Equal("limewashed wall", covered.GetProperty("covers")[0].GetProperty("name").GetString());
        Assert.Equal(wallRevision, (await OpenAsync(client, "limewashed wall")).Revision);
        Assert.Equal(
            "image/png",
            (await client.GetAsync($"looks/{id}/tile?lane=cover:0:base_color")).Content.Headers.ContentType!.MediaType
        );
        Assert.True((await GetAsync(client, $"looks/{id}/board")).GetProperty("meters").TryGetProperty("cover:0:base_color", out _));
    }
}
