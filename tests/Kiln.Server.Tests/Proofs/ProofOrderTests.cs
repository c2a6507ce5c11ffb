using System.IO.Compression;
using System.Net;
using System.Net.Http.Json;
using System.Text.Json;
using Kiln.Pixels;
using Kiln.Pixels.Decoding;
using Kiln.Pixels.Decoding.Workers;
using static Kiln.Server.Tests.Api;

namespace Kiln.Server.Tests.Proofs;

/// <summary>Pictures for outside the program: ordered, made, fetched, cancelled, refused.</summary>
[Collection(nameof(PicturesServer))]
public sealed class ProofOrderTests(ServerFixture server)
{
    private static async Task<JsonElement> OrderAsync(HttpClient client, object order)
    {
        var look = (await LookAsync(client, "rubber foot")).GetProperty("id").GetString();
        return await JsonAsync(await client.PostAsJsonAsync($"looks/{look}/proof-files", order));
    }

    private static async Task<JsonElement> EndedAsync(HttpClient client, JsonElement order)
    {
        for (var i = 0; i < 2400; i++)
        {
            var now = (await GetAsync(client, "proof-files"))
                .EnumerateArray()
                .First(o => o.GetProperty("id").GetString() == order.GetProperty("id").GetString());
            if (now.GetProperty("state").GetString() is "done" or "failed" or "cancelled")
                return now;
            await Task.Delay(150);
        }
        throw new TimeoutException("The picture was not made.");
    }

    private static Task<byte[]> FileAsync(HttpClient client, JsonElement order) =>
        client.GetByteArrayAsync($"proof-files/{order.GetProperty("id").GetString()}/file");

    private static ImageBuffer Decoded(byte[] bytes)
    {
        var path = Path.GetTempFileName();
        try
        {
            File.WriteAllBytes(path, bytes);
            return DecodeWorker.InProcess(path, null, DecodeLimits.Default);
        }
        finally
        {
            File.Delete(path);
        }
    }

    [Fact]
    public async Task APictureWithLayersAndOneWithoutBackground()
    {
        using var client = await server.SignedInAsync();
        var exr = await EndedAsync(
            client,
            await OrderAsync(
                client,
                new
                {
                    format = "exr",
                    width = 64,
                    height = 48,
                    samples = 4,
                    layers = new[] { "diffuse", "normal", "depth" },
                }
            )
        );
        Assert.Equal("done", exr.GetProperty("state").GetString());
        Assert.Equal("rubber_foot.exr", exr.GetProperty("file").GetString());
        var picture = Decoded(await FileAsync(client, exr));
        Assert.Equal((64, 48), (picture.Width, picture.Height));
        Assert.Superset(new HashSet<string> { "R", "G", "B", "Z", "diffuse.R", "normal.B" }, picture.Channels.ToHashSet());
        var png = await EndedAsync(
            client,
            await OrderAsync(
                client,
                new
                {
                    format = "png",
                    form = "sphere",
                    width = 48,
                    height = 48,
                    samples = 2,
                    background = false,
                    light = "furnace",
                }
            )
        );
        var cut = Decoded(await FileAsync(client, png));
        Assert.Equal(0, cut[0, 0, 3]);
        Assert.Equal(1, cut[24, 24, 3]);
    }

    [Fact]
    public async Task ATurnIsNumberedOrAnimated()
    {
        using var client = await server.SignedInAsync();
        var zip = await EndedAsync(
            client,
            await OrderAsync(
                client,
                new
                {
                    format = "png",
                    width = 32,
                    height = 32,
                    samples = 1,
                    frames = 3,
                }
            )
        );
        using (var archive = new ZipArchive(new MemoryStream(await FileAsync(client, zip))))
            Assert.Equal(
                ["rubber_foot.0001.png", "rubber_foot.0002.png", "rubber_foot.0003.png"],
                archive.Entries.Select(e => e.Name).Order()
            );
        var webp = await FileAsync(
            client,
            await EndedAsync(
                client,
                await OrderAsync(
                    client,
                    new
                    {
                        format = "webp",
                        width = 32,
                        height = 32,
                        samples = 1,
                        frames = 4,
                    }
                )
            )
        );
        Assert.Equal("RIFF", System.Text.Encoding.ASCII.GetString(webp, 0, 4));
        Assert.Contains("ANMF", System.Text.Encoding.ASCII.GetString(webp));
    }

    [Fact]
    public async Task AnOrderIsCancelledAndItsFileRemoved()
    {
        using var client = await server.SignedInAsync();
        using var other = await server.SignedInAsync("ada");
        var long_ = await OrderAsync(
            client,
            new
            {
                format = "png",
                width = 1024,
                height = 1024,
                samples = 4096,
            }
        );
        var path = $"proof-files/{long_.GetProperty("id").GetString()}";
        Assert.Equal(HttpStatusCode.NotFound, (await other.DeleteAsync(path)).StatusCode);
        Assert.Equal(HttpStatusCode.NoContent, (await client.DeleteAsync(path)).StatusCode);
        Assert.Equal("cancelled", (await EndedAsync(client, long_)).GetProperty("state").GetString());
        Assert.Equal(HttpStatusCode.NotFound, (await client.GetAsync(path + "/file")).StatusCode);
        Assert.Equal(HttpStatusCode.NoContent, (await client.DeleteAsync(path)).StatusCode);
        Assert.DoesNotContain((await GetAsync(client, "proof-files")).EnumerateArray(), o =>
            path.EndsWith(o.GetProperty("id").GetString()!, StringComparison.Ordinal)
        );
    }

    [Fact]
    public async Task WhatCannotBeMadeIsSaidAtOnce()
    {
        using var client = await server.SignedInAsync();
        var look = (await LookAsync(client, "rubber foot")).GetProperty("id").GetString();
        foreach (
            var (order, part) in new (object, string)[]
            {
                (new { format = "gif" }, "not 'gif'"),
                (new { width = 9000 }, "16 to 4096"),
                (
                    new
                    {
                        width = 4096,
                        height = 4096,
                        format = "exr",
                        layers = new[] { "normal" },
                    },
                    "16 to 2048"
                ),
                (new { samples = 0 }, "1 to 16384"),
                (new { format = "webp" }, "several frames"),
                (new { layers = new[] { "normal" } }, "exr files only"),
                (new { format = "exr", denoise = true }, "for measuring"),
                (new { format = "exr", layers = new[] { "shine" } }, "no layer 'shine'"),
                (
                    new
                    {
                        width = 4096,
                        height = 4096,
                        samples = 16384,
                        frames = 360,
                    },
                    "more than a week"
                ),
                (new { form = "teapot" }, "no form 'teapot'"),
                (new { light = "noon" }, "no light 'noon'"),
            }
        )
        {
            var response = await client.PostAsJsonAsync($"looks/{look}/proof-files", order);
            Assert.Equal(HttpStatusCode.BadRequest, response.StatusCode);
            Assert.Contains(part, await response.Content.ReadAsStringAsync());
        }
    }
}
