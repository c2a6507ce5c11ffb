using System.IO.Compression;
using System.Net;
using System.Net.Http.Json;
using System.Security.Cryptography;
using System.Text;
using System.Text.Json;
using static Kiln.Server.Tests.Api;

namespace Kiln.Server.Tests.Collections;

/// <summary>
/// A collection from one server to another: everything is there again, history and versions to the byte; what was changed on the way is
/// refused.
/// </summary>
[Collection(nameof(LooksServer))]
public sealed class ArchiveTests(ServerFixture server)
{
    private static async Task<(HttpStatusCode Status, string Text)> OpenAsync(HttpClient client, byte[] archive)
    {
        using var answer = await client.PostAsync("archives", new ByteArrayContent(archive));
        return (answer.StatusCode, await answer.Content.ReadAsStringAsync());
    }

    private static async Task<byte[]> SavedAsync(HttpClient client, string name)
    {
        var id = (await GetAsync(client, "collections"))
            .EnumerateArray()
            .First(c => c.GetProperty("name").GetString() == name)
            .GetProperty("id")
            .GetString();
        return await client.GetByteArrayAsync($"collections/{id}/archive");
    }

    /// <summary>The archive with some of its files changed; checksums.txt follows where it is asked to.</summary>
    private static byte[] Changed(byte[] archive, string name, Func<byte[], byte[]> change, bool sumsToo)
    {
        var files = new Dictionary<string, byte[]>();
        using (var zip = new ZipArchive(new MemoryStream(archive)))
            foreach (var entry in zip.Entries)
            {
                using var memory = new MemoryStream();
                using var from = entry.Open();
                from.CopyTo(memory);
                files[entry.FullName] = memory.ToArray();
            }
        files[name] = change(files[name]);
        if (sumsToo)
            files["checksums.txt"] = Encoding.UTF8.GetBytes(
                string.Concat(
                    files
                        .Where(f => f.Key != "checksums.txt")
                        .Select(f => $"{Convert.ToHexStringLower(SHA256.HashData(f.Value))}  {f.Key}\n")
                )
            );
        using var made = new MemoryStream();
        using (var zip = new ZipArchive(made, ZipArchiveMode.Create, leaveOpen: true))
            foreach (var (path, bytes) in files)
            {
                using var to = zip.CreateEntry(path).Open();
                to.Write(bytes);
            }
        return made.ToArray();
    }

    [Fact]
    public async Task EverythingIsThereAgainOnAnEmptyServer()
    {
        using var here = await server.SignedInAsync("noor");
        var pipe = await LookAsync(here, "verdigris copper pipe");
        var (id, revision) = (pipe.GetProperty("id").GetString()!, pipe.GetProperty("revision").GetInt32());
        await DoneAsync(
            await EditAsync(
                here,
                id,
                revision,
                new
                {
                    edit = "value",
                    lane = "coat_weight",
                    value = new { kind = "scalar", number = 0.4 },
                }
            )
        );
        var archive = await SavedAsync(here, "The Tide Organ");

        var there = new ServerFixture();
        await there.InitializeAsync();
        try
        {
            there.Kill();
            await DemoState.RunAsync(
                "delete from collection_looks; delete from look_history; delete from look_versions; delete from looks; delete "
                    + "from collections; delete from profile_texts",
                there.Database
            );
            Directory.Delete(Path.Combine(there.Folder, "data", "contents"), recursive: true);
            await there.StartAsync();
            using var lead = await there.SignedInAsync("noor");
            var (status, text) = await OpenAsync(lead, archive);
            Assert.True(status == HttpStatusCode.OK, text);
            var opened = JsonDocument.Parse(text).RootElement;
            Assert.All(opened.GetProperty("plan").GetProperty("looks").EnumerateArray(), l =>
                Assert.Equal("new", l.GetProperty("state").GetString())
            );
            var assigned = await DoneAsync(
                await lead.PostAsJsonAsync($"archives/{opened.GetProperty("token").GetString()}", new { asCopies = Array.Empty<string>() })
            );
            Assert.Equal(10, assigned.GetProperty("looks").GetInt32());
            foreach (var path in (string[])[$"looks/{id}/history", $"looks/{id}/versions"])
                IsTheSameOfSomebodyElse(await GetAsync(here, path), await GetAsync(lead, path));
            Assert.Equal(
                (await GetAsync(here, $"looks/{id}")).GetProperty("document").GetRawText(),
                (await GetAsync(lead, $"looks/{id}")).GetProperty("document").GetRawText()
            );
            foreach (var dialect in (string[])["gltf", "celadon"])
                Assert.Equal(
                    await here.GetByteArrayAsync($"looks/{id}/versions/1/package?dialect={dialect}"),
                    await lead.GetByteArrayAsync($"looks/{id}/versions/1/package?dialect={dialect}")
                );
            // The way back through its history works there too.
            var undone = await DoneAsync(await EditAsync(lead, id, revision + 1, new { }, "undo"));
            Assert.False(undone.GetProperty("document").GetProperty("lanes").TryGetProperty("coat_weight", out _));

            // Changed there now: nothing is overwritten, a copy comes in where it is asked for.
            var again = JsonDocument.Parse((await OpenAsync(lead, archive)).Text).RootElement;
            Assert.Equal(
                "changed",
                again
                    .GetProperty("plan")
                    .GetProperty("looks")
                    .EnumerateArray()
                    .Single(l => l.GetProperty("id").GetString() == id)
                    .GetProperty("state")
                    .GetString()
            );
            Assert.Equal(
                9,
                again.GetProperty("plan").GetProperty("looks").EnumerateArray().Count(l => l.GetProperty("state").GetString() == "same")
            );
            Assert.Equal(
                1,
                (
                    await DoneAsync(
                        await lead.PostAsJsonAsync($"archives/{again.GetProperty("token").GetString()}", new { asCopies = new[] { id } })
                    )
                )
                    .GetProperty("looks")
                    .GetInt32()
            );
            Assert.Equal(
                2,
                (await GetAsync(lead, "looks")).EnumerateArray().Count(l => l.GetProperty("name").GetString() == "verdigris copper pipe")
            );
            Assert.Equal(
                undone.GetProperty("revision").GetInt32(),
                (await GetAsync(lead, $"looks/{id}")).GetProperty("revision").GetInt32()
            );
            // A token is good once.
            Assert.Contains(
                "does not wait",
                await (
                    await lead.PostAsJsonAsync($"archives/{again.GetProperty("token").GetString()}", new { asCopies = new[] { id } })
                ).Content.ReadAsStringAsync(),
                StringComparison.Ordinal
            );
        }
        finally
        {
            await there.DisposeAsync();
        }
    }

