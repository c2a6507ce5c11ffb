using System.IO.Compression;
using System.Net;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json;
using static Kiln.Server.Tests.Api;

namespace Kiln.Server.Tests.Studio;

/// <summary>
/// The studio's colour config through the HTTP API: bringing in, choosing, what it changes, and the readings and networks that follow.
/// </summary>
public sealed class ColourTests(ServerFixture server) : IClassFixture<ServerFixture>
{
    private static async Task<string> TakeAsync(HttpClient admin, string name, byte[] body) =>
        (await JsonAsync(await admin.PostAsync("colour/configs?name=" + name, new ByteArrayContent(body))))
            .GetProperty("config")
            .GetString()!;

    private async Task<string> InForceAsync(HttpClient admin)
    {
        var id = await TakeAsync(admin, "pierhouse.ocio", Encoding.UTF8.GetBytes(TestMaps.Studio));
        Assert.Equal(
            HttpStatusCode.NoContent,
            (await admin.PostAsJsonAsync("colour/choice", new { config = id, environment = false })).StatusCode
        );
        return id;
    }

    [Fact]
    public async Task AConfigIsBroughtInShownAndChosen()
    {
        using var admin = await server.SignedInAsync("ada");
        using var artist = await server.SignedInAsync();
        Assert.Equal(HttpStatusCode.Forbidden, (await artist.PostAsync("colour/configs?name=a.ocio", new ByteArrayContent([]))).StatusCode);
        await admin.PostAsJsonAsync("colour/choice", new { environment = false });
        var id = await TakeAsync(admin, "pierhouse.ocio", Encoding.UTF8.GetBytes(TestMaps.Studio));
        // What would change is said before anything does.
        var effect = await JsonAsync(await artist.PostAsJsonAsync("colour/effect", new { config = id, environment = false }));
        Assert.Contains(effect.GetProperty("renamed").EnumerateArray(), r =>
            r.GetProperty("before").GetString() == "srgb_texture" && r.GetProperty("after").GetString() == "painted colour"
        );
        Assert.True(effect.GetProperty("looks").GetInt32() > 0);
        Assert.Equal("none", (await GetAsync(artist, "colour")).GetProperty("title").GetString());
        Assert.Equal(
            HttpStatusCode.Forbidden,
            (await artist.PostAsJsonAsync("colour/choice", new { config = id, environment = false })).StatusCode
        );
        await admin.PostAsJsonAsync("colour/choice", new { config = id, environment = false });
        var colour = await GetAsync(artist, "colour");
        Assert.Equal("pierhouse", colour.GetProperty("title").GetString());
        Assert.Contains("Ada Brandt", colour.GetProperty("reason").GetString());
        var spaces = colour.GetProperty("spaces").EnumerateArray().ToDictionary(s => s.GetProperty("name").GetString()!);
        Assert.Equal("acescg", spaces["studio linear"].GetProperty("sameAs").GetString());
        Assert.Contains("GradingPrimaryTransform", spaces["odd one"].GetProperty("fault").GetString());
        Assert.Equal(
            "painted colour",
            (await JsonAsync(await artist.PostAsJsonAsync("colour/try-file", new { name = "wall_paint.png" })))
                .GetProperty("space")
                .GetString()
        );
        Assert.Equal("pierhouse", (await GetAsync(artist, "house")).GetProperty("config").GetProperty("title").GetString());
        // The one in force cannot be removed; after a restart it still is.
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await admin.DeleteAsync("colour/configs/" + id)).StatusCode);
        server.Stop();
        await server.StartAsync();
        using var again = await server.SignedInAsync();
        Assert.Equal("pierhouse", (await GetAsync(again, "colour")).GetProperty("title").GetString());
    }

    [Fact]
    public async Task WrittenNetworksSpeakTheConfigsNamesAndProofsStayTheSame()
    {
        using var admin = await server.SignedInAsync("ada");
        await admin.PostAsJsonAsync("colour/choice", new { environment = false });
        var id = (await LookAsync(admin)).GetProperty("id").GetString();
        async Task<string> DocumentAsync()
        {
            using var zip = new ZipArchive(await (await admin.GetAsync($"looks/{id}/package?dialect=bisque")).Content.ReadAsStreamAsync());
            using var reader = new StreamReader(
                zip.Entries.First(e => e.Name.EndsWith(".mtlx", StringComparison.Ordinal) && !e.Name.Contains("_defs")).Open()
            );
            return await reader.ReadToEndAsync();
        }
        async Task<double> DifferenceAsync() => (
                await JsonAsync(
                    await admin.PostAsJsonAsync(
                        $"looks/{id}/compare",
                        new
                        {
                            second = "bisque",
                            form = "tile",
                            light = "overcast",
                            size = 48,
                            samples = 8,
                        }
                    )
                )
            ).GetProperty("mean").GetDouble();
        Assert.Contains("\"srgb_texture\"", await DocumentAsync());
        var before = await DifferenceAsync();
        await InForceAsync(admin);
        var document = await DocumentAsync();
        Assert.Contains("\"painted colour\"", document);
        Assert.Contains("\"measured\"", document);
        // Names changed, pictures did not: what is read back under the config's names is the same surface.
        Assert.Equal(before, await DifferenceAsync());
    }

    /// <summary>
    /// A roughness map tagged sRGB stays a measurement; a colour in ACEScg is not converted twice; a rule of the config names a file's
    /// space.
    /// </summary>
    [Fact]
    public async Task ReadingsFollowPrecedenceAndSayWhy()
    {
        using var client = await server.SignedInAsync("ada");
        await InForceAsync(client);
        var id = await NewDeliveryAsync(client, "tags");
        foreach (
            var (name, bytes) in new[]
            {
                ("quay_rough.png", TestMaps.RoughnessTaggedSrgb()),
                ("quay_basecolor.exr", TestMaps.BaseColourInAcesCg()),
                ("pier_basecolor_paint.png", TestMaps.BaseColour()),
            }
        )
            await client.PutAsync($"deliveries/{id}/files/{name}", new ByteArrayContent(bytes));
        await client.PostAsync($"deliveries/{id}/analyse", null);
        var done = await DoneAsync(client, id);
        var maps = done.GetProperty("result")
            .GetProperty("sets")
            .EnumerateArray()
            .SelectMany(s => s.GetProperty("maps").EnumerateArray())
            .ToDictionary(m => m.GetProperty("path").GetString()!, m => m.GetProperty("reading"));
        Assert.Equal("raw", maps["quay_rough.png"].GetProperty("space").GetString());
        Assert.Contains("is ignored, downloads are tagged carelessly", maps["quay_rough.png"].GetProperty("reason").GetString());
        Assert.Equal(
            ("acescg", "embedded"),
            (maps["quay_basecolor.exr"].GetProperty("space").GetString(), maps["quay_basecolor.exr"].GetProperty("authority").GetString())
        );
        var ruled = maps["pier_basecolor_paint.png"];
        Assert.Equal(("srgb_texture", "fileRule"), (ruled.GetProperty("space").GetString(), ruled.GetProperty("authority").GetString()));
        Assert.Contains("rule “painted” says painted colour, which is sRGB", ruled.GetProperty("reason").GetString());
    }

    [Theory]
    [InlineData("a.ocio", "hello", "no OpenColorIO config")]
    [InlineData("a.zip", "hello", "damaged")]
    public async Task WhatIsNoConfigIsRefusedAndLeavesNothing(string name, string text, string words)
    {
        using var admin = await server.SignedInAsync("ada");
        var folder = Directory.CreateDirectory(Path.Combine(server.Folder, "data", "configs")).FullName;
        var before = Directory.GetDirectories(folder).Length;
        var refused = await admin.PostAsync("colour/configs?name=" + name, new ByteArrayContent(Encoding.UTF8.GetBytes(text)));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, refused.StatusCode);
        Assert.Contains(words, (await JsonAsync(refused)).GetProperty("title").GetString());
        Assert.Equal(before, Directory.GetDirectories(folder).Length);
    }

    [Fact]
    public async Task AnArchiveComesWithItsTablesAndNothingLeavesIt()
    {
        using var admin = await server.SignedInAsync("ada");
        byte[] Zip(params (string Name, string Text)[] files)
        {
            using var memory = new MemoryStream();
            using (var zip = new ZipArchive(memory, ZipArchiveMode.Create, true))
                foreach (var (name, text) in files)
                {
                    using var writer = new StreamWriter(zip.CreateEntry(name).Open());
                    writer.Write(text);
                }
            return memory.ToArray();
        }
        const string config =
            "ocio_profile_version: 1\nsearch_path: luts\nroles: {default: lin}\ncolorspaces:\n  - !<ColorSpace> {name: lin}\n  - "
            + "!<ColorSpace>\n    name: curved\n    to_reference: !<FileTransform> {src: c.spi1d}\n";
        var id = await TakeAsync(
            admin,
            "studio.zip",
            Zip(("studio/config.ocio", config), ("studio/luts/c.spi1d", "Version 1\nFrom 0 1\nLength 2\nComponents 1\n{\n0\n0.5\n}\n"))
        );
        Assert.Equal(
            0,
            (await JsonAsync(await admin.PostAsJsonAsync("colour/effect", new { config = id, environment = false })))
                .GetProperty("unusable")
                .GetInt32()
        );
        var escaping = await admin.PostAsync("colour/configs?name=x.zip", new ByteArrayContent(Zip(("../../out.ocio", config))));
        Assert.Contains("leads out", (await JsonAsync(escaping)).GetProperty("title").GetString());
        Assert.Contains(
            "2 .ocio files",
            (
                await JsonAsync(
                    await admin.PostAsync("colour/configs?name=x.zip", new ByteArrayContent(Zip(("a.ocio", config), ("b.ocio", config))))
                )
            )
                .GetProperty("title")
                .GetString()
        );
        Assert.Equal(HttpStatusCode.NoContent, (await admin.DeleteAsync("colour/configs/" + id)).StatusCode);
    }

    [Fact]
    public async Task OnePixelIsReadFromCodeToDisplay()
    {
        using var client = await server.SignedInAsync();
        var slot = (await LookAsync(client))
            .GetProperty("document")
            .GetProperty("slots")
            .EnumerateObject()
            .Single(s => s.Value.GetProperty("role").GetString() == "baseColor")
            .Value;
        var hash = slot.GetProperty("file").GetProperty("content").GetString();
        var read = await GetAsync(client, $"contents/{hash}/readout?kind=colour&space=srgb_texture&channel=rgb&u=0.5&v=0.5&patch=5");
        Assert.Equal(25, read.GetProperty("pixels").GetInt32());
        Assert.Equal(3, read.GetProperty("working").GetArrayLength());
        Assert.Equal(
            HttpStatusCode.BadRequest,
            (await client.GetAsync($"contents/{hash}/readout?kind=colour&space=nothing&channel=rgb&u=0.5&v=0.5")).StatusCode
        );
        Assert.Equal(
            HttpStatusCode.NotFound,
            (await client.GetAsync($"contents/{new string('0', 64)}/readout?kind=colour&space=raw&channel=rgb&u=0&v=0")).StatusCode
        );
    }
}
