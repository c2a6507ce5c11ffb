using System.Collections.Immutable;
using System.Globalization;
using Kiln.Analysis.Difference;
using Kiln.Colour.Chart;
using Kiln.Colour.Spaces;
using Kiln.Colour.Views;
using Kiln.Dialects.Baking;
using Kiln.Dialects.Lowering;
using Kiln.Dialects.Networks;
using Kiln.Dialects.Profiles;
using Kiln.Exchange.Packages;
using Kiln.Looks.Document;
using Kiln.Looks.Readings;
using Kiln.Pixels;
using Kiln.Pixels.Decoding;
using Kiln.Pixels.Decoding.Workers;
using Kiln.Proof.Materials;
using Kiln.Proof.Rendering;
using NetArchTest.Rules;

namespace Kiln.Exchange.Tests.Documents;

/// <summary>
/// Textures go out as they are and tagged, or converted once to the working space; never both, and never with a view in them.
/// </summary>
public sealed class TexturesAsTheyAreOrConverted : IDisposable
{
    private readonly Workshop shop = new();

    public void Dispose() => shop.Dispose();

    private Look Look()
    {
        var colour = shop.Store("panel_basecolor.png", ChartMap.Draw(128, ColourSpace.SrgbTexture, SampleType.U8));
        var rough = shop.Store("panel_roughness.png", ChartMap.Draw(96, ColourSpace.SrgbTexture, SampleType.U8));
        return new Look
        {
            Name = "panel",
            Slots = ImmutableSortedDictionary<string, Slot>
                .Empty.Add("baseColor", new(MapRole.BaseColor, colour, [colour]))
                .Add("roughness", new(MapRole.Roughness, rough, [rough])),
            Lanes = ImmutableSortedDictionary<string, Lane>
                .Empty.Add(
                    "base_color",
                    new(Chain: new(new SlotOrigin("baseColor", new(ReadingKind.Colour, "srgb_texture", MapChannel.Rgb))))
                )
                .Add("specular_roughness", new(Chain: new(new SlotOrigin("roughness", new(ReadingKind.Scalar, "raw", MapChannel.G))))),
        };
    }

    private Task<CompiledLook> CompileAsync(string dialect, string working, bool convert) =>
        new DialectCompiler(
            shop.Profiles.Find(dialect),
            new Bakery(shop.Textures, shop),
            new CompileOptions(working, ConvertTextures: convert)
        ).CompileAsync(Look());

    /// <summary>The file that the base colour reads and the space written beside it.</summary>
    private (NetworkTexture File, string? Space) BaseColour(Network network, string dialect)
    {
        var profile = shop.Profiles.Find(dialect);
        var texture = network.Textures.Single(t => t.File.Name.Contains("basecolor", StringComparison.Ordinal));
        var node = network.Nodes.Single(n => n.Ports.Any(p => p.Type == "filename" && p.Value == texture.Path));
        return (
            texture,
            profile.Image!.Readings == ReadingStyle.MaterialX
                ? node.Port(profile.Image.FilePort)!.Space
                : node.Port(profile.Image.SpacePort!)!.Value
        );
    }

    [Theory]
    [InlineData("openpbr")]
    [InlineData("bisque")]
    public async Task AsTheyAreMeansTheSameBytesUnderTheirOwnTag(string dialect)
    {
        var network = (await CompileAsync(dialect, "acescg", false)).Network;
        var (texture, space) = BaseColour(network, dialect);
        Assert.Equal("srgb_texture", space);
        Assert.False(texture.Baked);
        Assert.Equal(Look().Slots["baseColor"].File.Content, texture.File.Content);
    }

