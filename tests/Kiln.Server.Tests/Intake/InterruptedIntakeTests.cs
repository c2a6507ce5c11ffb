using System.IO.Compression;
using System.Net;
using System.Net.Http.Json;
using System.Text.Json;
using static Kiln.Server.Tests.Api;

namespace Kiln.Server.Tests.Intake;

/// <summary>
/// Intakes that are interrupted, by a kill, by a stop, by a person: what waits can be taken up again and ends as if nothing had happened.
/// </summary>
public sealed class InterruptedIntakeTests(ServerFixture server) : IClassFixture<ServerFixture>
{
    private const int Copies = 60;

    private string FilesOf(string id) => Path.Combine(server.Folder, "data", "uploads", Guid.Parse(id).ToString("N"));

    private async Task<string> SendAsync(HttpClient client, string name)
    {
        var id = await NewDeliveryAsync(client, name);
        var zip = WithoutModels(Path.Combine(server.DemoFolder, "FennFR2-product-maps.zip"));
        for (var i = 0; i < Copies; i++)
            await client.PutAsync($"deliveries/{id}/files/set{i}/maps.zip", new ByteArrayContent(zip));
        await client.PostAsync($"deliveries/{id}/analyse", null);
        return id;
    }

    /// <summary>Pictures alone: each model is read by a process of its own, and so many copies of one would take minutes.</summary>
    private static byte[] WithoutModels(string path)
    {
        var copy = new MemoryStream();
        copy.Write(File.ReadAllBytes(path));
        using (var zip = new ZipArchive(copy, ZipArchiveMode.Update, leaveOpen: true))
            foreach (var entry in zip.Entries.Where(e => Path.GetExtension(e.Name) is ".glb" or ".usda").ToList())
                entry.Delete();
        return copy.ToArray();
    }

    [Fact]
    public async Task AnUnfinishedIntakeIsSaidResumedAndEndsLikeAnUndisturbedOne()
    {
        using var client = await server.SignedInAsync();
        var looksBefore = (await client.GetFromJsonAsync<JsonElement>("looks")).GetArrayLength();
        var id = await SendAsync(client, "cut short");
        await Task.Delay(250);
        server.Kill();
        await server.StartAsync();
        using var again = await server.SignedInAsync();
        var after = await again.GetFromJsonAsync<JsonElement>($"deliveries/{id}");
        Assert.Equal("paused", after.GetProperty("state").GetString());
        Assert.Contains("The server stopped before this delivery was analysed", after.GetProperty("message").GetString());
        Assert.Equal(looksBefore, (await again.GetFromJsonAsync<JsonElement>("looks")).GetArrayLength());
        await again.PostAsync($"deliveries/{id}/resume", null);
        var resumed = await DoneAsync(again, id);
        Assert.Equal("ready", resumed.GetProperty("state").GetString());
        var undisturbed = await DoneAsync(again, await SendAsync(again, "undisturbed"));
        Assert.Equal(undisturbed.GetProperty("result").GetRawText(), resumed.GetProperty("result").GetRawText());
        // Nothing of either is left where deliveries wait.
        Assert.False(Directory.Exists(FilesOf(id)));
    }

    [Fact]
    public async Task AServerThatIsStoppedLetsTheDeliveryWait()
    {
        var (id, waiting) = await StoppedInTheMiddleAsync();
        using var again = await server.SignedInAsync();
        Assert.Contains("resume it, or cancel it", waiting.GetProperty("message").GetString());
        Assert.True(Directory.Exists(FilesOf(id)));
        await again.PostAsync($"deliveries/{id}/resume", null);
        var resumed = await DoneAsync(again, id);
        Assert.Equal("ready", resumed.GetProperty("state").GetString());
        Assert.Equal(2 * Copies, resumed.GetProperty("result").GetProperty("sets").GetArrayLength());
    }

    /// <summary>
    /// A delivery whose analysis a polite stop met. On a busy machine the analysis may end before the stop reaches it, which is as good for
    /// the person: then it is tried again.
    /// </summary>
    private async Task<(string Id, JsonElement Waiting)> StoppedInTheMiddleAsync()
    {
        for (var attempt = 1; ; attempt++)
        {
            using var client = await server.SignedInAsync();
            var id = await SendAsync(client, $"stopped politely, {attempt}");
            server.Stop();
            await server.StartAsync();
            using var again = await server.SignedInAsync();
            var delivery = await GetAsync(again, $"deliveries/{id}");
            var state = delivery.GetProperty("state").GetString();
            if (state == "paused")
                return (id, delivery);
            Assert.Equal("ready", state);
            Assert.True(attempt < 5, "Five times the analysis ended before the stop reached it.");
        }
    }

    /// <summary>Pause and resume as quick as a nervous hand can: two runs of one delivery never meet, and the last word holds.</summary>
    [Fact]
    public async Task PauseAndResumeInQuickTurnEndsWhole()
    {
        using var client = await server.SignedInAsync();
        var id = await SendAsync(client, "nervous");
        var turns = 0;
        for (var i = 0; i < 12; i++)
        {
            turns += (await client.PostAsync($"deliveries/{id}/pause", null)).IsSuccessStatusCode ? 1 : 0;
            await client.PostAsync($"deliveries/{id}/resume", null);
        }
        Assert.True(turns > 0);
        var done = await DoneAsync(client, id);
        Assert.Equal("ready", done.GetProperty("state").GetString());
        Assert.Equal(2 * Copies, done.GetProperty("result").GetProperty("sets").GetArrayLength());
    }

    [Fact]
    public async Task APausedDeliveryThatIsCancelledLeavesNothing()
    {
        using var client = await server.SignedInAsync();
        var id = await SendAsync(client, "given up");
        var paused = await client.PostAsync($"deliveries/{id}/pause", null);
        if (paused.StatusCode == HttpStatusCode.NoContent)
        {
            Assert.Equal("paused", (await client.GetFromJsonAsync<JsonElement>($"deliveries/{id}")).GetProperty("state").GetString());
            Assert.Equal(HttpStatusCode.NoContent, (await client.PostAsync($"deliveries/{id}/cancel", null)).StatusCode);
        }
        for (var i = 0; i < 600 && Directory.Exists(FilesOf(id)); i++)
            await Task.Delay(200);
        Assert.False(Directory.Exists(FilesOf(id)));
    }
}
