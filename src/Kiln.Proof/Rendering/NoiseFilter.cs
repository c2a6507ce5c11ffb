using System.Numerics;
using System.Runtime.CompilerServices;
using Kiln.Pixels;

namespace Kiln.Proof.Rendering;

/// <summary>
/// Takes noise from a proof for the eye, never for a measurement: means over pixels around that look alike, with what looks alike told
/// by the
/// other half of the samples (non-local means in two buffers, Rousselle, Knaus and Zwicker 2012), bounded by albedo, normal and depth,
/// and of
/// three strengths the one that the other half contradicts least (after Rousselle, Manzi and Zwicker 2013; their SURE is replaced by
/// cross-validation). The albedo is divided out first, so that what a map draws stays sharp.
/// </summary>
internal sealed class NoiseFilter
{
    /// <summary>Pixels to each side that are looked at, and that are compared around each.</summary>
    private const int Reach = 6,
        Patch = 2,
        Margin = 16,
        Band = 16;

    /// <summary>How far colours may differ, in standard deviations, squared; the last is not bounded by colours at all.</summary>
    private static readonly float[] Strengths = [0.45f * 0.45f, 1.1f * 1.1f, float.PositiveInfinity];

    /// <summary>Squared differences of normals, of albedos and of depths (beside the depth itself) that count as none.</summary>
    private const float SameNormal = 0.012f,
        SameAlbedo = 0.006f,
        SameDepth = 0.0004f;

    private readonly int width,
        height,
        stride;

    // Planes with a margin around them: colours of both halves, their variances, and what the surfaces are.
    private readonly float[][][] colour;
    private readonly float[][] variance,
        surface;

    private NoiseFilter(ImageBuffer albedo, ImageBuffer normal, ImageBuffer depth, NoiseRecord record, Vector3[] divided)
    {
        (width, height) = (record.Width, record.Height);
        stride = (width + 2 * Margin + 7) & ~7;
        float[] Plane() => new float[stride * (height + 2 * Margin)];
        colour =
        [
            [Plane(), Plane(), Plane()],
            [Plane(), Plane(), Plane()],
        ];
        variance = [Plane(), Plane(), Plane()];
        surface = [Plane(), Plane(), Plane(), Plane(), Plane(), Plane(), Plane()];
        // Beyond the edge nothing is like anything.
        Array.Fill(surface[6], 1e18f);
        Parallel.For(0, height, y =>
        {
            for (var x = 0; x < width; x++)
            {
                int pixel = y * width + x,
                    at = At(x, y);
                var spread = record.Variance(pixel) / (divided[pixel] * divided[pixel]);
                for (var c = 0; c < 3; c++)
                {
                    variance[c][at] = spread[c];
                    for (var half = 0; half < 2; half++)
                        colour[half][c][at] = record.Half(half, pixel)[c] / divided[pixel][c];
                    surface[c][at] = normal.Samples<float>()[3 * pixel + c];
                    surface[3 + c][at] = albedo.Samples<float>()[3 * pixel + c];
                }
                surface[6][at] = depth.Samples<float>()[pixel];
            }
        });
        for (var c = 0; c < 3; c++)
            variance[c] = Settled(c);
    }

    private int At(int x, int y) => (y + Margin) * stride + x + Margin;

    /// <param name="picture">The mean of all samples.</param>
    /// <returns>A picture of the same size and channels; alpha is kept.</returns>
    public static ImageBuffer Apply(ImageBuffer picture, ProofLayers layers, NoiseRecord record)
    {
        ImageBuffer albedo = layers.Picture("albedo"),
            normal = layers.Picture("normal"),
            depth = layers.Picture("depth");
        var divided = new Vector3[record.Width * record.Height];
        for (var i = 0; i < divided.Length; i++)
        {
            var a = albedo.Samples<float>();
            divided[i] = depth.Samples<float>()[i] > 0 ? Vector3.Max(new(a[3 * i], a[3 * i + 1], a[3 * i + 2]), new(0.02f)) : Vector3.One;
        }
        var smooth = new NoiseFilter(albedo, normal, depth, record, divided).Run();
        var result = new ImageBuffer(picture.Width, picture.Height, picture.Channels, SampleType.F32);
        picture.Samples<float>().CopyTo(result.Samples<float>());
        var shown = result.Samples<float>();
        var n = picture.ChannelCount;
        for (var i = 0; i < divided.Length; i++)
        for (var c = 0; c < 3; c++)
            shown[i * n + c] = smooth[i][c] * divided[i][c];
        return result;
    }

