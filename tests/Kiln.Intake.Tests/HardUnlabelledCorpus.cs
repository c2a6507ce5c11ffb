using System.Globalization;
using Kiln.Looks.Readings;
using Kiln.Pixels;
using Kiln.Pixels.Decoding;
using Kiln.Pixels.Decoding.Workers;
using Kiln.Pixels.Writing;
using Xunit.Abstractions;

namespace Kiln.Intake.Tests;

/// <summary>
/// Pictures without names that are hard to tell: cavity, occlusion, roughness, glossiness, thickness that are all functions of one height,
/// with curves, noise and JPEG; masks of two values;
/// steep normal maps; heaps of several surfaces. In two halves by seed: what was chosen was chosen on the first.
/// </summary>
public class HardUnlabelledCorpus(ITestOutputHelper output)
{
    private const int Side = 160,
        SurfacesInHalf = 24;

    private sealed class Surface(int seed)
    {
        private readonly Random random = new(seed);

        private float[]? height;

        public float[] Height => height ??= Made();

        private float At(int x, int y) => Height[(y + Side) % Side * Side + (x + Side) % Side];

        /// <summary>Waves of random direction and phase that close at the edges, bent by one of several curves.</summary>
        private float[] Made()
        {
            var waves = Enumerable
                .Range(0, 14 + random.Next(20))
                .Select(_ =>
                    (
                        U: random.Next(-14, 15),
                        V: random.Next(-14, 15),
                        Phase: random.NextSingle() * MathF.Tau,
                        Weight: 0.2f + random.NextSingle()
                    )
                )
                .ToList();
            var kind = random.Next(4);
            var result = new float[Side * Side];
            for (var i = 0; i < result.Length; i++)
            {
                float u = i % Side / (float)Side,
                    v = i / Side / (float)Side;
                var sum = waves.Sum(w =>
                    w.Weight / (1 + 0.2f * MathF.Sqrt(w.U * w.U + w.V * w.V)) * MathF.Sin(MathF.Tau * (w.U * u + w.V * v) + w.Phase)
                );
                result[i] = kind switch
                {
                    0 => sum,
                    1 => MathF.Abs(sum),
                    2 => sum * sum * sum * 0.1f + sum,
                    _ => MathF.Max(sum, -0.4f),
                };
            }
            var (low, high) = (result.Min(), result.Max());
            for (var i = 0; i < result.Length; i++)
                result[i] = (result[i] - low) / MathF.Max(1e-6f, high - low);
            return result;
        }

        private ImageBuffer Grey(Func<int, int, float> value, bool wide = false)
        {
            var picture = new ImageBuffer(
                Side,
                Side,
                random.Next(3) == 0 ? ImageBuffer.Rgb : ImageBuffer.Grey,
                wide ? SampleType.U16 : SampleType.U8
            );
            for (var y = 0; y < Side; y++)
            for (var x = 0; x < Side; x++)
            {
                var v = Math.Clamp(value(x, y), 0, 1);
                for (var c = 0; c < picture.ChannelCount; c++)
                    picture[x, y, c] = v;
            }
            return picture;
        }

        private float Noise(float amount) => amount * (random.NextSingle() - 0.5f);

        private float Around(int x, int y, int reach)
        {
            float sum = 0;
            for (var k = 0; k < 8; k++)
                sum += At(x + (int)(reach * MathF.Cos(k * MathF.PI / 4)), y + (int)(reach * MathF.Sin(k * MathF.PI / 4)));
            return sum / 8;
        }

        public ImageBuffer HeightMap() => Grey(At, wide: random.Next(2) == 0);

        public ImageBuffer Cavity() => Grey((x, y) => 0.5f + 6 * (At(x, y) - Around(x, y, 2)) + Noise(0.02f));

        public ImageBuffer Occlusion() => Grey((x, y) => 1 - 2.5f * MathF.Max(0, Around(x, y, 6) - At(x, y)) + Noise(0.02f));

        public ImageBuffer Thickness() => Grey((x, y) => 0.2f + 0.6f * Around(x, y, 5) + Noise(0.01f));

        public ImageBuffer Roughness()
        {
            var (power, noise, up) = (0.4f + 2.4f * random.NextSingle(), 0.03f + 0.1f * random.NextSingle(), random.Next(2) == 0);
            return Grey((x, y) => 0.25f + 0.5f * MathF.Pow(up ? At(x, y) : 1 - At(x, y), power) + Noise(noise));
        }

