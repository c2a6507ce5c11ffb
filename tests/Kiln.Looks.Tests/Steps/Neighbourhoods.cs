using System.Collections.Immutable;
using Kiln.Looks.Document;
using Kiln.Looks.Graph;
using Kiln.Looks.Steps;
using Kiln.Looks.Steps.Kinds.Colours;
using Kiln.Looks.Steps.Kinds.Numbers;
using Kiln.Looks.Steps.Kinds.Reliefs;
using Kiln.Pixels;
using Kiln.Pixels.Writing;

namespace Kiln.Looks.Tests.Steps;

/// <summary>Blur and slopes against OpenImageIO and analysis; whole pictures against single points.</summary>
public class Neighbourhoods
{
    private const int Side = 64;

    private static ImageBuffer Picture(int seed = 1)
    {
        var random = new Random(seed);
        var values = Enumerable.Range(0, Side * Side).Select(_ => random.NextSingle()).ToArray();
        return Graphs.Filled(Side, Side, (x, y) => values[y * Side + x]);
    }

    /// <summary>
    /// oiiotool --blur with the gaussian kernel: its filter of width w is exp(−8x²/w²) (OpenImageIO 2.4, filter.cpp), so w = 4σ. Compared
    /// away from the edges, where ours repeats.
    /// </summary>
    [Fact]
    public async Task BlurIsOpenImageIOsGaussian()
    {
        const float sigma = 2.25f;
        var graphs = new Graphs();
        var picture = Picture();
        var look = graphs.LookWith(("height", graphs.Add("noise", picture)));
        var ours = await graphs.PictureAsync(look, new(Graphs.Scalar("height"), [new BlurStep(sigma / Side) { Id = "b" }]), Side, Side);
        var folder = Directory.CreateTempSubdirectory("kiln-blur-").FullName;
        try
        {
            using (var file = File.Create(Path.Combine(folder, "in.exr")))
                ExrWriter.Write(file, picture);
            // The kernel is cut at w; a wider window would be cut at 4σ as well.
            using var process = System.Diagnostics.Process.Start(
                "oiiotool",
                [
                    Path.Combine(folder, "in.exr"),
                    "--kernel",
                    "gaussian",
                    "9x9",
                    "-o",
                    Path.Combine(folder, "k.exr"),
                    "--pop",
                    "--kernel",
                    "gaussian",
                    "9x9",
                    "--convolve",
                    "-d",
                    "float",
                    "-o",
                    Path.Combine(folder, "out.exr"),
                ]
            );
            await process.WaitForExitAsync();
            var theirs = Pixels.Decoding.Workers.DecodeWorker.InProcess(
                Path.Combine(folder, "out.exr"),
                null,
                Pixels.Decoding.DecodeLimits.Default
            );
            for (var y = 12; y < Side - 12; y += 3)
            for (var x = 12; x < Side - 12; x += 3)
                Assert.Equal(theirs[x, y, 0], ours[x, y, 0], 0.02f);
        }
        finally
        {
            Directory.Delete(folder, true);
        }
    }

    /// <summary>A Gaussian takes a cosine of frequency f down by exp(−2π²f²σ²), and leaves the mean.</summary>
    [Theory]
    [InlineData(2, 0.03f)]
    [InlineData(5, 0.03f)]
    [InlineData(3, 0.1f)]
    public async Task BlurTakesWavesDownAsAGaussianDoes(int waves, float sigma)
    {
        var graphs = new Graphs();
        var look = graphs.LookWith(
            (
                "height",
                graphs.Add("waves", Graphs.Filled(256, 16, (x, _) => 0.5f + 0.4f * MathF.Cos(2 * MathF.PI * waves * (x + 0.5f) / 256)))
            )
        );
        var chain = new Chain(Graphs.Scalar("height"), [new BlurStep(sigma) { Id = "b" }]);
        var expected = 0.4f * MathF.Exp(-2 * MathF.PI * MathF.PI * waves * waves * sigma * sigma);
        var whole = await graphs.PictureAsync(look, chain, 256, 16);
        var (program, node, _) = await graphs.LoadAsync(look, chain);
        var registers = program.NewRegisters();
        for (var x = 0; x < 256; x += 5)
        {
            var wave = MathF.Cos(2 * MathF.PI * waves * (x + 0.5f) / 256);
            Assert.Equal(0.5f + expected * wave, whole[x, 8, 0], 0.004f);
            program.Run(new((x + 0.5f) / 256, 0.5f), 1f / 256, registers);
            // By taps, as a proof asks: nearly the same.
            Assert.Equal(0.5f + expected * wave, registers[program.Register(node)].X, 0.03f);
        }
    }

