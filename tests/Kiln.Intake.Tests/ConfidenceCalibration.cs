using Kiln.Demo;
using Kiln.Demo.Surfaces;
using Kiln.Looks.Readings;
using Kiln.Pixels;
using Xunit.Abstractions;

namespace Kiln.Intake.Tests;

/// <summary>Whether a confidence means what it says: of all maps placed with 0.6, about six in ten should be right.</summary>
public class ConfidenceCalibration(ITestOutputHelper output)
{
    private const int Size = 160,
        Fewest = 12;

    private sealed record Placed(float Confidence, bool Right);

    /// <summary>
    /// The constants were set on the even surfaces and the first half of the hard corpus; the odd ones and the second half tell whether
    /// they hold.
    /// </summary>
    [Theory]
    [InlineData("even", 0)]
    [InlineData("odd", 1)]
    public void TheCurveLiesWithinFiveHundredths(string half, int first)
    {
        var surfaces = Delivered.Surfaces.Where((_, i) => i % 2 == first).ToList();
        var faults = new List<string>();
        foreach (
            var bin in surfaces
                .SelectMany(Nameless)
                .Concat(surfaces.SelectMany(Named))
                .Concat(
                    HardUnlabelledCorpus
                        .Half(first + 1)
                        .Where(p => p.Role is not null)
                        .Select(p => new Placed(p.Confidence, p.Role == p.Truth))
                )
                .GroupBy(p =>
                    p.Confidence switch
                    {
                        < 0.5f => "0.3 to 0.5",
                        < 0.7f => "0.5 to 0.7",
                        < 0.9f => "0.7 to 0.9",
                        _ => "0.9 to 1",
                    }
                )
                .OrderBy(g => g.Key, StringComparer.Ordinal)
        )
        {
            var (said, was) = (bin.Average(p => p.Confidence), bin.Count(p => p.Right) / (double)bin.Count());
            output.WriteLine($"{half}, {bin.Key}: {bin.Count()} maps, said {said:0.000}, right {was:0.000}");
            // Of few maps the share itself is uncertain: two standard errors of a proportion.
            if (bin.Count() >= Fewest && Math.Abs(said - was) > Math.Max(0.05, 2 * Math.Sqrt(said * (1 - said) / bin.Count())))
                faults.Add($"{bin.Key}: said {said:0.000}, right {was:0.000}");
        }
        Assert.Empty(faults);
    }

    /// <summary>A surface whose files are numbered, in several mixes of maps.</summary>
    private static IEnumerable<Placed> Nameless(DemoSurface surface)
    {
        var maps = Maps(surface);
        MapRole[][] mixes =
        [
            [MapRole.BaseColor, MapRole.Normal, MapRole.Height, MapRole.Roughness, MapRole.AmbientOcclusion],
            [MapRole.BaseColor, MapRole.Roughness, MapRole.Metalness],
            [MapRole.BaseColor, MapRole.AmbientOcclusion],
            [MapRole.Normal, MapRole.Height],
            [MapRole.BaseColor, MapRole.Height],
        ];
        foreach (var mix in mixes)
        {
            var truth = mix.Select((role, i) => (Path: $"scan/{i + 1}.png", role)).ToDictionary(p => p.Path, p => p.role);
            foreach (
                var placed in Group(truth.Select(t => (t.Key, maps[t.Value])))
                    .Where(m => m.Confidence < PlacedMap.Unasked || truth.ContainsKey(m.Path))
            )
                yield return new(placed.Confidence, truth[placed.Path] == placed.Role);
        }
    }

    /// <summary>
    /// The same surface with honest names, single letters and a misspelt word. Grey “spec” pictures are left out: what they mean is not in
    /// them.
    /// </summary>
    private static IEnumerable<Placed> Named(DemoSurface surface)
    {
        var maps = Maps(surface);
        var name = surface.Name.Replace(' ', '_');
        (string Word, MapRole Role)[] words =
        [
            ("albedo", MapRole.BaseColor),
            ("nrm", MapRole.Normal),
            ("disp", MapRole.Height),
            ("rgh", MapRole.Roughness),
            ("ao", MapRole.AmbientOcclusion),
            ("metallic", MapRole.Metalness),
            ("d", MapRole.BaseColor),
            ("n", MapRole.Normal),
            ("roughnes", MapRole.Roughness),
        ];
        var truth = words.ToDictionary(w => $"{name}_{w.Word}.png", w => w.Role);
        var pictures = words.Select(w => ($"{name}_{w.Word}.png", maps[w.Role]));
        foreach (var placed in Group(pictures))
            yield return new(placed.Confidence, truth[placed.Path] == placed.Role);
    }

    private static Dictionary<MapRole, ImageBuffer> Maps(DemoSurface surface)
    {
        var m = new DemoMaps(surface, Size);
        return new()
        {
            [MapRole.BaseColor] = m.BaseColour(),
            [MapRole.Normal] = m.Normal(down: false),
            [MapRole.Height] = m.Height(),
            [MapRole.Roughness] = m.Roughness(),
            [MapRole.AmbientOcclusion] = m.Occlusion(),
            [MapRole.Metalness] = m.Metalness(),
        };
    }

    private static IEnumerable<PlacedMap> Group(IEnumerable<(string Path, ImageBuffer Picture)> pictures) =>
        Delivered.Group([.. pictures]).Sets.SelectMany(s => s.Maps);
}
