namespace Kiln.Pixels.Writing;

/// <summary>
/// A picture and its smaller levels, each half of the one before (rounded down) to a single pixel: mean values over the area that a pixel
/// covers, of the numbers as they are stored.
/// </summary>
public static class PictureLevels
{
    /// <summary>The picture itself first.</summary>
    public static IEnumerable<ImageBuffer> Of(ImageBuffer picture)
    {
        yield return picture;
        // Means are kept as floats, so that nothing is rounded twice.
        var exact = picture;
        while (exact.Width > 1 || exact.Height > 1)
        {
            exact = Half(exact);
            yield return exact.As(picture.Type);
        }
    }

    private static ImageBuffer Half(ImageBuffer from)
    {
        int width = Math.Max(1, from.Width / 2),
            height = Math.Max(1, from.Height / 2),
            n = from.ChannelCount;
        var to = new ImageBuffer(width, height, from.Channels, SampleType.F32);
        var columns = Shares(from.Width, width);
        var rows = Shares(from.Height, height);
        Parallel.For(0, height, y =>
        {
            var (first, weights) = rows[y];
            var source = new float[from.Width * n];
            var sum = new float[from.Width * n];
            for (var i = 0; i < weights.Length; i++)
            {
                from.ReadRow(first + i, source);
                System.Numerics.Tensors.TensorPrimitives.MultiplyAdd(source, weights[i], sum, sum);
            }
            var row = new float[width * n];
            for (var x = 0; x < width; x++)
            {
                var (left, shares) = columns[x];
                for (var c = 0; c < n; c++)
                {
                    var value = 0f;
                    for (var i = 0; i < shares.Length; i++)
                        value += sum[(left + i) * n + c] * shares[i];
                    row[x * n + c] = value;
                }
            }
            to.WriteRow(y, row);
        });
        return to;
    }

    /// <summary>For each pixel of the smaller side: the first of the larger it covers, and how much of each.</summary>
    private static (int First, float[] Weights)[] Shares(int from, int to)
    {
        var result = new (int, float[])[to];
        for (var i = 0; i < to; i++)
        {
            double start = (double)i * from / to,
                end = (double)(i + 1) * from / to;
            var (first, last) = ((int)start, Math.Min(from, (int)Math.Ceiling(end - 1e-9)));
            result[i] = (
                first,
                [.. Enumerable.Range(first, last - first).Select(k => (float)((Math.Min(end, k + 1) - Math.Max(start, k)) / (end - start)))]
            );
        }
        return result;
    }
}
