using System.Numerics;
using Kiln.Demo;
using Kiln.Demo.Surfaces;
using Kiln.Intake.Content;
using Kiln.Looks.Readings;
using Kiln.Pixels;
using Kiln.Pixels.Decoding;
using Kiln.Pixels.Decoding.Workers;
using Kiln.Pixels.Writing;
using Xunit.Abstractions;

namespace Kiln.Intake.Tests;

/// <summary>A height field over the unit square, v upwards, with its slopes by central differences of the exact function.</summary>
internal sealed record Relief(string Name, Func<float, float, float> Height)
{
    public const int Size = 512;

    private float[] Sampled()
    {
        var h = new float[Size * Size];
        Parallel.For(0, Size, y =>
        {
            for (var x = 0; x < Size; x++)
                h[y * Size + x] = Height((x + 0.5f) / Size, 1 - (y + 0.5f) / Size);
        });
        return h;
    }

    /// <summary>The normal map, the height map, and whether the ground truth calls the direction decidable.</summary>
    public (ImageBuffer Normal, ImageBuffer Height, bool Decidable) Make(bool down, SampleType type)
    {
        var h = Sampled();
        float At(int x, int y) => h[(y + Size) % Size * Size + (x + Size) % Size];
        var normal = new ImageBuffer(Size, Size, ImageBuffer.Rgb, type);
        double uv = 0,
            uu = 0,
            vv = 0,
            slope = 0;
        float low = h.Min(),
            high = Math.Max(h.Max(), low + 1e-9f);
        var height = new ImageBuffer(Size, Size, ImageBuffer.Grey, SampleType.U16);
        for (var y = 0; y < Size; y++)
        for (var x = 0; x < Size; x++)
        {
            float du = (At(x + 1, y) - At(x - 1, y)) * Size / 2,
                dv = (At(x, y - 1) - At(x, y + 1)) * Size / 2;
            var n = Vector3.Normalize(new(-du, -dv, 1));
            (normal[x, y, 0], normal[x, y, 1], normal[x, y, 2]) = (0.5f + 0.5f * n.X, 0.5f + 0.5f * (down ? -n.Y : n.Y), 0.5f + 0.5f * n.Z);
            height[x, y, 0] = (At(x, y) - low) / (high - low);
            uv += Math.Pow((At(x + 1, y - 1) - At(x - 1, y - 1) - At(x + 1, y + 1) + At(x - 1, y + 1)) / 4, 2);
            uu += Math.Pow(At(x + 1, y) - 2 * At(x, y) + At(x - 1, y), 2);
            vv += Math.Pow(At(x, y + 1) - 2 * At(x, y) + At(x, y - 1), 2);
            slope += (double)du * du + (double)dv * dv;
        }
        // intake-and-reading.md: rms of h_uv at least a tenth of that of h_uu and h_vv; slopes of at least four code values of 8 bits.
        var decidable =
            Math.Sqrt(uv) >= 0.1 * Math.Sqrt(uu) && Math.Sqrt(uv) >= 0.1 * Math.Sqrt(vv) && Math.Sqrt(slope / 2 / h.Length) * 127.5 >= 4;
        return (normal, height, decidable);
    }

    public static IEnumerable<Relief> Corpus()
    {
        DemoSurface[] surfaces =
        [
            DemoSurface.Limewash,
            DemoSurface.Verdigris,
            DemoSurface.Knob,
            DemoSurface.Window,
            DemoSurface.SaltBeam,
            DemoSurface.SlateSill,
            DemoSurface.BarnacleIron,
            DemoSurface.SailCanvas,
            DemoSurface.GlazedTile,
            DemoSurface.BrassReed,
            DemoSurface.KelpConcrete,
            DemoSurface.TarredRope,
            DemoSurface.RubberFoot,
            DemoSurface.SpeakerCloth,
            DemoSurface.AnodisedBody(1001),
        ];
        foreach (var s in surfaces)
            yield return new(s.Name, (x, y) => s.At(x, y).Height * s.ReliefMetres);
        for (var seed = 0; seed < 10; seed++)
        {
            var random = new Random(seed);
            var waves = Enumerable
                .Range(0, 10)
                .Select(_ =>
                    (Kx: random.Next(1, 12) * (random.Next(2) * 2 - 1), Ky: random.Next(1, 12), Phase: random.NextSingle() * MathF.Tau)
                )
                .ToArray();
            var strength = 0.003f + 0.02f * random.NextSingle();
            yield return new($"waves {seed}", (x, y) =>
                waves.Sum(w => strength / w.Ky * MathF.Sin(MathF.Tau * (w.Kx * x + w.Ky * y) + w.Phase))
            );
            var noise = new Noise((uint)(900 + seed));
            var (octaves, cells, height) = (random.Next(2, 6), random.Next(3, 20), 0.002f + 0.02f * random.NextSingle());
            yield return new($"noise {seed}", (x, y) => height * noise.Fractal(x, y, cells, octaves));
            // Dents with sharp rims, and grain that runs mostly one way.
            yield return new($"dents {seed}", (x, y) => -height * 0.7f * MathF.Max(0, 0.45f - noise.Cells(x, y, cells).Distance));
            yield return new($"grain {seed}", (x, y) =>
                height * 0.3f * noise.Fractal(x, y, 4, 3)
                + height * 0.2f * MathF.Sin(MathF.Tau * (cells * x + 0.6f * noise.Gradient(x, y, 3)))
            );
        }
    }
}

