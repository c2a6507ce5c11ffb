using System.Diagnostics;
using System.Text.Json;
using Kiln.Pixels;
using Kiln.Pixels.Writing;
using static Kiln.Testing.CommandLine;

namespace Kiln.Cli.Tests;

/// <summary>
/// What a verb had to leave out, guess or rename is in its document and on standard error; what contradicts the file is an error.
/// </summary>
public sealed class NeverWrongInSilence : IDisposable
{
    private readonly string folder = Directory.CreateTempSubdirectory("kiln-silence-").FullName;

    public void Dispose() => Shell($"rm -rf '{folder}'");

    private string Picture(string path, float red, float green, float blue)
    {
        var full = Path.Combine(folder, path);
        Directory.CreateDirectory(Path.GetDirectoryName(full)!);
        var picture = new ImageBuffer(32, 32, ImageBuffer.Rgb, SampleType.U8);
        for (var y = 0; y < 32; y++)
        for (var x = 0; x < 32; x++)
            (picture[x, y, 0], picture[x, y, 1], picture[x, y, 2]) = (red + x / 200f, green + y / 200f, blue);
        File.WriteAllBytes(full, PictureWriter.Png(picture));
        return full;
    }

    private static JsonElement Looks(string output) => JsonDocument.Parse(output).RootElement.GetProperty("looks");

    private string Document(string name, string text)
    {
        var path = Path.Combine(folder, name);
        Directory.CreateDirectory(Path.GetDirectoryName(path)!);
        File.WriteAllText(path, text);
        return path;
    }

    private static string Materials(string surface, params (string Name, string Inputs)[] materials) =>
        "<?xml version=\"1.0\"?><materialx version=\"1.39\" colorspace=\"lin_rec709\">"
        + string.Concat(
            materials.Select(
                (m, i) =>
                    $"<{surface} name=\"s{i}\" type=\"surfaceshader\">{m.Inputs}</{surface}><surfacematerial name=\"{m.Name}\" "
                    + $"type=\"material\"><input name=\"surfaceshader\" type=\"surfaceshader\" nodename=\"s{i}\"/></surfacematerial>"
            )
        )
        + "</materialx>";

    private static string Roughness(double value) =>
        FormattableString.Invariant($"<input name=\"specular_roughness\" type=\"float\" value=\"{value}\"/>");

    /// <summary>Two pictures never share a written name; two names may share a picture.</summary>
    [Fact]
    public void PicturesOfOneNameAreWrittenApart()
    {
        Picture("maps/A/BaseColor.png", 0.7f, 0.2f, 0.1f);
        Picture("maps/B/BaseColor.png", 0.1f, 0.3f, 0.7f);
        var (status, output, errors) = Run(
            "",
            "wire",
            Path.Combine(folder, "maps"),
            "--dialect",
            "openpbr",
            "--out",
            Path.Combine(folder, "wired"),
            "--json"
        );
        Assert.True(status == 0, errors);
        var looks = Looks(output).EnumerateArray().ToList();
        Assert.Equal(2, looks.Count);
        var textures = looks
            .Select(l =>
                l.GetProperty("inputs")
                    .EnumerateArray()
                    .Single(i => i.GetProperty("input").GetString() == "base_color")
                    .GetProperty("texture")
                    .GetString()!
            )
            .ToList();
        Assert.Equal(2, textures.Distinct().Count());
        Assert.Equal(2, textures.Select(t => Convert.ToHexString(File.ReadAllBytes(Path.Combine(folder, "wired", t)))).Distinct().Count());
        Assert.All(looks, l =>
            Assert.All(l.GetProperty("files").EnumerateArray(), f =>
                Assert.True(File.Exists(Path.Combine(folder, "wired", f.GetString()!)))
            )
        );
        Assert.Contains(
            "holds another picture",
            string.Concat(looks.SelectMany(l => l.GetProperty("remarks").EnumerateArray()).Select(r => r.GetString())),
            StringComparison.Ordinal
        );
        // The document names the file that it means.
        Assert.Contains(
            textures[1],
            File.ReadAllText(
                Path.Combine(
                    folder,
                    "wired",
                    looks[1]
                        .GetProperty("files")
                        .EnumerateArray()
                        .First(f => f.GetString()!.EndsWith(".mtlx", StringComparison.Ordinal))
                        .GetString()!
                )
            ),
            StringComparison.Ordinal
        );
    }