    [Theory]
    [InlineData("openpbr", "acescg")]
    [InlineData("bisque", "acescg")]
    [InlineData("openpbr", "lin_rec709")]
    public async Task ConvertedMeansHalfFloatsThatOpenColorIOWouldMakeUnderTheWorkingSpacesTag(string dialect, string working)
    {
        var compiled = await CompileAsync(dialect, working, true);
        var (texture, space) = BaseColour(compiled.Network, dialect);
        Assert.Equal(working, space);
        Assert.EndsWith($"_{working}.exr", texture.Path);
        Assert.Contains(compiled.Report.Baked, l => l.Note.Contains("converted once", StringComparison.Ordinal));
        // Debian's OpenColorIO 2.1 on the delivered picture, pixel by pixel; a view would be far off: it turns white into 0.8.
        var picture = DecodeWorker.InProcess(shop.PathOf(texture.File.Content), null, DecodeLimits.Default);
        Assert.Equal(SampleType.F16, picture.Type);
        var delivered = DecodeWorker.InProcess(shop.PathOf(Look().Slots["baseColor"].File.Content), null, DecodeLimits.Default);
        var places = Enumerable.Range(0, 64).Select(i => (X: i * 37 % 128, Y: i * 53 % 128)).ToList();
        var target =
            working == "acescg"
                ? "o.BuiltinTransform('UTILITY - ACES-AP1_to_CIE-XYZ-D65_BFD', o.TRANSFORM_DIR_INVERSE)"
                : "o.BuiltinTransform('DISPLAY - CIE-XYZ-D65_to_sRGB')";
        var script = $$"""
            import sys
            import PyOpenColorIO as o
            g = o.GroupTransform()
            g.appendTransform(o.BuiltinTransform('DISPLAY - CIE-XYZ-D65_to_sRGB', o.TRANSFORM_DIR_INVERSE))
            g.appendTransform({{target}})
            {{(working == "acescg" ? "" : "g.appendTransform(o.ExponentWithLinearTransform([2.4,2.4,2.4,1],[0.055,0.055,0.055,0]))")}}
            p = o.Config.CreateRaw().getProcessor(g).getOptimizedCPUProcessor(o.OPTIMIZATION_LOSSLESS)
            for line in sys.stdin:
                print(*['%.9g' % v for v in p.applyRGB([float(x) for x in line.split()])])
            """;
        var file = Path.Combine(shop.Folder, "convert.py");
        File.WriteAllText(file, script);
        var lines = Workshop
            .RunWith(
                "/usr/bin/python3",
                places.Select(p =>
                    string.Create(
                        CultureInfo.InvariantCulture,
                        $"{delivered[p.X, p.Y, 0]:G9} {delivered[p.X, p.Y, 1]:G9} {delivered[p.X, p.Y, 2]:G9}"
                    )
                ),
                file
            )
            .Split('\n', StringSplitOptions.RemoveEmptyEntries);
        foreach (var (place, line) in places.Zip(lines))
        foreach (var (theirs, c) in line.Split(' ').Select((v, c) => (float.Parse(v, CultureInfo.InvariantCulture), c)))
            Assert.Equal(theirs, picture[place.X, place.Y, c], 6e-4f + 6e-4f * MathF.Abs(theirs));
    }

    [Theory]
    [InlineData("openpbr")]
    [InlineData("bisque")]
    public async Task BothWaysLookTheSameSoNothingIsConvertedTwice(string dialect)
    {
        ImageBuffer Render(ProofMaterial material)
        {
            var tracer = new ProofRequest("tile", "softbox", 96, 96, new OrbitCamera(0, 80, 1.3f)).Start(material);
            tracer.Accumulate(32);
            return View.Named("plain", ColourSpace.AcesCg).Apply(tracer.Picture());
        }
        async Task<ImageBuffer> Way(bool convert) =>
            Render(
                await ProofMaterial.OfNetworkAsync(
                    (await CompileAsync(dialect, "acescg", convert)).Network,
                    shop.Profiles.Find(dialect),
                    shop.Textures
                )
            );
        Assert.True(DeltaE.Between(await Way(false), await Way(true)).Mean < 0.1);
    }

    [Theory]
    [InlineData(true)]
    [InlineData(false)]
    public async Task MeasurementsAreLeftAloneEitherWay(bool convert)
    {
        var network = (await CompileAsync("openpbr", "acescg", convert)).Network;
        Assert.Contains(network.Textures, t => t.File.Content == Look().Slots["roughness"].File.Content && !t.Baked);
    }

    /// <summary>What writes files does not know views at all.</summary>
    [Fact]
    public void NothingThatWritesFilesKnowsViews()
    {
        foreach (var assembly in new[] { typeof(DialectCompiler).Assembly, typeof(PackageWriter).Assembly })
            Assert.Empty(Types.InAssembly(assembly).That().HaveDependencyOn("Kiln.Colour.Views").GetTypes());
    }
}
