using System.Net.Http.Json;
using System.Text.Json;

namespace Kiln.Server.Tests.Proofs;

/// <summary>A fit as a person follows it: lines of progress, then what was found, taken over by an edit and lifted to others.</summary>
[Collection(nameof(PicturesServer))]
public sealed class FitTests(ServerFixture server)
{
    private static async Task<List<JsonElement>> LinesAsync(HttpResponseMessage response) =>
        [
            .. (await response.Content.ReadAsStringAsync())
                .Split('\n', StringSplitOptions.RemoveEmptyEntries)
                .Select(l => JsonDocument.Parse(l).RootElement),
        ];

    [Fact]
    public async Task ItTellsHowFarItIsAndWhatItFound()
    {
        var client = await server.SignedInAsync();
        var look = (await client.GetFromJsonAsync<JsonElement>("looks"))[0].GetProperty("id").GetString();
        var lines = await LinesAsync(await client.PostAsync($"looks/{look}/fit?dialect=celadon", null));
        var parts = lines
            .Where(l => l.TryGetProperty("progress", out _))
            .Select(l => l.GetProperty("progress").GetProperty("part").GetDouble())
            .ToList();
        Assert.True(parts.Count > 5 && parts.SequenceEqual(parts.Order()), string.Join(" ", parts));
        var result = lines[^1].GetProperty("result");
        double Mean(string when) => result.GetProperty(when).GetProperty("meanDeltaE").GetDouble();
        Assert.True(Mean("after") <= Mean("before"));
        Assert.Equal(3, result.GetProperty("before").GetProperty("lights").GetArrayLength());
        // Nothing was changed by looking.
        Assert.Equal(1, (await client.GetFromJsonAsync<JsonElement>($"looks/{look}")).GetProperty("revision").GetInt32());
    }

    [Fact]
    public async Task ATrimIsWrittenInItsDialectOnlyAndLiftedToOthers()
    {
        var client = await server.SignedInAsync();
        var looks = (await client.GetFromJsonAsync<JsonElement>("looks"))
            .EnumerateArray()
            .Select(l => l.GetProperty("id").GetString())
            .Skip(1)
            .Take(2)
            .ToList();
        async Task<string> Network(string? id, string dialect) =>
            await (await client.GetAsync($"looks/{id}/network?dialect={dialect}")).Content.ReadAsStringAsync();
        var before = (await Network(looks[0], "bisque"), await Network(looks[0], "openpbr"));
        var edit = new
        {
            edit = "trims",
            dialect = "bisque",
            trims = new[]
            {
                new
                {
                    input = "specular_roughness",
                    operation = "gain",
                    value = 0.5,
                },
            },
        };
        var lifted = await client.PostAsJsonAsync("looks/edits", new { looks, edit });
        Assert.All((await lifted.Content.ReadFromJsonAsync<JsonElement>()).EnumerateArray(), e =>
            Assert.Equal(JsonValueKind.Undefined, e.TryGetProperty("refused", out var r) ? r.ValueKind : JsonValueKind.Undefined)
        );
        Assert.NotEqual(before.Item1, await Network(looks[0], "bisque"));
        Assert.Equal(before.Item2, await Network(looks[0], "openpbr"));
    }

    [Fact]
    public async Task WhatCannotBeFittedIsASentence()
    {
        var client = await server.SignedInAsync();
        var look = (await client.GetFromJsonAsync<JsonElement>("looks"))[0].GetProperty("id").GetString();
        Assert.Equal(
            System.Net.HttpStatusCode.UnprocessableEntity,
            (await client.PostAsync($"looks/{look}/fit?dialect=nosuch", null)).StatusCode
        );
        var same = (await LinesAsync(await client.PostAsync($"looks/{look}/fit?dialect=openpbr", null)))[^1].GetProperty("result");
        Assert.Empty(same.GetProperty("trims").EnumerateArray());
        Assert.Contains("noise", same.GetProperty("refusal").GetString());
    }
}
