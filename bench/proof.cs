#:project ../src/Kiln.Proof/Kiln.Proof.csproj
#:property TieredCompilationQuickJit=false
// Samples a second of proofs by form, maps and threads; run by bench/proof.sh. Argument: folder with m0..m5 at 2K and 4K.
using System.Diagnostics;
using System.Globalization;
using Kiln.Dialects.Profiles;
using Kiln.Looks.Document;
using Kiln.Looks.Evaluation;
using Kiln.Looks.Maps;
using Kiln.Looks.Readings;
using Kiln.Looks.Steps;
using Kiln.Looks.Steps.Kinds.Reliefs;
using Kiln.Pixels;
using Kiln.Pixels.Decoding;
using Kiln.Pixels.Decoding.Headers;
using Kiln.Pixels.Decoding.Workers;
using Kiln.Proof.Materials;
using Kiln.Proof.Rendering;

CultureInfo.CurrentCulture = CultureInfo.InvariantCulture;
var files = new Here();
var profile = DialectProfiles.Load(DialectProfiles.ShippedFolder()).Find("openpbr");
(LaneAddress Lane, MapRole Role, Reading Reading)[] maps =
[
    ("base_color", MapRole.BaseColor, new(ReadingKind.Colour, "srgb_texture", MapChannel.Rgb)),
    ("specular_roughness", MapRole.Roughness, new(ReadingKind.Scalar, "raw", MapChannel.R)),
    ("base_metalness", MapRole.Metalness, new(ReadingKind.Scalar, "raw", MapChannel.R)),
    ("geometry_normal", MapRole.Normal, new(ReadingKind.Direction, "raw", MapChannel.Rgb)),
    ("specular_weight", MapRole.SpecularLevel, new(ReadingKind.Scalar, "raw", MapChannel.R)),
    ("emission_color", MapRole.Emission, new(ReadingKind.Colour, "srgb_texture", MapChannel.Rgb)),
];
Look With(string size)
{
    var look = new Look { Name = "bench" };
    for (var i = 0; i < maps.Length; i++)
    {
        var path = Path.Combine(args[0], $"m{i}-{size}.png");
        using var stream = File.OpenRead(path);
        var file = MapFile.Of(files.Add(path), Path.GetFileName(path), HeaderReader.Read(stream, DecodeLimits.Default));
        var slot = $"s{i}";
        look = look with
        {
            Slots = look.Slots.Add(slot, new(maps[i].Role, file, [])),
            Lanes = look.Lanes.SetItem(
                maps[i].Lane.Text,
                new(
                    Chain: new(
                        new SlotOrigin(slot, maps[i].Reading),
                        maps[i].Lane.Is("geometry_normal") ? [new DecodeNormalStep(new(1f)) { Id = "n" }] : []
                    )
                )
            ),
        };
    }
    return look;
}
foreach (
    var (name, look) in new[] { ("no maps", new Look { Name = "plain" }), ("six 2K maps", With("2048")), ("six 4K maps", With("4096")) }
)
{
    var material = await ProofMaterial.OfLookAsync(look, profile, new MapTextures(files, files));
    foreach (var form in new[] { "sphere", "vessel", "tile" })
    {
        var line = new List<string>();
        foreach (var threads in new[] { 1, 2 })
        {
            var tracer = new ProofRequest(form, "softbox", 256, 256).Start(material);
            tracer.Accumulate(8, threads: threads);
            var before = tracer.Rays;
            var clock = Stopwatch.StartNew();
            tracer.Accumulate(32, threads: threads);
            var seconds = clock.Elapsed.TotalSeconds;
            line.Add(
                $"{threads} thread{(threads > 1 ? "s" : "")} {256 * 256 * 32 / seconds / 1e6:0.000} M samples/s, "
                    + $"{(tracer.Rays - before) / seconds / 1e6:0.00} M rays/s"
            );
        }
        Console.WriteLine($"{name}, {form}: {string.Join("; ", line)}");
    }
    if (name == "six 2K maps")
    {
        var clock = Stopwatch.StartNew();
        var tracer = new ProofRequest("vessel", "softbox", 512, 512).Start(material);
        tracer.Accumulate(1);
        var first = clock.Elapsed.TotalSeconds;
        tracer.Accumulate(63);
        Console.WriteLine(
            $"vessel with six 2K maps, 512 x 512: first sample {first:0.000} s, 64 samples {clock.Elapsed.TotalSeconds:0.0} s, "
                + $"noise {tracer.Noise():0.000}"
        );
        using var stop = new CancellationTokenSource();
        var cancelled = Task.Run(() =>
        {
            try
            {
                tracer.Accumulate(64, stop.Token);
            }
            catch (OperationCanceledException) { }
        });
        await Task.Delay(300);
        clock.Restart();
        stop.Cancel();
        await cancelled;
        Console.WriteLine($"cancelled in {clock.Elapsed.TotalMilliseconds:0.0} ms");
    }
    Console.WriteLine($"peak memory {Process.GetCurrentProcess().PeakWorkingSet64 >> 20} MB, textures {material.TextureBytes >> 20} MB");
}

internal sealed class Here : IContentFiles, IPictureDecoder
{
    private readonly Dictionary<ContentHash, string> paths = [];

    /// <summary>A file of the disk, by what it holds.</summary>
    public ContentHash Add(string path)
    {
        using var stream = File.OpenRead(path);
        var content = ContentHash.Of(stream);
        paths[content] = path;
        return content;
    }

    public string PathOf(ContentHash content) => paths[content];

    public Task<ImageBuffer> DecodeAsync(string path, int? longest = null, CancellationToken cancel = default) =>
        Task.FromResult(DecodeWorker.InProcess(path, longest, DecodeLimits.Default));
}
