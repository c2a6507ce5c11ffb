using System.Net;
using System.Net.Http.Json;
using System.Text.Json;
using static Kiln.Server.Tests.Api;

namespace Kiln.Server.Tests.Intake;

/// <summary>
/// A file that is gone from the store: the look says so, what resembles it is found, and taking it is an edit like any other.
/// </summary>
public sealed class RelinkTests(ServerFixture server) : IClassFixture<ServerFixture>
{
    [Fact]
    public async Task AFileThatIsGoneIsFoundAgainByNameAndLikeness()
    {
        using var client = await server.SignedInAsync();
        var look = await LookAsync(client, "kelp concrete");
        var (id, revision) = (look.GetProperty("id").GetString()!, look.GetProperty("revision").GetInt32());
        Assert.Equal(0, (await GetAsync(client, $"looks/{id}/relink")).GetArrayLength());
        var slots = look.GetProperty("document").GetProperty("slots");
        var (slot, content) = slots
            .EnumerateObject()
            .Where(s => s.Value.GetProperty("role").GetString() == "roughness")
            .Select(s => (s.Name, s.Value))
            .Single();
        var file = content.GetProperty("file");
        var hash = file.GetProperty("content").GetString()!;
        File.Delete(Directory.EnumerateFiles(Path.Combine(server.Folder, "data"), hash, SearchOption.AllDirectories).Single());
        var missing = (await GetAsync(client, $"looks/{id}/relink")).EnumerateArray().Single();
        Assert.Equal(slot, missing.GetProperty("slot").GetString());
        // The same map lies in the delivery in another size: found by its picture, and never the lost file itself.
        var candidates = missing.GetProperty("candidates").EnumerateArray().ToList();
        Assert.NotEmpty(candidates);
        Assert.DoesNotContain(candidates, c => c.GetProperty("file").GetProperty("content").GetString() == hash);
        var best = candidates[0].GetProperty("file");
        Assert.Contains("RGH", best.GetProperty("name").GetString());
        var relinked = JsonSerializer.Deserialize<Dictionary<string, JsonElement>>(content.GetRawText())!;
        relinked["file"] = best;
        Assert.Equal(
            HttpStatusCode.OK,
            (
                await EditAsync(
                    client,
                    id,
                    revision,
                    new
                    {
                        edit = "slot",
                        slot,
                        content = relinked,
                    }
                )
            ).StatusCode
        );
        Assert.Equal(0, (await GetAsync(client, $"looks/{id}/relink")).GetArrayLength());
        Assert.Equal(HttpStatusCode.OK, (await EditAsync(client, id, revision + 1, new { }, "undo")).StatusCode);
        Assert.Equal(
            hash,
            (await GetAsync(client, $"looks/{id}"))
                .GetProperty("document")
                .GetProperty("slots")
                .GetProperty(slot)
                .GetProperty("file")
                .GetProperty("content")
                .GetString()
        );
    }
}
