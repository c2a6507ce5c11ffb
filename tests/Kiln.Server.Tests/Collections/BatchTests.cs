using System.IO.Compression;
using System.Net;
using System.Net.Http.Json;
using System.Text.Json;

namespace Kiln.Server.Tests.Collections;

/// <summary>A collection written for a dialect: every look, its errors kept by themselves, gone on with after a kill.</summary>
public sealed class BatchTests(ServerFixture server) : IClassFixture<ServerFixture>
{
    private static async Task<JsonElement> EndedAsync(HttpClient client, string id)
    {
        for (var i = 0; i < 2400; i++)
        {
            var batch = (await client.GetFromJsonAsync<JsonElement>("batches"))
                .EnumerateArray()
                .First(b => b.GetProperty("id").GetString() == id);
            if (batch.GetProperty("state").GetString() == "done")
                return batch;
            await Task.Delay(200);
        }
        throw new TimeoutException("The batch did not end within eight minutes.");
    }

    private static async Task<string> CollectionAsync(HttpClient client) =>
        (await client.GetFromJsonAsync<JsonElement>("collections"))
            .EnumerateArray()
            .First(c => c.GetProperty("name").GetString() == "The Tide Organ")
            .GetProperty("id")
            .GetString()!;

    /// <summary>Minutes of batches keep no delivery waiting, and one person's orders are bounded.</summary>
    [Fact]
    public async Task ALongBatchLeavesDeliveriesAlone()
    {
        var client = await server.SignedInAsync("mika");
        var collection = await CollectionAsync(client);
        var orders = new List<string>();
        HttpResponseMessage answer;
        while (
            (answer = await client.PostAsync($"collections/{collection}/batches?dialect=openpbr&drafts=true", null)).IsSuccessStatusCode
            && orders.Count < 50
        )
            orders.Add((await Api.JsonAsync(answer)).GetProperty("id").GetString()!);
        Assert.Equal(
            (HttpStatusCode.TooManyRequests, "orders.many"),
            (answer.StatusCode, (await Api.JsonAsync(answer)).GetProperty("code").GetString())
        );
        var delivery = await Api.NewDeliveryAsync(client, "while batches run");
        await client.PutAsync($"deliveries/{delivery}/files/quay_albedo.png", new ByteArrayContent(TestMaps.BaseColour()));
        await client.PostAsync($"deliveries/{delivery}/analyse", null);
        Assert.Equal("ready", (await Api.DoneAsync(client, delivery)).GetProperty("state").GetString());
        var batches = (await client.GetFromJsonAsync<JsonElement>("batches")).EnumerateArray().ToList();
        Assert.Contains(batches, b => b.GetProperty("state").GetString() is "waiting" or "running");
        foreach (var id in orders)
            (await client.DeleteAsync($"batches/{id}")).EnsureSuccessStatusCode();
    }

