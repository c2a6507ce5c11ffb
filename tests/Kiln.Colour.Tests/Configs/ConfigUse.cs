using System.Diagnostics;
using System.Numerics;
using Kiln.Colour.Configs;
using Kiln.Colour.Spaces;

namespace Kiln.Colour.Tests.Configs;

/// <summary>What the product makes of a config: its names for our spaces, its file rules, and a config of our own for others.</summary>
public sealed class ConfigUse : IDisposable
{
    private readonly string folder = Directory.CreateTempSubdirectory("kiln-config-use-").FullName;

    public void Dispose() => Directory.Delete(folder, recursive: true);

    [Fact]
    public void RenamedSpacesAreFoundByMeasuring()
    {
        var config = OpenedConfig.Open(SampleConfigs.Version2(folder));
        var match = SpaceMatching.Measure(config);
        Assert.Equal("acescg", match.Anchor?.Id);
        Assert.Equal("Painter's sRGB", match.NameFor(config, "srgb_texture"));
        Assert.Equal("Scene AP1", match.NameFor(config, "acescg"));
        Assert.Equal("AP0 studio", match.NameFor(config, "lin_ap0"));
        Assert.Equal("Log for grading", match.NameFor(config, "acescct"));
        Assert.Equal("Untouched", match.NameFor(config, "raw"));
        Assert.Equal("XYZ display", match.NameFor(config, "cie_xyz_d65"));
        Assert.Null(match.NameFor(config, "adobergb"));
        Assert.Null(match.OursFor("Camera A"));
    }

    [Fact]
    public void AConfigThatFitsNothingOfOursSaysSo()
    {
        var match = SpaceMatching.Measure(OpenedConfig.Open(SampleConfigs.Version1(folder)));
        Assert.Null(match.Anchor);
        Assert.Null(match.OursFor("srgb8"));
    }

    /// <summary>A view of the config as a proof shows it: scene light in ACEScg in, display codes out, alone and in bulk.</summary>
    [Theory]
    [InlineData("sRGB screen", "Film")]
    [InlineData("Cinema wall", "Film")]
    public void TheConfigsViewsShowOurPictures(string display, string view)
    {
        var path = SampleConfigs.Version2(folder);
        var names = new ConfigNames(OpenedConfig.Open(path));
        Vector3[] colours = [new(0.5f, 0.3f, 0.2f), new(0.05f, 0.4f, 0.9f), new(2f, 1f, 0.1f), new(0.18f)];
        var ours = Views.View.Named($"{display} / {view}", ColourSpace.AcesCg, names);
        var theirs = OutsideColour.View(path, "Scene AP1", display, view, colours);
        var pixels = colours.SelectMany(c => new[] { c.X, c.Y, c.Z }).ToArray();
        ours.Apply(pixels.AsSpan());
        for (var i = 0; i < colours.Length; i++)
        {
            var expected = Vector3.Clamp(theirs[i], Vector3.Zero, Vector3.One);
            BuiltinsAgainstOpenColorIO.Close(expected, ours.Apply(colours[i]), 1e-4f, "alone");
            BuiltinsAgainstOpenColorIO.Close(expected, new(pixels[3 * i], pixels[3 * i + 1], pixels[3 * i + 2]), 1e-4f, "in bulk");
        }
    }

    [Theory]
    [InlineData("wall_normal.exr", "float", "Scene AP1")]
    [InlineData("wall_albedo.png", "colour maps", "Painter's sRGB")]
    [InlineData("/a/b/wall_rough.png", "measurements", "Untouched")]
    [InlineData("wall_tex_srgb_x.tif", "ColorSpaceNamePathSearch", "Painter's sRGB")]
    [InlineData("wall.tif", "Default", "Scene AP1")]
    public void FileRulesAnswerAsOpenColorIODoes(string file, string rule, string space)
    {
        var path = SampleConfigs.Version2(folder);
        var answer = FileRules.Find(OpenedConfig.Open(path), file)!;
        var theirs = OutsideColour.Python(
            $"""
            import PyOpenColorIO as o
            c = o.Config.CreateFromFile('{path}')
            s, i = c.getColorSpaceFromFilepath('{file}')
            print(c.getFileRules().getName(i)); print(c.getColorSpace(s).getName())
            """
        );
        Assert.Equal((rule, space), (theirs[0], theirs[1]));
        Assert.Equal((rule, space), (answer.Rule, answer.Space));
    }