    [Fact]
    public void EveryMaterialOfADocumentIsALook()
    {
        var document = Document(
            "three.mtlx",
            Materials("standard_surface", ("one", Roughness(0.1)), ("two", Roughness(0.2)), ("three", Roughness(0.3)))
        );
        var (status, output, errors) = Run(
            "",
            "convert",
            document,
            "--from",
            "standard_surface",
            "--to",
            "openpbr",
            "--out",
            Path.Combine(folder, "out"),
            "--json"
        );
        Assert.True(status == 0, errors);
        Assert.Equal(["one", "two", "three"], Looks(output).EnumerateArray().Select(l => l.GetProperty("name").GetString()));
        Assert.Equal(
            ["one.mtlx", "three.mtlx", "two.mtlx"],
            Directory.GetFiles(Path.Combine(folder, "out"), "*.mtlx").Select(Path.GetFileName).Order()
        );
        var picked = Run(
            "",
            "convert",
            document,
            "--from",
            "standard_surface",
            "--to",
            "openpbr",
            "--material",
            "two",
            "--out",
            Path.Combine(folder, "one"),
            "--json"
        );
        Assert.Equal("two", Looks(picked.Output).EnumerateArray().Single().GetProperty("name").GetString());
        var none = Run(
            "",
            "convert",
            document,
            "--from",
            "standard_surface",
            "--to",
            "openpbr",
            "--material",
            "four",
            "--out",
            Path.Combine(folder, "none")
        );
        Assert.Equal(2, none.Status);
        Assert.Contains("'one', 'two', 'three'", none.Errors, StringComparison.Ordinal);
    }

    [Fact]
    public void DocumentsOfOneMaterialsNameDoNotOverwriteEachOther()
    {
        Document("networks/a.mtlx", Materials("standard_surface", ("paint", Roughness(0.1))));
        Document("networks/b.mtlx", Materials("standard_surface", ("paint", Roughness(0.9))));
        var arguments = new[]
        {
            "convert",
            Path.Combine(folder, "networks"),
            "--from",
            "standard_surface",
            "--to",
            "openpbr",
            "--out",
            Path.Combine(folder, "both"),
            "--json",
        };
        var (status, output, errors) = Run("", arguments);
        Assert.True(status == 0, errors);
        var files = Looks(output).EnumerateArray().Select(l => l.GetProperty("files")[0].GetString()!).ToList();
        Assert.Equal(["paint.mtlx", "paint_2.mtlx"], files);
        Assert.NotEqual(File.ReadAllText(Path.Combine(folder, "both", files[0])), File.ReadAllText(Path.Combine(folder, "both", files[1])));
        // Gone on with, the names stay.
        Document("networks/c.mtlx", Materials("standard_surface", ("paint", Roughness(0.5))));
        Assert.Equal(
            ["paint.mtlx", "paint_2.mtlx", "paint_3.mtlx"],
            Looks(Run("", arguments).Output).EnumerateArray().Select(l => l.GetProperty("files")[0].GetString())
        );
    }

    [Theory]
    [InlineData("openpbr")]
    [InlineData("gltf")]
    [InlineData("usd_preview")]
    [InlineData("bisque")]
    public void ADocumentOfAnotherDialectIsRefusedAndNamed(string stated)
    {
        var document = Document("own.mtlx", Materials("standard_surface", ("one", Roughness(0.1))));
        foreach (
            var arguments in new string[][]
            {
                ["convert", document, "--from", stated, "--to", "openpbr", "--out", Path.Combine(folder, "out")],
                ["proof", document, "--dialect", stated, "--size", "16x16", "--samples", "1", "--out", Path.Combine(folder, "p.png")],
            }
        )
        {
            var (status, _, errors) = Run("", arguments);
            Assert.Equal(2, status);
            Assert.Matches("standard_surface|a MaterialX document", errors);
        }
    }

