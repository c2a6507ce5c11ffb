using Kiln.Demo;
using Kiln.Demo.Surfaces;
using Kiln.Intake.Content;
using Kiln.Looks.Readings;
using Kiln.Pixels;
using Xunit.Abstractions;

namespace Kiln.Intake.Tests;

/// <summary>Pictures whose names say nothing, each alone and then as the set it belongs to.</summary>
public class UnlabelledPictureTests(ITestOutputHelper output)
{
    private const int Size = 192;

    private sealed record Sample(string Surface, MapRole? Role, ImageBuffer Picture);

    /// <summary>Every map of every surface, greys half as one channel, half as three; base colours also turned in hue and dulled.</summary>
    private static List<Sample> Corpus()
    {
        var samples = new List<Sample>();
        foreach (var (surface, i) in Delivered.Surfaces.Select((s, i) => (s, i)))
        {
            var maps = new DemoMaps(surface, Size);
            void Add(MapRole? role, ImageBuffer picture) =>
                samples.Add(new(surface.Name + i, role, role?.Kind() == ReadingKind.Scalar && i % 2 == 1 ? AsRgb(picture) : picture));
            Add(MapRole.BaseColor, maps.BaseColour());
            Add(MapRole.BaseColor, Turned(maps.BaseColour(), 1, 1f));
            Add(MapRole.BaseColor, Turned(maps.BaseColour(), 2, 0.6f));
            Add(MapRole.BaseColor, maps.BaseColour(SampleType.U16));
            Add(MapRole.Roughness, maps.Roughness());
            Add(MapRole.Glossiness, maps.Glossiness());
            Add(MapRole.Height, maps.Height());
            Add(MapRole.AmbientOcclusion, maps.Occlusion());
            Add(MapRole.Normal, maps.Normal(down: false));
            Add(MapRole.Normal, maps.Normal(down: true, SampleType.U16));
            Add(MapRole.Metalness, maps.Metalness());
            Add(null, maps.Packed());
        }
        return samples;
    }

    private static ImageBuffer AsRgb(ImageBuffer grey)
    {
        var rgb = new ImageBuffer(grey.Width, grey.Height, ImageBuffer.Rgb, grey.Type);
        for (var y = 0; y < grey.Height; y++)
        for (var x = 0; x < grey.Width; x++)
            rgb[x, y, 0] = rgb[x, y, 1] = rgb[x, y, 2] = grey[x, y, 0];
        return rgb;
    }

    private static ImageBuffer Turned(ImageBuffer rgb, int turn, float saturation)
    {
        var result = new ImageBuffer(rgb.Width, rgb.Height, ImageBuffer.Rgb, rgb.Type);
        for (var y = 0; y < rgb.Height; y++)
        for (var x = 0; x < rgb.Width; x++)
        {
            var mean = (rgb[x, y, 0] + rgb[x, y, 1] + rgb[x, y, 2]) / 3;
            for (var c = 0; c < 3; c++)
                result[x, y, c] = mean + saturation * (rgb[x, y, (c + turn) % 3] - mean);
        }
        return result;
    }

    [Fact]
    public void EachAloneIsRightOrAsks()
    {
        var corpus = Corpus();
        int normals = 0,
            normalsFound = 0,
            kinds = 0,
            decided = 0,
            kindsRight = 0,
            sure = 0,
            sureWrong = 0;
        foreach (var (sample, i) in corpus.Select((s, i) => (s, i)))
        {
            var (sets, _) = Delivered.Group([($"IMG_{2000 + i}.png", sample.Picture)]);
            var placed = sets.SelectMany(s => s.Maps).ToList();
            var evidence = ContentEvidence.Of(sample.Picture);
            if (sample.Role == MapRole.Normal)
            {
                normals++;
                normalsFound += placed is [{ Role: MapRole.Normal }] ? 1 : 0;
            }
            else if (!evidence.IsConstant)
            {
                kinds++;
                var isColour = sample.Role == MapRole.BaseColor;
                decided += evidence.Kind != ContentKind.Undecided ? 1 : 0;
                var ok = evidence.Kind == (isColour ? ContentKind.Colour : ContentKind.Data);
                kindsRight += ok ? 1 : 0;
                if (!ok && evidence.Kind != ContentKind.Undecided)
                    output.WriteLine(
                        $"{sample.Surface} {sample.Role?.ToString() ?? "packed"} taken as {evidence.Kind}: chroma "
                            + $"{evidence.Chroma:0.000} links {evidence.ChannelLinks:0.00}"
                    );
            }
            foreach (var map in placed.Where(m => !m.Asks))
            {
                sure++;
                if (map.Role == sample.Role)
                    continue;
                sureWrong++;
                output.WriteLine(
                    $"{sample.Surface} {sample.Role?.ToString() ?? "packed"} placed unasked as {map.Role}: chroma "
                        + $"{evidence.Chroma:0.000} links {evidence.ChannelLinks:0.00}"
                );
            }
        }
        output.WriteLine(
            $"{corpus.Count} pictures; normals {normalsFound}/{normals}; colour or data decided {decided}/{kinds}, right "
                + $"{kindsRight}/{decided}; placed unasked {sure}, of which wrong {sureWrong}"
        );
        Assert.True(corpus.Count >= 200);
        Assert.True(normalsFound >= 0.95 * normals, $"normals {normalsFound} of {normals}");
        Assert.True(decided >= 0.8 * kinds, $"decided {decided} of {kinds}");
        Assert.True(kindsRight >= 0.99 * decided, $"right {kindsRight} of {decided}");
        Assert.Equal(0, sureWrong);
    }

