using System.IO.Compression;
using System.Net;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json;
using static Kiln.Server.Tests.Api;

namespace Kiln.Server.Tests.Studio;

/// <summary>The working space by studio and collection, what is written in it, the chart's proof, and what looks remember.</summary>
public sealed class WorkingSpaceTests(ServerFixture server) : IClassFixture<ServerFixture>
{
    private static Task<HttpResponseMessage> StudioAsync(HttpClient client, string space) =>
        client.PutAsJsonAsync("house/working-space", new { id = space });

    private static async Task<(string? Id, string? Reason)> OfLookAsync(HttpClient client)
    {
        var working = (await LookAsync(client)).GetProperty("working");
        return (working.GetProperty("id").GetString(), working.GetProperty("reason").GetString());
    }

    private static async Task<string> DocumentAsync(HttpClient client, string id, string more = "")
    {
        using var zip = new ZipArchive(
            await (await client.GetAsync($"looks/{id}/package?dialect=openpbr{more}")).Content.ReadAsStreamAsync()
        );
        using var reader = new StreamReader(zip.Entries.First(e => e.Name.EndsWith(".mtlx", StringComparison.Ordinal)).Open());
        return await reader.ReadToEndAsync();
    }

    [Fact]
    public async Task TheStudioSaysItCollectionsMayDifferAndDisagreementFallsBack()
    {
        using var admin = await server.SignedInAsync("ada");
        using var artist = await server.SignedInAsync();
        Assert.Equal(HttpStatusCode.Forbidden, (await StudioAsync(artist, "lin_rec709")).StatusCode);
        Assert.Equal(HttpStatusCode.BadRequest, (await StudioAsync(admin, "srgb_texture")).StatusCode);
        await StudioAsync(admin, "acescg");
        var look = await LookAsync(artist);
        var id = look.GetProperty("id").GetString()!;
        Assert.Contains("colorspace=\"acescg\"", (await DocumentAsync(artist, id)).Split('\n')[1]);
        // Its collection says otherwise.
        var all = (await GetAsync(artist, "collections")).EnumerateArray().ToList();
        var own = all.First(c => c.GetProperty("name").GetString()!.Contains("Tide", StringComparison.Ordinal))
            .GetProperty("id")
            .GetString();
        Assert.Equal(
            HttpStatusCode.NoContent,
            (await artist.PutAsJsonAsync($"collections/{own}/working-space", new { id = "lin_rec709" })).StatusCode
        );
        Assert.Equal("lin_rec709", (await OfLookAsync(artist)).Id);
        Assert.Contains("set by the collection", (await OfLookAsync(artist)).Reason);
        Assert.Contains("colorspace=\"lin_rec709\"", (await DocumentAsync(artist, id)).Split('\n')[1]);
        // A second collection that disagrees leaves it to the studio.
        var other = (await JsonAsync(await artist.PostAsJsonAsync("collections", new { name = "Second opinion" })))
            .GetProperty("id")
            .GetString();
        await artist.PutAsJsonAsync($"collections/{other}/working-space", new { id = "acescg" });
        await artist.PutAsync($"collections/{other}/looks/{id}", null);
        Assert.Equal("acescg", (await OfLookAsync(artist)).Id);
        Assert.Contains("disagree", (await OfLookAsync(artist)).Reason);
        await artist.DeleteAsync($"collections/{other}/looks/{id}");
        await artist.PutAsJsonAsync($"collections/{own}/working-space", new { id = (string?)null });
        Assert.Equal("acescg", (await OfLookAsync(artist)).Id);
        Assert.Equal(
            HttpStatusCode.NotFound,
            (await artist.PutAsJsonAsync($"collections/{Guid.NewGuid()}/working-space", new { id = "acescg" })).StatusCode
        );
    }

    [Fact]
    public async Task TexturesAreWrittenAsTheyAreOrConvertedByTheArtistsWish()
    {
        using var client = await server.SignedInAsync();
        var id = (await LookAsync(client)).GetProperty("id").GetString()!;
        var (plain, converted) = (await DocumentAsync(client, id), await DocumentAsync(client, id, "&convertTextures=true"));
        Assert.Contains("colorspace=\"srgb_texture\"", plain);
        Assert.DoesNotContain(".exr", plain);
        Assert.DoesNotContain("srgb_texture", converted);
        Assert.Contains("_acescg.exr", converted);
    }

    [Theory]
    [InlineData("form", "")]
    [InlineData("png", "bisque")]
    [InlineData("exr", "gltf")]
    public async Task TheChartProvesTheChain(string of, string dialect)
    {
        using var client = await server.SignedInAsync();
        var report = await GetAsync(client, $"colour/chart?of={of}&dialect={dialect}");
        Assert.Equal(24, report.GetProperty("patches").GetArrayLength());
        Assert.InRange(report.GetProperty("greatest").GetSingle(), 0, 0.5f);
        Assert.Equal(
            "image/png",
            (await client.GetAsync($"colour/chart/picture?of={of}&dialect={dialect}")).Content.Headers.ContentType!.MediaType
        );
    }

