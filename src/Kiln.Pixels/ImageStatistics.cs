using System.Runtime.CompilerServices;

namespace Kiln.Pixels;

/// <summary>What one channel holds: extremes and mean in sample units, standard deviation, and how many samples are not finite.</summary>
public sealed record ChannelStatistics(float Minimum, float Mean, float Maximum, float Deviation, long NotFinite)
{
    public bool IsConstant => Maximum - Minimum <= 1e-6f;
}

public static class ImageStatistics
{
    /// <summary>Statistics of every channel over all pixels; samples that are NaN or infinite are counted and left out.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public static ChannelStatistics[] Measure(ImageBuffer image)
    {
        var channels = image.ChannelCount;
        var minimum = Enumerable.Repeat(float.PositiveInfinity, channels).ToArray();
        var maximum = Enumerable.Repeat(float.NegativeInfinity, channels).ToArray();
        var sum = new double[channels];
        var squares = new double[channels];
        var notFinite = new long[channels];
        var row = new float[image.Width * channels];
        for (var y = 0; y < image.Height; y++)
        {
            image.ReadRow(y, row);
            for (var c = 0; c < channels; c++)
            {
                float low = minimum[c],
                    high = maximum[c];
                double total = 0,
                    square = 0;
                for (var i = c; i < row.Length; i += channels)
                {
                    var v = row[i];
                    if (!float.IsFinite(v))
                    {
                        notFinite[c]++;
                        continue;
                    }
                    low = v < low ? v : low;
                    high = v > high ? v : high;
                    total += v;
                    square += (double)v * v;
                }
                (minimum[c], maximum[c]) = (low, high);
                sum[c] += total;
                squares[c] += square;
            }
        }
        var pixels = (long)image.Width * image.Height;
        var result = new ChannelStatistics[channels];
        for (var c = 0; c < channels; c++)
        {
            var n = Math.Max(1, pixels - notFinite[c]);
            var mean = sum[c] / n;
            var any = notFinite[c] < pixels;
            result[c] = new(
                any ? minimum[c] : 0,
                (float)mean,
                any ? maximum[c] : 0,
                (float)Math.Sqrt(Math.Max(0, squares[c] / n - mean * mean)),
                notFinite[c]
            );
        }
        return result;
    }

    /// <summary>Counts of one channel in equal bins over low..high; what lies outside is counted in the end bins.</summary>
    public static int[] Histogram(ImageBuffer image, int channel, int bins, float low = 0f, float high = 1f)
    {
        var counts = new int[bins];
        var row = new float[image.Width * image.ChannelCount];
        var scale = bins / (high - low);
        for (var y = 0; y < image.Height; y++)
        {
            image.ReadRow(y, row);
            for (var i = channel; i < row.Length; i += image.ChannelCount)
                counts[float.IsFinite(row[i]) ? Math.Clamp((int)((row[i] - low) * scale), 0, bins - 1) : 0]++;
        }
        return counts;
    }
}
