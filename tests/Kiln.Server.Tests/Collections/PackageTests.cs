using System.IO.Compression;
using System.Net;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json;

namespace Kiln.Server.Tests.Collections;

/// <summary>
/// Packages come in again as the same look, also where the dialect had to bake; changed or damaged ones leave nothing behind.
/// </summary>
[Collection(nameof(LooksServer))]
public sealed class PackageTests(ServerFixture server)
{
    private static async Task<(string Id, string Document, byte[] Zip)> PackageAsync(HttpClient client, string dialect)
    {
        var look = (await client.GetFromJsonAsync<JsonElement>("looks"))
            .EnumerateArray()
            .First(l => l.GetProperty("name").GetString()!.Contains("copper", StringComparison.Ordinal));
        var id = look.GetProperty("id").GetString()!;
        return (
            id,
            (await client.GetFromJsonAsync<JsonElement>($"looks/{id}")).GetProperty("document").GetRawText(),
            await client.GetByteArrayAsync($"looks/{id}/package?dialect={dialect}")
        );
    }

    private static Task<HttpResponseMessage> BringAsync(HttpClient client, byte[] zip) =>
        client.PostAsync("looks/packages?name=package.zip", new ByteArrayContent(zip));

    private static async Task<int> CountAsync(HttpClient client) => (await client.GetFromJsonAsync<JsonElement>("looks")).GetArrayLength();

    [Theory]
    [InlineData("saggar")]
    [InlineData("openpbr")]
    [InlineData("usd_preview")]
    public async Task APackageComesInAsTheSameLook(string dialect)
    {
        var client = await server.SignedInAsync();
        var (id, document, zip) = await PackageAsync(client, dialect);
        var assigned = Assert.Single((await (await BringAsync(client, zip)).Content.ReadFromJsonAsync<JsonElement>()).EnumerateArray());
        Assert.NotEqual(id, assigned.GetProperty("id").GetString());
        Assert.Equal(0, assigned.GetProperty("missingMaps").GetInt32());
        Assert.Equal(
            document,
            (await client.GetFromJsonAsync<JsonElement>($"looks/{assigned.GetProperty("id").GetString()}"))
                .GetProperty("document")
                .GetRawText()
        );
        using (var package = new ZipArchive(new MemoryStream(zip)))
        using (var notes = new StreamReader(package.GetEntry("notes.txt")!.Open()))
            Assert.Contains($"written as {dialect}", await notes.ReadToEndAsync());
        // Written again it is the same package, to the byte.
        Assert.Equal(zip, await client.GetByteArrayAsync($"looks/{assigned.GetProperty("id").GetString()}/package?dialect={dialect}"));
    }

    /// <summary>The zip with one entry's bytes exchanged, or left out.</summary>
    private static byte[] Changed(byte[] zip, Func<string, byte[], byte[]?> change)
    {
        using var to = new MemoryStream();
        using (var from = new ZipArchive(new MemoryStream(zip)))
        using (var target = new ZipArchive(to, ZipArchiveMode.Create, leaveOpen: true))
            foreach (var entry in from.Entries)
            {
                using var bytes = new MemoryStream();
                using (var source = entry.Open())
                    source.CopyTo(bytes);
                if (change(entry.FullName, bytes.ToArray()) is not { } kept)
                    continue;
                using var written = target.CreateEntry(entry.FullName).Open();
                written.Write(kept);
            }
        return to.ToArray();
    }

