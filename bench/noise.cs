#:project ../src/Kiln.Analysis/Kiln.Analysis.csproj
#:project ../src/Kiln.Demo/Kiln.Demo.csproj
#:property PublishAot=false
#:property TieredCompilationQuickJit=false
// How far proofs of 16 samples are from those of 1024 on the looks of the demo, as they are and with their noise taken out: mean
// CIEDE2000 of
// displayed values. Arguments: side in pixels, light, look (or all); folder for pictures, if any.
using System.Diagnostics;
using System.Globalization;
using Kiln.Analysis.Difference;
using Kiln.Colour.Views;
using Kiln.Demo;
using Kiln.Dialects.Profiles;
using Kiln.Intake;
using Kiln.Intake.Listing;
using Kiln.Intake.Wiring;
using Kiln.Looks.Evaluation;
using Kiln.Pixels;
using Kiln.Pixels.Decoding;
using Kiln.Pixels.Decoding.Workers;
using Kiln.Pixels.Writing;
using Kiln.Proof.Materials;
using Kiln.Proof.Rendering;

CultureInfo.CurrentCulture = CultureInfo.InvariantCulture;
var side = int.Parse(args[0]);
var shop = new Here();
var work = Directory.CreateTempSubdirectory("kiln-noise-").FullName;
var folder = Path.Combine(work, "demo");
DemoDeliveries.Make(folder, 512);
var profile = DialectProfiles.Load(DialectProfiles.ShippedFolder()).Find("openpbr");
var view = View.Named("aces1-sdr", Kiln.Colour.Spaces.ColourSpace.AcesCg);
double before = 0,
    after = 0,
    seconds = 0;
var looks = 0;
foreach (var (name, _) in DemoDeliveries.All)
{
    var listing = DeliveryListing.Read([Path.Combine(folder, name)], Path.Combine(work, "unpacked " + name));
    foreach (var file in listing.Files)
        shop.Add(file.LocalPath);
    foreach (var set in (await new IntakeAnalysis(shop).RunAsync(listing, Path.GetFileNameWithoutExtension(name))).Sets)
    {
        var look = SetWiring.Wire(set);
        if (args.Length > 2 && args[2] != "all" && !look.Name.Contains(args[2]))
            continue;
        var material = await ProofMaterial.OfLookAsync(look, profile, new MapTextures(shop, shop));
        var request = new ProofRequest("vessel", args[1], side, side, WithLayers: true);
        var coarse = request.Start(material);
        coarse.Accumulate(16);
        var fine = (request with { WithLayers = false, Seed = 7 }).Start(material);
        fine.Accumulate(1024);
        var clock = Stopwatch.StartNew();
        var smooth = coarse.WithoutNoise();
        var took = clock.Elapsed.TotalSeconds;
        var shown = view.Apply(fine.Picture());
        double Far(ImageBuffer p) => DeltaE.Between(view.Apply(p), shown).Mean;
        var (a, b) = (Far(coarse.Picture()), Far(smooth));
        Console.WriteLine($"{look.Name}: {a:0.00} -> {b:0.00}, {took:0.00} s");
        (before, after, seconds, looks) = (before + a, after + b, seconds + took, looks + 1);
        if (args.Length > 3)
            foreach (var (what, picture) in new[] { ("16", coarse.Picture()), ("filtered", smooth), ("1024", fine.Picture()) })
                File.WriteAllBytes(Path.Combine(args[3], $"{look.Name} {what}.png"), PictureWriter.Png(view.Apply(picture)));
    }
}
Console.WriteLine(
    $"{looks} looks at {side} x {side} under {args[1]}: mean {before / looks:0.00} -> {after / looks:0.00}, filter {seconds / looks:0.00} s"
);

internal sealed class Here : IContentFiles, IPictureDecoder
{
    private readonly Dictionary<ContentHash, string> paths = [];

    public void Add(string path)
    {
        using var stream = File.OpenRead(path);
        paths[ContentHash.Of(stream)] = path;
    }

    public string PathOf(ContentHash content) => paths[content];

    public Task<ImageBuffer> DecodeAsync(string path, int? longest = null, CancellationToken cancel = default) =>
        Task.FromResult(DecodeWorker.InProcess(path, longest, DecodeLimits.Default));
}