        public ImageBuffer Mask()
        {
            var level = 0.35f + 0.3f * random.NextSingle();
            return Grey((x, y) => At(x, y) > level ? 1 : 0);
        }

        public ImageBuffer Normal()
        {
            var steep = 1 + 12 * random.NextSingle();
            var down = random.Next(2) == 0;
            var picture = new ImageBuffer(Side, Side, ImageBuffer.Rgb, SampleType.U8);
            for (var y = 0; y < Side; y++)
            for (var x = 0; x < Side; x++)
            {
                var n = System.Numerics.Vector3.Normalize(
                    new(-steep * (At(x + 1, y) - At(x - 1, y)), steep * (At(x, y + 1) - At(x, y - 1)) * (down ? -1 : 1), 1)
                );
                (picture[x, y, 0], picture[x, y, 1], picture[x, y, 2]) = (0.5f + 0.5f * n.X, 0.5f + 0.5f * n.Y, 0.5f + 0.5f * n.Z);
            }
            return picture;
        }

        public ImageBuffer BaseColour()
        {
            var (r, g, b) = (random.NextSingle(), random.NextSingle(), random.NextSingle());
            var picture = new ImageBuffer(Side, Side, ImageBuffer.Rgb, SampleType.U8);
            for (var y = 0; y < Side; y++)
            for (var x = 0; x < Side; x++)
            {
                var light = 0.35f + 0.5f * At(x, y) + Noise(0.05f);
                (picture[x, y, 0], picture[x, y, 1], picture[x, y, 2]) = (
                    Math.Clamp(light * (0.5f + 0.6f * r), 0, 1),
                    Math.Clamp(light * (0.5f + 0.6f * g), 0, 1),
                    Math.Clamp(light * (0.5f + 0.6f * b), 0, 1)
                );
            }
            return picture;
        }

        /// <summary>Some files went through JPEG on their way.</summary>
        public ImageBuffer Sent(ImageBuffer picture)
        {
            if (picture.Type != SampleType.U8 || random.Next(3) != 0)
                return picture;
            var file = Path.Combine(Path.GetTempPath(), $"kiln-hard-{Guid.NewGuid():N}.jpg");
            File.WriteAllBytes(file, PictureWriter.Jpeg(picture, 70 + random.Next(25)));
            try
            {
                return DecodeWorker.InProcess(file, null, DecodeLimits.Default);
            }
            finally
            {
                File.Delete(file);
            }
        }
    }

    internal sealed record Placed(MapRole Truth, MapRole? Role, float Confidence);

    private static readonly System.Collections.Concurrent.ConcurrentDictionary<int, Lazy<List<Placed>>> Made = new();

    /// <summary>Every picture of a half with what became of it; worked out once.</summary>
    internal static IReadOnlyList<Placed> Half(int half) => Made.GetOrAdd(half, h => new(() => [.. OfHalf(h)])).Value;

    private static IEnumerable<Placed> OfHalf(int half)
    {
        for (var i = 0; i < SurfacesInHalf; i++)
        {
            var surface = new Surface(1000 * half + i);
            var maps = new List<(MapRole Role, ImageBuffer Picture)>
            {
                (MapRole.BaseColor, surface.BaseColour()),
                (MapRole.Normal, surface.Normal()),
                (MapRole.Height, surface.HeightMap()),
                (MapRole.Roughness, surface.Roughness()),
                (MapRole.AmbientOcclusion, surface.Occlusion()),
                (MapRole.Cavity, surface.Cavity()),
                (MapRole.Thickness, surface.Thickness()),
                (MapRole.Opacity, surface.Mask()),
                (MapRole.Glossiness, surface.Roughness()),
            };
            maps = [.. maps.Select(m => (m.Role, surface.Sent(m.Picture)))];
            MapRole[][] mixes =
            [
                [MapRole.BaseColor, MapRole.Normal, MapRole.Roughness, MapRole.AmbientOcclusion],
                [MapRole.BaseColor, MapRole.Normal, MapRole.Cavity, MapRole.Glossiness],
                [MapRole.Normal, MapRole.Height, MapRole.Thickness],
                [MapRole.BaseColor, MapRole.Normal, MapRole.Thickness, MapRole.Opacity],
                [
                    MapRole.BaseColor,
                    MapRole.Normal,
                    MapRole.Height,
                    MapRole.Roughness,
                    MapRole.AmbientOcclusion,
                    MapRole.Cavity,
                    MapRole.Opacity,
                ],
            ];
            foreach (var (mix, k) in mixes.Select((m, k) => (m, k)))
            {
                var sent = mix.Select((role, n) => (Path: $"s{i}m{k}/{n + 1}.png", Role: role, maps.First(m => m.Role == role).Picture))
                    .ToList();
                var found = Delivered.Group([.. sent.Select(s => (s.Path, s.Picture))]).Sets.SelectMany(s => s.Maps).ToLookup(m => m.Path);
                foreach (var (path, role, _) in sent)
                    yield return found[path].MaxBy(m => m.Confidence) is { } placed
                        ? new(role, placed.Role, placed.Confidence)
                        : new(role, null, 0);
            }
        }
    }