/// <summary>Normal direction measured on reliefs whose slopes are known, in the files people get: 8 and 16 bit PNG, and JPEG.</summary>
public sealed class NormalDirectionTests(ITestOutputHelper output) : IDisposable
{
    private readonly string folder = Directory.CreateTempSubdirectory("kiln-normals-").FullName;

    public void Dispose() => Directory.Delete(folder, recursive: true);

    private ImageBuffer Through(ImageBuffer picture, string kind)
    {
        if (kind != "jpeg")
            return picture;
        var file = Path.Combine(folder, "n.jpg");
        File.WriteAllBytes(file, PictureWriter.Jpeg(picture, 88));
        return DecodeWorker.InProcess(file, NormalDirection.CopySize, DecodeLimits.Default);
    }

    [Theory]
    [InlineData("8 bit")]
    [InlineData("16 bit")]
    [InlineData("jpeg")]
    public void IsRightOnDecidableReliefs(string kind)
    {
        int decidable = 0,
            right = 0,
            wrong = 0,
            others = 0,
            othersWrong = 0,
            reliefs = 0;
        foreach (var relief in Relief.Corpus())
        {
            reliefs++;
            foreach (var down in new[] { false, true })
            {
                var (normal, _, can) = relief.Make(down, kind == "16 bit" ? SampleType.U16 : SampleType.U8);
                var measured = NormalDirection.Measure(Through(normal, kind));
                var ok = measured.Direction == (down ? NormalY.Down : NormalY.Up);
                if (!can)
                    (others, othersWrong) = (others + 1, othersWrong + (measured.Direction is not null && !ok ? 1 : 0));
                else
                    (decidable, right, wrong) = (
                        decidable + 1,
                        right + (ok ? 1 : 0),
                        wrong + (measured.Direction is not null && !ok ? 1 : 0)
                    );
                if (can && !ok)
                    output.WriteLine(
                        $"{relief.Name} {(down ? "down" : "up")}: {measured.Direction?.ToString() ?? "undecided"} ratio "
                            + $"{measured.Ratio:0.00} significance {measured.Significance:0.0}"
                    );
            }
        }
        output.WriteLine(
            $"{kind}: {reliefs} reliefs; decidable {decidable}, right {right}, wrong {wrong}; not decidable {others}, decided "
                + $"wrongly {othersWrong}"
        );
        Assert.True(reliefs >= 40);
        Assert.True(right >= 0.95 * decidable, $"{right} of {decidable}");
        Assert.True(wrong + othersWrong <= 0.01 * (decidable + others), $"{wrong} + {othersWrong} wrong");
    }

    [Fact]
    public void AHeightMapDecidesAndTellsAnInvertedOne()
    {
        int right = 0,
            all = 0;
        foreach (var relief in Relief.Corpus().Where((_, i) => i % 4 == 0))
        {
            var (normal, height, can) = relief.Make(down: true, SampleType.U8);
            if (!can)
                continue;
            all++;
            var straight = NormalDirection.Measure(normal, height);
            for (var i = 0; i < Relief.Size * Relief.Size; i++)
                height.Samples<ushort>()[i] = (ushort)(65535 - height.Samples<ushort>()[i]);
            var inverted = NormalDirection.Measure(normal, height);
            right +=
                straight is { Direction: NormalY.Down, HeightCorrelation: not null, InvertedHeight: false }
                && inverted is { Direction: NormalY.Down, InvertedHeight: true }
                    ? 1
                    : 0;
        }
        Assert.Equal(all, right);
    }

    [Fact]
    public void FlatAndOneWayReliefStayUndecided()
    {
        Assert.Null(NormalDirection.Measure(new Relief("flat", (_, _) => 0).Make(false, SampleType.U8).Normal).Direction);
        Assert.Null(
            NormalDirection
                .Measure(new Relief("ribs", (x, _) => 0.01f * MathF.Sin(MathF.Tau * 9 * x)).Make(false, SampleType.U16).Normal)
                .Direction
        );
        var noisy = new ImageBuffer(512, 512, ImageBuffer.Rgb, SampleType.U8);
        var random = new Random(4);
        for (var i = 0; i < noisy.Data.Length; i += 3)
            (noisy.Data[i], noisy.Data[i + 1], noisy.Data[i + 2]) = ((byte)(127 + random.Next(3)), (byte)(127 + random.Next(3)), 255);
        Assert.Null(NormalDirection.Measure(noisy).Direction);
    }
}
