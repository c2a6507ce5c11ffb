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
            Parallel.For(0, height, y =>
            {
                for (var x = 0; x < width; x++)
                {
                    var at = y * width + x;
                    Vector3 sum = default;
                    float weights = 0,
                        own = Brightness(light[at]);
                    for (var dy = -2; dy <= 2; dy++)
                    for (var dx = -2; dx <= 2; dx++)
                    {
                        int px = x + dx * step,
                            py = y + dy * step;
                        if (px < 0 || py < 0 || px >= width || py >= height)
                            continue;
                        var q = py * width + px;
                        if (depth[q] > 0 != depth[at] > 0)
                            continue;
                        var weight = Taps[dx + 2] * Taps[dy + 2];
                        if (q != at)
                        {
                            var other = Brightness(light[q]);
                            weight *= MathF.Exp(-MathF.Abs(own - other) / (allowed * (own + other + 0.02f)));
                            if (depth[at] > 0)
                            {
                                weight *= MathF.Pow(MathF.Max(0, Vector3.Dot(normal[at], normal[q])), 64);
                                weight *= MathF.Exp(-MathF.Abs(depth[at] - depth[q]) / (0.01f * depth[at] * step));
                            }
                        }
                        sum += light[q] * weight;
                        weights += weight;
                    }
                    next[at] = sum / weights;
                }
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

    private static float Brightness(Vector3 v) => 0.27222872f * v.X + 0.67408177f * v.Y + 0.05368952f * v.Z;
}
