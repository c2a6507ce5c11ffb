using System.Collections.Immutable;
using Kiln.Colour.Spaces;
using Kiln.Looks.Document;
using Kiln.Looks.Evaluation;
using Kiln.Looks.Graph;
using Kiln.Looks.Maps;
using Kiln.Looks.Readings;
using Kiln.Pixels;
using Kiln.Pixels.Decoding;
using Kiln.Store.Looks;

namespace Kiln.Server.Looks.Bench;

/// <summary>What a kept chain makes of a ramp: the ramp above, the result below.</summary>
internal static class ChainPicture
{
    private const int Width = 208,
        Height = 112;

    /// <summary>A ramp from black to white that needs no file.</summary>
    private sealed class Ramp : IContentFiles, IPictureDecoder
    {
        public string PathOf(ContentHash content) => "ramp";

        public Task<ImageBuffer> DecodeAsync(string path, int? longest = null, CancellationToken cancel = default)
        {
            var ramp = new ImageBuffer(Width, 1, ImageBuffer.Grey, SampleType.F32);
            for (var x = 0; x < Width; x++)
                ramp.Samples<float>()[x] = x / (Width - 1f);
            return Task.FromResult(ramp);
        }
    }

    public static async Task<ImageBuffer> OfAsync(KeptChain kept, CancellationToken cancel)
    {
        var file = new MapFile(ContentHash.Of("ramp"u8), "ramp", Width, 1, 32, true, "ramp", ["Y"], null);
        var look = new Look
        {
            Name = kept.Name,
            Slots = ImmutableSortedDictionary<string, Slot>.Empty.Add("ramp", new(MapRole.Height, file, [])),
        };
        var graph = new ShadeGraph(WorkingSpace.AcesCg);
        var lanes = new LaneGraphs(look, graph);
        var origin = new SlotOrigin("ramp", new(ReadingKind.Scalar, "raw", MapChannel.Luminance));
        int before = lanes.Chain(new(origin)),
            after = lanes.Chain(new(origin, kept.Steps));
        var files = new Ramp();
        var program = await ShadeProgram.LoadAsync(graph, [before, after], new MapTextures(files, files), null, cancel);
        ImageBuffer Shown(int node) =>
            ShownPicture.Of(program.Picture(node, Width, Height / 2, graph[node].Type), graph[node].Type, graph.Working);
        ImageBuffer above = Shown(before),
            below = Shown(after),
            result = new(Width, Height, ImageBuffer.Rgb, SampleType.U8);
        for (var y = 0; y < Height; y++)
        for (var x = 0; x < Width; x++)
        {
            var half = y < Height / 2 ? above : below;
            for (var c = 0; c < 3; c++)
                result.Data[(y * Width + x) * 3 + c] = (byte)
                    MathF.Round(Math.Clamp(half[x, y % (Height / 2), Math.Min(c, half.ChannelCount - 1)], 0, 1) * 255);
        }
        return result;
    }
}
