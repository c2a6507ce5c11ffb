using System.Net;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json;
using static Kiln.Server.Tests.Api;

namespace Kiln.Server.Tests.Proofs;

/// <summary>What the viewport is given: looks as shaders with their numbers, maps, forms, lights and views.</summary>
[Collection(nameof(PicturesServer))]
public sealed class ViewportTests(ServerFixture server)
{
    private static async Task<(JsonElement Head, Dictionary<string, int> Parts, int Length)> PartsAsync(HttpClient client, string path)
    {
        var bytes = await client.GetByteArrayAsync(path);
        var json = JsonDocument.Parse(Encoding.UTF8.GetString(bytes, 4, BitConverter.ToInt32(bytes))).RootElement;
        var parts = json.GetProperty("parts").EnumerateArray();
        return (
            json.GetProperty("head"),
            parts.ToDictionary(p => p.GetProperty("name").GetString()!, p => p.GetProperty("count").GetInt32()),
            bytes.Length
        );
    }

    [Fact]
    public async Task ALookComesAsAShaderOnceAndAsNumbersAfterwards()
    {
        using var client = await server.SignedInAsync();
        var id = (await LookAsync(client)).GetProperty("id").GetString();
        var first = await GetAsync(client, $"looks/{id}/viewport");
        var structure = first.GetProperty("structure").GetString();
        Assert.Contains("void kilnLook(", first.GetProperty("source").GetString());
        Assert.Equal(0, first.GetProperty("numbers").GetArrayLength() % 4);
        var again = await GetAsync(client, $"looks/{id}/viewport?have={structure}");
        Assert.False(again.TryGetProperty("source", out var text) && text.ValueKind != JsonValueKind.Null);
        Assert.Equal(first.GetProperty("numbers").ToString(), again.GetProperty("numbers").ToString());
        // What somebody is about to change has a name and a place of its own.
        var live = await GetAsync(client, $"looks/{id}/viewport?live=coat_weight");
        var place = Assert.Single(live.GetProperty("parameters").EnumerateArray());
        Assert.Equal("coat_weight", place.GetProperty("name").GetString());
        Assert.NotEqual(structure, live.GetProperty("structure").GetString());
    }

    /// <summary>Placements have no number of their own in a shader, values none in a renderer's network: it is told what follows
    /// them.</summary>
    [Fact]
    public async Task WhatFollowsAPlacementAndAValueAsARendererHasItIsTold()
    {
        using var client = await server.SignedInAsync();
        var id = (await LookAsync(client)).GetProperty("id").GetString();
        async Task<List<string>> Followed(string query) =>
            [
                .. (await GetAsync(client, $"looks/{id}/viewport/followed?{query}"))
                    .EnumerateArray()
                    .Select(f => f.GetProperty("name").GetString()!),
            ];
        Assert.Equal(
            ["placement#repeatsU", "placement#repeatsV", "placement#rotationDegrees", "placement#offsetU", "placement#offsetV"],
            await Followed("live=placement")
        );
        // As itself a value has a name; as a renderer has it, it is followed.
        Assert.Empty(await Followed("live=coat_weight"));
        Assert.Equal(["coat_weight"], await Followed("live=coat_weight&dialect=openpbr"));
        Assert.Empty(await Followed("live=no_such_lane&dialect=openpbr"));
        // The shader is the one that serves all values: not the one without a coat.
        var plain = await GetAsync(client, $"looks/{id}/viewport?dialect=openpbr");
        var wider = await GetAsync(client, $"looks/{id}/viewport?dialect=openpbr&live=coat_weight");
        Assert.NotEqual(plain.GetProperty("structure").GetString(), wider.GetProperty("structure").GetString());
        // What is drawn before anything moves is the look as it stands: its placement turns and shifts nothing.
        static IEnumerable<float> Numbers(JsonElement look) => look.GetProperty("numbers").EnumerateArray().Select(n => n.GetSingle());
        var own = Numbers(await GetAsync(client, $"looks/{id}/viewport")).Concat([0, 1]).ToList();
        Assert.All(Numbers(await GetAsync(client, $"looks/{id}/viewport?live=placement")), n =>
            Assert.Contains(own, o => MathF.Abs(o - n) < 3e-6f * (1 + MathF.Abs(o)))
        );
    }

    /// <summary>Middle grey, by its definition: 0 stops, and 0.18 in each of the three.</summary>
    [Fact]
    public async Task LightOfTheViewportIsReadAsTheProofsIs()
    {
        using var client = await server.SignedInAsync();
        var grey = await GetAsync(client, "viewport/readout?r=0.18&g=0.18&b=0.18&working=acescg&view=aces1-sdr");
        Assert.Equal(0, grey.GetProperty("stops").GetDouble(), 1e-4);
        Assert.Equal(0.18, grey.GetProperty("luminance").GetDouble(), 1e-5);
        var brighter = await GetAsync(client, "viewport/readout?r=0.18&g=0.18&b=0.18&working=acescg&view=aces1-sdr&exposure=1");
        Assert.Equal(0, brighter.GetProperty("stops").GetDouble(), 1e-4);
        Assert.True(brighter.GetProperty("displayed")[0].GetDouble() > grey.GetProperty("displayed")[0].GetDouble());
        Assert.Equal(
            HttpStatusCode.BadRequest,
            (await client.GetAsync("viewport/readout?r=1&g=1&b=1&working=nothing&view=aces1-sdr")).StatusCode
        );
    }

