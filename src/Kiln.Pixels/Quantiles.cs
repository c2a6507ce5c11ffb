namespace Kiln.Pixels;

/// <summary>The values below which given shares of a picture's pixels lie.</summary>
public static class Quantiles
{
    /// <summary>
    /// Quantiles of each channel at evenly spread shares from 0 (the least value) to 1 (the greatest), between two pixels linearly
    /// (Hyndman and Fan, "Sample Quantiles in Statistical Packages", The American Statistician 50, 1996, their type 7).
    /// </summary>
    /// <param name="count">How many, at least 2.</param>
    /// <returns>A list for each channel, rising.</returns>
    public static float[][] Of(ImageBuffer picture, int count)
    {
        ArgumentOutOfRangeException.ThrowIfLessThan(count, 2);
        var pixels = picture.Width * picture.Height;
        var values = new float[picture.ChannelCount][];
        for (var c = 0; c < values.Length; c++)
            values[c] = new float[pixels];
        var row = new float[picture.Width * picture.ChannelCount];
        for (var y = 0; y < picture.Height; y++)
        {
            picture.ReadRow(y, row);
            for (var i = 0; i < row.Length; i++)
                values[i % values.Length][y * picture.Width + i / values.Length] = row[i];
        }
        return
        [
            .. values.Select(v =>
            {
                Array.Sort(v);
                return Enumerable.Range(0, count).Select(i => At(v, (double)i / (count - 1))).ToArray();
            }),
        ];
    }

    private static float At(float[] sorted, double share)
    {
        var place = share * (sorted.Length - 1);
        var low = (int)place;
        var high = Math.Min(low + 1, sorted.Length - 1);
        return (float)(sorted[low] + (sorted[high] - (double)sorted[low]) * (place - low));
    }
}
