using System.Numerics;

namespace Kiln.Proof.Rendering;

/// <summary>
/// What a filter needs to know of a picture's noise: the picture by every other sample, twice, and how much samples of a pixel differ.
/// </summary>
internal sealed class NoiseRecord(int width, int height)
{
    private readonly Vector3[][] halves = [new Vector3[width * height], new Vector3[width * height]];
    private readonly Vector3[] squares = new Vector3[width * height];
    private readonly int[] counts = new int[width * height];

    public int Width => width;

    public int Height => height;

    public void Add(int pixel, Vector3 radiance)
    {
        halves[counts[pixel]++ & 1][pixel] += radiance;
        squares[pixel] += radiance * radiance;
    }

    /// <summary>The mean of one half of a pixel's samples.</summary>
    /// <param name="half">0 or 1.</param>
    public Vector3 Half(int half, int pixel) => halves[half][pixel] / Math.Max(1, (counts[pixel] + 1 - half) / 2);

    /// <summary>Variance of the mean of half the samples, as if they were independent.</summary>
    public Vector3 Variance(int pixel)
    {
        var n = Math.Max(2, counts[pixel]);
        var mean = (halves[0][pixel] + halves[1][pixel]) / n;
        return Vector3.Max(Vector3.Zero, squares[pixel] / n - mean * mean) * (2f / (n - 1));
    }
}
