using System.IO.Compression;
using System.Net;
using System.Net.Http.Json;
using System.Numerics;
using System.Security.Cryptography;
using System.Text.Json;
using Kiln.Colour.Spaces;
using Kiln.Dialects.Profiles;
using Kiln.Exchange.Gltf;
using Kiln.Looks.Evaluation;
using Kiln.Pixels;
using Kiln.Pixels.Decoding;
using Kiln.Pixels.Decoding.Workers;
using Kiln.Proof.Materials;
using Kiln.Scattering;
using Kiln.Simd;
using OpenQA.Selenium.Chrome;
using OpenQA.Selenium.Support.UI;

namespace Kiln.Browser.Tests;

/// <summary>
/// Written .glb files before another renderer: three.js loads each with its own loader and shows it under light of 1 from everywhere, and
/// the colours it
/// gets are those of our proof of the same file. Coarsely: it has its own approximations of the reflection.
/// </summary>
public sealed class GltfInThree(ServerFixture server) : IClassFixture<ServerFixture>
{
    private const float Tolerance = 0.05f,
        HueTolerance = 0.06f;

    [Fact]
    public async Task ItShowsTheColoursOfOurProof()
    {
        var client = await server.SignedInAsync();
        using var files = new Folder();
        using var browser = WithWebGl();
        var compared = 0;
        var told = false;
        foreach (var look in (await client.GetFromJsonAsync<JsonElement>("looks")).EnumerateArray())
        {
            var id = look.GetProperty("id").GetString();
            var lanes = (await client.GetFromJsonAsync<JsonElement>($"looks/{id}")).GetProperty("document").GetProperty("lanes");
            // It lays occlusion over light from everywhere, as glTF has it; a path-traced proof finds its own.
            if (lanes.TryGetProperty("occlusion", out _) || compared == 4)
                continue;
            using var zip = new ZipArchive(new MemoryStream(await client.GetByteArrayAsync($"looks/{id}/package?dialect=gltf")));
            zip.Entries.First(e => e.Name.EndsWith(".glb", StringComparison.Ordinal))
                .ExtractToFile(Path.Combine(files.Path, $"{compared}.glb"));
            browser.Navigate().GoToUrl($"{files.Address}three-view.html?file=/{compared}.glb");
            new WebDriverWait(browser, TimeSpan.FromSeconds(60)).Until(d =>
                d.Title.StartsWith("[[", StringComparison.Ordinal) || d.Title.StartsWith("failed", StringComparison.Ordinal)
            );
            Assert.False(browser.Title.StartsWith("failed", StringComparison.Ordinal), browser.Title);
            var theirs = JsonSerializer.Deserialize<float[][]>(browser.Title)!;
            var ours = await CellsAsync(Path.Combine(files.Path, $"{compared}.glb"), files);
            for (var cell = 0; cell < 16; cell++)
            {
                var their = new Vector3(theirs[cell]);
                // What rough metal loses between its facets it gives back, and glTF's plain model, which ours is, does not: of metals the
                // hue is compared.
                var (difference, tolerance) = lanes.TryGetProperty("base_metalness", out _)
                    ? (Vector3.Abs(Vector3.Normalize(ours[cell]) - Vector3.Normalize(their)), HueTolerance)
                    : (Vector3.Abs(ours[cell] - their), Tolerance);
                Assert.True(
                    difference.X < tolerance && difference.Y < tolerance && difference.Z < tolerance,
                    $"{look.GetProperty("name")}, cell {cell}: ours {ours[cell]}, theirs {their}"
                );
            }
            // The check can fail: a tile turned round would be told.
            told |= Enumerable.Range(0, 16).Any(cell => Vector3.Distance(ours[15 - cell], new(theirs[cell])) > Tolerance * 1.8f);
            compared++;
        }
        Assert.True(told, "Every one of these surfaces looks the same when it is turned round.");
        Assert.True(compared >= 3, $"only {compared} looks without occlusion");
    }

