using System.Collections.Immutable;
using System.Numerics;
using Kiln.Colour.Spaces;
using Kiln.Dialects.Baking;
using Kiln.Dialects.Lowering;
using Kiln.Dialects.Networks;
using Kiln.Dialects.Profiles;
using Kiln.Looks.Document;
using Kiln.Looks.Graph;
using Kiln.Looks.Maps;
using Kiln.Looks.Readings;
using Kiln.Looks.Steps;
using Kiln.Looks.Steps.Kinds.Numbers;

namespace Kiln.Dialects.Tests;

/// <summary>Each rule by which a look becomes a network, by itself; nothing here may ask for a bake.</summary>
public sealed class LoweringRules
{
    private static readonly DialectProfiles Profiles = DialectProfiles.Load(DialectProfiles.ShippedFolder());

    private static MapFile Grey => new(Hashes.Named("a"), "grey.png", 4, 4, 8, false, "png", ["Y"], null);

    private static MapFile Packed => new(Hashes.Named("b"), "orm.png", 4, 4, 8, false, "png", ["R", "G", "B"], null);

    private static Task<CompiledLook> CompileAsync(string dialect, Look look) =>
        new DialectCompiler(Profiles.Find(dialect), new Bakery(null!, null!)).CompileAsync(look);

    private static Look With(string input, MapFile file, Reading reading, params Step[] steps) =>
        new()
        {
            Name = "one lane",
            Slots = ImmutableSortedDictionary<string, Slot>.Empty.Add("map", new(MapRole.Roughness, file, [file])),
            Lanes = ImmutableSortedDictionary<string, Lane>.Empty.Add(
                input,
                new(Chain: new(new SlotOrigin("map", reading), [.. steps.Select((s, i) => s with { Id = $"s{i + 1}" })]))
            ),
        };

    /// <summary>Categories of the nodes from an input of the surface back to its picture.</summary>
    private static IReadOnlyList<string> Way(Network network, string input)
    {
        var result = new List<string>();
        var port = network.Nodes.First(n => n.Type == "surfaceshader").Port(input);
        while (port?.Node is { } name)
        {
            var node = network.Node(name);
            result.Add(node.Category);
            port = node.Ports.FirstOrDefault(p => p.Node is { } before && network.Node(before).Category is not ("place2d" or "texcoord"));
        }
        return result;
    }

    private static readonly Dictionary<string, Step[]> Steps = new()
    {
        ["as it is"] = [],
        ["invert"] = [new InvertStep()],
        ["gain"] = [new GainStep(0.5f)],
        ["offset"] = [new GainStep(1, 0.1f)],
        ["gain and offset"] = [new GainStep(0.5f, 0.1f)],
        ["clamp"] = [new ClampStep(0.2f, 0.8f)],
        ["power"] = [new PowerStep(2)],
        ["left out"] = [new InvertStep { Bypassed = true }],
        ["two"] = [new InvertStep(), new PowerStep(2)],
    };

    /// <summary>Names of nodes as the standard library of MaterialX 1.39 has them.</summary>
    [Theory]
    [InlineData("as it is", "image")]
    [InlineData("invert", "invert image")]
    [InlineData("gain", "multiply image")]
    [InlineData("offset", "add image")]
    [InlineData("gain and offset", "add multiply image")]
    [InlineData("clamp", "clamp image")]
    [InlineData("power", "power image")]
    [InlineData("left out", "image")]
    [InlineData("two", "power invert image")]
    public async Task AStepIsItsNode(string steps, string nodes)
    {
        var compiled = await CompileAsync(
            "openpbr",
            With("specular_roughness", Grey, new(ReadingKind.Scalar, "raw", MapChannel.Luminance), Steps[steps])
        );
        Assert.Equal(nodes.Split(' '), Way(compiled.Network, "specular_roughness"));
        Assert.Empty(compiled.Report.Baked);
        Assert.False(Assert.Single(compiled.Network.Textures).Baked);
    }

    [Theory]
    [InlineData("g", "1")]
    [InlineData("b", "2")]
    public async Task AChannelIsTakenByItsNumber(string channel, string index)
    {
        var compiled = await CompileAsync(
            "openpbr",
            With("specular_roughness", Packed, new(ReadingKind.Scalar, "raw", MapChannels.Parse(channel)))
        );
        var extract = Assert.Single(compiled.Network.Nodes, n => n.Category == "extract");
        Assert.Equal(index, extract.Port("index")!.Value);
    }

