#:project ../src/Kiln.Analysis/Kiln.Analysis.csproj
#:property PublishAot=false
// dotnet run bench/fit.cs -c Release -- profiles [PAIRS]
// The hardest pairs of dialects by reflectance, and what a fit makes of them: ΔE of proofs under three lights before and after. Prints
// tables for docs/conversion.md.
using System.Collections.Immutable;
using System.Globalization;
using System.Security.Cryptography;
using Kiln.Analysis.Fit;
using Kiln.Colour;
using Kiln.Colour.Configs;
using Kiln.Colour.Spaces;
using Kiln.Dialects.Baking;
using Kiln.Dialects.Lowering;
using Kiln.Dialects.Profiles;
using Kiln.Looks.Document;
using Kiln.Looks.Evaluation;
using Kiln.Looks.Maps;
using Kiln.Looks.Readings;
using Kiln.Looks.Steps;
using Kiln.Pixels;
using Kiln.Pixels.Decoding;
using Kiln.Pixels.Decoding.Headers;
using Kiln.Pixels.Decoding.Workers;
using Kiln.Pixels.Writing;
using Kiln.Proof.Materials;

CultureInfo.CurrentCulture = CultureInfo.InvariantCulture;
var shelf = new Shelf();
var profiles = DialectProfiles.Load(DialectProfiles.ShippedFolder(args[0]));
var look = shelf.Look();
var spread = await LookSpread.OfAsync(look, shelf.Textures, WorkingSpace.AcesCg, null);
var pairs = new List<(DialectProfile From, DialectProfile To, double Error)>();
foreach (var from in profiles.All)
foreach (var to in profiles.All.Where(p => p != from))
    pairs.Add((from, to, new TrimSearch(spread, new(from, WorkingSpace.AcesCg), new(to, WorkingSpace.AcesCg), to).Error([])));
Console.WriteLine("Difference of reflectance in L* (from in rows, to in columns):\n");
Console.WriteLine(
    "| | " + string.Join(" | ", profiles.All.Select(p => p.Title)) + " |\n|---|" + string.Concat(profiles.All.Select(_ => "---|"))
);
foreach (var from in profiles.All)
    Console.WriteLine(
        $"| {from.Title} | "
            + string.Join(
                " | ",
                profiles.All.Select(to => from == to ? "" : $"{pairs.First(p => p.From == from && p.To == to).Error:0.00}")
            )
            + " |"
    );
Console.WriteLine(
    "\n| from | to | trims | light | mean ΔE before | after | 95 % before | after | noise | L* before | after | seconds "
        + "|\n|---|---|---|---|---|---|---|---|---|---|---|---|"
);

// The hardest of each dialect to be met, so that four different ones are shown.
foreach (var (from, to, _) in pairs.OrderByDescending(p => p.Error).DistinctBy(p => p.To).Take(args.Length > 1 ? int.Parse(args[1]) : 4))
{
    async Task<ProofMaterial> As(DialectProfile profile, ImmutableArray<Trim> trims) =>
        await ProofMaterial.OfNetworkAsync(
            (
                await new DialectCompiler(profile, new Bakery(shelf.Textures, shelf)).CompileAsync(
                    trims.IsEmpty ? look : look with { Trims = look.Trims.SetItem(profile.Id, trims) }
                )
            ).Network,
            profile,
            shelf.Textures
        );
    var result = await new TrimFit(from, to, WorkingSpace.AcesCg).RunAsync(spread, await As(from, []), trims => As(to, trims));
    var words = result.Refusal ?? string.Join(", ", result.Trims.Select(t => $"{t.Input} {t.Operation} {t.Value:0.###}"));
    for (var i = 0; i < result.Before.Lights.Count; i++)
    {
        var (before, after) = (result.Before.Lights[i], result.After.Lights[i]);
        Console.WriteLine(
            $"| {(i == 0 ? from.Title : "")} | {(i == 0 ? to.Title : "")} | {(i == 0 ? words : "")} | {before.Light} | "
                + $"{before.MeanDeltaE:0.00} | {after.MeanDeltaE:0.00} | {before.Percentile95:0.00} | {after.Percentile95:0.00} | "
                + $"{before.Noise:0.00} | {(i == 0 ? $"{result.ReflectanceBefore:0.00}" : "")} | "
                + $"{(i == 0 ? $"{result.ReflectanceAfter:0.00}" : "")} | {(i == 0 ? $"{result.Seconds:0.0}" : "")} |"
        );
    }
}

/// <summary>Contents in a folder that is gone afterwards, and a look whose maps take every roughness, metal and paint.</summary>
sealed class Shelf : IContentFiles, IBakedFiles, IPictureDecoder
{
    private readonly string folder = Directory.CreateTempSubdirectory("kiln-fit-").FullName;

    public Shelf() => Textures = new(this, this);

    public MapTextures Textures { get; }

    public string PathOf(ContentHash content) => Path.Combine(folder, content.ToString());

    public ContentHash Put(byte[] content)
    {
        var hash = ContentHash.Of(content);
        File.WriteAllBytes(PathOf(hash), content);
        return hash;
    }

    public Task<ImageBuffer> DecodeAsync(string path, int? longest = null, CancellationToken cancel = default) =>
        Task.FromResult(DecodeWorker.InProcess(path, longest, DecodeLimits.Default));

    public Look Look()
    {
        const int side = 256;
        Slot Map(string name, MapRole role, int channels, Func<int, int, int, byte> code)
        {
            var picture = new ImageBuffer(side, side, ImageBuffer.UsualChannels(channels), SampleType.U8);
            for (var y = 0; y < side; y++)
            for (var x = 0; x < side; x++)
            for (var c = 0; c < channels; c++)
                picture.Data[(y * side + x) * channels + c] = code(x, y, c);
            var bytes = PictureWriter.Png(picture);
            using var stream = new MemoryStream(bytes);
            var file = MapFile.Of(Put(bytes), name, HeaderReader.Read(stream, DecodeLimits.Default));
            return new(role, file, [file]);
        }
        // Bands of roughness along u; paint and metal by turns along v; colour changing with both.
        var slots = ImmutableSortedDictionary<string, Slot>
            .Empty.Add("roughness", Map("roughness.png", MapRole.Roughness, 1, (x, _, _) => (byte)(20 + 220 * x / side)))
            .Add("metalness", Map("metalness.png", MapRole.Metalness, 1, (_, y, _) => (byte)(y * 4 / side % 2 == 0 ? 0 : 255)))
            .Add("baseColor", Map("colour.png", MapRole.BaseColor, 3, (x, y, c) => (byte)(
                        70
                        + (
                            c == 0 ? 150 * y / side
                            : c == 1 ? 110
                            : 150 * (side - x) / side
                        )
                    )));
        Lane From(string slot, Reading reading) => new(Chain: new(new SlotOrigin(slot, reading), []));
        return new()
        {
            Name = "bands of roughness",
            Slots = slots,
            Lanes = ImmutableSortedDictionary<string, Lane>
                .Empty.Add("specular_roughness", From("roughness", new(ReadingKind.Scalar, "raw", MapChannel.R)))
                .Add("base_metalness", From("metalness", new(ReadingKind.Scalar, "raw", MapChannel.R)))
                .Add("base_color", From("baseColor", new(ReadingKind.Colour, "srgb_texture", MapChannel.Rgb))),
        };
    }
}
