using System.Runtime.Intrinsics;
using System.Text;
using System.Text.RegularExpressions;
using static Kiln.Testing.CommandLine;

namespace Kiln.Contracts.Tests;

/// <summary>
/// What the command line prints and writes for the demo's deliveries: other programs read it, so a byte that changes is a decision.
/// </summary>
public sealed partial class CommandLineAnswers : IDisposable
{
    private const string Project = "Kiln.Contracts.Tests";
    private static readonly string[] Dialects =
    [
        "openpbr",
        "standard_surface",
        "gltf",
        "usd_preview",
        "bisque",
        "celadon",
        "tenmoku",
        "saggar",
    ];

    private readonly string folder = Directory.CreateTempSubdirectory("kiln-contracts-").FullName;

    public CommandLineAnswers() => Assert.Equal(0, Run("", "demo", folder, "--size", "64").Status);

    public void Dispose() => Directory.Delete(folder, recursive: true);

    /// <summary>Times, and the length of a staging name, are of one run; all else is the same on every run.</summary>
    private void Check(string name, string input, params string[] arguments)
    {
        var (status, output, _) = Run(input, arguments);
        var answer = Times().Replace(output.Replace(folder, "FOLDER", StringComparison.Ordinal), "$1\"time\"");
        GoldenFile.Check(Project, $"cli/{name}.txt", $"exit status {status}\n{answer}");
    }

    [GeneratedRegex("(\"(?:seconds|read|convert|write|rays)\": ?)[0-9.]+")]
    private static partial Regex Times();

    [Fact]
    public void EveryVerbsAnswerIsTheOneOfBefore()
    {
        var delivery = Path.Combine(folder, "tide_organ_breakwater.zip");
        Check("help", "", "--help");
        foreach (
            var verb in (string[])["intake", "wire", "convert", "proof", "check", "fit", "colour", "batch", "verify", "people", "demo"]
        )
            Check($"help-{verb}", "", verb, "--help");
        foreach (var file in Directory.GetFiles(folder, "*.zip").Order(StringComparer.Ordinal))
            Check("intake-" + Path.GetFileNameWithoutExtension(file), "", "intake", file, "--json");
        Check("intake-missing", "", "intake", Path.Combine(folder, "not there"), "--json");
        Check("check", "", "check", delivery, "--json");
        foreach (var dialect in Dialects)
            Check("wire-" + dialect, "", "wire", delivery, "--dialect", dialect, "--out", Path.Combine(folder, "wired", dialect), "--json");
        var network = Path.Combine(folder, "wired", "bisque", "verdigris_copper_pipe_bq.mtlx");
        foreach (var dialect in Dialects.Where(d => d != "bisque"))
            Check(
                "convert-bisque-" + dialect,
                "",
                "convert",
                network,
                "--from",
                "bisque",
                "--to",
                dialect,
                "--out",
                Path.Combine(folder, "converted", dialect),
                "--json"
            );
        Check("convert-wrong", "", "convert", network, "--from", "gltf", "--to", "openpbr", "--out", folder, "--json");
        Check("colour-lines", "0.5 0.25 1\n1 0 0\n", "colour", "--from", "srgb_texture", "--to", "acescg");
        Check("colour-view", "0.18 0.18 0.18\n4 0.1 0.02\n", "colour", "--from", "acescg", "--display", "sRGB", "--view", "aces1-sdr");
        Check(
            "proof",
            "",
            "proof",
            network,
            "--dialect",
            "bisque",
            "--form",
            "tile",
            "--light",
            "furnace",
            "--size",
            "16x16",
            "--samples",
            "2",
            "--out",
            Path.Combine(folder, "proof.exr"),
            "--json"
        );
        CheckWritten();
    }

    /// <summary>
    /// Every written file by its hash. What is computed per pixel may differ in its last bit on a processor of another vector width,
    /// so on such a machine pictures and files that hold them are compared by name alone.
    /// </summary>
    private void CheckWritten()
    {
        string[] roots = ["wired", "converted"];
        var files = roots
            .SelectMany(r => Directory.GetFiles(Path.Combine(folder, r), "*", SearchOption.AllDirectories))
            .Order(StringComparer.Ordinal)
            .ToList();
        var names = new StringBuilder();
        var hashes = new StringBuilder($"{Processor()}\n");
        foreach (var file in files)
        {
            var name = Path.GetRelativePath(folder, file);
            names.Append(name).Append('\n');
            hashes
                .Append(Convert.ToHexStringLower(System.Security.Cryptography.SHA256.HashData(File.ReadAllBytes(file))))
                .Append("  ")
                .Append(name)
                .Append('\n');
        }
        GoldenFile.Check(Project, "written-names.txt", names.ToString());
        foreach (
            var text in files.Where(f => f.EndsWith(".mtlx", StringComparison.Ordinal) || f.EndsWith(".usda", StringComparison.Ordinal))
        )
            GoldenFile.Check(Project, Path.Combine("written", Path.GetRelativePath(folder, text)), File.ReadAllText(text));
        if (GoldenFile.Renews || GoldenFile.Read(Project, "written-hashes.txt").StartsWith(Processor() + "\n", StringComparison.Ordinal))
            GoldenFile.Check(Project, "written-hashes.txt", hashes.ToString());
    }

    private static string Processor() =>
        $"made with vectors of {(Vector512.IsHardwareAccelerated ? 512 : Vector256.IsHardwareAccelerated ? 256 : 128)} bits";
}
