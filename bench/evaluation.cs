#:project ../src/Kiln.Looks/Kiln.Looks.csproj
#:property TieredCompilation=false
// A 4K chain of read, remap, curve, mix with a second 4K map and grade, written as EXR; run by bench/evaluation.sh. Arguments: base map,
// second map, result.
using System.Collections.Immutable;
using System.Diagnostics;
using Kiln.Looks.Document;
using Kiln.Looks.Evaluation;
using Kiln.Looks.Graph;
using Kiln.Looks.Maps;
using Kiln.Looks.Readings;
using Kiln.Looks.Steps;
using Kiln.Looks.Steps.Kinds.Colours;
using Kiln.Looks.Steps.Kinds.Numbers;
using Kiln.Pixels;
using Kiln.Pixels.Decoding;
using Kiln.Pixels.Decoding.Headers;
using Kiln.Pixels.Decoding.Workers;
using Kiln.Pixels.Writing;

var clock = Stopwatch.StartNew();
var files = new Here();
MapFile File(string path)
{
    using var stream = System.IO.File.OpenRead(path);
    return MapFile.Of(files.Add(path), Path.GetFileName(path), HeaderReader.Read(stream, DecodeLimits.Default));
}
var (first, second) = (File(args[0]), File(args[1]));
var raw = new Reading(ReadingKind.Colour, "raw", MapChannel.Rgb);
var look = new Look
{
    Name = "bench",
    Slots = ImmutableSortedDictionary<string, Slot>
        .Empty.Add("a", new(MapRole.BaseColor, first, []))
        .Add("b", new(MapRole.BaseColor, second, [])),
};
var chain = new Chain(
    new SlotOrigin("a", raw),
    [
        new RemapStep(0.1f, 0.9f, 0, 1) { Id = "1" },
        new CurveStep([new(0, 0), new(0.25f, 0.15f), new(0.75f, 0.85f), new(1, 1)]) { Id = "2" },
        new MixStep(MixMode.Normal, new(Chain: new(new SlotOrigin("b", raw))), new(0.35f)) { Id = "3" },
        new GradeStep(Value: 0.9f, Contrast: 1.2f, Pivot: 0.5f) { Id = "4" },
    ]
);
var graph = new ShadeGraph();
var node = new LaneGraphs(look, graph).Chain(chain);
var program = await ShadeProgram.LoadAsync(graph, [node], new MapTextures(files, files), null);
var loaded = clock.Elapsed.TotalSeconds;
var picture = program.Picture(node, first.Width, first.Height, graph[node].Type, SampleType.F16);
var evaluated = clock.Elapsed.TotalSeconds;
using (var stream = System.IO.File.Create(args[2]))
    ExrWriter.Write(stream, picture);
Console.Error.WriteLine(
    $"decoded and made ready {loaded:0.00} s, evaluated {evaluated - loaded:0.00} s, written "
        + $"{clock.Elapsed.TotalSeconds - evaluated:0.00} s, peak memory {Process.GetCurrentProcess().PeakWorkingSet64 >> 20} MB"
);

internal sealed class Here : IContentFiles, IPictureDecoder
{
    private readonly Dictionary<ContentHash, string> paths = [];

    /// <summary>A file of the disk, by what it holds.</summary>
    public ContentHash Add(string path)
    {
        using var stream = System.IO.File.OpenRead(path);
        var content = ContentHash.Of(stream);
        paths[content] = path;
        return content;
    }

    public string PathOf(ContentHash content) => paths[content];

    public Task<ImageBuffer> DecodeAsync(string path, int? longest = null, CancellationToken cancel = default) =>
        Task.FromResult(DecodeWorker.InProcess(path, longest, DecodeLimits.Default));
}
