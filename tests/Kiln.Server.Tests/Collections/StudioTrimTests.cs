using System.IO.Compression;
using System.Net;
using System.Net.Http.Json;
using static Kiln.Server.Tests.Api;

namespace Kiln.Server.Tests.Collections;

/// <summary>Trims of a collection: they hold in all its looks for as long as they stand, and not in what was published before.</summary>
public sealed class StudioTrimTests(ServerFixture server) : IClassFixture<ServerFixture>
{
    private sealed record TrimOf(string Input, string Operation, float Value);

    private static TrimOf[] Gain(float value) => [new("specular_roughness", "gain", value)];

    /// <summary>What a package holds for the renderer: hashes of its network and textures.</summary>
    private static async Task<string> NetworkAsync(HttpClient client, string path)
    {
        using var zip = new ZipArchive(await client.GetStreamAsync(path));
        using var reader = new StreamReader(zip.GetEntry("checksums.txt")!.Open());
        return string.Join(
            '\n',
            (await reader.ReadToEndAsync())
                .Split('\n')
                .Where(l => l.EndsWith("_cel.mtlx", StringComparison.Ordinal) || l.Contains("  textures/", StringComparison.Ordinal))
        );
    }

    private static async Task<string> CollectionAsync(HttpClient client, string name, string look)
    {
        var id = (await DoneAsync(await client.PostAsJsonAsync("collections", new { name }))).GetProperty("id").GetString()!;
        Assert.True((await client.PutAsync($"collections/{id}/looks/{look}", null)).IsSuccessStatusCode);
        return id;
    }

    [Fact]
    public async Task TheyHoldInEveryLookUntilTheyAreTakenAwayAndNotInVersionsOfBefore()
    {
        using var lead = await server.SignedInAsync("noor");
        using var artist = await server.SignedInAsync("mika");
        var look = await LookAsync(lead, "rubber foot");
        var (id, revision) = (look.GetProperty("id").GetString()!, look.GetProperty("revision").GetInt32());
        async Task PublishAsync(string note) =>
            await DoneAsync(await EditAsync(lead, id, revision, new { note, publishes = true }, "versions"));
        var draft = $"looks/{id}/package?dialect=celadon";
        var without = await NetworkAsync(lead, draft);
        await PublishAsync("before");
        var studio = await CollectionAsync(lead, "studio of trims", id);

        Assert.Equal(HttpStatusCode.Forbidden, (await artist.PutAsJsonAsync($"collections/{studio}/trims/celadon", Gain(0.5f))).StatusCode);
        await DoneAsync(await lead.PutAsJsonAsync($"collections/{studio}/trims/celadon", Gain(0.5f)));
        var with = await NetworkAsync(lead, draft);
        Assert.NotEqual(without, with);
        Assert.Equal(without, await NetworkAsync(lead, $"looks/{id}/versions/1/package?dialect=celadon"));
        // The look itself is as it was: no edit, no revision.
        Assert.Equal(revision, (await GetAsync(lead, $"looks/{id}")).GetProperty("revision").GetInt32());
        await PublishAsync("with");

        // Two collections that say different things: neither holds, and it is told.
        var other = await CollectionAsync(lead, "another studio", id);
        await DoneAsync(await lead.PutAsJsonAsync($"collections/{other}/trims/celadon", Gain(0.8f)));
        Assert.Equal(without, await NetworkAsync(lead, draft));
        var said = Assert.Single((await GetAsync(artist, $"looks/{id}/trims")).EnumerateArray());
        Assert.True(said.GetProperty("disagree").GetBoolean());
        Assert.Equal(["another studio", "studio of trims"], said.GetProperty("collections").EnumerateArray().Select(c => c.GetString()!));

        foreach (var one in new[] { studio, other })
            await DoneAsync(await lead.PutAsJsonAsync($"collections/{one}/trims/celadon", Array.Empty<TrimOf>()));
        Assert.Equal(without, await NetworkAsync(lead, draft));
        // What was published under them keeps them.
        Assert.Equal(with, await NetworkAsync(lead, $"looks/{id}/versions/2/package?dialect=celadon"));
    }

    [Fact]
    public async Task ATrimThatCannotBeIsASentence()
    {
        using var lead = await server.SignedInAsync("noor");
        var look = (await LookAsync(lead, "rubber foot")).GetProperty("id").GetString()!;
        var studio = await CollectionAsync(lead, "studio of bad trims", look);
        var refused = await lead.PutAsJsonAsync(
            $"collections/{studio}/trims/celadon",
            new[] { new TrimOf("specular_roughness", "twist", 2) }
        );
        Assert.False(refused.IsSuccessStatusCode);
        Assert.Contains("There is no trim", await refused.Content.ReadAsStringAsync(), StringComparison.Ordinal);
        Assert.Contains(
            "There is no such collection",
            await (await lead.PutAsJsonAsync($"collections/{Guid.NewGuid()}/trims/celadon", Gain(0.5f))).Content.ReadAsStringAsync(),
            StringComparison.Ordinal
        );
    }
}
