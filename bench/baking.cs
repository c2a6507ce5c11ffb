#:project ../src/Kiln.Exchange/Kiln.Exchange.csproj
#:project ../src/Kiln.Proof/Kiln.Proof.csproj
#:property TieredCompilation=false
#:property PublishAot=false
// A look of six 4K maps written for a dialect, from its files to its files; run by bench/baking.sh. Arguments: folder of maps, dialect,
// folder to write to.
using System.Collections.Immutable;
using System.Diagnostics;
using System.Security.Cryptography;
using Kiln.Dialects.Baking;
using Kiln.Dialects.Lowering;
using Kiln.Dialects.Profiles;
using Kiln.Exchange.Gltf;
using Kiln.Exchange.Packages;
using Kiln.Looks.Document;
using Kiln.Looks.Evaluation;
using Kiln.Looks.Maps;
using Kiln.Looks.Readings;
using Kiln.Looks.Steps;
using Kiln.Looks.Steps.Kinds.Numbers;
using Kiln.Looks.Steps.Kinds.Reliefs;
using Kiln.Pixels;
using Kiln.Pixels.Decoding;
using Kiln.Pixels.Decoding.Headers;
using Kiln.Pixels.Decoding.Workers;
using Kiln.Proof.Geometry;

var here = new Here(Path.Combine(args[2], "contents"));
(string Name, MapRole Role, string Input, Reading Reading, Step[] Steps)[] maps =
[
    ("colour", MapRole.BaseColor, "base_color", new(ReadingKind.Colour, "srgb_texture", MapChannel.Rgb), []),
    ("metal", MapRole.Metalness, "base_metalness", new(ReadingKind.Scalar, "raw", MapChannel.Luminance), []),
    (
        "gloss",
        MapRole.Glossiness,
        "specular_roughness",
        new(ReadingKind.Scalar, "raw", MapChannel.Luminance),
        [new InvertStep { Id = "1" }]
    ),
    (
        "normal",
        MapRole.Normal,
        "geometry_normal",
        new(ReadingKind.Direction, "raw", MapChannel.Rgb, NormalY.Down),
        [new DecodeNormalStep(new Feed(1)) { Id = "1" }]
    ),
    ("occlusion", MapRole.AmbientOcclusion, "occlusion", new(ReadingKind.Scalar, "raw", MapChannel.Luminance), []),
    ("glow", MapRole.Emission, "emission_color", new(ReadingKind.Colour, "srgb_texture", MapChannel.Rgb), []),
];
var look = new Look
{
    Name = "bench",
    Lanes = ImmutableSortedDictionary<string, Lane>.Empty.Add("emission_luminance", new(LookValue.Of(1f))),
};
foreach (var (name, role, input, reading, steps) in maps)
{
    var path = Path.Combine(args[0], name + ".png");
    using var stream = File.OpenRead(path);
    var file = MapFile.Of(here.Add(path), name + ".png", HeaderReader.Read(stream, DecodeLimits.Default));
    look = look with
    {
        Slots = look.Slots.Add(role.Id(), new(role, file, [])),
        Lanes = look.Lanes.Add(input, new(Chain: new(new SlotOrigin(role.Id(), reading), [.. steps]))),
    };
}
var profile = DialectProfiles.Load(DialectProfiles.ShippedFolder()).Find(args[1]);
var compiled = await new DialectCompiler(profile, new Bakery(new MapTextures(here, here), here)).CompileAsync(look);
var tile = Forms.Tile();
var writer = new LookWriter(new CarrierForm("tile", tile.Positions, tile.Normals, tile.Tangents, tile.Uvs, tile.Indices), here, here);
foreach (var file in writer.Files(compiled.Network, profile))
{
    var path = Path.Combine(args[2], file.Path);
    Directory.CreateDirectory(Path.GetDirectoryName(path)!);
    using var to = File.Create(path);
    file.CopyTo(to, here);
}
Console.Error.WriteLine(
    $"{args[1]}: {compiled.Report.Baked.Length} lines baked, peak memory {Process.GetCurrentProcess().PeakWorkingSet64 >> 20} MB"
);

internal sealed class Here(string folder) : IContentFiles, IBakedFiles, IPictureDecoder
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

    public ContentHash Put(byte[] content)
    {
        var path = Path.Combine(Directory.CreateDirectory(folder).FullName, ContentHash.Of(content).ToString());
        File.WriteAllBytes(path, content);
        return Add(path);
    }

    public Task<ImageBuffer> DecodeAsync(string path, int? longest = null, CancellationToken cancel = default) =>
        Task.FromResult(DecodeWorker.InProcess(path, longest, DecodeLimits.Default));
}
