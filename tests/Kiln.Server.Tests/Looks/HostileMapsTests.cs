using System.Buffers.Binary;
using System.IO.Compression;
using System.Net;
using System.Net.Http.Headers;
using System.Text.Json;
using Kiln.Pixels;
using Kiln.Pixels.Writing;
using static Kiln.Server.Tests.Api;

namespace Kiln.Server.Tests.Looks;

/// <summary>Maps that strain the bench: 16384 pixels on a side, numbers that are none, files that go away under an open look.</summary>
public sealed class HostileMapsTests(ServerFixture server) : IClassFixture<ServerFixture>
{
    /// <summary>A grey PNG of 16384 × 16384 pixels (PNG, second edition), a few hundred kilobytes as a file.</summary>
    private static byte[] Vast()
    {
        const int side = 16384;
        using var file = new MemoryStream();
        file.Write([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]);
        void Chunk(string name, byte[] data)
        {
            var length = new byte[4];
            BinaryPrimitives.WriteInt32BigEndian(length, data.Length);
            byte[] named = [.. System.Text.Encoding.ASCII.GetBytes(name), .. data];
            var crc = new byte[4];
            BinaryPrimitives.WriteUInt32BigEndian(crc, TestMaps.Crc(named));
            file.Write(length);
            file.Write(named);
            file.Write(crc);
        }
        var header = new byte[13];
        BinaryPrimitives.WriteInt32BigEndian(header, side);
        BinaryPrimitives.WriteInt32BigEndian(header.AsSpan(4), side);
        (header[8], header[9]) = (8, 0);
        Chunk("IHDR", header);
        using var packed = new MemoryStream();
        using (var zip = new ZLibStream(packed, CompressionLevel.Fastest, leaveOpen: true))
        {
            var row = new byte[side + 1];
            for (var x = 0; x < side; x++)
                row[x + 1] = (byte)(64 + x / 128);
            for (var y = 0; y < side; y++)
                zip.Write(row);
        }
        Chunk("IDAT", packed.ToArray());
        Chunk("IEND", []);
        return file.ToArray();
    }

    private static byte[] NoNumbers()
    {
        var picture = new ImageBuffer(64, 64, ImageBuffer.Rgb, SampleType.F32);
        var samples = picture.Samples<float>();
        for (var i = 0; i < samples.Length; i++)
            samples[i] = (i % 7) switch
            {
                0 => float.NaN,
                1 => float.PositiveInfinity,
                2 => float.NegativeInfinity,
                3 => -4,
                _ => 0.4f,
            };
        using var stream = new MemoryStream();
        ExrWriter.Write(stream, picture, null);
        return stream.ToArray();
    }

    private static async Task<JsonElement> DroppedAsync(HttpClient client, string look, string lane, string name, byte[] bytes)
    {
        var opened = await LookAsync(client, look);
        var part = new ByteArrayContent(bytes);
        part.Headers.ContentType = new MediaTypeHeaderValue("application/octet-stream");
        var request = new HttpRequestMessage(HttpMethod.Post, $"looks/{opened.GetProperty("id").GetString()}/maps?lane={lane}")
        {
            Content = new MultipartFormDataContent { { part, "files", name } },
        };
        request.Headers.TryAddWithoutValidation("If-Match", $"\"{opened.GetProperty("revision").GetInt32()}\"");
        var response = await client.SendAsync(request);
        Assert.True(response.IsSuccessStatusCode, await response.Content.ReadAsStringAsync());
        return (await JsonAsync(response)).GetProperty("look");
    }

    private static async Task WorksAsync(HttpClient client, string id, string lane)
    {
        Assert.Equal("image/png", (await client.GetAsync($"looks/{id}/tile?lane={lane}")).Content.Headers.ContentType!.MediaType);
        var board = await GetAsync(client, $"looks/{id}/board?dialect=bisque");
        Assert.True(!board.TryGetProperty("trouble", out var trouble) || trouble.ValueKind == JsonValueKind.Null, trouble.ToString());
        var meter = board.GetProperty("meters").GetProperty(lane);
        Assert.All(new[] { "minimum", "mean", "maximum" }, n => Assert.True(double.IsFinite(meter.GetProperty(n).GetDouble())));
        Assert.Equal(HttpStatusCode.OK, (await client.GetAsync($"looks/{id}/picture?size=48")).StatusCode);
    }

    [Fact]
    public async Task AMapOf16KIsUsedLikeAnyOther()
    {
        using var client = await server.SignedInAsync();
        var look = await DroppedAsync(client, "barnacle iron", "coat_weight", "vast.png", Vast());
        await WorksAsync(client, look.GetProperty("id").GetString()!, "coat_weight");
        Assert.Equal(
            16384,
            look.GetProperty("document")
                .GetProperty("slots")
                .EnumerateObject()
                .Max(s => s.Value.GetProperty("file").GetProperty("width").GetInt32())
        );
    }

    [Fact]
    public async Task NumbersThatAreNoneBecomeNumbers()
    {
        using var client = await server.SignedInAsync();
        foreach (var lane in new[] { "emission_color", "coat_roughness", "displacement" })
        {
            var look = await DroppedAsync(client, "kelp concrete", lane, $"{lane}.exr", NoNumbers());
            await WorksAsync(client, look.GetProperty("id").GetString()!, lane);
        }
    }

    /// <summary>
    /// The content is removed from the disk while the look is open: the bench says which file, findings say so too, and everything else
    /// goes on.
    /// </summary>
    [Fact]
    public async Task AFileThatGoesAwayUnderAnOpenLook()
    {
        using var client = await server.SignedInAsync();
        var look = await LookAsync(client, "speaker cloth");
        var id = look.GetProperty("id").GetString();
        var file = look.GetProperty("document").GetProperty("slots").GetProperty("roughness").GetProperty("file");
        var stored = Directory
            .GetFiles(
                Path.Combine(server.Folder, "data", "contents"),
                file.GetProperty("content").GetString() + "*",
                SearchOption.AllDirectories
            )
            .Single();
        var kept = await File.ReadAllBytesAsync(stored);
        File.Delete(stored);
        var board = await GetAsync(client, $"looks/{id}/board");
        Assert.Contains(board.GetProperty("findings").EnumerateArray(), f => f.GetProperty("code").GetString() == "map.missing");
        Assert.Contains(file.GetProperty("name").GetString()!, board.GetProperty("trouble").GetString());
        Assert.Equal(HttpStatusCode.OK, (await client.GetAsync($"looks/{id}/tile?lane=base_color")).StatusCode);
        Assert.NotEqual(HttpStatusCode.InternalServerError, (await client.GetAsync($"looks/{id}/tile?lane=specular_roughness")).StatusCode);
        // It is back: so is everything.
        await File.WriteAllBytesAsync(stored, kept);
        board = await GetAsync(client, $"looks/{id}/board");
        Assert.DoesNotContain(board.GetProperty("findings").EnumerateArray(), f => f.GetProperty("code").GetString() == "map.missing");
        Assert.True(!board.TryGetProperty("trouble", out var trouble) || trouble.ValueKind == JsonValueKind.Null);
    }
}
