using System.Text.Json;
using static Kiln.Testing.CommandLine;

namespace Kiln.Cli.Tests;

/// <summary>Fits and whole folders from the command line.</summary>
public sealed class FitAndBatchTests : IClassFixture<CommandLineTests.DemoFiles>, IDisposable
{
    private readonly string folder,
        work = Directory.CreateTempSubdirectory("kiln-batch-").FullName;

    public FitAndBatchTests(CommandLineTests.DemoFiles demo) => folder = demo.Folder;

    public void Dispose() => Directory.Delete(work, recursive: true);

    private string Wired(string dialect)
    {
        var target = Path.Combine(work, dialect);
        Assert.True(Run("", "wire", Path.Combine(folder, "tide_organ_breakwater.zip"), "--dialect", dialect, "--out", target).Status <= 1);
        return target;
    }

    /// <summary>
    /// A profile whose width mapping is left out: the fit says the power that the shipped one has, within 1 %, and the proofs are the same
    /// again.
    /// </summary>
    [Fact]
    public void AFitRestoresALeftOutPower()
    {
        var shipped = File.ReadAllText(Path.Combine(Profiles(), "bisque.json"));
        var falsified = Path.Combine(work, "flat.json");
        File.WriteAllText(
            falsified,
            shipped
                .Replace("\"id\": \"bisque\"", "\"id\": \"flat\"", StringComparison.Ordinal)
                .Replace("1 - pow(specular_roughness, 1.3333333)", "1 - specular_roughness", StringComparison.Ordinal)
        );
        var network = Directory.GetFiles(Wired("bisque"), "verdigris*_bq.mtlx").Single();
        var (status, output, errors) = Run("", "fit", network, "--from", "bisque", "--to", "flat", "--profile", falsified, "--json");
        Assert.True(status == 0, errors);
        using var json = JsonDocument.Parse(output);
        var trim = Assert.Single(json.RootElement.GetProperty("trims").EnumerateArray());
        Assert.Equal(("specular_roughness", "power"), (trim.GetProperty("input").GetString(), trim.GetProperty("operation").GetString()));
        Assert.InRange(trim.GetProperty("value").GetDouble() / (4 / 3.0), 0.99, 1.01);
        double Mean(string when) => json.RootElement.GetProperty(when).GetProperty("meanDeltaE").GetDouble();
        Assert.True(Mean("after") < 0.05 && Mean("before") > 5 * Mean("after"), $"{Mean("before")} then {Mean("after")}");
    }

    [Fact]
    public void AFolderIsConvertedAndGoneOnWith()
    {
        var from = Wired("bisque");
        File.WriteAllText(Path.Combine(from, "broken.mtlx"), "<materialx");
        var target = Path.Combine(work, "converted");
        var (status, output, _) = Run("", "convert", from, "--from", "bisque", "--to", "gltf", "--out", target, "--json");
        Assert.Equal(1, status);
        using var first = JsonDocument.Parse(output);
        Assert.Equal(2, first.RootElement.GetProperty("looks").GetArrayLength());
        Assert.Equal(
            "broken.mtlx",
            Assert.Single(first.RootElement.GetProperty("failed").EnumerateArray()).GetProperty("file").GetString()
        );
        var glb = Directory.GetFiles(target, "*.glb");
        Assert.Equal(2, glb.Length);

        // Again: what is done is not done again; what failed is, and has been mended.
        var written = glb.ToDictionary(f => f, File.GetLastWriteTimeUtc);
        File.Delete(Path.Combine(from, "broken.mtlx"));
        var again = Run("", "convert", from, "--from", "bisque", "--to", "gltf", "--out", target, "--json");
        Assert.Equal(0, again.Status);
        Assert.All(written, w => Assert.Equal(w.Value, File.GetLastWriteTimeUtc(w.Key)));
        Assert.DoesNotContain("1 of 2", again.Errors);
    }

    [Fact]
    public void AFolderWithoutNetworksIsOneLine()
    {
        var (status, _, errors) = Run("", "convert", folder, "--from", "bisque", "--to", "gltf", "--out", Path.Combine(work, "none"));
        Assert.Equal(2, status);
        Assert.Contains("There is no network in", errors);
    }

    private static string Profiles() => Repository.Path("profiles");
}
