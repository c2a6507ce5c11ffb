#:project ../src/Kiln.Proof/Kiln.Proof.csproj
#:property PublishAot=false
// White furnace of every dialect: what a white surface returns of light from everywhere, as least and most over angles. Prints a table for
// docs/proof.md.
using System.Globalization;
using System.Numerics;
using System.Runtime.Intrinsics;
using Kiln.Dialects.Profiles;
using Kiln.Looks.Document;
using Kiln.Looks.Evaluation;
using Kiln.Looks.Maps;
using Kiln.Looks.Steps;
using Kiln.Pixels;
using Kiln.Pixels.Decoding;
using Kiln.Pixels.Decoding.Headers;
using Kiln.Pixels.Decoding.Workers;
using Kiln.Proof.Materials;
using Kiln.Scattering;
using Kiln.Simd;

CultureInfo.CurrentCulture = CultureInfo.InvariantCulture;
var none = new None();
float[] cosines = [0.05f, 0.15f, 0.3f, 0.5f, 0.75f, 1f];
LookValue white = new TintValue(1, 1, 1, "acescg");
(string Kind, (string, LookValue)[] Own)[] kinds =
[
    ("dielectric", []),
    ("metal", [("base_metalness", LookValue.Of(1f))]),
    ("half metal", [("base_metalness", LookValue.Of(0.5f))]),
    ("coated metal", [("base_metalness", LookValue.Of(1f)), ("coat_weight", LookValue.Of(1f)), ("coat_roughness", LookValue.Of(0.2f))]),
    ("fuzzy", [("fuzz_weight", LookValue.Of(1f))]),
    ("filmed", [("thin_film_weight", LookValue.Of(1f)), ("thin_film_thickness", LookValue.Of(0.4f))]),
    ("glass", [("transmission_weight", LookValue.Of(1f))]),
];
double worst = 0;
foreach (var profile in DialectProfiles.Load(args.Length > 0 ? args[0] : DialectProfiles.ShippedFolder()).All)
{
    Console.WriteLine(
        $"\n{profile.Title}: {profile.Scattering.Diffuse}, {profile.Scattering.Dielectric}, {profile.Scattering.Metal}, "
            + $"{profile.Scattering.Distribution}, {(profile.Scattering.Compensation ? "compensated" : "not compensated")}\n"
    );
    Console.WriteLine(
        "| roughness | " + string.Join(" | ", kinds.Select(k => k.Kind)) + " |\n|---|" + string.Concat(kinds.Select(_ => "---|"))
    );
    foreach (var roughness in new[] { 0f, 0.1f, 0.2f, 0.3f, 0.4f, 0.5f, 0.6f, 0.7f, 0.8f, 0.9f, 1f })
    {
        var line = new List<string>();
        foreach (var (_, own) in kinds)
        {
            var look = new Look { Name = "white" };
            foreach (
                var (input, value) in (IEnumerable<(string, LookValue)>)
                    [("base_color", white), ("specular_roughness", LookValue.Of(roughness)), .. own]
            )
                look = look with { Lanes = look.Lanes.SetItem(input, new(value)) };
            var material = await ProofMaterial.OfNetworkAsync(
                (
                    await new Kiln.Dialects.Lowering.DialectCompiler(
                        profile,
                        new Kiln.Dialects.Baking.Bakery(new MapTextures(none, none), none)
                    ).CompileAsync(look)
                ).Network,
                profile,
                new MapTextures(none, none)
            );
            var p = material.Plain;
            material.At(WideMath.Of(0), WideMath.Of(0), WideMath.Of(1), material.NewScratch(), ref p, out _);
            var albedos = cosines.Select(c => Albedo(material.Model, p, c)).ToList();
            line.Add($"{albedos.Min(a => a.Least):0.000} to {albedos.Max(a => a.Most):0.000}");
            worst = Math.Max(worst, albedos.Max(a => a.Most));
        }
        Console.WriteLine($"| {roughness:0.0} | {string.Join(" | ", line)} |");
    }
}
Console.WriteLine($"\nMost anywhere {worst:0.0000}; standard error at most 0.001.");

static (double Least, double Most) Albedo(SurfaceModel model, WideParameters p, float cos)
{
    var surface = new WideSurface();
    surface.Fill(model, p, Wide3.Of(new(MathF.Sqrt(1 - cos * cos), 0, cos)), WideMath.Of(0));
    var random = new Random(7);
    double squares = 0,
        sum = 0;
    var all = Vector3.Zero;
    const int side = 128;
    Vector256<float> Eight(Func<int, float> number) => Vector256.Create([.. Enumerable.Range(0, WideMath.Lanes).Select(number)]);
    for (var round = 1; round <= 300; round++)
    {
        var part = Vector3.Zero;
        for (var i = 0; i < side; i++)
        for (var j = 0; j < side; j += WideMath.Lanes)
        {
            var wi = surface.Sample(
                Eight(_ => random.NextSingle()),
                Eight(_ => (i + random.NextSingle()) / side),
                Eight(k => (j + k + random.NextSingle()) / side)
            );
            surface.Evaluate(wi, out var light, out var density);
            for (var lane = 0; lane < WideMath.Lanes; lane++)
            {
                var v = density[lane] > 0 ? light[lane].Sum / density[lane] : Vector3.Zero;
                part += v;
                (sum, squares) = (sum + v.Y, squares + v.Y * v.Y);
            }
        }
        all += part / (side * side);
        double n = (double)round * side * side,
            mean = sum / n;
        if (round > 1 && Math.Sqrt(Math.Max(0, squares / n - mean * mean) / n) <= 0.001 || round == 300)
        {
            var v = all / round;
            return (MathF.Min(v.X, MathF.Min(v.Y, v.Z)), MathF.Max(v.X, MathF.Max(v.Y, v.Z)));
        }
    }
    throw new InvalidOperationException();
}

internal sealed class None : IContentFiles, IPictureDecoder, Kiln.Dialects.Baking.IBakedFiles
{
    public string PathOf(ContentHash content) => throw new ContentMissingException("none");

    public ContentHash Put(byte[] content) => throw new NotSupportedException();

    public Task<ImageBuffer> DecodeAsync(string path, int? longest = null, CancellationToken cancel = default) =>
        throw new PictureException("none");
}
