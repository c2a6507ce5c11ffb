using System.Runtime.CompilerServices;

namespace Kiln.Pixels;

/// <summary>Changing a picture's size by area averaging: every source sample counts by the area it covers in the target pixel.</summary>
public static class Resample
{
    /// <summary>Shrinks to exactly the given size (each at most the source's), averaging stored values as they are.</summary>
    public static ImageBuffer Area(ImageBuffer source, int width, int height, SampleType type = SampleType.F32)
    {
        if (width > source.Width || height > source.Height)
            throw new ArgumentException("Area averaging only makes pictures smaller.");
        if (type == source.Type && !type.IsFloat() && source.Width % width == 0 && source.Height % height == 0 && source.Width / width * (source.Height / height) <= 4096)
        {
            var boxes = new ImageBuffer(width, height, source.Channels, type);
            if (type == SampleType.U8)
                Boxes<byte>(source, boxes);
            else
                Boxes<ushort>(source, boxes);
            return boxes;
        }
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

    /// <summary>Whole-number factors on integer codes, the usual case of a small copy: sums of codes, rounded once.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private static void Boxes<T>(ImageBuffer source, ImageBuffer result) where T : unmanaged
    {
        int channels = source.ChannelCount, width = result.Width, across = source.Width / width, down = source.Height / result.Height, area = across * down;
        var sums = new int[width * channels];
        ReadOnlySpan<T> codes = source.Samples<T>();
        var targets = result.Samples<T>();
        for (var ty = 0; ty < result.Height; ty++)
        {
            Array.Clear(sums);
            for (var sy = ty * down; sy < (ty + 1) * down; sy++)
            {
                var row = codes.Slice(sy * source.Width * channels, source.Width * channels);
                if (channels == 3)
                    for (int x = 0, i = 0; x + 2 < sums.Length; x += 3)
                    {
                        int r = 0, g = 0, b = 0;
                        for (var k = 0; k < across; k++, i += 3)
                        {
                            r += Code(row[i]);
                            g += Code(row[i + 1]);
                            b += Code(row[i + 2]);
                        }
                        sums[x] += r;
                        sums[x + 1] += g;
                        sums[x + 2] += b;
                    }
                else
                    for (int x = 0, i = 0; x < sums.Length; x += channels)
                        for (var k = 0; k < across; k++, i += channels)
                            for (var c = 0; c < channels; c++)
                                sums[x + c] += Code(row[i + c]);
            }
            var target = targets.Slice(ty * sums.Length, sums.Length);
            for (var i = 0; i < sums.Length; i++)
                target[i] = Sample<T>((sums[i] + area / 2) / area);
        }
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static int Code<T>(T sample) where T : unmanaged => Unsafe.SizeOf<T>() == 1 ? Unsafe.As<T, byte>(ref sample) : Unsafe.As<T, ushort>(ref sample);

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static T Sample<T>(int code) where T : unmanaged
    {
        if (Unsafe.SizeOf<T>() == 1)
        {
            var one = (byte)code;
            return Unsafe.As<byte, T>(ref one);
        }
        var two = (ushort)code;
        return Unsafe.As<ushort, T>(ref two);
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
