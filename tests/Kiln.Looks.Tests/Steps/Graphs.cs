using System.Collections.Immutable;
using System.Numerics;
using Kiln.Looks.Document;
using Kiln.Looks.Evaluation;
using Kiln.Looks.Graph;
using Kiln.Looks.Maps;
using Kiln.Looks.Readings;
using Kiln.Looks.Steps;
using Kiln.Pixels;
using Kiln.Pixels.Decoding;

namespace Kiln.Looks.Tests.Steps;

/// <summary>Chains of steps over values and pictures that are held in memory.</summary>
internal sealed class Graphs : IContentFiles, IPictureDecoder
{
    private readonly Dictionary<string, ImageBuffer> pictures = [];

    public string PathOf(ContentHash content) => content.ToString();

    public Task<ImageBuffer> DecodeAsync(string path, int? longest = null, CancellationToken cancel = default) =>
        Task.FromResult(pictures[path]);

    public MapFile Add(string name, ImageBuffer picture)
    {
        var content = Hashes.Named(name);
        pictures[content.ToString()] = picture;
        return new(
            content,
            name,
            picture.Width,
            picture.Height,
            picture.Type.Bytes() * 8,
            picture.Type.IsFloat(),
            "png",
            picture.Channels,
            null
        );
    }

    public static LookValue Colour(Vector3 v) => new TintValue(v.X, v.Y, v.Z, "acescg");

    /// <summary>A constant through steps; what a chain of constants folds to.</summary>
    public static Vector3 Of(LookValue start, params Step[] steps)
    {
        var graph = new ShadeGraph();
        var node = new LaneGraphs(new Look { Name = "steps" }, graph).Chain(
            new Chain(new ConstantOrigin(start), [.. steps.Select((s, i) => s with { Id = $"s{i}" })])
        );
        Assert.True(graph.IsConstant(node));
        return graph.ValueOf(node);
    }

    public static Vector3 Of(Vector3 colour, params Step[] steps) => Of(Colour(colour), steps);

    public static float Of(float number, params Step[] steps) => Of(LookValue.Of(number), steps).X;

    public Look LookWith(params (string Slot, MapFile File)[] maps) =>
        new() { Name = "steps", Slots = maps.ToImmutableSortedDictionary(m => m.Slot, m => new Slot(MapRole.Height, m.File, [m.File])) };

    public static Origin Scalar(string slot) => new SlotOrigin(slot, new(ReadingKind.Scalar, "raw", MapChannel.Luminance));

    public async Task<(ShadeProgram Program, int Node, ShadeGraph Graph)> LoadAsync(Look look, Chain chain)
    {
        var graph = new ShadeGraph();
        var node = new LaneGraphs(look, graph).Chain(chain);
        return (await ShadeProgram.LoadAsync(graph, [node], new MapTextures(this, this), null), node, graph);
    }

    public async Task<ImageBuffer> PictureAsync(Look look, Chain chain, int width, int height)
    {
        var (program, node, graph) = await LoadAsync(look, chain);
        return program.Picture(node, width, height, graph[node].Type);
    }

    public static ImageBuffer Filled(int width, int height, Func<int, int, float> value, SampleType type = SampleType.F32)
    {
        var picture = new ImageBuffer(width, height, ImageBuffer.Grey, type);
        var row = new float[width];
        for (var y = 0; y < height; y++)
        {
            for (var x = 0; x < width; x++)
                row[x] = value(x, y);
            picture.WriteRow(y, row);
        }
        return picture;
    }
}
