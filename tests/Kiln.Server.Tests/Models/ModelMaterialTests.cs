using System.Net;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json;
using static Kiln.Server.Tests.Api;

namespace Kiln.Server.Tests.Models;

/// <summary>
/// The materials that a model came with, through the HTTP API: paths found again, looks made of them, all of them or nothing; and what is
/// probably wrong about a model.
/// </summary>
[Collection(nameof(LooksServer))]
public sealed class ModelMaterialTests(ServerFixture server)
{
    private const string Square = """
        mtllib square.mtl
        v 0 0 0
        v 1 0 0
        v 1 1 0
        v 0 1 0
        vt 0 0
        vt 1 0
        vt 1 1
        vt 0 1
        o quux
        usemtl QuuxMtl
        f 1/1 2/2 3/3 4/4
        """;

    private static async Task<string> ModelAsync(HttpClient client, string mtl, string obj = Square)
    {
        var id = await NewDeliveryAsync(client, "materials " + Guid.NewGuid().ToString("N")[..8]);
        await client.PutAsync($"deliveries/{id}/files/square.obj", new ByteArrayContent(Encoding.UTF8.GetBytes(obj)));
        await client.PutAsync($"deliveries/{id}/files/square.mtl", new ByteArrayContent(Encoding.UTF8.GetBytes(mtl)));
        await client.PostAsync($"deliveries/{id}/analyse", null);
        Assert.Equal("ready", (await DoneAsync(client, id)).GetProperty("state").GetString());
        return (await GetAsync(client, $"deliveries/{id}/models")).GetProperty("models")[0].GetProperty("id").GetString()!;
    }

    private static async Task<string> DemoAsync(HttpClient client, string name) =>
        (await GetAsync(client, "models"))
            .EnumerateArray()
            .First(m => m.GetProperty("name").GetString() == name)
            .GetProperty("id")
            .GetString()!;

    private static async Task<JsonElement[]> MaterialsAsync(HttpClient client, string model) =>
        [.. (await GetAsync(client, $"models/{model}/materials")).EnumerateArray()];

    private static IEnumerable<JsonElement> Textures(JsonElement material) => material.GetProperty("textures").EnumerateArray();

    private static JsonElement First(JsonElement texture) => texture.GetProperty("choices")[0];

    private static async Task<JsonElement> PartAsync(HttpClient client, string model) =>
        (await GetAsync(client, $"models/{model}")).GetProperty("parts")[0];

    private static Task<HttpResponseMessage> MakeAsync(HttpClient client, string model, object material) =>
        client.PostAsJsonAsync($"models/{model}/materials/looks", new { materials = new[] { material } });

    /// <summary>Three files of one radio have the same parts; of the demo's dead paths each is found by the surface it speaks of.</summary>
    [Fact]
    public async Task TheDemosDeadPathsAreFoundAgain()
    {
        using var client = await server.SignedInAsync();
        var shapes = new List<(string, int)[]>();
        foreach (var name in new[] { "fr2", "fr2_complete", "fr2_subsets" })
            shapes.Add([
                .. (await GetAsync(client, $"models/{await DemoAsync(client, name)}"))
                    .GetProperty("parts")
                    .EnumerateArray()
                    .Select(p => (p.GetProperty("name").GetString()!, p.GetProperty("triangles").GetInt32())),
            ]);
        Assert.Equal(8, shapes[0].Length);
        Assert.Equal(shapes[0].Order(), shapes[1].Order());
        Assert.Equal(shapes[0].Order(), shapes[2].Order());

        var dead = await MaterialsAsync(client, await DemoAsync(client, "fr2"));
        Assert.Equal(5, dead.Length);
        foreach (var texture in dead.SelectMany(Textures))
        {
            Assert.StartsWith("D:\\jobs\\fr2\\maps\\", texture.GetProperty("written").GetString(), StringComparison.Ordinal);
            Assert.False(First(texture).GetProperty("sure").GetBoolean(), "it is shown before it is taken");
        }
        var body = Textures(dead.Single(m => m.GetProperty("name").GetString() == "anodisedBody")).ToList();
        Assert.All(body, t => Assert.Contains("anodised_body", First(t).GetProperty("from").GetString(), StringComparison.Ordinal));
        // A packed map by its channel, and a picture in tiles as one.
        var roughness = body.Single(t => t.GetProperty("role").GetString() == "roughness");
        Assert.Equal("g", First(roughness).GetProperty("reading").GetProperty("channel").GetString());
        Assert.True(First(body[0]).GetProperty("file").GetProperty("tiles").GetArrayLength() > 1);

        // What a file holds itself is sure.
        var whole = await MaterialsAsync(client, await DemoAsync(client, "fr2_complete"));
        Assert.Equal(20, whole.SelectMany(Textures).Count(t => First(t).GetProperty("sure").GetBoolean()));
    }