    /// <summary>
    /// What the surface sends straight up under light of 1 from everywhere, four by four over the inner half of the tile, in linear
    /// Rec.709.
    /// </summary>
    private static async Task<Vector3[]> CellsAsync(string glb, Folder files)
    {
        var profile = DialectProfiles.Load(DialectProfiles.ShippedFolder()).Find("gltf");
        var material = await ProofMaterial.OfNetworkAsync(
            GltfReader.Read(glb, profile, files.Put)[0],
            profile,
            new MapTextures(files, files)
        );
        var (scratch, surface) = (material.NewScratch(), new WideSurface());
        var out709 = ColourTransform.Between(material.Working.Space, ColourSpace.Find("lin_rec709"));
        var random = new Random(5);
        var cells = new Vector3[16];
        const int points = 12,
            directions = 96;
        for (var cell = 0; cell < 16; cell++)
        {
            for (var i = 0; i < points * points; i++)
            {
                var uv = new Vector2(
                    0.25f + (cell % 4 + (i % points + 0.5f) / points) / 8,
                    0.75f - (cell / 4 + (i / points + 0.5f) / points) / 8
                );
                var p = material.Plain;
                material.At(WideMath.Of(uv.X), WideMath.Of(uv.Y), WideMath.Of(1f / 128), scratch, ref p, out var around);
                var n = around.Normal[0];
                surface.Fill(material.Model, p, Wide3.Of(Vector3.Normalize(new(-n.X, -n.Y, n.Z))), WideMath.Of(0));
                var sent = p.Emission[0];
                for (var k = 0; k < directions / WideMath.Lanes; k++)
                {
                    surface.Evaluate(surface.Sample(Eight(random), Eight(random), Eight(random)), out var light, out var density);
                    for (var lane = 0; lane < WideMath.Lanes; lane++)
                        if (density[lane] > 0)
                            sent += light[lane].Sum / (density[lane] * directions);
                }
                // It mixes what is half there with the black behind it.
                cells[cell] += p.Opacity[0] * sent / (points * points);
            }
            cells[cell] = out709.Apply(cells[cell]);
        }
        return cells;
    }

    private static System.Runtime.Intrinsics.Vector256<float> Eight(Random random) =>
        System.Runtime.Intrinsics.Vector256.Create([.. Enumerable.Range(0, WideMath.Lanes).Select(_ => random.NextSingle())]);

    private static ChromeDriver WithWebGl()
    {
        var options = new ChromeOptions { BinaryLocation = "/usr/bin/chromium" };
        foreach (
            var argument in (string[])
                [
                    "--headless=new",
                    "--no-sandbox",
                    "--use-angle=swiftshader",
                    "--enable-unsafe-swiftshader",
                    "--disable-quic",
                    "--no-first-run",
                    "--disable-background-networking",
                    "--disable-component-update",
                    "--disable-sync",
                ]
        )
            options.AddArgument(argument);
        var service = ChromeDriverService.CreateDefaultService("/usr/bin", "chromedriver");
        service.SuppressInitialDiagnosticInformation = true;
        return new(service, options, TimeSpan.FromMinutes(2));
    }

    /// <summary>A folder served on loopback beside tests/outside, and the shelf of what a file holds.</summary>
    private sealed class Folder : IContentFiles, IPictureDecoder, IDisposable
    {
        private readonly HttpListener listener = new();
        private readonly string outside;

        public Folder()
        {
            for (
                outside = AppContext.BaseDirectory;
                !Directory.Exists(System.IO.Path.Combine(outside, "tests", "outside"));
                outside = System.IO.Path.GetDirectoryName(outside)!
            ) { }
            outside = System.IO.Path.Combine(outside, "tests", "outside");
            Address = ServerProcess.FreeAddress() + "/";
            listener.Prefixes.Add(Address);
            listener.Start();
            _ = Task.Run(ServeAsync);
        }

        public string Path { get; } = Directory.CreateTempSubdirectory("kiln-three-").FullName;

        public string Address { get; }

        public string PathOf(ContentHash content) => System.IO.Path.Combine(Path, content.ToString());

        public ContentHash Put(byte[] content)
        {
            var hash = ContentHash.Of(content);
            File.WriteAllBytes(PathOf(hash), content);
            return hash;
        }

        public Task<ImageBuffer> DecodeAsync(string path, int? longest = null, CancellationToken cancel = default) =>
            Task.FromResult(DecodeWorker.InProcess(path, longest, DecodeLimits.Default));

        private async Task ServeAsync()
        {
            while (listener.IsListening)
            {
                var context = await listener.GetContextAsync();
                var name = context.Request.Url!.AbsolutePath.TrimStart('/');
                var file = new[] { Path, outside }.Select(f => System.IO.Path.Combine(f, name)).FirstOrDefault(File.Exists);
                context.Response.StatusCode = file is null ? 404 : 200;
                context.Response.ContentType = System.IO.Path.GetExtension(name) switch
                {
                    ".html" => "text/html",
                    ".js" => "text/javascript",
                    _ => "application/octet-stream",
                };
                if (file is not null)
                    await context.Response.OutputStream.WriteAsync(await File.ReadAllBytesAsync(file));
                context.Response.Close();
            }
        }

        public void Dispose()
        {
            listener.Close();
            Directory.Delete(Path, recursive: true);
        }
    }
}