    [Fact]
    public void AFolderWithoutNamesGivesASetWhoseHeightIsKnownByItsNormalMap()
    {
        int heights = 0,
            sets = 0,
            wrong = 0;
        foreach (var surface in Delivered.Surfaces.Take(14))
        {
            var maps = new DemoMaps(surface, Size);
            var (found, _) = Delivered.Group([
                ("a/1.png", maps.BaseColour()),
                ("a/2.png", maps.Normal(down: true)),
                ("a/3.png", maps.Height()),
                ("a/4.png", maps.Roughness()),
            ]);
            sets += found.Count == 1 ? 1 : 0;
            var placed = found.SelectMany(s => s.Maps).ToDictionary(m => m.Path);
            heights += placed.GetValueOrDefault("a/3.png")?.Role == MapRole.Height ? 1 : 0;
            var truth = new Dictionary<string, MapRole>
            {
                ["a/1.png"] = MapRole.BaseColor,
                ["a/2.png"] = MapRole.Normal,
                ["a/3.png"] = MapRole.Height,
                ["a/4.png"] = MapRole.Roughness,
            };
            foreach (var map in placed.Values.Where(m => !m.Asks && truth[m.Path] != m.Role))
            {
                wrong++;
                output.WriteLine($"{surface.Name}: {map.Path} is {map.Role} {map.Confidence:0.00}");
            }
        }
        output.WriteLine($"one set {sets}/14, heights known {heights}/14, wrong unasked {wrong}");
        Assert.True(sets >= 13);
        Assert.True(heights >= 12);
        Assert.True(wrong <= 1);
    }

    [Fact]
    public void ObjectSpaceNormalsAreToldApart()
    {
        // A sphere seen from all sides: every direction present.
        var picture = new ImageBuffer(128, 64, ImageBuffer.Rgb, SampleType.U8);
        for (var y = 0; y < 64; y++)
        for (var x = 0; x < 128; x++)
        {
            var (sinTheta, cosTheta) = MathF.SinCos((y + 0.5f) / 64 * MathF.PI);
            var (sinPhi, cosPhi) = MathF.SinCos((x + 0.5f) / 128 * MathF.Tau);
            (picture[x, y, 0], picture[x, y, 1], picture[x, y, 2]) = (
                0.5f + 0.5f * sinTheta * cosPhi,
                0.5f + 0.5f * cosTheta,
                0.5f + 0.5f * sinTheta * sinPhi
            );
        }
        var evidence = ContentEvidence.Of(picture);
        Assert.True(evidence.IsObjectSpaceNormal);
        Assert.False(evidence.IsNormal);
        var (sets, _) = Delivered.Group([("bust_normal.png", picture), ("bust_albedo.png", picture)]);
        Assert.All(sets.SelectMany(s => s.Maps).Where(m => m.Role == MapRole.Normal), m => Assert.True(m.Asks));
    }

    [Fact]
    public void AnAmbiguousReflectionIsAskedAboutWhenGreyAndColourWhenNot()
    {
        var maps = new DemoMaps(DemoSurface.BarnacleIron, Size);
        var (grey, _) = Delivered.Group([("gate_albedo.png", maps.BaseColour()), ("gate_refl.png", maps.Roughness())]);
        var asked = grey.SelectMany(s => s.Maps).Single(m => m.Path == "gate_refl.png");
        Assert.True(asked.Asks);
        Assert.Equal("refl", asked.AmbiguousPhrase);
        Assert.Equal([MapRole.SpecularLevel, MapRole.SpecularColor], asked.AmbiguousRoles.AsEnumerable());
        var (coloured, _) = Delivered.Group([("gate_albedo.png", maps.BaseColour()), ("gate_refl.png", maps.BaseColour())]);
        Assert.Equal(
            MapRole.SpecularColor,
            coloured.SelectMany(s => s.Maps).Single(m => m.Path == "gate_refl.png" && m.Role != MapRole.BaseColor).Role
        );
    }
}