    [Fact]
    public async Task ALookIsMadeOfAMaterialAndPutOnItsParts()
    {
        using var client = await server.SignedInAsync();
        var id = await ModelAsync(client, "newmtl QuuxMtl\nKd 0.2 0.4 0.6\nPr 0.35\nmap_Kd Z:\\x\\sail_canvas_basecolor.png\n");
        var material = Assert.Single(await MaterialsAsync(client, id));
        var texture = Assert.Single(Textures(material));
        Assert.Equal(["/quux"], material.GetProperty("parts").EnumerateArray().Select(p => p.GetString()));
        var content = First(texture).GetProperty("file").GetProperty("content").GetString();
        var wrong = new
        {
            number = 0,
            pictures = new[] { new { role = "baseColor", content } },
            parts = new[] { new { path = "/quux", was = (string?)Guid.CreateVersion7().ToString() } },
        };
        // Somebody else was quicker: nothing is made.
        var refused = await MakeAsync(client, id, wrong);
        Assert.Equal(HttpStatusCode.Conflict, refused.StatusCode);
        Assert.False(Assert.Single(await MaterialsAsync(client, id)).TryGetProperty("lookId", out _));

        var made = await DoneAsync(
            await MakeAsync(
                client,
                id,
                new
                {
                    wrong.number,
                    wrong.pictures,
                    parts = new[] { new { path = "/quux", was = (string?)null } },
                }
            )
        );
        var look = made.GetProperty("looks")[0];
        Assert.Equal("QuuxMtl", look.GetProperty("name").GetString());
        Assert.Equal("QuuxMtl", (await PartAsync(client, id)).GetProperty("lookName").GetString());
        var document = (await GetAsync(client, $"looks/{look.GetProperty("look").GetString()}")).GetProperty("document");
        Assert.Equal(
            content,
            document.GetProperty("slots").GetProperty("baseColor").GetProperty("file").GetProperty("content").GetString()
        );
        // A value without a picture is one.
        Assert.True(document.GetProperty("lanes").TryGetProperty("specular_roughness", out _));
        Assert.Equal("QuuxMtl", Assert.Single(await MaterialsAsync(client, id)).GetProperty("lookName").GetString());
        // Once more: another look with another name.
        var again = await DoneAsync(
            await MakeAsync(
                client,
                id,
                new
                {
                    number = 0,
                    pictures = Array.Empty<object>(),
                    parts = Array.Empty<object>(),
                }
            )
        );
        Assert.Equal("square QuuxMtl", again.GetProperty("looks")[0].GetProperty("name").GetString());
    }

    [Theory]
    [InlineData("""{ "materials": [] }""", "1 to 2000 materials")]
    [InlineData("""{ "materials": [{ "number": 7, "pictures": [], "parts": [] }] }""", "no material number 7")]
    [InlineData(
        """{ "materials": [{ "number": 0, "pictures": [{ "role": "baseColor", "content": "ZEROS" }], "parts": [] }] }""",
        "none of those found"
    )]
    public async Task WhatCannotBeMadeIsASentence(string body, string words)
    {
        using var client = await server.SignedInAsync();
        var id = await ModelAsync(client, "newmtl QuuxMtl\nmap_Kd gone_for_good_zzz.png\n");
        var answer = await client.PostAsync(
            $"models/{id}/materials/looks",
            new StringContent(body.Replace("ZEROS", new string('0', 64), StringComparison.Ordinal), Encoding.UTF8, "application/json")
        );
        Assert.InRange((int)answer.StatusCode, 400, 499);
        Assert.Contains(words, await answer.Content.ReadAsStringAsync(), StringComparison.Ordinal);
    }

    /// <summary>
    /// A square whose UVs are mirrored, and one without any: each is told of its own part, once a look lies on them, and dead paths before.
    /// The demo's tall pipe, in centimetres, is asked about.
    /// </summary>
    [Fact]
    public async Task FaultsOfAModelAreFound()
    {
        using var client = await server.SignedInAsync();
        async Task<Dictionary<string, string>> FoundAsync(string id) =>
            (await GetAsync(client, $"models/{id}/findings"))
                .EnumerateArray()
                .GroupBy(f => f.GetProperty("code").GetString()!)
                .ToDictionary(g => g.Key, g => string.Join(' ', g.SelectMany(f => f.GetProperty("parts").EnumerateArray())));
        Assert.Contains("unit.suspicious", await FoundAsync(await DemoAsync(client, "organ_pipe_tall")));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await client.GetAsync($"models/{Guid.CreateVersion7()}/findings")).StatusCode);

        var model = await ModelAsync(
            client,
            "newmtl FaultyMtl\nmap_Kd Z:/x/sail_canvas_basecolor.png\n",
            Square
                .Replace("QuuxMtl", "FaultyMtl", StringComparison.Ordinal)
                .Replace("f 1/1 2/2 3/3 4/4", "f 1/2 2/1 3/4 4/3\no bare\nf 1 2 3 4", StringComparison.Ordinal)
        );
        var grey = await FoundAsync(model);
        Assert.Equal("/quux /bare", grey["map.dead"]);
        Assert.DoesNotContain("uvs.flipped", grey);
        var texture = Assert.Single(Textures(Assert.Single(await MaterialsAsync(client, model))));
        var content = First(texture).GetProperty("file").GetProperty("content").GetString();
        await DoneAsync(
            await MakeAsync(
                client,
                model,
                new
                {
                    number = 0,
                    pictures = new[] { new { role = "baseColor", content } },
                    parts = new[] { "/quux", "/bare" }.Select(path => new { path, was = (string?)null }),
                }
            )
        );
        var dressed = await FoundAsync(model);
        Assert.Equal("/quux", dressed["uvs.flipped"]);
        Assert.Equal("/bare", dressed["uvs.none"]);
        Assert.DoesNotContain("map.dead", dressed);
    }
}