    [Fact]
    public void TheExportedConfigIsValidAndMeansTheSame()
    {
        var path = Path.Combine(folder, "ours.ocio");
        File.WriteAllText(path, ConfigExport.Write(ColourSpace.All.Select(s => s.Id), ColourSpace.AcesCg));
        using var check = Process.Start(
            new ProcessStartInfo("ociocheck", ["--iconfig", path]) { RedirectStandardOutput = true, RedirectStandardError = true }
        )!;
        var said = check.StandardOutput.ReadToEnd() + check.StandardError.ReadToEnd();
        check.WaitForExit();
        Assert.True(check.ExitCode == 0 && !said.Contains("ERROR", StringComparison.Ordinal), said);
        Vector3[] colours = [new(0.5f, 0.3f, 0.2f), new(0.05f, 0.4f, 0.9f), new(0.9f, 0.9f, 0.1f), new(0.2f, 0.2f, 0.2f)];
        foreach (var space in ColourSpace.All.Where(s => !s.IsRaw))
        {
            var theirs = OutsideColour.Convert(path, space.Id.Text, "acescg", colours);
            for (var i = 0; i < colours.Length; i++)
                BuiltinsAgainstOpenColorIO.Close(
                    theirs[i],
                    ColourTransform.Between(space, ColourSpace.AcesCg).Apply(colours[i]),
                    2e-5f,
                    space.Id.Text
                );
        }
        var view = OutsideColour.View(path, "acescg", "sRGB", "aces1-sdr", colours);
        for (var i = 0; i < colours.Length; i++)
            BuiltinsAgainstOpenColorIO.Close(
                Vector3.Clamp(view[i], Vector3.Zero, Vector3.One),
                Views.View.Named("aces1-sdr", ColourSpace.AcesCg).Apply(colours[i]),
                2f / 255,
                "aces1-sdr"
            );
        // And we read it ourselves, and find every space again.
        var config = OpenedConfig.Open(path);
        var match = SpaceMatching.Measure(config);
        Assert.All(ColourSpace.All, s =>
            Assert.Equal(s.Id.Text, match.NameFor(config, s.Id) is "XYZ of the display" ? "cie_xyz_d65" : match.NameFor(config, s.Id))
        );
    }
}

/// <summary>Configs that are wrong, damaged or meant to harm: one sentence each, and what can be used stays usable.</summary>
public sealed class HostileConfigs : IDisposable
{
    private readonly string folder = Directory.CreateTempSubdirectory("kiln-config-bad-").FullName;

    public void Dispose() => Directory.Delete(folder, recursive: true);

    private string Write(string text)
    {
        var path = Path.Combine(folder, "config.ocio");
        File.WriteAllText(path, text);
        return path;
    }

    private static string Config(string spaces, string head = "") =>
        $"ocio_profile_version: 2\n{head}roles: {{default: lin}}\ncolorspaces:\n  - !<ColorSpace> {{name: lin}}\n{spaces}";

    [Theory]
    [InlineData("", "no OpenColorIO config")]
    [InlineData("hello: there", "no OpenColorIO config")]
    [InlineData("ocio_profile_version: 7\ncolorspaces: []", "version 7")]
    [InlineData("ocio_profile_version: 2\ncolorspaces: [", "not valid YAML")]
    [InlineData("ocio_profile_version: 2\ncolorspaces: []", "no colour spaces")]
    [InlineData("ocio_profile_version: 2\ncolorspaces:\n  - !<ColorSpace> {name: a}\n  - !<ColorSpace> {name: A}", "given 2 times")]
    [InlineData(
        "ocio_profile_version: 2\ncolorspaces:\n  - !<ColorSpace> {name: a, to_scene_reference: !<MatrixTransform> {matrix: [1, 2]}}",
        "Line 3: 'matrix' needs 16 numbers"
    )]
    [InlineData(
        "ocio_profile_version: 2\ncolorspaces:\n  - !<ColorSpace> {name: a, to_scene_reference: !<LogTransform> {base: nonsense}}",
        "'nonsense' is no number"
    )]
    public void ARefusedConfigSaysWhy(string text, string words) =>
        Assert.Contains(words, Assert.Throws<ConfigException>(() => OpenedConfig.Open(Write(text))).Message);

    [Fact]
    public void DeepAndHugeTextIsRefusedQuickly()
    {
        Assert.Contains(
            "levels deep",
            Assert.Throws<ConfigException>(() => OpenedConfig.Open(Write("ocio_profile_version: " + new string('[', 100_000)))).Message
        );
        var path = Path.Combine(folder, "huge.ocio");
        using (var file = File.Create(path))
            file.SetLength(100 << 20);
        Yardstick.Within(Yardstick.Soon, "a file of 100 MB", () =>
            Assert.Contains("100 MB", Assert.Throws<ConfigException>(() => OpenedConfig.Open(path)).Message)
        );
        // An anchor that names itself many times is not written out.
        var text =
            "ocio_profile_version: 2\na0: &a0 [x, x, x, x, x, x, x, x, x, x]\n"
            + string.Concat(
                Enumerable.Range(1, 20).Select(i => $"a{i}: &a{i} [{string.Join(", ", Enumerable.Repeat($"*a{i - 1}", 10))}]\n")
            )
            + "colorspaces:\n  - !<ColorSpace> {name: lin}\n";
        Yardstick.Within(Yardstick.Soon, "an anchor in anchors", () => Assert.Single(OpenedConfig.Open(Write(text)).Config.Spaces));
    }

