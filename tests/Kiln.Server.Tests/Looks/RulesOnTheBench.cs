using System.Net.Http.Json;
using System.Text.Json;
using static Kiln.Server.Tests.Api;

namespace Kiln.Server.Tests.Looks;

/// <summary>
/// Broken rules of a look's collections are findings of its board, go away with what mends them, and can be accepted like others; a
/// version's difference is a number.
/// </summary>
[Collection(nameof(PicturesServer))]
public sealed class RulesOnTheBench(ServerFixture server)
{
    private static async Task<List<JsonElement>> BrokenAsync(HttpClient client, string id) =>
        [
            .. (await GetAsync(client, $"looks/{id}/board"))
                .GetProperty("findings")
                .EnumerateArray()
                .Where(f => f.GetProperty("code").GetString()!.StartsWith("rule.", StringComparison.Ordinal)),
        ];

    [Fact]
    public async Task WhatAStudioAsksForIsSeenWhereItIsBroken()
    {
        using var lead = await server.SignedInAsync("noor");
        var look = await LookAsync(lead, "kelp concrete");
        var (id, revision) = (look.GetProperty("id").GetString()!, look.GetProperty("revision").GetInt32());
        var studio = (await DoneAsync(await lead.PostAsJsonAsync("collections", new { name = "strict studio" })))
            .GetProperty("id")
            .GetString()!;
        await lead.PutAsync($"collections/{studio}/looks/{id}", null);
        Assert.Empty(await BrokenAsync(lead, id));
        await DoneAsync(
            await lead.PutAsJsonAsync(
                $"collections/{studio}/rules",
                new
                {
                    text = """
                    { "names": "[a-z]+_[a-z]+", "pixels": { "least": 100000 }, "baseLuminance": { "dielectric": { "least": 0.95 } } }
                    """,
                    revision = 0,
                }
            )
        );
        var broken = await BrokenAsync(lead, id);
        Assert.Equal(
            ["rule.baseLuminance.dielectric", "rule.names", "rule.pixels"],
            broken.Select(f => f.GetProperty("code").GetString()!).Distinct().Order()
        );
        Assert.All(broken, f => Assert.Contains("strict studio", f.GetProperty("evidence").GetString(), StringComparison.Ordinal));

        // Named as it is asked, the rule is silent.
        await DoneAsync(await EditAsync(lead, id, revision, new { edit = "rename", name = "kelp_concrete" }));
        Assert.DoesNotContain(await BrokenAsync(lead, id), f => f.GetProperty("code").GetString() == "rule.names");
        await lead.DeleteAsync($"collections/{studio}/looks/{id}");
        Assert.Empty(await BrokenAsync(lead, id));
    }

    [Fact]
    public async Task AVersionIsAsFarFromTheBenchAsTheirPicturesAre()
    {
        using var lead = await server.SignedInAsync("noor");
        using var viewer = await server.SignedInAsync("vera");
        var look = await LookAsync(lead, "sail canvas");
        var (id, revision) = (look.GetProperty("id").GetString()!, look.GetProperty("revision").GetInt32());
        var number = (await DoneAsync(await EditAsync(lead, id, revision, new { note = "even", publishes = true }, "versions")))
            .GetProperty("number")
            .GetInt32();
        async Task<float> MeanAsync() =>
            (await GetAsync(viewer, $"looks/{id}/versions/{number}/difference")).GetProperty("mean").GetSingle();
        Assert.Equal(0, await MeanAsync());
        await DoneAsync(
            await EditAsync(
                lead,
                id,
                revision,
                new
                {
                    edit = "value",
                    lane = "coat_weight",
                    value = new { kind = "scalar", number = 1 },
                }
            )
        );
        Assert.InRange(await MeanAsync(), 0.5f, 30);
    }
}