    /// <summary>
    /// The network alone, without the look it was made from: it comes in by what it says; without its textures the maps are missing and can
    /// be linked again.
    /// </summary>
    [Theory]
    [InlineData("openpbr", true)]
    [InlineData("openpbr", false)]
    [InlineData("celadon", true)]
    [InlineData("usd_preview", false)]
    [InlineData("gltf", true)]
    public async Task ANetworkComesInByWhatItSays(string dialect, bool withTextures)
    {
        var client = await server.SignedInAsync();
        var (_, _, zip) = await PackageAsync(client, dialect);
        var network = Changed(zip, (name, bytes) =>
            name is "look.json" or "report.json" or "notes.txt" or "checksums.txt"
            || name.StartsWith("maps/", StringComparison.Ordinal)
            || !withTextures && name.StartsWith("textures/", StringComparison.Ordinal)
                ? null
                : bytes
        );
        var answer = await BringAsync(client, network);
        Assert.True(answer.IsSuccessStatusCode, await answer.Content.ReadAsStringAsync());
        var assigned = Assert.Single((await answer.Content.ReadFromJsonAsync<JsonElement>()).EnumerateArray());
        var id = assigned.GetProperty("id").GetString();
        Assert.Equal(withTextures, assigned.GetProperty("missingMaps").GetInt32() == 0);
        var lanes = (await client.GetFromJsonAsync<JsonElement>($"looks/{id}")).GetProperty("document").GetProperty("lanes");
        Assert.True(lanes.TryGetProperty("base_color", out _));
        if (withTextures)
            return;
        // Each gap is a finding, and Relink offers what the studio has.
        var board = await client.GetFromJsonAsync<JsonElement>($"looks/{id}/board");
        Assert.Contains(board.GetProperty("findings").EnumerateArray(), f =>
            f.GetProperty("code").GetString()!.StartsWith("map.", StringComparison.Ordinal)
            && f.GetProperty("severity").GetString() == "error"
        );
        Assert.NotEmpty((await client.GetFromJsonAsync<JsonElement>($"looks/{id}/relink")).EnumerateArray());
    }

    /// <summary>A file of this disk, named by a document that came in, is not read.</summary>
    [Theory]
    [InlineData("../../../../../../../../etc/passwd")]
    [InlineData("/etc/passwd")]
    [InlineData("..%2F..%2F..%2F..%2F..%2F..%2F..%2Fetc%2Fpasswd")]
    public async Task ADocumentReadsNothingButItsDelivery(string path)
    {
        var client = await server.SignedInAsync();
        var gltf = $$"""
            { "asset": { "version": "2.0" }, "images": [ { "uri": "{{path}}" } ], "textures": [ { "source": 0 } ],
              "materials": [ { "pbrMetallicRoughness": { "baseColorTexture": { "index": 0 } } } ] }
            """;
        var looks = await CountAsync(client);
        var answer = await client.PostAsync("looks/packages?name=network.gltf", new StringContent(gltf));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, answer.StatusCode);
        Assert.Contains("which is not there", await answer.Content.ReadAsStringAsync());
        Assert.Equal(looks, await CountAsync(client));
    }

    [Fact]
    public async Task WhatWasChangedIsRefusedAndLeavesNothing()
    {
        var client = await server.SignedInAsync();
        var (_, _, zip) = await PackageAsync(client, "saggar");
        var looks = await CountAsync(client);
        var damaged = new (byte[] Zip, string Sentence)[]
        {
            ([1, 2, 3], "zip"),
            (zip[..(zip.Length / 2)], "zip"),
            (
                Changed(zip, (name, bytes) => name is "checksums.txt" || name.EndsWith(".mtlx", StringComparison.Ordinal) ? null : bytes),
                "neither a package of a look in it nor a network"
            ),
            (
                Changed(zip, (name, bytes) =>
                    name == "look.json"
                        ? Encoding.UTF8.GetBytes(Encoding.UTF8.GetString(bytes).Replace("copper", "gold", StringComparison.Ordinal))
                        : bytes
                ),
                "is not what checksums.txt says"
            ),
            (Changed(zip, (name, bytes) => name.StartsWith("textures/", StringComparison.Ordinal) ? null : bytes), "not in the package"),
            (Changed(zip, (name, bytes) => name == "checksums.txt" ? "nonsense\n"u8.ToArray() : bytes), "cannot be read"),
        };
        foreach (var (bytes, sentence) in damaged)
        {
            var answer = await BringAsync(client, bytes);
            Assert.Equal(HttpStatusCode.UnprocessableEntity, answer.StatusCode);
            Assert.Contains(sentence, await answer.Content.ReadAsStringAsync());
        }
        Assert.Equal(looks, await CountAsync(client));
        Assert.Empty(Directory.EnumerateFiles(Path.Combine(server.Folder, "data", "uploads"), "package.zip*", SearchOption.AllDirectories));
    }
}