    /// <summary>Lines of a history or of versions say the same, but never under the name of a person of this studio.</summary>
    private static void IsTheSameOfSomebodyElse(JsonElement own, JsonElement assigned)
    {
        Assert.Equal(own.GetArrayLength(), assigned.GetArrayLength());
        foreach (var (a, b) in own.EnumerateArray().Zip(assigned.EnumerateArray()))
        foreach (var field in a.EnumerateObject())
            if (field.Name == "person")
                Assert.EndsWith(" (from an archive)", b.GetProperty("person").GetString()!, StringComparison.Ordinal);
            else if (field.Name == "judgedBy")
                Assert.True(!b.TryGetProperty("judgedBy", out var reviewer) || reviewer.ValueKind == JsonValueKind.Null);
            else
                Assert.Equal(field.Value.GetRawText(), b.GetProperty(field.Name).GetRawText());
    }

    [Fact]
    public async Task WhatWasChangedOnTheWayIsRefusedWhole()
    {
        using var lead = await server.SignedInAsync("noor");
        var archive = await SavedAsync(lead, "Fenn FR-2");
        string content,
            look;
        using (var zip = new ZipArchive(new MemoryStream(archive)))
        {
            content = zip.Entries.First(e => e.FullName.StartsWith("contents/", StringComparison.Ordinal)).FullName;
            look = zip.Entries.First(e => e.FullName.StartsWith("looks/", StringComparison.Ordinal)).FullName;
        }
        byte[] Flipped(byte[] bytes)
        {
            bytes[bytes.Length / 2] ^= 1;
            return bytes;
        }
        async Task<string> RefusedAsync(byte[] bytes)
        {
            var (status, text) = await OpenAsync(lead, bytes);
            Assert.Equal(HttpStatusCode.UnprocessableEntity, status);
            return JsonDocument.Parse(text).RootElement.GetProperty("title").GetString()!;
        }
        Assert.Contains(
            "changed or damaged",
            await RefusedAsync(Changed(archive, content, Flipped, sumsToo: false)),
            StringComparison.Ordinal
        );
        Assert.Contains(
            "another checksum than its name says",
            await RefusedAsync(Changed(archive, content, Flipped, sumsToo: true)),
            StringComparison.Ordinal
        );
        Assert.Contains(
            "schema 99",
            await RefusedAsync(
                Changed(
                    archive,
                    "archive.json",
                    b =>
                        Encoding.UTF8.GetBytes(
                            Encoding.UTF8.GetString(b).Replace("\"schema\":1", "\"schema\":99", StringComparison.Ordinal)
                        ),
                    sumsToo: true
                )
            ),
            StringComparison.Ordinal
        );
        Assert.Contains(
            "cannot be read",
            await RefusedAsync(Changed(archive, look, b => b[..(b.Length / 2)], sumsToo: true)),
            StringComparison.Ordinal
        );
        Assert.Contains("cut off", await RefusedAsync(archive[..(archive.Length / 2)]), StringComparison.Ordinal);
        Assert.Contains("no zip", await RefusedAsync([1, 2, 3]), StringComparison.Ordinal);
        Assert.Contains(
            "no archive",
            await RefusedAsync(
                await lead.GetByteArrayAsync(
                    $"looks/{(await LookAsync(lead, "rubber foot")).GetProperty("id").GetString()}/package?dialect=openpbr"
                )
            ),
            StringComparison.Ordinal
        );
        Assert.Empty(Directory.GetDirectories(Path.Combine(server.Folder, "data", "archives")));
        using var artist = await server.SignedInAsync("mika");
        Assert.Equal(HttpStatusCode.Forbidden, (await OpenAsync(artist, archive)).Status);
    }
}
