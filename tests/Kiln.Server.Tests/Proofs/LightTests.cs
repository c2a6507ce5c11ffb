using System.Net;
using System.Net.Http.Headers;
using Kiln.Pixels;
using Kiln.Pixels.Writing;
using static Kiln.Server.Tests.Api;

namespace Kiln.Server.Tests.Proofs;

/// <summary>A person's own light: brought, seen, proved under; and what is refused.</summary>
[Collection(nameof(PicturesServer))]
public sealed class LightTests(ServerFixture server)
{
    private static Task<HttpResponseMessage> BringAsync(HttpClient client, string name, byte[] bytes)
    {
        var part = new ByteArrayContent(bytes);
        part.Headers.ContentType = new MediaTypeHeaderValue("application/octet-stream");
        return client.PostAsync("lights", new MultipartFormDataContent { { part, "file", name } });
    }

    private static byte[] Exr(int width, int height, Func<int, float> value)
    {
        var picture = new ImageBuffer(width, height, ImageBuffer.Rgb, SampleType.F32);
        var samples = picture.Samples<float>();
        for (var i = 0; i < samples.Length; i++)
            samples[i] = value(i);
        using var stream = new MemoryStream();
        ExrWriter.Write(stream, picture);
        return stream.ToArray();
    }

    [Fact]
    public async Task ALightIsBroughtAndProvedUnder()
    {
        using var client = await server.SignedInAsync();
        // Green from above, with pixels that are no light among it.
        var assigned = await BringAsync(client, "sea glass.exr", Exr(64, 32, i => i < 64 * 16 * 3
                    ? i % 97 == 0
                        ? float.NaN
                        : i % 3 == 1
                            ? 2
                            : 0.1f
                    : 0));
        Assert.Equal(HttpStatusCode.OK, assigned.StatusCode);
        Assert.Contains((await GetAsync(client, "house")).GetProperty("lights").EnumerateArray(), l => l.GetString() == "sea glass");
        Assert.Equal("image/jpeg", (await client.GetAsync("lights/sea glass/picture")).Content.Headers.ContentType!.MediaType);
        var look = (await LookAsync(client)).GetProperty("id").GetString();
        var path = Path.GetTempFileName();
        await File.WriteAllBytesAsync(
            path,
            await client.GetByteArrayAsync($"proofs/cell?look={look}&form=sphere&light=sea glass&size=32&samples=16")
        );
        var mean = ImageStatistics
            .Measure(Pixels.Decoding.Workers.DecodeWorker.InProcess(path, null, Pixels.Decoding.DecodeLimits.Default))
            .Select(c => c.Mean)
            .ToArray();
        File.Delete(path);
        Assert.True(mean[1] > 1.3 * mean[0] && mean[1] > 1.3 * mean[2], string.Join(' ', mean));
        var again = await BringAsync(client, "sea glass.exr", Exr(64, 32, _ => 1));
        Assert.Contains("a light 'sea glass' already", await again.Content.ReadAsStringAsync());
        Assert.Equal(HttpStatusCode.NoContent, (await client.DeleteAsync("lights/sea glass")).StatusCode);
        Assert.Contains(
            "no light 'sea glass'",
            await (await client.GetAsync($"proofs/cell?look={look}&light=sea glass&size=32&samples=2")).Content.ReadAsStringAsync()
        );
    }

    /// <summary>A file that was away for a moment is no property of the light.</summary>
    [Fact]
    public async Task AReadThatFailedIsTriedAgain()
    {
        using var client = await server.SignedInAsync();
        Assert.Equal(HttpStatusCode.OK, (await BringAsync(client, "lamp oil.exr", Exr(64, 32, i => i % 3 == 0 ? 3 : 1))).StatusCode);
        var before = Directory
            .GetFiles(Path.Combine(server.Folder, "data", "contents"), "*", SearchOption.AllDirectories)
            .MaxBy(File.GetLastWriteTimeUtc)!;
        var look = (await LookAsync(client)).GetProperty("id").GetString();
        File.Move(before, before + ".away");
        Assert.False((await client.GetAsync($"proofs/cell?look={look}&form=sphere&light=lamp oil&size=32&samples=2")).IsSuccessStatusCode);
        File.Move(before + ".away", before);
        Assert.True((await client.GetAsync($"proofs/cell?look={look}&form=sphere&light=lamp oil&size=32&samples=2")).IsSuccessStatusCode);
        await client.DeleteAsync("lights/lamp oil");
    }

    [Fact]
    public async Task WhatIsNoLightIsRefusedWithASentence()
    {
        using var client = await server.SignedInAsync();
        foreach (
            var (name, bytes, part) in new[]
            {
                ("square.exr", Exr(32, 32, _ => 1), "twice as wide as high"),
                ("one.exr", Exr(1, 1, _ => 1), "twice as wide as high"),
                ("black.exr", Exr(32, 16, _ => 0), "black everywhere"),
                ("shown.png", PictureWriter.Png(new(32, 16, ImageBuffer.Rgb, SampleType.U8)), "brightness beyond white"),
                ("torn.exr", Exr(32, 16, _ => 1)[..200], ""),
                ("night.exr", Exr(32, 16, _ => 1), "none of overcast"),
            }
        )
        {
            var response = await BringAsync(client, name, bytes);
            Assert.True(
                response.StatusCode is HttpStatusCode.BadRequest or HttpStatusCode.UnprocessableEntity,
                $"{name}: {response.StatusCode}"
            );
            Assert.Contains(part, await response.Content.ReadAsStringAsync());
        }
        Assert.DoesNotContain((await GetAsync(client, "lights")).EnumerateArray(), l =>
            l.TryGetProperty("by", out var by) && by.ValueKind == System.Text.Json.JsonValueKind.String
        );
    }
}
