using System.Numerics;
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
        if (
            type == source.Type
            && !type.IsFloat()
            && source.Width % width == 0
            && source.Height % height == 0
            && source.Width / width * (source.Height / height) <= 4096
        )
        {
            var boxes = new ImageBuffer(width, height, source.Channels, type);
            Boxes(source, boxes);
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
            double top = ty * scale,
                bottom = (ty + 1) * scale;
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

    /// <summary>
    /// Whole-number factors on integer codes, the usual case of a small copy: sums of codes, first down, then across, rounded once.
    /// </summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private static void Boxes(ImageBuffer source, ImageBuffer result)
    {
        int channels = source.ChannelCount,
            stride = source.Width * channels,
            across = source.Width / result.Width,
            down = source.Height / result.Height;
        uint area = (uint)(across * down),
            half = area / 2;
        // Areas are powers of two nearly always, and shifting is many times quicker than dividing.
        var shift = BitOperations.IsPow2(area) ? BitOperations.Log2(area) : -1;
        var sums = new uint[stride];
        var target = new uint[result.Width * channels];
        for (var ty = 0; ty < result.Height; ty++)
        {
            Array.Clear(sums);
            for (var sy = ty * down; sy < (ty + 1) * down; sy++)
                if (source.Type == SampleType.U8)
                    AddBytes(source.Data.AsSpan(sy * stride, stride), sums);
                else
                    AddCodes(source.Samples<ushort>().Slice(sy * stride, stride), sums);
            for (var c = 0; c < channels; c++)
            for (int x = c, at = c; x < target.Length; x += channels)
            {
                uint sum = half;
                for (var k = 0; k < across; k++, at += channels)
                    sum += sums[at];
                target[x] = shift >= 0 ? sum >> shift : sum / area;
            }
            for (var x = 0; x < target.Length; x++)
                if (source.Type == SampleType.U8)
                    result.Data[ty * target.Length + x] = (byte)target[x];
                else
                    result.Samples<ushort>()[ty * target.Length + x] = (ushort)target[x];
        }
    }

    private static void AddBytes(ReadOnlySpan<byte> codes, Span<uint> sums)
    {
        var at = 0;
        for (; at + Vector<byte>.Count <= codes.Length; at += Vector<byte>.Count)
        {
            Vector.Widen(new Vector<byte>(codes[at..]), out var low, out var high);
            AddWide(low, sums[at..]);
            AddWide(high, sums[(at + Vector<ushort>.Count)..]);
        }
        for (; at < codes.Length; at++)
            sums[at] += codes[at];
    }

    private static void AddCodes(ReadOnlySpan<ushort> codes, Span<uint> sums)
    {
        var at = 0;
        for (; at + Vector<ushort>.Count <= codes.Length; at += Vector<ushort>.Count)
            AddWide(new Vector<ushort>(codes[at..]), sums[at..]);
        for (; at < codes.Length; at++)
            sums[at] += codes[at];
    }

    private static void AddWide(Vector<ushort> codes, Span<uint> sums)
    {
        Vector.Widen(codes, out var low, out var high);
        (new Vector<uint>(sums) + low).CopyTo(sums);
        var upper = sums[Vector<uint>.Count..];
        (new Vector<uint>(upper) + high).CopyTo(upper);
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
        return
        [
            .. Enumerable
                .Range(0, target)
                .Select(t =>
                {
                    double left = t * scale,
                        right = (t + 1) * scale;
                    var start = (int)left;
                    var end = Math.Min(source, (int)Math.Ceiling(right - 1e-9));
                    var weights = Enumerable
                        .Range(start, end - start)
                        .Select(s => (float)((Math.Min(right, s + 1) - Math.Max(left, s)) / scale))
                        .ToArray();
                    return (start, weights);
                }),
        ];
    }
}
