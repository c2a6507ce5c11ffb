using System.IO.Compression;
using System.Net;
using System.Net.Http.Headers;
using System.Text;
using static Kiln.Server.Tests.Api;

namespace Kiln.Server.Tests.Looks;

/// <summary>Variants over HTTP: fields, sheets, maps, pictures, packages, versions.</summary>
[Collection(nameof(PicturesServer))]
public sealed class VariantRouteTests(ServerFixture server)
{
    private static async Task<(HttpStatusCode Status, System.Text.Json.JsonElement Body)> SheetAsync(
        HttpClient client,
        string look,
        int revision,
        string text,
        bool tries = false
    )
    {
        using var request = new HttpRequestMessage(HttpMethod.Post, $"looks/{look}/variants/sheet{(tries ? "?tries=true" : "")}")
        {
            Content = new ByteArrayContent(Encoding.UTF8.GetBytes(text)),
        };
        request.Headers.IfMatch.Add(new($"\"{revision}\""));
        using var answer = await client.SendAsync(request);
        return (answer.StatusCode, System.Text.Json.JsonDocument.Parse(await answer.Content.ReadAsStringAsync()).RootElement.Clone());
    }

    [Fact]
    public async Task ASheetIsTriedTakenSeenWrittenAndKeptInAVersion()
    {
        using var lead = await server.SignedInAsync("noor");
        var look = await LookAsync(lead, "speaker cloth");
        var (id, revision) = (look.GetProperty("id").GetString()!, look.GetProperty("revision").GetInt32());
        const string sheet = "variant,base_color,specular_roughness\r\nRust,#8a4020,\r\nDeep sea,acescg -0.05 0.2 0.5,0.3\r\n";
        var tried = await SheetAsync(lead, id, revision, sheet, tries: true);
        Assert.Equal(2, tried.Body.GetProperty("added").GetArrayLength());
        Assert.Equal(revision, (await GetAsync(lead, $"looks/{id}")).GetProperty("revision").GetInt32());
        var faulty = await SheetAsync(lead, id, revision, "variant,base_color\nRust,#8a40\nB,#123456\n");
        Assert.Equal(2, faulty.Body.GetProperty("faults")[0].GetProperty("line").GetInt32());
        Assert.Equal(revision, (await GetAsync(lead, $"looks/{id}")).GetProperty("revision").GetInt32());

        var taken = await SheetAsync(lead, id, revision, sheet);
        Assert.Equal(HttpStatusCode.OK, taken.Status);
        revision = taken.Body.GetProperty("look").GetProperty("revision").GetInt32();
        // Somebody who saw the look as it was before is told, and nothing is written.
        Assert.Equal(
            HttpStatusCode.PreconditionFailed,
            (await SheetAsync(lead, id, revision - 1, "variant,base_color\nOther,#123456\n")).Status
        );
        var table = await GetAsync(lead, $"looks/{id}/variants");
        Assert.Equal(["base_color", "specular_roughness"], table.GetProperty("columns").EnumerateArray().Select(c => c.GetString()));
        var deep = table.GetProperty("rows")[1];
        Assert.True(deep.GetProperty("cells").GetProperty("base_color").GetProperty("outsideSrgb").GetBoolean());
        Assert.Equal("#8a4020", table.GetProperty("rows")[0].GetProperty("cells").GetProperty("base_color").GetProperty("hex").GetString());
        Assert.Equal(sheet, await lead.GetStringAsync($"looks/{id}/variants/sheet.csv"));

        // Pictures: each its own, by the same light.
        var pictures = new List<byte[]>();
        foreach (var of in (string[])["", "&variant=Rust", "&variant=Deep%20sea"])
            pictures.Add(await lead.GetByteArrayAsync($"looks/{id}/picture?size=64{of}"));
        Assert.Equal(3, pictures.Select(Convert.ToBase64String).Distinct().Count());
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await lead.GetAsync($"looks/{id}/picture?variant=gone")).StatusCode);

        // One field is emptied; what is published before and written after is the same to the byte.
        await DoneAsync(await EditAsync(lead, id, revision, new { note = "two colourways", publishes = true }, "versions"));
        var before = await lead.GetByteArrayAsync($"looks/{id}/versions/1/package?dialect=gltf");
        revision = (
            await DoneAsync(
                await EditAsync(
                    lead,
                    id,
                    revision,
                    new[]
                    {
                        new
                        {
                            variant = "Rust",
                            column = "base_color",
                            text = "",
                        },
                    },
                    "variants/cells"
                )
            )
        ).GetProperty("revision").GetInt32();
        Assert.Empty((await GetAsync(lead, $"looks/{id}/variants")).GetProperty("rows")[0].GetProperty("cells").EnumerateObject());
        Assert.Equal(before, await lead.GetByteArrayAsync($"looks/{id}/versions/1/package?dialect=gltf"));
        using var zip = new ZipArchive(new MemoryStream(before));
        Assert.Equal(2, zip.Entries.Count(e => e.FullName.StartsWith("reports/", StringComparison.Ordinal)));
        using var notes = new StreamReader(zip.GetEntry("notes.txt")!.Open());
        Assert.Contains("Deep sea", await notes.ReadToEndAsync(), StringComparison.Ordinal);
    }

    [Fact]
    public async Task AMapIsDroppedIntoAFieldAndRulesAreHeldAgainstEveryVariant()
    {
        using var lead = await server.SignedInAsync("noor");
        var look = await LookAsync(lead, "rubber foot");
        var (id, revision) = (look.GetProperty("id").GetString()!, look.GetProperty("revision").GetInt32());
        revision = (
            await DoneAsync(
                await EditAsync(
                    lead,
                    id,
                    revision,
                    new[]
                    {
                        new
                        {
                            variant = "Black",
                            column = "base_color",
                            text = "#020202",
                        },
                        new
                        {
                            variant = "Grey",
                            column = "base_color",
                            text = "#808080",
                        },
                    },
                    "variants/cells"
                )
            )
        ).GetProperty("revision").GetInt32();
        var slot = look.GetProperty("document").GetProperty("slots").EnumerateObject().First(s => s.Name != "normal").Name;
        using var form = new MultipartFormDataContent();
        var picture = new ByteArrayContent(TestMaps.Grey(64, 64, 180));
        picture.Headers.ContentType = new MediaTypeHeaderValue("image/png");
        form.Add(picture, "files", "worn.png");
        using var request = new HttpRequestMessage(HttpMethod.Post, $"looks/{id}/maps?variant=Grey&slot={slot}") { Content = form };
        request.Headers.IfMatch.Add(new($"\"{revision}\""));
        await DoneAsync(await lead.SendAsync(request));
        var grey = (await GetAsync(lead, $"looks/{id}/variants")).GetProperty("rows")[1];
        Assert.Equal("worn.png", grey.GetProperty("cells").GetProperty($"map {slot}").GetProperty("text").GetString());

        var studio = (
            await DoneAsync(
                await System.Net.Http.Json.HttpClientJsonExtensions.PostAsJsonAsync(
                    lead,
                    "collections",
                    new { name = "studio of colourways" }
                )
            )
        )
            .GetProperty("id")
            .GetString()!;
        await lead.PutAsync($"collections/{studio}/looks/{id}", null);
        using var rules = new HttpRequestMessage(HttpMethod.Put, $"collections/{studio}/rules")
        {
            Content = System.Net.Http.Json.JsonContent.Create(
                new { text = """{ "names": "never", "baseLuminance": { "dielectric": { "least": 0.02 } } }""", revision = 0 }
            ),
        };
        rules.Headers.IfMatch.Add(new("\"0\""));
        await DoneAsync(await lead.SendAsync(rules));
        var broken = (await GetAsync(lead, $"looks/{id}/variants/rules"))
            .EnumerateArray()
            .ToDictionary(v => v.GetProperty("variant").GetString()!, v => v.GetProperty("broken").GetArrayLength());
        Assert.Equal(1, broken["Black"]);
        Assert.Equal(0, broken["Grey"]);
    }
}
