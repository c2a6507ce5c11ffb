#:project ../src/Kiln.Proof/Kiln.Proof.csproj
#:property TieredCompilationQuickJit=false
// Rays a second of proofs of the vessel with six 2K maps, two threads; run by bench/bare.sh. Arguments: folder with m0..m5 at 2K, file for
// triangles and camera, seconds.
using System.Diagnostics;
using System.Globalization;
using System.Numerics;
using System.Runtime.InteropServices;
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
using Kiln.Proof.Geometry;
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
var form = Forms.Named("vessel");
var floor = Forms.Floor();
var (min, max) = (form.Positions.Aggregate(Vector3.Min), form.Positions.Aggregate(Vector3.Max));
var camera = new CameraFrame(OrbitCamera.For("vessel"), (min + max) * 0.5f, (max - min).Length() * 0.5f, 512, 512);
using (var file = new BinaryWriter(File.Create(args[1])))
{
    file.Write(form.Positions.Length + floor.Positions.Length);
    file.Write(form.Triangles + floor.Triangles);
    file.Write(form.Triangles);
    var tangent = camera.Spread * 512 / 2;
    var forward = camera.Direction(256, 256);
    var right = (camera.Direction(512, 256) / Vector3.Dot(camera.Direction(512, 256), forward) - forward) / tangent;
    var up = (camera.Direction(256, 0) / Vector3.Dot(camera.Direction(256, 0), forward) - forward) / tangent;
    foreach (var v in new[] { camera.Eye, forward, right, up })
        file.Write(MemoryMarshal.AsBytes(new[] { v }.AsSpan()));
    file.Write(tangent);
    file.Write(1f);
    file.Write(MemoryMarshal.AsBytes<Vector3>([.. form.Positions, .. floor.Positions]));
    file.Write(MemoryMarshal.AsBytes<int>([.. form.Indices, .. floor.Indices.Select(i => i + form.Positions.Length)]));
    file.Write(MemoryMarshal.AsBytes<Vector2>([.. form.Uvs, .. floor.Uvs]));
}
var material = await ProofMaterial.OfLookAsync(With("2048"), profile, new MapTextures(files, files));
var best = 0.0;
var perSample = 0.0;
for (var clock = Stopwatch.StartNew(); clock.Elapsed.TotalSeconds < double.Parse(args[2]); )
{
    var tracer = new ProofRequest("vessel", "softbox", 512, 512).Start(material);
    tracer.Accumulate(8);
    var (before, from) = (tracer.Rays, Stopwatch.GetTimestamp());
    tracer.Accumulate(8);
    best = Math.Max(best, (tracer.Rays - before) / Stopwatch.GetElapsedTime(from).TotalSeconds);
    perSample = (tracer.Rays - before) / (8.0 * 512 * 512);
}
Console.WriteLine($"{best / 1e6:0.000} {perSample:0.000}");

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
