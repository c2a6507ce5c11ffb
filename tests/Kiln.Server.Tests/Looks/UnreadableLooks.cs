using System.Text.Json;

namespace Kiln.Server.Tests.Looks;

/// <summary>A document in the database that no program can read (an older or a damaged one) breaks nothing but itself.</summary>
public sealed class UnreadableLooks(ServerFixture server) : IClassFixture<ServerFixture>
{
    [Fact]
    public async Task OneUnreadableLookLeavesListsTablesAndExportsAlone()
    {
        using var client = await server.SignedInAsync();
        var looks = (await Api.GetAsync(client, "looks")).EnumerateArray().ToList();
        var id = looks.Single(l => l.GetProperty("name").GetString() == "verdigris copper pipe").GetProperty("id").GetString();
        var collection = (await Api.GetAsync(client, "collections"))
            .EnumerateArray()
            .First(c => c.GetProperty("name").GetString() == "Fenn FR-2")
            .GetProperty("id")
            .GetString();
        await DemoState.RunAsync($"update looks set document = '{{\"name\": 7, \"lanes\": []}}' where id = '{id}'", server.Database);

        var after = (await Api.GetAsync(client, "looks")).EnumerateArray().ToList();
        Assert.Equal(looks.Count, after.Count);
        foreach (
            var path in (string[])
                [
                    "looks/duplicates",
                    "looks/finding-codes",
                    "collections",
                    $"collections/{collection}/table",
                    $"collections/{collection}/table.csv",
                    $"collections/{collection}/trims",
                    $"collections/{collection}/rules",
                    $"collections/{collection}/archive",
                ]
        )
        {
            using var answer = await client.GetAsync(path);
            Assert.True(answer.IsSuccessStatusCode, $"{path}: {answer.StatusCode} {await answer.Content.ReadAsStringAsync()}");
        }
        using var own = await client.GetAsync($"looks/{id}");
        Assert.InRange((int)own.StatusCode, 400, 499);
        Assert.True((await JsonDocument.ParseAsync(await own.Content.ReadAsStreamAsync())).RootElement.TryGetProperty("code", out _));
    }
}
