using System.Numerics;
using Kiln.Pixels;

namespace Kiln.Proof.Rendering;

/// <summary>
/// Takes noise from a proof for the eye, never for a measurement: wavelets with holes that stop at edges of light, albedo, normal and depth
/// (Dammertz, Sewtz,
/// Hanika and Lensch 2010). The albedo is divided out first, so that what a map draws stays sharp.
/// </summary>
public static class EdgeAwareFilter
{
    private const int Passes = 5;
    private static readonly float[] Taps = [1 / 16f, 4 / 16f, 6 / 16f, 4 / 16f, 1 / 16f];

    /// <param name="noise">Relative standard error of the picture: the less there is, the less is smoothed.</param>
    /// <returns>A picture of the same size and channels; alpha is kept.</returns>
    public static ImageBuffer Apply(ImageBuffer picture, ProofLayers layers, float noise)
    {
        int width = picture.Width,
            height = picture.Height,
            n = picture.ChannelCount;
        ImageBuffer albedo = layers.Picture("albedo"),
            normals = layers.Picture("normal"),
            depths = layers.Picture("depth");
        var light = new Vector3[width * height];
        var normal = new Vector3[light.Length];
        var colour = new Vector3[light.Length];
        var depth = new float[light.Length];
        for (var i = 0; i < light.Length; i++)
        {
            Vector3 Three(ImageBuffer from) =>
                new(from.Samples<float>()[3 * i], from.Samples<float>()[3 * i + 1], from.Samples<float>()[3 * i + 2]);
            (normal[i], depth[i]) = (Three(normals), depths.Samples<float>()[i]);
            colour[i] = depth[i] > 0 ? Vector3.Max(Three(albedo), new(0.02f)) : Vector3.One;
            var samples = picture.Samples<float>();
            light[i] = new Vector3(samples[i * n], samples[i * n + 1], samples[i * n + 2]) / colour[i];
        }
        var next = new Vector3[light.Length];
        for (var pass = 0; pass < Passes; pass++)
        {
            var step = 1 << pass;
            // A difference in light of several times the noise is no noise; what is left of it halves with every pass.
            var allowed = MathF.Max(1e-3f, 6f * noise / step);
            var (from, to) = (light, next);
            var seen = new Seen(width, height, from, normal, depth);
            Parallel.For(0, height, y =>
            {
                for (var x = 0; x < width; x++)
                    to[y * width + x] = seen.Smoothed(x, y, step, allowed);
            });
            (light, next) = (next, light);
        }
        var result = new ImageBuffer(width, height, picture.Channels, SampleType.F32);
        picture.Samples<float>().CopyTo(result.Samples<float>());
        var shown = result.Samples<float>();
        for (var i = 0; i < light.Length; i++)
        for (var c = 0; c < 3; c++)
            shown[i * n + c] = light[i][c] * colour[i][c];
        return result;
    }

    /// <summary>A picture of light without the colours of the surfaces, and what tells its parts from one another.</summary>
    private readonly record struct Seen(int Width, int Height, Vector3[] Light, Vector3[] Normal, float[] Depth)
    {
        /// <summary>The mean of 25 pixels that lie <paramref name="step"/> apart, those of the same surface and light first.</summary>
        public Vector3 Smoothed(int x, int y, int step, float allowed)
        {
            var at = y * Width + x;
            Vector3 sum = default;
            float weights = 0,
                own = Brightness(Light[at]);
            for (var dy = -2; dy <= 2; dy++)
            for (var dx = -2; dx <= 2; dx++)
            {
                int px = x + dx * step,
                    py = y + dy * step;
                if (px < 0 || py < 0 || px >= Width || py >= Height)
                    continue;
                var q = py * Width + px;
                if (Depth[q] > 0 != Depth[at] > 0)
                    continue;
                var weight = Taps[dx + 2] * Taps[dy + 2];
                if (q != at)
                {
                    var other = Brightness(Light[q]);
                    weight *= MathF.Exp(-MathF.Abs(own - other) / (allowed * (own + other + 0.02f)));
                    if (Depth[at] > 0)
                    {
                        weight *= MathF.Pow(MathF.Max(0, Vector3.Dot(Normal[at], Normal[q])), 64);
                        weight *= MathF.Exp(-MathF.Abs(Depth[at] - Depth[q]) / (0.01f * Depth[at] * step));
                    }
                }
                sum += Light[q] * weight;
                weights += weight;
            }
            return sum / weights;
        }
    }

    private static float Brightness(Vector3 v) => 0.27222872f * v.X + 0.67408177f * v.Y + 0.05368952f * v.Z;
}