    /// <summary>
    /// Variances by what the two halves differ in, which knows that samples are spread evenly, with the shape of the variances by samples,
    /// which are less noisy (Rousselle, Knaus and Zwicker 2012, 4.1).
    /// </summary>
    private float[] Settled(int c)
    {
        var squared = new float[variance[c].Length];
        for (var i = 0; i < squared.Length; i++)
        {
            var d = colour[0][c][i] - colour[1][c][i];
            squared[i] = 0.5f * d * d;
        }
        float[] byHalves = Means(squared, 10),
            bySamples = Means(variance[c], 10),
            near = Means(variance[c], 1);
        var settled = new float[squared.Length];
        for (var i = 0; i < settled.Length; i++)
            settled[i] = near[i] * MathF.Min(1, byHalves[i] / MathF.Max(1e-12f, bySamples[i]));
        return settled;
    }

    /// <summary>Means over squares around every pixel.</summary>
    private float[] Means(float[] plane, int reach)
    {
        var rows = new float[plane.Length];
        Parallel.For(0, height, y =>
        {
            for (var x = 0; x < width; x++)
            {
                int from = Math.Max(0, x - reach),
                    to = Math.Min(width - 1, x + reach);
                var sum = 0f;
                for (var i = from; i <= to; i++)
                    sum += plane[At(i, y)];
                rows[At(x, y)] = sum / (to - from + 1);
            }
        });
        var means = new float[plane.Length];
        Parallel.For(0, height, y =>
        {
            int from = Math.Max(0, y - reach),
                to = Math.Min(height - 1, y + reach);
            for (var i = from; i <= to; i++)
            for (var x = 0; x < width; x++)
                means[At(x, y)] += rows[At(x, i)] / (to - from + 1);
        });
        return means;
    }

    private Vector3[] Run()
    {
        // By strength and half: three colours.
        var smooth = Strengths.Select(_ => new[] { Planes(), Planes() }).ToArray();
        Parallel.For(0, (height + Band - 1) / Band, band =>
        {
            int top = band * Band,
                bottom = Math.Min(height, top + Band);
            new BandOfRows(this, top, bottom).Smooth(smooth);
        });
        return Chosen(smooth);
    }

    private float[][] Planes() => [new float[colour[0][0].Length], new float[colour[0][0].Length], new float[colour[0][0].Length]];

    /// <summary>Of the strengths, mixed, those whose halves are nearest to what the other half has.</summary>
    private Vector3[] Chosen(float[][][][] smooth)
    {
        var errors = smooth.Select(s => Means(Errors(s), 3)).ToArray();
        var best = errors.Select(_ => new float[colour[0][0].Length]).ToArray();
        for (var y = 0; y < height; y++)
        for (var x = 0; x < width; x++)
        {
            var at = At(x, y);
            var least = 0;
            for (var k = 1; k < errors.Length; k++)
                if (errors[k][at] < errors[least][at])
                    least = k;
            best[least][at] = 1;
        }
        var shares = best.Select(b => Means(b, 2)).ToArray();
        var result = new Vector3[width * height];
        Parallel.For(0, height, y =>
        {
            for (var x = 0; x < width; x++)
            {
                var at = At(x, y);
                for (var k = 0; k < smooth.Length; k++)
                for (var c = 0; c < 3; c++)
                    result[y * width + x][c] += shares[k][at] * 0.5f * (smooth[k][0][c][at] + smooth[k][1][c][at]);
            }
        });
        return result;
    }

    /// <summary>How far what is made of one half is from the other half, beside that half's own noise, relative to its
    /// brightness.</summary>
    private float[] Errors(float[][][] smooth)
    {
        var errors = new float[colour[0][0].Length];
        for (var half = 0; half < 2; half++)
        for (var c = 0; c < 3; c++)
        {
            var (made, other, spread) = (smooth[half][c], colour[1 - half][c], variance[c]);
            for (var i = 0; i < errors.Length; i++)
            {
                var d = made[i] - other[i];
                errors[i] += (d * d - spread[i]) / (made[i] * made[i] + 0.01f);
            }
        }
        return errors;
    }

    /// <summary>Some rows of the picture, smoothed together.</summary>
    private sealed class BandOfRows
    {
        private readonly NoiseFilter of;
        private readonly int top,
            bottom,
            stride;

        // By half: distances of patches; by strength and half: weights and weighted colours.
        private readonly float[][] apart,
            summed;
        private readonly float[][][][] sums;

        public BandOfRows(NoiseFilter of, int top, int bottom)
        {
            (this.of, this.top, this.bottom, stride) = (of, top, bottom, of.stride);
            float[] Rows() => new float[(Band + 2 * Patch) * stride];
            (apart, summed) = ([Rows(), Rows()], [Rows(), Rows()]);
            sums =
            [
                .. Strengths.Select(_ =>
                    Enumerable.Range(0, 2).Select(_ => Enumerable.Range(0, 4).Select(_ => new float[Band * stride]).ToArray()).ToArray()
                ),
            ];
        }

