using System.Numerics;
using Kiln.Colour.Configs;
using Kiln.Colour.Operations;

namespace Kiln.Colour.Tests.Configs;

/// <summary>
/// Whole configs, space by space, against OpenColorIO reading the same file: analytic ones within 1e-4, through tables within 1e-3.
/// </summary>
public sealed class ConfigsAgainstOpenColorIO : IDisposable
{
    private readonly string folder = Directory.CreateTempSubdirectory("kiln-configs-").FullName;

    public void Dispose() => Directory.Delete(folder, recursive: true);

    private static Vector3[] Grid(params float[] levels) =>
        [.. from r in levels from g in levels from b in levels select new Vector3(r, g, b)];

    private static readonly Vector3[] Colours = Grid(-0.02f, 0.003f, 0.05f, 0.18f, 0.45f, 0.8f, 1f, 1.7f);

    [Theory]
    [InlineData("srgb8", 1e-3f)]
    [InlineData("threecurves", 1e-3f)]
    [InlineData("film3d", 1e-3f)]
    [InlineData("filmtetra", 1e-3f)]
    [InlineData("cube", 1e-3f)]
    [InlineData("linecube", 1e-3f)]
    [InlineData("csp", 1e-3f)]
    [InlineData("cspline", 1e-3f)]
    [InlineData("logged", 1e-4f)]
    [InlineData("uniform", 1e-4f)]
    [InlineData("gamma", 1e-4f)]
    [InlineData("logten", 1e-4f)]
    [InlineData("graded", 1e-4f)]
    [InlineData("raw", 0f)]
    public void Version1(string space, float tolerance)
    {
        var path = SampleConfigs.Version1(folder);
        var config = OpenedConfig.Open(path);
        Compare(
            config.Between("scene_linear", space),
            OutsideColour.Convert(path, "scene_linear", space, Colours),
            Colours,
            tolerance,
            "scene_linear → " + space
        );
        // And back, where no cube stands in the way.
        if (config.Spaces.Single(s => s.Space.Name == space).CanRead)
            Compare(config.Between(space, "lin"), OutsideColour.Convert(path, space, "lin", Colours), Colours, tolerance, space + " → lin");
    }

    [Theory]
    [InlineData("film")]
    [InlineData("raw")]
    [InlineData("cooler")]
    public void Version1Views(string view)
    {
        var path = SampleConfigs.Version1(folder);
        Compare(
            OpenedConfig.Open(path).View("lin", "monitor", view),
            OutsideColour.View(path, "lin", "monitor", view, Colours),
            Colours,
            1e-3f,
            view
        );
    }

    [Theory]
    [InlineData("AP0 studio", 1e-4f)]
    [InlineData("tex_srgb", 1e-4f)]
    [InlineData("texture_paint", 1e-4f)]
    [InlineData("Log for grading", 1e-4f)]
    [InlineData("Camera A", 1e-4f)]
    [InlineData("Camera B", 1e-4f)]
    [InlineData("Mirrored", 1e-4f)]
    [InlineData("Passed", 1e-4f)]
    [InlineData("Ranged", 1e-4f)]
    [InlineData("Compressed", 1e-4f)]
    [InlineData("Red modifier", 1e-4f)]
    [InlineData("Old red modifier", 1e-4f)]
    [InlineData("Glow", 1e-4f)]
    [InlineData("Dimmed", 1e-4f)]
    [InlineData("Chain file", 1e-3f)]
    [InlineData("Display seen", 1e-4f)]
    [InlineData("Look applied", 1e-4f)]
    [InlineData("sRGB screen", 1e-4f)]
    [InlineData("Untouched", 0f)]
    public void Version2(string space, float tolerance)
    {
        var path = SampleConfigs.Version2(folder);
        var config = OpenedConfig.Open(path);
        Compare(
            config.Between("studio linear", space),
            OutsideColour.Convert(path, "studio linear", space, Colours),
            Colours,
            tolerance,
            "→ " + space
        );
        if (
            space
            is "tex_srgb"
                or "Camera A"
                or "Camera B"
                or "Mirrored"
                or "Passed"
                or "Ranged"
                or "Compressed"
                or "Red modifier"
                or "Glow"
                or "Dimmed"
                or "Log for grading"
        )
            Compare(
                config.Between(space, "Scene AP1"),
                OutsideColour.Convert(path, space, "Scene AP1", Colours),
                Colours,
                2e-4f,
                space + " → "
            );
    }

    [Theory]
    [InlineData("sRGB screen", "Film")]
    [InlineData("sRGB screen", "Plain")]
    [InlineData("sRGB screen", "Raw")]
    [InlineData("Cinema wall", "Film")]
    public void Version2Views(string display, string view)
    {
        var path = SampleConfigs.Version2(folder);
        Compare(
            OpenedConfig.Open(path).View("Scene AP1", display, view),
            OutsideColour.View(path, "Scene AP1", display, view, Colours),
            Colours,
            1e-4f,
            display + " " + view
        );
    }

    /// <summary>Viewing rules by encoding and by name; OpenColorIO lists the same views in the same order.</summary>
    [Theory]
    [InlineData("Scene AP1")]
    [InlineData("tex_srgb")]
    [InlineData("Untouched")]
    [InlineData("Camera A")]
    public void ViewsAreOfferedAsTheViewingRulesSay(string space)
    {
        var path = SampleConfigs.Version2(folder);
        var theirs = OutsideColour.Python(
            $"import PyOpenColorIO as o\nc = o.Config.CreateFromFile('{path}')\nfor v in c.getViews('sRGB screen', '{space}'): print(v)"
        );
        Assert.Equal(theirs, OpenedConfig.Open(path).ViewsFor("sRGB screen", space));
    }

    [Fact]
    public void WhatIsNotSupportedIsNamedAndTheRestStaysUsable()
    {
        var config = OpenedConfig.Open(SampleConfigs.Version2(folder));
        var faulty = config.Spaces.Where(s => !s.CanWrite).ToList();
        Assert.Equal("Not ours", Assert.Single(faulty).Space.Name);
        Assert.Contains("GradingPrimaryTransform in line", faulty[0].WriteFault);
    }

    private static void Compare(ColourChain ours, Vector3[] theirs, Vector3[] colours, float tolerance, string what)
    {
        for (var i = 0; i < colours.Length; i++)
            BuiltinsAgainstOpenColorIO.Close(theirs[i], ours.Apply(colours[i]), tolerance, $"{what} of {colours[i]}");
    }
}