    [Theory]
    [InlineData("!<FileTransform> {src: gone.spi1d}", "the file 'gone.spi1d' is missing")]
    [InlineData("!<FileTransform> {src: ../outside.spi1d}", "outside the config's folder")]
    [InlineData("!<FileTransform> {src: /etc/passwd}", "outside the config's folder")]
    [InlineData("!<FileTransform> {src: link.spi1d}", "outside the config's folder")]
    [InlineData("!<FileTransform> {src: nan.spi1d}", "'nan' is no number")]
    [InlineData("!<FileTransform> {src: short.spi1d}", "numbers are expected")]
    [InlineData("!<FileTransform> {src: words.cube}", "is no number")]
    [InlineData("!<FileTransform> {src: giant.cube}", "no size from 2")]
    [InlineData("!<FileTransform> {src: few.cube}", "entries are expected")]
    [InlineData("!<FileTransform> {src: bomb.clf}", "cannot be read")]
    [InlineData("!<FileTransform> {src: odd.xyz}", "not supported")]
    [InlineData("!<ColorSpaceTransform> {src: lin, dst: broken}", "leads back to itself")]
    [InlineData("!<ColorSpaceTransform> {src: lin, dst: nowhere}", "no colour space, alias or role 'nowhere'")]
    [InlineData("!<MysteryTransform> {a: 1}", "MysteryTransform in line")]
    [InlineData("!<BuiltinTransform> {style: NO SUCH STYLE}", "'NO SUCH STYLE' is not supported")]
    [InlineData("!<RangeTransform> {min_in_value: 0}", "one side only")]
    public void ABrokenSpaceIsNamedAndTheOthersStay(string transform, string words)
    {
        File.WriteAllText(Path.Combine(Path.GetDirectoryName(folder)!, "outside.spi1d"), "x");
        File.CreateSymbolicLink(Path.Combine(folder, "link.spi1d"), "/etc/hostname");
        File.WriteAllText(Path.Combine(folder, "nan.spi1d"), "Version 1\nFrom 0 1\nLength 2\nComponents 1\n{\n0\nnan\n}\n");
        File.WriteAllText(Path.Combine(folder, "short.spi1d"), "Version 1\nFrom 0 1\nLength 4\nComponents 1\n{\n0\n1\n}\n");
        File.WriteAllText(Path.Combine(folder, "words.cube"), "LUT_3D_SIZE 2\n0 0 zero\n");
        File.WriteAllText(Path.Combine(folder, "giant.cube"), "LUT_3D_SIZE 60000\n0 0 0\n");
        File.WriteAllText(Path.Combine(folder, "few.cube"), "LUT_3D_SIZE 2\n0 0 0\n1 1 1\n");
        File.WriteAllText(
            Path.Combine(folder, "bomb.clf"),
            "<?xml version=\"1.0\"?><!DOCTYPE a [<!ENTITY b \"bbbb\">]><ProcessList>&b;</ProcessList>"
        );
        File.WriteAllText(Path.Combine(folder, "odd.xyz"), "");
        var config = OpenedConfig.Open(
            Write(
                Config(
                    $"  - !<ColorSpace> {{name: fine, from_scene_reference: !<ExponentTransform> {{value: 2}}}}\n  - "
                        + $"!<ColorSpace>\n    name: broken\n    from_scene_reference: {transform}\n"
                )
            )
        );
        var states = config.Spaces.ToDictionary(s => s.Space.Name);
        Assert.Contains(words, states["broken"].WriteFault);
        Assert.True(states["fine"].CanWrite);
        Assert.Equal(0.25f, config.Between("lin", "fine").Apply(new Vector3(0.5f)).X, 5);
        Assert.Contains(words, Assert.Throws<ConfigException>(() => config.Between("lin", "broken")).Message);
    }

    /// <summary>Thirty spaces, each made of the one before twice: a billion steps if they were written out.</summary>
    [Fact]
    public void DoublingWithoutEndIsRefused()
    {
        var spaces = string.Concat(
            Enumerable
                .Range(1, 30)
                .Select(i =>
                    $"  - !<ColorSpace>\n    name: s{i}\n    from_scene_reference: !<GroupTransform>\n      children:\n        - "
                    + $"!<ColorSpaceTransform> {{src: lin, dst: {(i == 1 ? "lin" : $"s{i - 1}")}}}\n        - "
                    + $"!<ColorSpaceTransform> {{src: lin, dst: {(i == 1 ? "lin" : $"s{i - 1}")}}}\n        - !<ExponentTransform> "
                    + $"{{value: 1.01}}\n"
                )
        );
        Yardstick.Within(Yardstick.Soon, "doubling", () =>
        {
            var config = OpenedConfig.Open(Write(Config(spaces)));
            Assert.Contains(config.Spaces, s => s.WriteFault is not null);
            Assert.True(config.Spaces.Single(s => s.Space.Name == "s3").CanWrite);
        });
    }

    [Fact]
    public void RolesThatNameNothingAreRemarks() =>
        Assert.Contains(OpenedConfig.Open(Write(Config("", "").Replace("default: lin", "default: gone"))).Config.Remarks, r =>
            r.Contains("'gone'")
        );
}