    [Fact]
    public async Task TheChartsMapComesInLikeAnyOtherMap()
    {
        using var client = await server.SignedInAsync();
        Assert.Equal(HttpStatusCode.BadRequest, (await client.GetAsync("colour/chart/map?format=bmp")).StatusCode);
        var id = await NewDeliveryAsync(client, "chart");
        foreach (var format in new[] { "png", "exr" })
        {
            var file = await client.GetAsync("colour/chart/map?format=" + format);
            await client.PutAsync(
                $"deliveries/{id}/files/{format}/{file.Content.Headers.ContentDisposition!.FileName!.Trim('"')}",
                new ByteArrayContent(await file.Content.ReadAsByteArrayAsync())
            );
        }
        await client.PostAsync($"deliveries/{id}/analyse", null);
        var readings = (await DoneAsync(client, id))
            .GetProperty("result")
            .GetProperty("sets")
            .EnumerateArray()
            .SelectMany(s =>
                s.GetProperty("maps")
                    .EnumerateArray()
                    .Concat(s.GetProperty("alternates").EnumerateArray().Select(a => a.GetProperty("map")))
            )
            .ToDictionary(
                m => Path.GetExtension(m.GetProperty("path").GetString()!),
                m => m.GetProperty("reading").GetProperty("space").GetString()
            );
        Assert.Equal("srgb_texture", readings[".png"]);
        Assert.Equal("acescg", readings[".exr"]);
    }

    [Fact]
    public async Task AProofsPixelsAreReadAndAStrangersAreNot()
    {
        using var client = await server.SignedInAsync();
        using var other = await server.SignedInAsync("ada");
        var id = (await LookAsync(client)).GetProperty("id").GetString();
        Assert.Equal(HttpStatusCode.NotFound, (await client.GetAsync("proofs/readout?viewer=reading&u=0.5&v=0.5")).StatusCode);
        await (
            await client.PostAsJsonAsync(
                $"looks/{id}/proof",
                new
                {
                    viewer = "reading",
                    width = 48,
                    height = 48,
                    samples = 96,
                    form = "chart",
                    light = "furnace",
                    view = "plain",
                    clipping = true,
                }
            )
        ).Content.ReadAsByteArrayAsync();
        // The middle of the darkest grey: reflectance 3 %.
        var read = await GetAsync(client, "proofs/readout?viewer=reading&u=0.92&v=0.12&patch=3");
        Assert.Equal(0.03f, read.GetProperty("luminance").GetSingle(), 3e-3f);
        Assert.Equal(HttpStatusCode.NotFound, (await other.GetAsync("proofs/readout?viewer=reading&u=0.5&v=0.5")).StatusCode);
    }

    [Fact]
    public async Task ALookRemembersTheConfigItWasWiredUnder()
    {
        using var admin = await server.SignedInAsync("ada");
        var added = await JsonAsync(
            await admin.PostAsync("colour/configs?name=pierhouse.ocio", new ByteArrayContent(Encoding.UTF8.GetBytes(TestMaps.Studio)))
        );
        await admin.PostAsJsonAsync("colour/choice", new { config = added.GetProperty("config").GetString(), environment = false });
        try
        {
            var hash = (await GetAsync(admin, "colour")).GetProperty("hash").GetString();
            var look = await LookAsync(admin);
            Assert.False(look.GetProperty("document").GetProperty("colour").TryGetProperty("configHash", out _));
            var edited = await JsonAsync(
                await EditAsync(
                    admin,
                    look.GetProperty("id").GetString()!,
                    look.GetProperty("revision").GetInt32(),
                    new { edit = "colour", colour = new { configTitle = "pierhouse", configHash = hash } }
                )
            );
            Assert.Equal(hash, edited.GetProperty("document").GetProperty("colour").GetProperty("configHash").GetString());
        }
        finally
        {
            await admin.PostAsJsonAsync("colour/choice", new { environment = true });
        }
    }

    [Fact]
    public async Task ColoursAreRestatedAndWhatSrgbCannotHoldIsSaid()
    {
        using var client = await server.SignedInAsync();
        var hex = await JsonAsync(await client.PostAsJsonAsync("colour/restate", new { hex = "#c08040", to = "acescg" }));
        Assert.Equal("#c08040", hex.GetProperty("hex").GetString());
        var pure = await JsonAsync(
            await client.PostAsJsonAsync(
                "colour/restate",
                new
                {
                    r = 0,
                    g = 1,
                    b = 0,
                    space = "acescg",
                    to = "lin_rec709",
                }
            )
        );
        Assert.False(pure.GetProperty("inGamut").GetBoolean());
        Assert.True(pure.GetProperty("r").GetSingle() < 0);
        // Said again in the report of a dialect whose values are sRGB's.
        var look = await LookAsync(client, "tarred rope");
        var id = look.GetProperty("id").GetString()!;
        await EditAsync(
            client,
            id,
            look.GetProperty("revision").GetInt32(),
            new
            {
                edit = "lane",
                lane = "base_color",
                content = new
                {
                    value = new
                    {
                        kind = "colour",
                        r = 0.0,
                        g = 0.8,
                        b = 0.0,
                        space = "acescg",
                    },
                },
            }
        );
        var board = await GetAsync(client, $"looks/{id}/board?dialect=gltf");
        Assert.Contains(board.GetProperty("report").GetProperty("approximated").EnumerateArray(), l =>
            l.GetProperty("input").GetString() == "base_color"
            && l.GetProperty("note").GetString()!.Contains("is outside linear Rec.709", StringComparison.Ordinal)
        );
    }

    [Fact]
    public async Task EveryViewHasASample()
    {
        using var client = await server.SignedInAsync();
        foreach (var view in (await GetAsync(client, "house")).GetProperty("views").EnumerateArray())
            Assert.Equal(
                "image/png",
                (await client.GetAsync("colour/view-sample?view=" + Uri.EscapeDataString(view.GetString()!)))
                    .Content
                    .Headers
                    .ContentType!
                    .MediaType
            );
        Assert.Equal(HttpStatusCode.BadRequest, (await client.GetAsync("colour/view-sample?view=nothing")).StatusCode);
    }
}
