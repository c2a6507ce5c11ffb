using Kiln.Demo;
using Kiln.Intake;
using Kiln.Intake.Listing;
using Kiln.Intake.Wiring;
using Kiln.Looks.Document;
using Kiln.Looks.Maps;

namespace Kiln.Exchange.Tests;

/// <summary>The looks of the demo as the intake wires them, and as every dialect writes them: made once for a class.</summary>
public sealed class DemoLooks : IAsyncLifetime
{
    public Workshop Shop { get; } = new();

    public List<Look> All { get; } = [];

    public async Task InitializeAsync()
    {
        var folder = Path.Combine(Shop.Folder, "demo");
        DemoDeliveries.Make(folder, 64);
        foreach (var (name, _) in DemoDeliveries.All)
        {
            var listing = DeliveryListing.Read([Path.Combine(folder, name)], Path.Combine(Shop.Folder, "unpacked " + name));
            foreach (var file in listing.Files)
                Shop.Put(File.ReadAllBytes(file.LocalPath));
            foreach (var set in (await new IntakeAnalysis(Shop).RunAsync(listing, Path.GetFileNameWithoutExtension(name))).Sets)
                All.Add(SetWiring.Wire(set));
        }
    }

    public Task DisposeAsync()
    {
        Shop.Dispose();
        return Task.CompletedTask;
    }

    /// <summary>The document of every look in a dialect, with its textures beside it.</summary>
    public async Task<List<string>> WrittenAsync(string dialect)
    {
        var result = new List<string>();
        foreach (var (look, i) in All.Select((l, i) => (l, i)))
        {
            result.Add(Shop.Write((await Shop.CompileAsync(look, dialect)).Network, Path.Combine(dialect, i.ToString()))[0]);
        }
        return result;
    }
}

/// <summary>
/// Every look of the demo in every dialect before the outside judges: the MaterialX library, the Khronos validator, a USD parser. Nothing
/// may be said against any.
/// </summary>
public sealed class DemoLooksValidate(DemoLooks demo) : IClassFixture<DemoLooks>
{
    [Theory]
    [InlineData("openpbr")]
    [InlineData("standard_surface")]
    [InlineData("bisque")]
    [InlineData("celadon")]
    [InlineData("tenmoku")]
    [InlineData("saggar")]
    public async Task InMaterialX(string dialect)
    {
        var documents = await demo.WrittenAsync(dialect);
        string[] asked = dialect is "openpbr" or "standard_surface" ? ["--generate", .. documents] : [.. documents];
        var lines = Workshop.JudgedByMaterialX(asked);
        Assert.Equal(demo.All.Count, lines.Length);
        Assert.All(lines, l => Assert.StartsWith("valid: ", l));
        Assert.True(demo.All.Count >= 12, $"only {demo.All.Count} looks in the demo");
    }

    [Fact]
    public async Task InGltf()
    {
        var lines = Workshop
            .Run("node", [Path.Combine(Workshop.Outside(), "validate-glb.mjs"), .. await demo.WrittenAsync("gltf")])
            .Split('\n', StringSplitOptions.RemoveEmptyEntries);
        Assert.Equal(demo.All.Count, lines.Length);
        Assert.All(lines, l => Assert.Equal("0 errors, 0 warnings", l.Trim()));
    }

    [Fact]
    public async Task InUsd()
    {
        var documents = await demo.WrittenAsync("usd_preview");
        var lines = Workshop
            .Run("node", [Path.Combine(Workshop.Outside(), "read-usd.mjs"), .. documents])
            .Split('\n', StringSplitOptions.RemoveEmptyEntries);
        Assert.Equal(documents.Count, lines.Length);
        foreach (var (line, document) in lines.Zip(documents))
        {
            using var read = System.Text.Json.JsonDocument.Parse(line);
            Assert.Single(read.RootElement.GetProperty("materials").EnumerateArray());
            Assert.All(read.RootElement.GetProperty("textures").EnumerateObject(), t =>
                Assert.True(
                    File.Exists(Path.Combine(Path.GetDirectoryName(document)!, MapTile.Named(t.Value.GetString()!, MapTile.First))),
                    t.Value.GetString()
                )
            );
        }
    }
}