        public void Smooth(float[][][][] into)
        {
            for (var dy = -Reach; dy <= Reach; dy++)
            for (var dx = -Reach; dx <= Reach; dx++)
            {
                var shift = dy * stride + dx;
                Compare(shift);
                Add(shift);
            }
            for (var k = 0; k < Strengths.Length; k++)
            for (var half = 0; half < 2; half++)
            for (var y = top; y < bottom; y++)
            for (var x = 0; x < of.width; x++)
            {
                var (at, own) = (of.At(x, y), (y - top) * stride + Margin + x);
                for (var c = 0; c < 3; c++)
                    into[k][half][c][at] = sums[k][half][c][own] / sums[k][half][3][own];
            }
        }

        /// <summary>How far the patches around all pixels of the band are from those a shift away, by half.</summary>
        private void Compare(int shift)
        {
            for (var half = 0; half < 2; half++)
            {
                for (var y = top - Patch; y < bottom + Patch; y++)
                {
                    int from = (y + Margin) * stride,
                        to = (y - top + Patch) * stride;
                    for (var x = Lanes; x < stride - Lanes; x += Lanes)
                        Distances(half, from + x, shift).StoreUnsafe(ref apart[half][to + x]);
                    // Over the width of a patch.
                    for (var x = Lanes; x < stride - Lanes; x += Lanes)
                    {
                        var sum = Wide.Zero;
                        for (var i = -Patch; i <= Patch; i++)
                            sum += Vector256.LoadUnsafe(ref apart[half][to + x + i]);
                        sum.StoreUnsafe(ref summed[half][to + x]);
                    }
                }
            }
        }

        private Wide Distances(int half, int at, int shift)
        {
            var sum = Wide.Zero;
            for (var c = 0; c < 3; c++)
            {
                var (colour, variance) = (of.colour[half][c], of.variance[c]);
                Wide d = Vector256.LoadUnsafe(ref colour[at]) - Vector256.LoadUnsafe(ref colour[at + shift]),
                    own = Vector256.LoadUnsafe(ref variance[at]),
                    other = Vector256.LoadUnsafe(ref variance[at + shift]);
                sum += (d * d - (own + Min(own, other))) / (own + other + Of(1e-8f));
            }
            return sum;
        }

        private void Add(int shift)
        {
            const float perPatch = 1f / (3 * (2 * Patch + 1) * (2 * Patch + 1));
            for (var y = top; y < bottom; y++)
            for (var x = Margin & ~7; x < Margin + of.width; x += Lanes)
            {
                int at = (y + Margin) * stride + x,
                    own = (y - top) * stride + x;
                var surface = Surfaces(at, shift);
                if (!Any(Greater(surface, Of(1e-4f))))
                    continue;
                for (var half = 0; half < 2; half++)
                {
                    // What is alike is told by the other half.
                    var distance = Wide.Zero;
                    for (var i = 0; i <= 2 * Patch; i++)
                        distance += Vector256.LoadUnsafe(ref summed[1 - half][own + i * stride]);
                    distance = Max(distance * perPatch, Wide.Zero);
                    for (var k = 0; k < Strengths.Length; k++)
                    {
                        var weight = float.IsInfinity(Strengths[k]) ? surface : Min(surface, Decay(distance * (1f / Strengths[k])));
                        var sum = sums[k][half];
                        for (var c = 0; c < 3; c++)
                            Put(sum[c], own, weight * Vector256.LoadUnsafe(ref of.colour[half][c][at + shift]));
                        Put(sum[3], own, weight);
                    }
                }
            }
        }

        /// <summary>How far surfaces are of one kind, 0..1.</summary>
        private Wide Surfaces(int at, int shift)
        {
            Wide Squared(int plane)
            {
                var d = Vector256.LoadUnsafe(ref of.surface[plane][at]) - Vector256.LoadUnsafe(ref of.surface[plane][at + shift]);
                return d * d;
            }
            var depth = Vector256.LoadUnsafe(ref of.surface[6][at]);
            var normals = (Squared(0) + Squared(1) + Squared(2)) * (1f / SameNormal);
            var albedos = (Squared(3) + Squared(4) + Squared(5)) * (1f / SameAlbedo);
            var depths = Squared(6) / (depth * depth * SameDepth + Of(1e-8f));
            return Decay(Max(normals, Max(albedos, depths)));
        }

        [MethodImpl(MethodImplOptions.AggressiveInlining)]
        private static void Put(float[] sum, int at, Wide value) => (Vector256.LoadUnsafe(ref sum[at]) + value).StoreUnsafe(ref sum[at]);

        /// <summary>e^−x to a hundredth, 0 from 20 on: (1 − x/32)³² by squaring.</summary>
        [MethodImpl(MethodImplOptions.AggressiveInlining)]
        private static Wide Decay(Wide x)
        {
            var v = Max(Wide.One - x * (1f / 32), Wide.Zero);
            v *= v;
            v *= v;
            v *= v;
            v *= v;
            return v * v;
        }
    }
}
