namespace Kiln.Pixels;

/// <summary>Changing a picture's size by area averaging: every source sample counts by the area it covers in the target pixel.</summary>
public static class Resample
{
    /// <summary>Shrinks to exactly the given size (each at most the source's), averaging stored values as they are.</summary>
    public static ImageBuffer Area(ImageBuffer source, int width, int height, SampleType type = SampleType.F32)
    {
        if (width > source.Width || height > source.Height)
            throw new ArgumentException("Area averaging only makes pictures smaller.");
        if (type == SampleType.U8 && source.Type == SampleType.U8 && source.Width % width == 0 && source.Height % height == 0)
            return Boxes(source, width, height);
        var channels = source.ChannelCount;
        var result = new ImageBuffer(width, height, source.Channels, type);
        var columns = Weights(source.Width, width);
        var row = new float[source.Width * channels];
        var narrow = new float[width * channels];
        var target = new float[width * channels];
        var scale = (double)source.Height / height;
        var loaded = -1;
        for (var ty = 0; ty < height; ty++)
        {
            Array.Clear(target);
            double top = ty * scale, bottom = (ty + 1) * scale;
            for (var sy = (int)top; sy < Math.Min(source.Height, (int)Math.Ceiling(bottom - 1e-9)); sy++)
            {
                if (loaded != sy)
                {
                    source.ReadRow(sy, row);
                    Narrow(row, narrow, columns, channels);
                    loaded = sy;
                }
                var weight = (float)((Math.Min(bottom, sy + 1) - Math.Max(top, sy)) / scale);
                for (var i = 0; i < target.Length; i++)
                    target[i] += weight * narrow[i];
            }
            result.WriteRow(ty, target);
        }
        return result;
    }

    /// <summary>Shrinks so that the longer side is at most <paramref name="longest"/>; smaller pictures come back as they are.</summary>
    public static ImageBuffer ToFit(ImageBuffer source, int longest, SampleType type = SampleType.F32)
    {
        var scale = Math.Min(1.0, (double)longest / Math.Max(source.Width, source.Height));
        return scale >= 1.0
            ? source.As(type)
            : Area(source, Math.Max(1, (int)Math.Round(source.Width * scale)), Math.Max(1, (int)Math.Round(source.Height * scale)), type);
    }

    /// <summary>Whole-number factors on bytes, the usual case of a small copy: sums of codes, rounded once.</summary>
    private static ImageBuffer Boxes(ImageBuffer source, int width, int height)
    {
        int channels = source.ChannelCount, across = source.Width / width, down = source.Height / height, area = across * down;
        var result = new ImageBuffer(width, height, source.Channels, SampleType.U8);
        var sums = new int[width * channels];
        for (var ty = 0; ty < height; ty++)
        {
            Array.Clear(sums);
            for (var sy = ty * down; sy < (ty + 1) * down; sy++)
            {
                var row = source.Data.AsSpan(sy * source.Width * channels, source.Width * channels);
                for (int x = 0, i = 0; x < width; x++)
                    for (var k = 0; k < across; k++)
                        for (var c = 0; c < channels; c++)
                            sums[x * channels + c] += row[i++];
            }
            var target = result.Data.AsSpan(ty * width * channels, width * channels);
            for (var i = 0; i < sums.Length; i++)
                target[i] = (byte)((sums[i] + area / 2) / area);
        }
        return result;
    }

    private static void Narrow(float[] row, float[] narrow, (int Start, float[] Weights)[] columns, int channels)
    {
        for (var x = 0; x < columns.Length; x++)
        {
            var (start, weights) = columns[x];
            for (var c = 0; c < channels; c++)
            {
                var sum = 0f;
                for (var k = 0; k < weights.Length; k++)
                    sum += weights[k] * row[(start + k) * channels + c];
                narrow[x * channels + c] = sum;
            }
        }
    }

    private static (int Start, float[] Weights)[] Weights(int source, int target)
    {
        var scale = (double)source / target;
        return [.. Enumerable.Range(0, target).Select(t =>
        {
            double left = t * scale, right = (t + 1) * scale;
            var start = (int)left;
            var end = Math.Min(source, (int)Math.Ceiling(right - 1e-9));
            var weights = Enumerable.Range(start, end - start)
                .Select(s => (float)((Math.Min(right, s + 1) - Math.Max(left, s)) / scale)).ToArray();
            return (start, weights);
        })];
    }
}
