using System.Text.Json;
using static Kiln.Cli.Tests.CommandLine;

namespace Kiln.Cli.Tests;

/// <summary>The command line as a person calls it: files in, JSON out, exit status.</summary>
public sealed class CommandLineTests : IClassFixture<CommandLineTests.DemoFiles>
{
    public sealed class DemoFiles : IDisposable
    {
        public DemoFiles() => Assert.Equal(0, Run("", "demo", Folder, "--size", "128").Status);

        public string Folder { get; } = Directory.CreateTempSubdirectory("kiln-cli-").FullName;

        public void Dispose() => Directory.Delete(Folder, recursive: true);
    }

    private readonly string folder;

    public CommandLineTests(DemoFiles demo) => folder = demo.Folder;

    [Fact]
    public void IntakeFindsTheSurfacesOfBothDeliveries()
    {
        var (status, output, _) = Run("", "intake", Path.Combine(folder, "tide_organ_breakwater.zip"), "--json");
        Assert.Equal(0, status);
        using var json = JsonDocument.Parse(output);
        var sets = json.RootElement.GetProperty("sets");
        Assert.Equal(["limewashed_wall", "verdigris_copper_pipe"], sets.EnumerateArray().Select(s => s.GetProperty("name").GetString()));
        var pipe = sets[1].GetProperty("maps").EnumerateArray().ToDictionary(m => m.GetProperty("role").GetString()!);
        Assert.Equal("down", pipe["normal"].GetProperty("normalY").GetString());
        Assert.Equal(16, pipe["height"].GetProperty("bits").GetInt32());
        Assert.Equal("raw", pipe["glossiness"].GetProperty("reading").GetProperty("space").GetString());
        Assert.Equal("srgb_texture", pipe["baseColor"].GetProperty("reading").GetProperty("space").GetString());

        using var packed = JsonDocument.Parse(Run("", "intake", Path.Combine(folder, "FennFR2-product-maps.zip"), "--json").Output);
        var knob = packed.RootElement.GetProperty("sets")[1].GetProperty("maps").EnumerateArray().Where(m => m.GetProperty("path").GetString()!.Contains("ORM", StringComparison.Ordinal)).ToDictionary(m => m.GetProperty("role").GetString()!, m => m.GetProperty("channel").GetString());
        Assert.Equal(("r", "g", "b"), (knob["ambientOcclusion"], knob["roughness"], knob["metalness"]));
    }

    [Fact]
    public void ColourConvertsLines()
    {
        var (status, output, _) = Run("0.5 0.5 0.5\n1 0 0\n", "colour", "--from", "srgb_texture", "--to", "lin_rec709");
        Assert.Equal(0, status);
        // IEC 61966-2-1: 0.5 decodes to 0.214041.
        Assert.StartsWith("0.21404", output);
        Assert.Equal(2, output.Trim().Split('\n').Length);
    }

    [Theory]
    [InlineData("openpbr", "verdigris_copper_pipe.mtlx")]
    [InlineData("bisque", "verdigris_copper_pipe_bq.mtlx")]
    [InlineData("gltf", "verdigris_copper_pipe.glb")]
    public void WireWritesOneNetworkPerSet(string dialect, string file)
    {
        var target = Path.Combine(folder, "wired", dialect);
        var (status, output, errors) = Run("", "wire", Path.Combine(folder, "tide_organ_breakwater.zip"), "--dialect", dialect, "--out", target, "--json");
        Assert.True(status == 0, errors);
        Assert.True(File.Exists(Path.Combine(target, file)));
        using var json = JsonDocument.Parse(output);
        foreach (var written in json.RootElement.GetProperty("looks").EnumerateArray().SelectMany(l => l.GetProperty("files").EnumerateArray()))
            Assert.True(File.Exists(Path.Combine(target, written.GetString()!)), written.GetString());
        if (dialect == "gltf")
            return;
        var proof = Path.Combine(folder, dialect + ".png");
        Assert.Equal(0, Run("", "proof", Path.Combine(target, file), "--dialect", dialect, "--form", "tile", "--light", "overcast", "--size", "48x48", "--samples", "2", "--out", proof).Status);
        Assert.True(new FileInfo(proof).Length > 500);
    }

    [Fact]
    public void CheckIsSilentOnTheCleanDemo()
    {
        var (status, output, errors) = Run("", "check", Path.Combine(folder, "FennFR2-product-maps.zip"), "--dialect", "bisque", "--json");
        Assert.True(status == 0, output + errors);
    }

    [Theory]
    [InlineData("convert", "x.mtlx", "--from", "openpbr", "--to", "gltf")]
    [InlineData("fit", "x.mtlx")]
    [InlineData("intake", "/no/such/place")]
    [InlineData("colour", "--from", "no_such_space", "--to", "acescg")]
    [InlineData("wire")]
    [InlineData("nonsense")]
    public void WhatIsNotThereIsOneLineAndStatusTwo(params string[] arguments)
    {
        var (status, output, errors) = Run("", arguments);
        Assert.Equal(2, status);
        Assert.Empty(output);
        Assert.StartsWith("kiln: ", errors);
        Assert.DoesNotContain("   at ", errors);
    }
}