    /// <summary>Two places of drawn cells: equal light is 0 apart, and white from black 100 (CIEDE2000 of L* 100 and 0).</summary>
    [Fact]
    public async Task TwoPlacesOfDrawnCellsAreReadWithTheirDifference()
    {
        using var client = await server.SignedInAsync();
        object Light(double v) =>
            new
            {
                r = v,
                g = v,
                b = v,
                working = "lin_rec709",
                view = "plain",
            };
        async Task<JsonElement> Read(object first, object? second) =>
            await (await client.PostAsJsonAsync("viewport/cell-readout", new { first, second })).Content.ReadFromJsonAsync<JsonElement>();
        Assert.Equal(0, (await Read(Light(0.4), Light(0.4))).GetProperty("deltaE").GetDouble(), 1e-6);
        var most = await Read(Light(1), Light(0));
        Assert.Equal(100, most.GetProperty("deltaE").GetDouble(), 1e-2);
        Assert.Equal("#ffffff", most.GetProperty("first").GetProperty("hex").GetString());
        Assert.Equal("#000000", most.GetProperty("second").GetProperty("hex").GetString());
        Assert.False((await Read(Light(1), null)).TryGetProperty("deltaE", out _));
    }

    /// <summary>A look as it was after an edit of its history.</summary>
    [Fact]
    public async Task AnEarlierTimeOfALookIsDrawnToo()
    {
        using var client = await server.SignedInAsync();
        var id = (await LookAsync(client)).GetProperty("id").GetString();
        var now = await GetAsync(client, $"looks/{id}");
        var revision = now.GetProperty("revision").GetInt32();
        async Task<float[]> Numbers(string query) =>
            [
                .. (await GetAsync(client, $"looks/{id}/viewport?{query}"))
                    .GetProperty("numbers")
                    .EnumerateArray()
                    .Select(n => n.GetSingle()),
            ];
        var before = await Numbers("");
        using var edit = new HttpRequestMessage(HttpMethod.Post, $"looks/{id}/edits")
        {
            Content = JsonContent.Create(
                new
                {
                    edit = "fields",
                    of = "placement",
                    fields = new { repeatsU = 3, repeatsV = 3 },
                }
            ),
        };
        edit.Headers.Add("If-Match", $"\"{revision}\"");
        (await client.SendAsync(edit)).EnsureSuccessStatusCode();
        var history = await GetAsync(client, $"looks/{id}/history");
        var edits = history.EnumerateArray().Select(e => e.GetProperty("number").GetInt32()).ToList();
        Assert.NotEqual(before, await Numbers(""));
        Assert.Equal(before, await Numbers($"at={edits.Max() - 1}"));
    }

    [Fact]
    public async Task EveryMapHasAsManyTexelsAsItsArraySays()
    {
        using var client = await server.SignedInAsync();
        var id = (await LookAsync(client)).GetProperty("id").GetString();
        var look = await GetAsync(client, $"looks/{id}/viewport");
        var seen = 0;
        foreach (var array in look.GetProperty("maps").EnumerateArray())
        foreach (var layer in array.GetProperty("layers").EnumerateArray())
        {
            string Of(string name) => layer.GetProperty(name).ToString();
            var precise = array.GetProperty("isPrecise").GetBoolean();
            var path =
                $"viewport/maps/{Of("content")}?kind={Of("kind")}&space={Of("space")}&channel={Of("channel")}&width={Of("width")}"
                + $"&height={Of("height")}&precise={precise}";
            var texel = (array.GetProperty("components").GetInt32() == 1 ? 1 : 4) * (precise ? 4 : 2);
            var whole = await client.GetByteArrayAsync(path);
            Assert.Equal(array.GetProperty("width").GetInt32() * array.GetProperty("height").GetInt32() * texel, whole.Length);
            Assert.InRange((await client.GetByteArrayAsync(path + "&side=64")).Length, texel, 64 * 64 * texel);
            seen++;
        }
        Assert.InRange(seen, 3, 20);
    }

