using static Kiln.Server.Tests.Api;

namespace Kiln.Server.Tests.Looks;

/// <summary>The demo's deliveries have mistakes as people make them, and everything else in them is right.</summary>
[Collection(nameof(DemoServer))]
public sealed class PlantedMistakes(ServerFixture server)
{
    [Fact]
    public async Task EachIsFoundAndCleanSurfacesHaveNoError()
    {
        using var client = await server.SignedInAsync();
        var found = new Dictionary<string, List<string>>();
        var errors = new List<string>();
        foreach (var look in (await GetAsync(client, "looks")).EnumerateArray())
        foreach (
            var f in (await GetAsync(client, $"looks/{look.GetProperty("id").GetString()}/board")).GetProperty("findings").EnumerateArray()
        )
        {
            var name = look.GetProperty("name").GetString()!;
            (found.TryGetValue(name, out var codes) ? codes : found[name] = []).Add(f.GetProperty("code").GetString()!);
            if (f.GetProperty("severity").GetString() == "error")
                errors.Add($"{name}: {f.GetProperty("code").GetString()} {f.GetProperty("message").GetString()}");
        }
        var all = string.Join("; ", found.Select(f => $"{f.Key}: {string.Join(", ", f.Value)}"));
        bool Has(string look, string code) => found.TryGetValue(look, out var codes) && codes.Contains(code);
        foreach (
            var (look, code) in new[]
            {
                ("brass reed plate", "shine.inverted"),
                ("brass reed plate", "metal.grey"),
                ("salt worn beam", "map.bits"),
                ("glazed blue tile", "map.constant"),
                ("tarred rope", "map.seam"),
                ("speaker cloth", "map.mixed"),
            }
        )
            Assert.True(Has(look, code), $"{code} was not found on {look}. Found: {all}");
        // What intake mends by measuring (a Y-down map named Y up, a base colour in ACEScg, a roughness tagged sRGB) does not come back;
        // nor is anything else an error.
        Assert.Empty(errors);
    }
}