    /// <summary>h = a·sin(2πu): slope a·2π·cos(2πu) times height over size.</summary>
    [Fact]
    public async Task SlopesOfAHeightAreItsDerivative()
    {
        var graphs = new Graphs();
        var look = graphs.LookWith(
            ("height", graphs.Add("sine", Graphs.Filled(512, 8, (x, _) => 0.5f + 0.3f * MathF.Sin(2 * MathF.PI * (x + 0.5f) / 512))))
        ) with
        {
            SizeU = 2,
        };
        var normals = await graphs.PictureAsync(
            look,
            new(Graphs.Scalar("height"), [new HeightToNormalStep(new(1), 0.1f) { Id = "n" }]),
            512,
            8
        );
        for (var x = 0; x < 512; x += 7)
        {
            var slope = 0.3f * 2 * MathF.PI * MathF.Cos(2 * MathF.PI * (x + 0.5f) / 512) * 0.1f / 2;
            Assert.Equal(slope, -normals[x, 4, 0] / normals[x, 4, 2], 2e-3f);
            Assert.Equal(0, normals[x, 4, 1], 1e-4f);
        }
    }

    /// <summary>Every step in one chain: the rows and the single points are two evaluators of one truth.</summary>
    [Fact]
    public async Task WholePicturesAndSinglePointsAgree()
    {
        var graphs = new Graphs();
        var look = graphs.LookWith(("height", graphs.Add("a", Picture(2))), ("other", graphs.Add("b", Picture(3)))) with
        {
            Sources = ImmutableSortedDictionary<string, Lane>.Empty.Add(
                "wear",
                new(Chain: new(Graphs.Scalar("other"), [new CurveStep([new(0, 0.2f), new(0.4f, 0.9f), new(1, 0.5f)]) { Id = "c" }]))
            ),
        };
        Chain Wear(params Step[] steps) => new(new SourceOrigin("wear"), [.. steps]);
        var chain = new Chain(
            Graphs.Scalar("height"),
            [
                new RemapStep(0.1f, 0.9f, 0, 1) { Id = "1" },
                new PowerStep(1.4f) { Id = "2" },
                new GainStep(0.9f, 0.02f) { Id = "3" },
                new MixStep(MixMode.SoftLight, new(Chain: Wear()), new(0.7f, Wear(new InvertStep { Id = "i" }))) { Id = "4" },
                new MixStep(MixMode.Overlay, new(Chain: new(new NoiseOrigin(new(NoiseKind.Fractal, 4)))), new(0.4f)) { Id = "5" },
                new PackStep(new(Chain: Wear()), new(LookValue.Of(0.3f))) { Id = "6" },
                new GradeStep(40, 0.8f, 1.1f, 1.2f) { Id = "7" },
                new ConvertStep("acescg", "lin_rec709") { Id = "8" },
                new ClampStep() { Id = "9" },
            ]
        );
        var picture = await graphs.PictureAsync(look, chain, Side, Side);
        var (program, node, _) = await graphs.LoadAsync(look, chain);
        var registers = program.NewRegisters();
        for (var y = 0; y < Side; y += 5)
        for (var x = 0; x < Side; x += 3)
        {
            program.Run(new((x + 0.5f) / Side, 1 - (y + 0.5f) / Side), 1f / Side, registers);
            var point = registers[program.Register(node)];
            for (var c = 0; c < 3; c++)
                Assert.Equal(point[c], picture[x, y, c], 2e-4f);
        }
    }
}