    [Fact]
    public async Task EveryLookIsWrittenAndOneThatCannotBeKeepsNoneBack()
    {
        var client = await server.SignedInAsync();
        var collection = await CollectionAsync(client);
        // A map of one look goes missing on the disk.
        var looks = await client.GetFromJsonAsync<JsonElement>($"looks?collection={collection}");
        var broken = looks[0];
        var document = (await client.GetFromJsonAsync<JsonElement>($"looks/{broken.GetProperty("id").GetString()}")).GetProperty(
            "document"
        );
        var content = document.GetProperty("slots").EnumerateObject().First().Value.GetProperty("file").GetProperty("content").GetString()!;
        var stored = Directory
            .EnumerateFiles(Path.Combine(server.Folder, "data", "contents"), content, SearchOption.AllDirectories)
            .Single();
        File.Move(stored, stored + ".away");

        var ordered = await Api.DoneAsync(await client.PostAsync($"collections/{collection}/batches?dialect=saggar&drafts=true", null));
        var id = ordered.GetProperty("id").GetString()!;
        Assert.Equal(looks.GetArrayLength(), ordered.GetProperty("looks").GetArrayLength());
        var ended = await EndedAsync(client, id);
        var failed = ended.GetProperty("looks").EnumerateArray().Where(l => l.GetProperty("state").GetString() == "failed").ToList();
        Assert.NotEmpty(failed);
        Assert.All(failed, f => Assert.DoesNotContain("Exception", f.GetProperty("message").GetString()));
        var done = ended.GetProperty("looks").EnumerateArray().Where(l => l.GetProperty("state").GetString() == "done").ToList();
        Assert.Equal(looks.GetArrayLength(), failed.Count + done.Count);

        using (var zip = new ZipArchive(new MemoryStream(await client.GetByteArrayAsync($"batches/{id}/file"))))
        {
            Assert.Equal(done.Count + 1, zip.Entries.Count);
            using var table = new StreamReader(zip.GetEntry("results.csv")!.Open());
            Assert.Equal(
                looks.GetArrayLength() + 1,
                (await table.ReadToEndAsync()).Split("\r\n", StringSplitOptions.RemoveEmptyEntries).Length
            );
            using var package = new ZipArchive(zip.Entries.First(e => e.Name.EndsWith(".zip", StringComparison.Ordinal)).Open());
            Assert.NotNull(package.GetEntry("checksums.txt"));
        }

        // The map is back: only what failed is written again.
        File.Move(stored + ".away", stored);
        (await client.PostAsync($"batches/{id}/again", null)).EnsureSuccessStatusCode();
        ended = await EndedAsync(client, id);
        Assert.All(ended.GetProperty("looks").EnumerateArray(), l => Assert.Equal("done", l.GetProperty("state").GetString()));
        (await client.DeleteAsync($"batches/{id}")).EnsureSuccessStatusCode();
        Assert.Empty((await client.GetFromJsonAsync<JsonElement>("batches")).EnumerateArray());
    }

    [Fact]
    public async Task AKilledServerGoesOnWhereItWas()
    {
        var client = await server.SignedInAsync("ada");
        var collection = await CollectionAsync(client);
        var id = (await Api.DoneAsync(await client.PostAsync($"collections/{collection}/batches?dialect=gltf&drafts=true", null)))
            .GetProperty("id")
            .GetString()!;
        server.Kill();
        await server.StartAsync(again: true);
        client = await server.SignedInAsync("ada");
        var ended = await EndedAsync(client, id);
        Assert.All(ended.GetProperty("looks").EnumerateArray(), l => Assert.Equal("done", l.GetProperty("state").GetString()));
        // What belongs to one person is nobody else's.
        var other = await server.SignedInAsync();
        Assert.Equal(HttpStatusCode.NotFound, (await other.GetAsync($"batches/{id}/file")).StatusCode);
        Assert.Equal(HttpStatusCode.NotFound, (await other.DeleteAsync($"batches/{id}")).StatusCode);
    }

    /// <summary>A batch writes published versions unless drafts are asked for, and says which.</summary>
    [Fact]
    public async Task PublishedVersionsAreWrittenUnlessDraftsAreAskedFor()
    {
        var client = await server.SignedInAsync("noor");
        var collection = await CollectionAsync(client);
        var id = (await Api.DoneAsync(await client.PostAsync($"collections/{collection}/batches?dialect=openpbr", null)))
            .GetProperty("id")
            .GetString()!;
        var looks = (await EndedAsync(client, id)).GetProperty("looks").EnumerateArray().ToList();
        var copper = looks.Single(l => l.GetProperty("name").GetString() == "verdigris copper pipe");
        Assert.Equal(("done", 1), (copper.GetProperty("state").GetString(), copper.GetProperty("version").GetInt32()));
        Assert.All(looks.Where(l => l.GetProperty("lookId").GetString() != copper.GetProperty("lookId").GetString()), l =>
            Assert.Contains("No version", l.GetProperty("message").GetString(), StringComparison.Ordinal)
        );
        await client.DeleteAsync($"batches/{id}");
    }

    [Fact]
    public async Task WhatCannotBeOrderedIsASentence()
    {
        var client = await server.SignedInAsync();
        var collection = await CollectionAsync(client);
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (await client.PostAsync($"collections/{collection}/batches?dialect=nosuch", null)).StatusCode
        );
        Assert.Equal(
            HttpStatusCode.NotFound,
            (await client.PostAsync($"collections/{Guid.NewGuid()}/batches?dialect=gltf", null)).StatusCode
        );
    }
}
