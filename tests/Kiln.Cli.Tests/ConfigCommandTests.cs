using System.Diagnostics;
using System.Globalization;
using System.Text.Json;
using static Kiln.Testing.CommandLine;

namespace Kiln.Cli.Tests;

/// <summary>Configs on the command line: names of the studio in, names of the studio out.</summary>
public sealed class ConfigCommandTests : IClassFixture<CommandLineTests.DemoFiles>, IDisposable
{
    private const string Studio = """
        ocio_profile_version: 2
        roles: {default: measured, scene_linear: studio linear, data: measured, aces_interchange: exchange}
        colorspaces:
          - !<ColorSpace> {name: studio linear, aliases: [lin]}
          - !<ColorSpace> {name: measured, isdata: true}
          - !<ColorSpace> {name: exchange, from_scene_reference: !<BuiltinTransform> {style: ACEScg_to_ACES2065-1}}
          - !<ColorSpace>
            name: painted colour
            to_scene_reference: !<GroupTransform>
              children:
                - !<ExponentWithLinearTransform> {gamma: 2.4, offset: 0.055}
                - !<BuiltinTransform> {style: UTILITY - ACES-AP1_to_LINEAR-REC709_BFD, direction: inverse}
        """;

    private readonly string demo;
    private readonly string folder = Directory.CreateTempSubdirectory("kiln-cli-config-").FullName;
    private readonly string config;

    public ConfigCommandTests(CommandLineTests.DemoFiles files)
    {
        (demo, config) = (files.Folder, Path.Combine(folder, "house.ocio"));
        File.WriteAllText(config, Studio);
    }

    public void Dispose() => Directory.Delete(folder, recursive: true);

    private static double[] Numbers(string line) => [.. line.Trim().Split(' ').Select(w => double.Parse(w, CultureInfo.InvariantCulture))];

    [Theory]
    [InlineData("painted colour", "lin")]
    [InlineData("srgb_texture", "scene_linear")]
    [InlineData("painted colour", "acescg")]
    public void NamesAliasesRolesAndOursAreKnown(string from, string to)
    {
        var (status, output, errors) = Run("0.5 0.25 0.75\n", "colour", "--from", from, "--to", to, "--config", config);
        Assert.True(status == 0, errors);
        var ours = Numbers(Run("0.5 0.25 0.75\n", "colour", "--from", "srgb_texture", "--to", "acescg").Output);
        Assert.All(Numbers(output).Zip(ours), p => Assert.Equal(p.Second, p.First, 5));
    }

    [Fact]
    public void TheWrittenNetworkSpeaksTheStudiosNamesAndIsReadBackTheSame()
    {
        var (status, _, errors) = Run(
            "",
            "wire",
            Path.Combine(demo, "FennFR2-product-maps.zip"),
            "--dialect",
            "bisque",
            "--out",
            folder,
            "--config",
            config,
            "--json"
        );
        Assert.True(status == 0, errors);
        var document = File.ReadAllText(
            Directory
                .GetFiles(folder, "*.mtlx")
                .First(f => f.Contains("nob", StringComparison.Ordinal) && !f.Contains("_defs", StringComparison.Ordinal))
        );
        Assert.Contains("\"painted colour\"", document);
        Assert.Contains("\"measured\"", document);
        Assert.DoesNotContain("srgb_texture\"", document.Split("read_as", 2)[1]);
        var file = Directory.GetFiles(folder, "*nob*.mtlx").First(f => !f.Contains("_defs", StringComparison.Ordinal));
        string Proof(params string[] more) =>
            Path.Combine(
                folder,
                Run(
                    "",
                    [
                        "proof",
                        file,
                        "--dialect",
                        "bisque",
                        "--form",
                        "tile",
                        "--size",
                        "32x32",
                        "--samples",
                        "4",
                        "--out",
                        Path.Combine(folder, more.Length + ".exr"),
                        "--json",
                        .. more,
                    ]
                )
                    is { Status: 0 }
                    ? more.Length + ".exr"
                    : "none"
            );
        using var difference = Process.Start(
            new ProcessStartInfo("oiiotool", [Proof("--config", config), Wired(), "--diff"]) { RedirectStandardOutput = true }
        )!;
        var said = difference.StandardOutput.ReadToEnd();
        difference.WaitForExit();
        Assert.True(difference.ExitCode == 0, said);
    }

    /// <summary>The same surface with our own names and no config.</summary>
    private string Wired()
    {
        var plain = Directory.CreateDirectory(Path.Combine(folder, "plain")).FullName;
        Run("", "wire", Path.Combine(demo, "FennFR2-product-maps.zip"), "--dialect", "bisque", "--out", plain, "--json");
        var file = Directory.GetFiles(plain, "*nob*.mtlx").First(f => !f.Contains("_defs", StringComparison.Ordinal));
        var picture = Path.Combine(plain, "proof.exr");
        Assert.Equal(
            0,
            Run("", "proof", file, "--dialect", "bisque", "--form", "tile", "--size", "32x32", "--samples", "4", "--out", picture).Status
        );
        return picture;
    }

    [Fact]
    public void PicturesAreConvertedAsTheReferenceDoes()
    {
        var (from, ours, theirs) = (Path.Combine(folder, "in.png"), Path.Combine(folder, "ours.exr"), Path.Combine(folder, "theirs.exr"));
        Process
            .Start(
                "oiiotool",
                [
                    "--pattern",
                    "fill:topleft=0.02,0.9,0.3:topright=1,1,1:bottomleft=0.5,0.1,0.8:bottomright=0,0.4,0",
                    "61x37",
                    "3",
                    "-d",
                    "uint16",
                    "-o",
                    from,
                ]
            )
            .WaitForExit();
        var (status, output, errors) = Run(
            "",
            "colour",
            "--from",
            "painted colour",
            "--to",
            "lin",
            "--config",
            config,
            "--in",
            from,
            "--out",
            ours,
            "--json"
        );
        Assert.True(status == 0, errors);
        using var json = JsonDocument.Parse(output);
        Assert.Equal(61, json.RootElement.GetProperty("width").GetInt32());
        Assert.True(json.RootElement.GetProperty("seconds").GetProperty("convert").GetDouble() >= 0);
        Process
            .Start(
                "oiiotool",
                [from, "--colorconfig", config, "--colorconvert", "painted colour", "studio linear", "-d", "half", "-o", theirs]
            )
            .WaitForExit();
        using var difference = Process.Start(
            new ProcessStartInfo("oiiotool", ["--fail", "0.001", "--warn", "0.001", ours, theirs, "--diff"])
            {
                RedirectStandardOutput = true,
            }
        )!;
        var said = difference.StandardOutput.ReadToEnd();
        difference.WaitForExit();
        Assert.True(difference.ExitCode == 0, said);
    }

    [Theory]
    [InlineData("nowhere.ocio", "cannot be read")]
    [InlineData("text.ocio", "no OpenColorIO config")]
    public void ConfigsThatCannotBeUsedAreOneLine(string name, string words)
    {
        File.WriteAllText(Path.Combine(folder, "text.ocio"), "not a config");
        var (status, _, errors) = Run("1 1 1\n", "colour", "--from", "a", "--to", "b", "--config", Path.Combine(folder, name));
        Assert.Equal(2, status);
        Assert.Contains(words, errors);
        Assert.Single(errors.Trim().Split('\n'));
    }
}
