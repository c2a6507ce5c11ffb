using System.Collections.Concurrent;
using System.Numerics;
using Kiln.Pixels;
using Kiln.Proof.Rendering.Paths;

namespace Kiln.Proof.Rendering;

/// <summary>What a picture holds beside the form.</summary>
/// <param name="Background">Whether the light is seen behind it; without, there is alpha 0.</param>
/// <param name="WithLayers">Keeps what the picture is made of, at the cost of its memory: see <see cref="PathTracer.Layers"/>.</param>
public sealed record PictureContent(bool Background = true, bool WithLayers = false, bool BlurredBackground = false);

/// <summary>
/// A unidirectional path tracer: the environment and the surface are sampled in turn and combined by the power heuristic (Veach 1997).
/// Accumulates sample by sample; the same seed gives the same picture with any number of threads.
/// </summary>
public sealed class PathTracer
{
    private readonly ProofScene scene;
    private readonly int width,
        height;
    private readonly uint seed;
    private readonly PictureContent content;
    private readonly Vector3[] sum;
    private readonly float[] coverage,
        squares;
    private readonly ConcurrentBag<PathWave> waves = [];
    private long rays;

    public PathTracer(ProofScene scene, int width, int height, OrbitCamera camera, uint seed = 1, PictureContent? content = null)
    {
        this.content = content ?? new();
        layers = this.content.WithLayers ? new(width, height) : null;
        noise = this.content.WithLayers ? new(width, height) : null;
        (this.scene, this.width, this.height, this.seed) = (scene, width, height, seed);
        sum = new Vector3[width * height];
        coverage = new float[width * height];
        squares = new float[width * height];
        counts = new int[width * height];
        Camera = new(camera, scene.Centre, scene.Radius, width, height);
    }

    private readonly ProofLayers? layers;
    private readonly NoiseRecord? noise;
    private readonly int[] counts;

    public CameraFrame Camera { get; }

    /// <summary>The parts of the picture, where they were asked for.</summary>
    public ProofLayers? Layers => layers;

    /// <summary>Samples that every pixel has at least.</summary>
    public int Samples { get; private set; }

    public long Rays => rays;

    /// <summary>Adds samples to every pixel, or to those of a part of the picture.</summary>
    /// <exception cref="OperationCanceledException">Cancelled; the picture so far stays as it is, and more can be added later.</exception>
    /// <param name="hold">While it says yes, pixels wait: something that a person waits for needs the processors.</param>
    public void Accumulate(
        int samples,
        CancellationToken cancel = default,
        int? threads = null,
        Func<bool>? hold = null,
        PictureRegion? region = null
    )
    {
        var (left, top, right, bottom) = (region ?? PictureRegion.Whole).Pixels(width, height);
        while (samples > 0)
        {
            var together = Math.Min(samples, MostTogether);
            var side = together > 2 ? 8 : 16;
            int across = (right - left + side - 1) / side,
                down = (bottom - top + side - 1) / side;
            // One thread a core: a picture that stands still keeps its threads from others, and would take more as long as it does.
            var most = threads ?? Environment.ProcessorCount;
            Parallel.For(0, across * down, new() { CancellationToken = cancel, MaxDegreeOfParallelism = most }, tile =>
            {
                // The pixels of a tile take a few milliseconds.
                while (hold?.Invoke() == true && !cancel.IsCancellationRequested)
                    Thread.Sleep(1);
                if (cancel.IsCancellationRequested)
                    return;
                var (x, y) = (left + tile % across * side, top + tile / across * side);
                Render((x, y, Math.Min(x + side, right), Math.Min(y + side, bottom)), together);
            });
            samples -= together;
            if (cancel.IsCancellationRequested)
                break;
        }
        Samples = counts.Min();
        cancel.ThrowIfCancellationRequested();
    }

    /// <summary>Samples of a pixel that are followed together: 64 pixels of them fill a wave.</summary>
    private const int MostTogether = PathStore.Capacity / 64;