    /// <summary>A picture that is read as a number gives its first channel.</summary>
    [Fact]
    public async Task TheFirstChannelNeedsNoNode()
    {
        var compiled = await CompileAsync("openpbr", With("specular_roughness", Packed, new(ReadingKind.Scalar, "raw", MapChannel.R)));
        Assert.Equal(["image"], Way(compiled.Network, "specular_roughness"));
        Assert.Equal("float", compiled.Network.Nodes.First(n => n.Category == "image").Type);
    }

    [Fact]
    public async Task OnlyColoursHaveASpace()
    {
        var colour = await CompileAsync("openpbr", With("base_color", Packed, new(ReadingKind.Colour, "srgb_texture", MapChannel.Rgb)));
        Assert.Equal("srgb_texture", Picture(colour).Space);
        var number = await CompileAsync("openpbr", With("specular_roughness", Grey, new(ReadingKind.Scalar, "raw", MapChannel.Luminance)));
        Assert.Null(Picture(number).Space);

        static NetworkPort Picture(CompiledLook compiled) =>
            Assert.Single(compiled.Network.Nodes, n => n.Category == "image").Port("file")!;
    }

    [Fact]
    public async Task AMapOnOneInputIsNoMapOnAnother()
    {
        var compiled = await CompileAsync(
            "openpbr",
            With("specular_roughness", Grey, new(ReadingKind.Scalar, "raw", MapChannel.Luminance))
        );
        var surface = compiled.Network.Nodes.First(n => n.Type == "surfaceshader");
        Assert.Equal(["specular_roughness"], surface.Ports.Where(p => p.Node is not null).Select(p => p.Name));
    }

    [Fact]
    public void AColourIsWrittenInTheValueSpaceRoundedAndWithinItsLimits()
    {
        var gltf = Profiles.Find("gltf");
        var input = gltf.Input("baseColor");
        var bright = WrittenColour.Of(gltf, input, WorkingSpace.AcesCg, new(2, 0.5f, 0.5f));
        Assert.True(bright.IsClipped);
        Assert.Equal(1, bright.Written.X);
        // 0.8 of linear Rec.709 comes back from ACEScg as 0.8, not as 0.79999995.
        var working = ColourTransform.Between(ColourSpace.LinRec709, ColourSpace.AcesCg).Apply(new Vector3(0.8f, 0.4f, 0.1f));
        var written = WrittenColour.Of(gltf, input, WorkingSpace.AcesCg, working);
        Assert.False(written.IsClipped);
        Assert.Equal(new(0.8f, 0.4f, 0.1f), written.Written);
    }

    [Fact]
    public void TrimsStandInOrderAndComeBackIntoTheRange()
    {
        var graph = new ShadeGraph();
        var half = graph.Constant(0.5f);
        float Trimmed(params Trim[] trims) => graph.ValueOf(Trimming.Apply(graph, half, "specular_roughness", trims)!.Value).X;
        Assert.Equal(0.4f, Trimmed(new Trim("specular_roughness", "gain", 0.8f)), 1e-6f);
        Assert.Equal(0.16f, Trimmed(new("specular_roughness", "gain", 0.8f), new("specular_roughness", "power", 2)), 1e-6f);
        Assert.Equal(0.2f, Trimmed(new("specular_roughness", "power", 2), new("specular_roughness", "gain", 0.8f)), 1e-6f);
        Assert.Equal(1, Trimmed(new Trim("specular_roughness", "offset", 0.9f)), 1e-6f);
        Assert.Equal(0.5f, Trimmed(new Trim("coat_weight", "offset", 0.9f)), 1e-6f);
        Assert.Null(Trimming.Apply(graph, null, "specular_roughness", []));
        Assert.Throws<ProfileException>(() => Trimming.Apply(graph, half, "specular_roughness", [new("specular_roughness", "twist", 1)]));
    }

    [Theory]
    [InlineData("openpbr", ReadingKind.Colour, "srgb_texture", "colorspace=\"srgb_texture\"")]
    [InlineData("openpbr", ReadingKind.Scalar, "raw", "nothing: a number has no colour space")]
    [InlineData("openpbr", ReadingKind.Direction, "raw", "nothing: a vector has no colour space; Y up")]
    [InlineData("gltf", ReadingKind.Colour, "srgb_texture", "nothing (sRGB, by the format)")]
    [InlineData("gltf", ReadingKind.Scalar, "raw", "nothing (as stored, by the format)")]
    public void TheTableSaysWhatTheDocumentSays(string dialect, ReadingKind kind, string space, string said) =>
        Assert.Equal(said, WrittenReadings.Of(Profiles.Find(dialect), kind, space, s => "of the config: " + s));
}