    /// <summary>Black and white are 100 apart by CIEDE2000 (Sharma, Wu and Dalal 2005): ΔL* alone, its weight 1 at L* 50.</summary>
    [Fact]
    public async Task AViewportsPictureIsMeasuredAgainstTheProofOfItsViewer()
    {
        using var client = await server.SignedInAsync();
        var id = (await LookAsync(client)).GetProperty("id").GetString();
        async Task<HttpResponseMessage> Measured(byte code, int count) =>
            await client.PostAsync(
                "viewport/difference?viewer=measured",
                new ByteArrayContent([.. Enumerable.Repeat(code, count)]) { Headers = { ContentType = new("application/octet-stream") } }
            );
        const int side = 32;
        Assert.Equal(HttpStatusCode.NotFound, (await Measured(0, side * side * 3)).StatusCode);
        var asked = new
        {
            viewer = "measured",
            width = side,
            height = side,
            samples = 4,
            form = "sphere",
            light = "furnace",
            view = "plain",
            background = true,
        };
        await (await client.PostAsJsonAsync($"looks/{id}/proof", asked)).Content.ReadAsByteArrayAsync();
        // The furnace's background is white.
        var black = await (await Measured(0, side * side * 3)).Content.ReadFromJsonAsync<JsonElement>();
        Assert.Equal(100, black.GetProperty("greatest").GetSingle(), 0.5f);
        var white = await (await Measured(255, side * side * 3)).Content.ReadFromJsonAsync<JsonElement>();
        Assert.True(white.GetProperty("mean").GetSingle() < black.GetProperty("mean").GetSingle());
        foreach (var count in (int[])[side * side * 3 - 1, side * side * 3 + 1])
        {
            var other = await Measured(0, count);
            Assert.Equal(HttpStatusCode.BadRequest, other.StatusCode);
            Assert.Contains("32 × 32", await other.Content.ReadAsStringAsync());
        }
    }

    [Fact]
    public async Task FormsLightsAndViewsComeWhole()
    {
        using var client = await server.SignedInAsync();
        var id = (await LookAsync(client)).GetProperty("id").GetString();
        var (form, parts, _) = await PartsAsync(client, $"looks/{id}/viewport/forms/sphere");
        var vertices = parts["positions"] / 3;
        Assert.Equal(
            (vertices * 3, vertices * 4, vertices * 2, vertices * 3, vertices * 16, vertices * 9),
            (parts["normals"], parts["tangents"], parts["uvs"], parts["between"], parts["seen"], parts["visible"])
        );
        Assert.Equal(vertices, form.GetProperty("own").GetInt32());
        Assert.Equal(8 * form.GetProperty("cells").GetInt32(), parts["cells"]);
        Assert.Equal(0, parts["indices"] % 3);
        Assert.Equal(12, form.GetProperty("pitch").GetSingle());
        var (light, pictures, _) = await PartsAsync(client, "viewport/lights/lowsun?working=acescg");
        Assert.Single(light.GetProperty("suns").EnumerateArray());
        var width = light.GetProperty("sharpWidth").GetInt32();
        Assert.Equal(width * width / 2 * 4, pictures["sharp"]);
        var (view, table, _) = await PartsAsync(client, "viewport/views?name=aces1-sdr&working=acescg");
        Assert.Equal(Math.Pow(view.GetProperty("side").GetInt32(), 3) * 3, table["table"]);
        Assert.Equal(58 * 40 * 40, (await PartsAsync(client, "viewport/albedo/ggx")).Parts["albedo"]);
        Assert.Contains("gl_Position", (await GetAsync(client, "viewport/shaders")).GetProperty("triangleVertex").GetString());
    }

    /// <summary>What is not there is said in a sentence, and nothing is made of it.</summary>
    [Theory]
    [InlineData("viewport/lights/moonbeam?working=acescg", "no light 'moonbeam'")]
    [InlineData("viewport/lights/softbox?working=rec2020", "The working space is")]
    [InlineData("viewport/views?name=sepia&working=acescg", "There is no view 'sepia'")]
    [InlineData("looks/LOOK/viewport/forms/teacup", "There is no form 'teacup'")]
    [InlineData("looks/LOOK/viewport?dialect=nobody", "nobody")]
    [InlineData("looks/LOOK/viewport?soloLane=base_color/x", "names no lane")]
    public async Task OddQuestionsAreAnsweredInASentence(string path, string sentence)
    {
        using var client = await server.SignedInAsync();
        var id = (await LookAsync(client)).GetProperty("id").GetString();
        var answer = await client.GetAsync(path.Replace("LOOK", id));
        Assert.InRange((int)answer.StatusCode, 400, 422);
        Assert.Contains(sentence, await answer.Content.ReadAsStringAsync());
    }

    /// <summary>Before anything is rendered there is a picture of the base colour.</summary>
    [Fact]
    public async Task ALookHasAStandIn()
    {
        using var client = await server.SignedInAsync();
        var id = (await LookAsync(client)).GetProperty("id").GetString();
        var answer = await client.GetAsync($"looks/{id}/stand-in");
        Assert.Equal((HttpStatusCode.OK, "image/png"), (answer.StatusCode, answer.Content.Headers.ContentType!.MediaType));
        Assert.InRange((await answer.Content.ReadAsByteArrayAsync()).Length, 60, 100_000);
    }
}