    private void Render((int Left, int Top, int Right, int Bottom) tile, int samples)
    {
        if (!waves.TryTake(out var wave))
            wave = new(scene, Camera, content);
        var before = wave.Rays;
        wave.Clear();
        for (var y = tile.Top; y < tile.Bottom; y++)
        for (var x = tile.Left; x < tile.Right; x++)
        for (var s = 0; s < samples; s++)
            wave.Add(x, y, SamplePoints.Seed((uint)(y * width + x), seed), counts[y * width + x] + s);
        wave.Run();
        var path = 0;
        for (var y = tile.Top; y < tile.Bottom; y++)
        for (var x = tile.Left; x < tile.Right; x++)
        {
            var pixel = y * width + x;
            for (var s = 0; s < samples; s++, path++)
            {
                var (radiance, covered) = wave.Result(path);
                sum[pixel] += radiance;
                coverage[pixel] += covered;
                var l = Brightness(radiance);
                squares[pixel] += l * l;
                counts[pixel]++;
                layers?.Add(pixel, wave.Seen(path));
                noise?.Add(pixel, radiance);
            }
        }
        Interlocked.Add(ref rays, wave.Rays - before);
        waves.Add(wave);
    }

    /// <summary>Samples of the pixel in the middle of a part of the picture.</summary>
    public int SamplesIn(PictureRegion region)
    {
        var (left, top, right, bottom) = region.Pixels(width, height);
        return counts[(top + bottom) / 2 * width + (left + right) / 2];
    }

    /// <summary>
    /// The mean so far: linear in the material's working space, RGB(A) float; alpha is coverage when the background is off.
    /// </summary>
    public ImageBuffer Picture()
    {
        var result = new ImageBuffer(width, height, content.Background ? ImageBuffer.Rgb : ImageBuffer.Rgba, SampleType.F32);
        var row = new float[width * result.ChannelCount];
        for (var y = 0; y < height; y++)
        {
            for (var x = 0; x < width; x++)
            {
                var v = sum[y * width + x] / Math.Max(1, counts[y * width + x]);
                var at = x * result.ChannelCount;
                (row[at], row[at + 1], row[at + 2]) = (v.X, v.Y, v.Z);
                if (!content.Background)
                    row[at + 3] = coverage[y * width + x] / Math.Max(1, counts[y * width + x]);
            }
            result.WriteRow(y, row);
        }
        return result;
    }

    /// <summary>The picture with its noise taken out, for the eye; as it is where too little of it is known yet.</summary>
    /// <exception cref="InvalidOperationException">The parts of the picture were not asked for, and the filter goes by them.</exception>
    public ImageBuffer WithoutNoise()
    {
        if (layers is null || noise is null)
            throw new InvalidOperationException("Noise is taken out by the parts of a picture, which were not asked for.");
        return Samples < FewestToFilter ? Picture() : NoiseFilter.Apply(Picture(), layers, noise);
    }

    /// <summary>Each half needs more than one sample.</summary>
    private const int FewestToFilter = 4;

    /// <summary>Mean over the picture, or a part of it, of the standard error of luminance, relative to its mean luminance.</summary>
    public float Noise(PictureRegion? region = null)
    {
        if (Samples < 2)
            return 1;
        var (left, top, right, bottom) = (region ?? PictureRegion.Whole).Pixels(width, height);
        double error = 0,
            mean = 0;
        for (var y = top; y < bottom; y++)
        for (var i = y * width + left; i < y * width + right; i++)
        {
            double m = Brightness(sum[i]) / counts[i],
                variance = Math.Max(0, squares[i] / counts[i] - m * m) / (counts[i] - 1);
            error += Math.Sqrt(variance);
            mean += m;
        }
        return (float)(error / Math.Max(1e-9, mean));
    }

    private static float Brightness(Vector3 c) => 0.27222872f * c.X + 0.67408177f * c.Y + 0.05368952f * c.Z;
}