    [Fact]
    public void AMissingTextureIsARemarkAndNoFileNamesIt()
    {
        var document = Document(
            "gone.mtlx",
            """
            <?xml version="1.0"?><materialx version="1.39"><image name="i" type="color3">
              <input name="file" type="filename" value="gone/nowhere.png" colorspace="srgb_texture"/></image>
            <standard_surface name="s" type="surfaceshader"><input name="base_color" type="color3" nodename="i"/>
              <input name="specular_roughness" type="float" value="0.4"/></standard_surface>
            <surfacematerial name="m" type="material">
              <input name="surfaceshader" type="surfaceshader" nodename="s"/></surfacematerial></materialx>
            """
        );
        var target = Path.Combine(folder, "out");
        var (status, output, errors) = Run(
            "",
            "convert",
            document,
            "--from",
            "standard_surface",
            "--to",
            "openpbr",
            "--out",
            target,
            "--json"
        );
        Assert.True(status == 0, errors);
        var look = Looks(output)[0];
        Assert.Contains(look.GetProperty("remarks").EnumerateArray(), r =>
            r.GetString()!.Contains("nowhere.png", StringComparison.Ordinal)
        );
        Assert.Contains("nowhere.png", errors, StringComparison.Ordinal);
        Assert.All(look.GetProperty("files").EnumerateArray(), f => Assert.True(File.Exists(Path.Combine(target, f.GetString()!))));
        Assert.DoesNotContain("nowhere.png", File.ReadAllText(Path.Combine(target, "m.mtlx")), StringComparison.Ordinal);
    }

    /// <summary>
    /// The prefix in force is the nearest one, as the MaterialX library has it; a file of the same name elsewhere is not read.
    /// </summary>
    [Fact]
    public void PrefixesAndRootsOfTexturesAreFollowed()
    {
        var meant = Picture("doc/deep/tex/map.png", 0.6f, 0.1f, 0.1f);
        Picture("doc/map.png", 0.1f, 0.6f, 0.1f);
        var elsewhere = Picture("library/other.png", 0.1f, 0.1f, 0.6f);
        var document = Document(
            "doc/prefixed.mtlx",
            """
            <?xml version="1.0"?><materialx version="1.39" fileprefix="nowhere/"><nodegraph name="g" fileprefix="deep/tex/">
              <image name="i" type="color3"><input name="file" type="filename" value="map.png" colorspace="srgb_texture"/></image>
              <output name="out" type="color3" nodename="i"/></nodegraph>
            <image name="j" type="color3" fileprefix="">
              <input name="file" type="filename" value="../library/other.png" colorspace="srgb_texture"/></image>
            <standard_surface name="s" type="surfaceshader"><input name="base_color" type="color3" nodegraph="g" output="out"/>
              <input name="emission_color" type="color3" nodename="j"/><input name="emission" type="float" value="1"/></standard_surface>
            <surfacematerial name="m" type="material">
              <input name="surfaceshader" type="surfaceshader" nodename="s"/></surfacematerial></materialx>
            """
        );
        var without = Run(
            "",
            "convert",
            document,
            "--from",
            "standard_surface",
            "--to",
            "openpbr",
            "--out",
            Path.Combine(folder, "a"),
            "--json"
        );
        Assert.Equal(2, without.Status);
        Assert.Contains("--texture-root", without.Errors, StringComparison.Ordinal);
        var target = Path.Combine(folder, "b");
        var (status, output, errors) = Run(
            "",
            "convert",
            document,
            "--from",
            "standard_surface",
            "--to",
            "openpbr",
            "--texture-root",
            Path.Combine(folder, "library"),
            "--out",
            target,
            "--json"
        );
        Assert.True(status == 0, errors);
        var inputs = Looks(output)[0]
            .GetProperty("inputs")
            .EnumerateArray()
            .Where(i => i.TryGetProperty("texture", out var t) && t.ValueKind == JsonValueKind.String)
            .ToDictionary(i => i.GetProperty("input").GetString()!, i => i.GetProperty("texture").GetString()!);
        Assert.Equal(File.ReadAllBytes(meant), File.ReadAllBytes(Path.Combine(target, inputs["base_color"])));
        Assert.Equal(File.ReadAllBytes(elsewhere), File.ReadAllBytes(Path.Combine(target, inputs["emission_color"])));
    }