    [Theory]
    [InlineData("first", 1)]
    [InlineData("second", 2)]
    public void WhatIsPlacedWithConfidenceIsRight(string name, int half)
    {
        var all = Half(half);
        var sure = all.Where(p => p.Confidence >= 0.8f).ToList();
        var wrong = sure.Where(p => p.Role != p.Truth).ToList();
        var normals = all.Where(p => p.Truth == MapRole.Normal).ToList();
        output.WriteLine(
            $"{name} half: {all.Count} pictures; at 0.8 and above {sure.Count}, wrong {wrong.Count}; normals found "
                + $"{normals.Count(p => p.Role == MapRole.Normal)} of {normals.Count}; heights placed unasked "
                + $"{sure.Count(p => p is { Role: MapRole.Height, Truth: MapRole.Height })} of "
                + $"{all.Count(p => p.Truth == MapRole.Height)}"
        );
        foreach (var bin in all.Where(p => p.Role is not null).GroupBy(p => MathF.Floor(p.Confidence * 10) / 10).OrderBy(b => b.Key))
            output.WriteLine(
                $"  confidence {bin.Key.ToString("0.0", CultureInfo.InvariantCulture)}: {bin.Count()} placed, "
                    + $"{bin.Count(p => p.Role == p.Truth)} right"
            );
        foreach (var group in wrong.GroupBy(p => $"{p.Truth} as {p.Role}"))
            output.WriteLine($"  {group.Count()} x {group.Key}");
        Assert.True(all.Count >= 500);
        Assert.True(
            wrong.Count * 200 <= sure.Count,
            $"{wrong.Count} of {sure.Count} wrong: "
                + $"{string.Join(", ", wrong.GroupBy(p => $"{p.Truth} as {p.Role}").Select(g => $"{g.Count()} {g.Key}"))}"
        );
        Assert.True(normals.Count(p => p.Role == MapRole.Normal) >= 0.95 * normals.Count);
    }

    /// <summary>
    /// A heap of several surfaces in one folder still yields every normal map and base colour, each as a set of its own; the greys wait.
    /// </summary>
    [Fact]
    public void AHeapYieldsItsNormalsAndBaseColours()
    {
        var pictures = new List<(string Path, MapRole Role, ImageBuffer Picture)>();
        for (var i = 0; i < 6; i++)
        {
            var surface = new Surface(7000 + i);
            foreach (
                var (role, picture) in new[]
                {
                    (MapRole.BaseColor, surface.BaseColour()),
                    (MapRole.Normal, surface.Normal()),
                    (MapRole.Roughness, surface.Roughness()),
                    (MapRole.Height, surface.HeightMap()),
                }
            )
                pictures.Add(($"heap/IMG_{2000 + pictures.Count * 7 % 29}.png", role, picture));
        }
        var (sets, unsorted) = Delivered.Group([.. pictures.Select(p => (p.Path, p.Picture))]);
        var placed = sets.SelectMany(s => s.Maps).ToDictionary(m => m.Path, m => m.Role);
        Assert.All(pictures.Where(p => p.Role is MapRole.Normal), p =>
            Assert.Equal(p.Role, placed.GetValueOrDefault(p.Path, MapRole.IdMask))
        );
        Assert.True(
            pictures.Count(p => p.Role == MapRole.BaseColor && placed.GetValueOrDefault(p.Path, MapRole.IdMask) == MapRole.BaseColor) >= 5
        );
        Assert.Equal(pictures.Count, placed.Count + unsorted.Count);
        Assert.All(pictures.Where(p => p.Role is MapRole.Roughness or MapRole.Height), p =>
            Assert.Contains(unsorted, u => u.Path == p.Path)
        );
    }
}
