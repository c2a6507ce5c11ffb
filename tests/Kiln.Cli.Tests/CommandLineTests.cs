using System.Text.Json;
using Kiln.Pixels.Decoding;
using Kiln.Pixels.Decoding.Workers;
using static Kiln.Testing.CommandLine;

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
        var knob = packed
            .RootElement.GetProperty("sets")[1]
            .GetProperty("maps")
            .EnumerateArray()
            .Where(m => m.GetProperty("path").GetString()!.Contains("ORM", StringComparison.Ordinal))
            .ToDictionary(m => m.GetProperty("role").GetString()!, m => m.GetProperty("channel").GetString());
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
    [InlineData("tenmoku", "verdigris_copper_pipe_tmk.mtlx")]
    public void WireWritesOneNetworkPerSet(string dialect, string file)
    {
        var target = Path.Combine(folder, "wired", dialect);
        var (status, output, errors) = Run(
            "",
            "wire",
            Path.Combine(folder, "tide_organ_breakwater.zip"),
            "--dialect",
            dialect,
            "--out",
            target,
            "--json"
        );
        Assert.True(status == 0, errors);
        Assert.True(File.Exists(Path.Combine(target, file)));
        using var json = JsonDocument.Parse(output);
        foreach (
            var written in json.RootElement.GetProperty("looks").EnumerateArray().SelectMany(l => l.GetProperty("files").EnumerateArray())
        )
            Assert.True(File.Exists(Path.Combine(target, written.GetString()!)), written.GetString());
        var proof = Path.Combine(folder, dialect + ".png");
        Assert.Equal(
            0,
            Run(
                "",
                "proof",
                Path.Combine(target, file),
                "--dialect",
                dialect,
                "--form",
                "tile",
                "--light",
                "overcast",
                "--size",
                "48x48",
                "--samples",
                "2",
                "--out",
                proof
            ).Status
        );
        Assert.True(new FileInfo(proof).Length > 500);
    }

    /// <summary>
    /// Gloss became roughness on the way out and comes back as the same file, inverted once; nothing is made that was there. Bisque's maps
    /// went out in tiles with their levels.
    /// </summary>
    [Theory]
    [InlineData("bisque", "amber_tuning_window_bq.mtlx")]
    [InlineData("standard_surface", "amber_tuning_window.mtlx")]
    [InlineData("gltf", "amber_tuning_window.glb")]
    [InlineData("usd_preview", "amber_tuning_window.usda")]
    public void ConvertReadsWhatWireWrote(string from, string file)
    {
        var (wired, converted) = (Path.Combine(folder, "to-convert", from), Path.Combine(folder, "converted", from));
        Assert.Equal(0, Run("", "wire", Path.Combine(folder, "FennFR2-product-maps.zip"), "--dialect", from, "--out", wired).Status);
        var (status, output, errors) = Run(
            "",
            "convert",
            Path.Combine(wired, file),
            "--from",
            from,
            "--to",
            "openpbr",
            "--out",
            converted,
            "--json"
        );
        Assert.True(status == 0, errors);
        using var json = JsonDocument.Parse(output);
        var look = json.RootElement.GetProperty("looks")[0];
        Assert.Equal("amber tuning window", look.GetProperty("name").GetString());
        Assert.Empty(look.GetProperty("remarks").EnumerateArray());
        Assert.Empty(look.GetProperty("report").GetProperty("baked").EnumerateArray());
        JsonElement Of(string input) => look.GetProperty("inputs").EnumerateArray().First(i => i.GetProperty("input").GetString() == input);
        Assert.Equal("srgb_texture", Of("base_color").GetProperty("space").GetString());
        var ending = from == "bisque" ? ".tif" : ".png";
        Assert.EndsWith(ending, Of("specular_roughness").GetProperty("texture").GetString());
        Assert.EndsWith(ending, Of("geometry_normal").GetProperty("texture").GetString());
        Assert.True(File.Exists(Path.Combine(converted, "amber_tuning_window.mtlx")));
    }

    [Theory]
    [InlineData("cut.glb")]
    [InlineData("empty.glb")]
    [InlineData("bomb.mtlx")]
    [InlineData("circle.mtlx")]
    [InlineData("outside.mtlx")]
    [InlineData("deep.usda")]
    [InlineData("open.usda")]
    [InlineData("circle.usda")]
    public void ABrokenNetworkIsOneLineAndStatusTwo(string file)
    {
        var path = Path.Combine(folder, file);
        string Document(string nodes) =>
            $"<?xml version=\"1.0\"?><materialx version=\"1.39\">{nodes}<open_pbr_surface name=\"s\" "
            + "type=\"surfaceshader\"><input name=\"base_color\" type=\"color3\" "
            + "nodename=\"a\"/></open_pbr_surface><surfacematerial name=\"m\" type=\"material\"><input name=\"surfaceshader\" "
            + "type=\"surfaceshader\" nodename=\"s\"/></surfacematerial></materialx>";
        File.WriteAllText(
            path,
            file switch
            {
                "cut.glb" => "glTF\u0002\0\0\0",
                "empty.glb" => "",
                "bomb.mtlx" => "<?xml version=\"1.0\"?><!DOCTYPE b [<!ENTITY a \"aaaaaaaaaa\"><!ENTITY b "
                    + "\"&a;&a;&a;&a;&a;&a;&a;&a;\">]><materialx version=\"1.39\">&b;</materialx>",
                "circle.mtlx" => Document(
                    "<invert name=\"a\" type=\"color3\"><input name=\"in\" type=\"color3\" nodename=\"b\"/></invert><invert "
                        + "name=\"b\" type=\"color3\"><input name=\"in\" type=\"color3\" nodename=\"a\"/></invert>"
                ),
                "outside.mtlx" => Document(
                    "<image name=\"a\" type=\"color3\"><input name=\"file\" type=\"filename\" value=\"../../etc/passwd\"/></image>"
                ),
                "deep.usda" => "#usda 1.0\n" + string.Concat(Enumerable.Repeat("def Scope \"a\" {", 5000)),
                "open.usda" => "#usda 1.0\ndef Material \"m\" { token outputs:surface.connect = </m/s.outputs:surface",
                _ => "#usda 1.0\ndef Material \"m\" { token outputs:surface.connect = </m/s.outputs:surface>\n def Shader \"s\" { "
                    + "uniform token info:id = \"UsdPreviewSurface\"\n float inputs:roughness.connect = </m/s.outputs:surface> } }",
            }
        );
        var from = Path.GetExtension(file) switch
        {
            ".glb" => "gltf",
            ".usda" => "usd_preview",
            _ => "openpbr",
        };
        var (status, output, errors) = Run("", "convert", path, "--from", from, "--to", "bisque", "--out", Path.Combine(folder, "none"));
        Assert.Equal(2, status);
        Assert.Empty(output);
        Assert.StartsWith("kiln: ", errors);
        Assert.DoesNotContain("   at ", errors);
        Assert.False(Directory.Exists(Path.Combine(folder, "none")));
    }

    /// <summary>What no profile knows is told with its settings, and the rest comes over.</summary>
    [Fact]
    public void AnUnknownNodeIsARemarkAndTheRestComesOver()
    {
        var (path, into) = (Path.Combine(folder, "unknown.mtlx"), Path.Combine(folder, "of unknown nodes"));
        File.WriteAllText(
            path,
            """
            <?xml version="1.0"?><materialx version="1.39"><sorcery name="a" type="color3">
              <input name="spell" type="string" value="glow"/></sorcery>
            <open_pbr_surface name="s" type="surfaceshader"><input name="base_color" type="color3" nodename="a"/>
              <input name="specular_roughness" type="float" value="0.7"/></open_pbr_surface>
            <surfacematerial name="m" type="material">
              <input name="surfaceshader" type="surfaceshader" nodename="s"/></surfacematerial></materialx>
            """
        );
        var (status, output, errors) = Run("", "convert", path, "--from", "openpbr", "--to", "celadon", "--out", into, "--json");
        Assert.True(status == 0, errors);
        using var json = JsonDocument.Parse(output);
        var look = json.RootElement.GetProperty("looks")[0];
        Assert.Contains(
            "'a' (sorcery: spell = glow) is not known here",
            Assert.Single(look.GetProperty("remarks").EnumerateArray()).GetString(),
            StringComparison.Ordinal
        );
        Assert.Equal(
            "0.49",
            look.GetProperty("inputs")
                .EnumerateArray()
                .First(i => i.GetProperty("input").GetString() == "grain")
                .GetProperty("value")
                .GetString()
        );
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

    /// <summary>A model by its file, and one that is none.</summary>
    [Fact]
    public void AModelSaysWhatItHolds()
    {
        var file = Path.Combine(folder, "plate.obj");
        File.WriteAllText(file, "o Plate\nv 0 0 0\nv 2 0 0\nv 2 3 0\nv 0 3 0\nvt 0 0\nvt 1 0\nvt 1 1\nvt 0 1\nf 1/1 2/2 3/3 4/4\nl 1 2\n");
        var (status, output, messages) = Run("", "model", file, "--json");
        Assert.Equal(0, status);
        Assert.Contains("left out", messages);
        using var json = JsonDocument.Parse(output);
        var root = json.RootElement;
        Assert.Equal(
            ("obj", "Y", 1),
            (root.GetProperty("format").GetString(), root.GetProperty("upAxis").GetString(), root.GetProperty("remarks").GetArrayLength())
        );
        var part = Assert.Single(root.GetProperty("parts").EnumerateArray().ToList());
        Assert.Equal("/Plate", part.GetProperty("path").GetString());
        Assert.Equal(
            (2, 4, 6.0),
            (part.GetProperty("triangles").GetInt32(), part.GetProperty("vertices").GetInt32(), part.GetProperty("area").GetDouble())
        );
        Assert.Equal(JsonValueKind.Null, part.GetProperty("material").ValueKind);
        Assert.Equal(1.5, part.GetProperty("uv").GetProperty("stretchP95").GetDouble(), 1e-4);
        Assert.Equal([1001], part.GetProperty("udims").EnumerateArray().Select(u => u.GetInt32()));
        Assert.Equal(3, root.GetProperty("bounds").GetProperty("max")[1].GetDouble());
        File.WriteAllText(file, "v 0 0 0\np 1\n");
        (status, _, messages) = Run("", "model", file, "--json");
        Assert.Equal(2, status);
        Assert.StartsWith("kiln: 'plate.obj' has points", messages);
    }

    /// <summary>Maps of a delivery bound to a model's parts by their names; what is not sure is asked about.</summary>
    [Fact]
    public void MapsAreBoundToTheModelsPartsByName()
    {
        var file = Path.Combine(folder, "organ.obj");
        const string triangle = "v 0 0 0\nv 1 0 0\nv 0 1 0\n";
        File.WriteAllText(
            file,
            triangle
                + "o VerdigrisCopperPipe_low\nf 1 2 3\no cable\nf 1 2 3\no wall\nusemtl limewashed_wall_mtl\nf 1 2 3\no pipe\nf 1 2 3\n"
        );
        var (status, output, _) = Run("", "bind", file, "--maps", Path.Combine(folder, "tide_organ_breakwater.zip"), "--json");
        Assert.Equal(0, status);
        using var json = JsonDocument.Parse(output);
        var bound = json.RootElement.GetProperty("bindings").EnumerateArray().ToDictionary(b => b.GetProperty("part").GetString()!);
        Assert.Equal("verdigris_copper_pipe", bound["/VerdigrisCopperPipe_low"].GetProperty("set").GetString());
        Assert.Equal("limewashed_wall", bound["/wall"].GetProperty("set").GetString());
        Assert.InRange(bound["/wall"].GetProperty("confidence").GetDouble(), 0.9, 1);
        Assert.NotEmpty(bound["/wall"].GetProperty("evidence").EnumerateArray());
        Assert.Equal(["/cable"], json.RootElement.GetProperty("unbound").EnumerateArray().Select(p => p.GetString()));
        Assert.Equal(0, json.RootElement.GetProperty("unusedSets").GetArrayLength());
    }

    /// <summary>A model in the form's place: sets bound by name and by hand, its own materials, and what cannot be.</summary>
    [Fact]
    public void AModelIsProvedWithMapsOrWithItsOwnMaterials()
    {
        var file = Path.Combine(folder, "stage.obj");
        File.WriteAllText(Path.Combine(folder, "stage.mtl"), "newmtl leaf\nKd 0 0.5 0\nPr 1\nNi 1\n");
        // Three squares side by side, facing the camera.
        var squares = "mtllib stage.mtl\n";
        var names = new[] { "VerdigrisCopperPipe_low", "cable", "leaf\nusemtl leaf" };
        for (var i = 0; i < 3; i++)
            squares +=
                $"o {names[i]}\nv {i} 0 0\nv {i + 1} 0 0\nv {i + 1} 1 0\nv {i} 1 0\nvt 0 0\nvt 1 0\nvt 1 1\nvt 0 1\n"
                + $"f {4 * i + 1}/{4 * i + 1} {4 * i + 2}/{4 * i + 2} {4 * i + 3}/{4 * i + 3} {4 * i + 4}/{4 * i + 4}\n";
        File.WriteAllText(file, squares);
        var maps = Path.Combine(folder, "tide_organ_breakwater.zip");
        var target = Path.Combine(folder, "stage.exr");
        string[] rest =
        [
            "--dialect",
            "openpbr",
            "--size",
            "96x96",
            "--samples",
            "8",
            "--light",
            "overcast",
            "--camera",
            "0,0,1",
            "--out",
            target,
        ];
        float[][] Seen(out string messages, params string[] arguments)
        {
            var (status, _, errors) = Run("", ["proof", .. arguments, "--model", file, .. rest]);
            Assert.True(status == 0, errors);
            messages = errors;
            var picture = DecodeWorker.InProcess(target, null, DecodeLimits.Default);
            return [.. new[] { 24, 48, 72 }.Select(x => Enumerable.Range(0, 3).Select(c => picture[x, 48, c]).ToArray())];
        }

        var own = Seen(out var said);
        Assert.Equal("", said);
        // The leaf is green, what has no material is grey.
        Assert.True(own[2][1] > 2 * own[2][0], string.Join(' ', own[2]));
        Assert.True(Math.Abs(own[0][1] / own[0][0] - 1) < 0.15, string.Join(' ', own[0]));
        var bound = Seen(out said, maps);
        Assert.Contains("no maps are for /cable, /leaf; grey.", said);
        Assert.True(Math.Abs(bound[2][1] / bound[2][0] - 1) < 0.15, string.Join(' ', bound[2]));
        Assert.NotEqual(own[0], bound[0]);
        // The leaf alone has no UVs.
        File.WriteAllText(file, squares.Replace("f 9/9 10/10 11/11 12/12", "f 9 10 11 12"));
        Seen(out said, maps, "--bind", "limewashed_wall=leaf", "--bind", "limewashed_wall=cable");
        Assert.Equal("kiln: /leaf has no UVs; 'limewashed wall' lies on it from six sides, 1 x 1 m to a picture.\n", said);
        File.WriteAllText(file, squares);
        var byHand = Seen(out said, maps, "--bind", "verdigris_copper_pipe=/cable", "--bind", "limewashed_wall=leaf");
        Assert.Equal("", said);
        Assert.Equal(bound[0], byHand[0], (a, b) => Math.Abs(a - b) < 0.05);
        Assert.True(byHand[2][1] > bound[2][1], "lime is brighter than grey");

        foreach (
            var (arguments, sentence) in new (string[], string)[]
            {
                ([maps, "--model", file, "--bind", "nothing=/cable"], "There is no set 'nothing'. Known: limewashed_wall"),
                ([maps, "--model", file, "--bind", "limewashed_wall=/wire"], "There is no part '/wire'. Known: /VerdigrisCopperPipe_low"),
                ([maps, "--model", file, "--bind", "limewashed_wall"], "A binding is written SET=PART"),
                ([maps, "--model", file, "--form", "vessel"], "--model stands in the form's place"),
                ([maps, "--bind", "limewashed_wall=/cable"], "--bind names parts of a --model"),
                (["--model", file, "--bind", "limewashed_wall=/cable"], "without maps the file's own materials serve"),
                (["--model", Path.Combine(folder, "gone.obj")], "There is no file"),
                ([], "Say what to prove"),
            }
        )
        {
            var (status, _, errors) = Run("", ["proof", .. arguments, .. rest]);
            Assert.Equal(2, status);
            Assert.Contains(sentence, errors);
        }
    }
}