    /// <summary>
    /// Pipes, sockets and devices in a folder are rejected and never opened; a name that is no UTF-8 is shown with escapes and read.
    /// </summary>
    [Fact]
    public void OddThingsInAFolderStopNothing()
    {
        Picture("odd/brick_basecolor.png", 0.5f, 0.3f, 0.2f);
        var odd = Path.Combine(folder, "odd");
        Shell(
            $"mkfifo '{odd}/pipe_roughness.png'; ln -s /dev/zero '{odd}/zero_height.png'; cp '{odd}/brick_basecolor.png' "
                + $"\"$(printf '{odd}/b\\351ton_basecolor.png')\"; mkdir \"$(printf '{odd}/d\\351p\\364t')\"; cp "
                + $"'{odd}/brick_basecolor.png' \"$(printf '{odd}/d\\351p\\364t/slab_basecolor.png')\""
        );
        using var socket = new System.Net.Sockets.Socket(
            System.Net.Sockets.AddressFamily.Unix,
            System.Net.Sockets.SocketType.Stream,
            System.Net.Sockets.ProtocolType.Unspecified
        );
        socket.Bind(new System.Net.Sockets.UnixDomainSocketEndPoint(Path.Combine(odd, "socket.png")));
        var (status, output, errors) = Run("", "intake", odd, "--json");
        Assert.True(status == 0, errors);
        using var json = JsonDocument.Parse(output);
        var rejected = json
            .RootElement.GetProperty("rejected")
            .EnumerateArray()
            .ToDictionary(r => r.GetProperty("path").GetString()!, r => r.GetProperty("error").GetString()!);
        Assert.Contains("a pipe", rejected["pipe_roughness.png"], StringComparison.Ordinal);
        Assert.Contains("a device", rejected["zero_height.png"], StringComparison.Ordinal);
        Assert.Contains("a socket", rejected["socket.png"], StringComparison.Ordinal);
        var paths = json
            .RootElement.GetProperty("sets")
            .EnumerateArray()
            .SelectMany(s => s.GetProperty("maps").EnumerateArray())
            .Select(m => m.GetProperty("path").GetString())
            .ToList();
        Assert.Contains("brick_basecolor.png", paths);
        Assert.Contains(@"b\xE9ton_basecolor.png", paths);
        Assert.Contains(@"d\xE9p\xF4t/slab_basecolor.png", paths);
        Assert.Equal(2, Run("", "intake", Path.Combine(odd, "pipe_roughness.png")).Status);
    }

    private static void Shell(string command)
    {
        using var process = Process.Start("bash", ["-c", command]);
        process.WaitForExit();
        Assert.Equal(0, process.ExitCode);
    }

    [Fact]
    public void OneUnreadablePictureIsUnreadableInput()
    {
        var broken = Document("broken.png", "not a picture at all");
        var (status, output, errors) = Run("", "intake", broken, "--json");
        Assert.Equal(2, status);
        Assert.Contains("broken.png", errors, StringComparison.Ordinal);
        Assert.Single(JsonDocument.Parse(output).RootElement.GetProperty("rejected").EnumerateArray());
    }

    [Fact]
    public void HelpIsOfTheNameThatIsTyped()
    {
        var (status, output, _) = Run("", "--help");
        Assert.Equal(0, status);
        Assert.Contains("kiln [command]", output, StringComparison.Ordinal);
        Assert.DoesNotContain("Kiln.Cli", output, StringComparison.Ordinal);
        Assert.Contains("Exit status", output, StringComparison.Ordinal);
        foreach (var verb in new[] { "intake", "wire", "convert", "proof", "check", "fit", "colour", "batch", "verify", "demo" })
        {
            var help = Run("", verb, "--help").Output;
            Assert.Contains("Examples:", help, StringComparison.Ordinal);
            // Every option has a sentence behind it.
            foreach (var line in help.Split('\n').Where(l => l.StartsWith("  -", StringComparison.Ordinal)))
                Assert.True(
                    System.Text.RegularExpressions.Regex.IsMatch(line.Trim(), @"\S\s{2,}\S.*"),
                    $"kiln {verb}: '{line}' says nothing"
                );
        }
    }

    [Fact]
    public void TheVersionIsTheChangelogs()
    {
        var root = AppContext.BaseDirectory;
        while (!File.Exists(Path.Combine(root, "CHANGELOG.md")))
            root = Path.GetDirectoryName(root)!;
        var newest = File.ReadLines(Path.Combine(root, "CHANGELOG.md"))
            .First(l => l.StartsWith("## ", StringComparison.Ordinal))
            .Split(' ')[1];
        Assert.Equal(newest, Run("", "--version").Output.Trim());
    }

    [Fact]
    public void TheCompletionKnowsEveryVerb()
    {
        var (status, output, _) = Run("", "completion", "bash");
        Assert.Equal(0, status);
        Assert.Contains("--texture-root", output, StringComparison.Ordinal);
        Shell($"source <(cat <<'S'\n{output}\nS\n); COMP_WORDS=(kiln con); COMP_CWORD=1; _kiln; [ \"${{COMPREPLY[0]}}\" = convert ]");
    }
}
