using System.Collections.Immutable;
using System.Numerics;
using System.Numerics.Tensors;
using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;

namespace Kiln.Pixels;

/// <summary>
/// A picture in memory: interleaved samples, top row first, in the sample type of the file it came from.
/// Samples are returned as floats, integers divided by their greatest code (0..1).
/// </summary>
public sealed class ImageBuffer
{
    public ImageBuffer(int width, int height, ImmutableArray<string> channels, SampleType type, byte[]? data = null)
    {
        ArgumentOutOfRangeException.ThrowIfNegativeOrZero(width);
        ArgumentOutOfRangeException.ThrowIfNegativeOrZero(height);
        var bytes = (long)width * height * channels.Length * type.Bytes();
        if (bytes > int.MaxValue)
            throw new PictureException($"A picture of {width} x {height} with {channels.Length} channels is larger than 2 GB in memory.");
        Width = width;
        Height = height;
        Channels = channels;
        Type = type;
        Data = data ?? new byte[bytes];
        if (Data.Length != bytes)
            throw new ArgumentException($"Expected {bytes} bytes of samples, got {Data.Length}.", nameof(data));
    }

    public int Width { get; }

    public int Height { get; }

    /// <summary>Channel names in order: R G B A, Y, or the file's own for OpenEXR.</summary>
    public ImmutableArray<string> Channels { get; }

    public SampleType Type { get; }

    /// <summary>Samples in native byte order, row by row from the top, channels interleaved.</summary>
    public byte[] Data { get; }

    public int ChannelCount => Channels.Length;

    public static readonly ImmutableArray<string> Grey = ["Y"];
    public static readonly ImmutableArray<string> GreyAlpha = ["Y", "A"];
    public static readonly ImmutableArray<string> Rgb = ["R", "G", "B"];
    public static readonly ImmutableArray<string> Rgba = ["R", "G", "B", "A"];

    /// <summary>The usual names for a number of channels, 1 to 4; beyond that C0, C1, …</summary>
    public static ImmutableArray<string> UsualChannels(int count) =>
        count switch
        {
            1 => Grey,
            2 => GreyAlpha,
            3 => Rgb,
            4 => Rgba,
            _ => [.. Enumerable.Range(0, count).Select(i => $"C{i}")],
        };

    public static ImageBuffer FromFloats(int width, int height, int channels, ReadOnlySpan<float> samples)
    {
        var buffer = new ImageBuffer(width, height, UsualChannels(channels), SampleType.F32);
        samples[..(width * height * channels)].CopyTo(buffer.Samples<float>());
        return buffer;
    }

    public Span<T> Samples<T>()
        where T : unmanaged => MemoryMarshal.Cast<byte, T>(Data.AsSpan());

    /// <summary>One sample as a float. Coordinates must lie inside the picture.</summary>
    public float this[int x, int y, int channel]
    {
        get
        {
            var i = (y * Width + x) * ChannelCount + channel;
            return Type switch
            {
                SampleType.U8 => Data[i] / 255f,
                SampleType.U16 => Samples<ushort>()[i] / 65535f,
                SampleType.F16 => (float)Samples<Half>()[i],
                _ => Samples<float>()[i],
            };
        }
        set
        {
            var i = (y * Width + x) * ChannelCount + channel;
            switch (Type)
            {
                case SampleType.U8:
                    Data[i] = (byte)Quantise(value, 255f);
                    break;
                case SampleType.U16:
                    Samples<ushort>()[i] = (ushort)Quantise(value, 65535f);
                    break;
                case SampleType.F16:
                    Samples<Half>()[i] = (Half)value;
                    break;
                default:
                    Samples<float>()[i] = value;
                    break;
            }
        }
    }

    /// <summary>Reads row <paramref name="y"/> as floats, interleaved, Width × ChannelCount of them.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public void ReadRow(int y, Span<float> row)
    {
        var n = Width * ChannelCount;
        switch (Type)
        {
            case SampleType.U8:
                var bytes = Data.AsSpan(y * n, n);
                for (var i = 0; i < n; i++)
                    row[i] = bytes[i] * (1f / 255f);
                break;
            case SampleType.U16:
                var words = Samples<ushort>().Slice(y * n, n);
                var at = 0;
                for (; at + Vector<ushort>.Count <= n; at += Vector<ushort>.Count)
                {
                    Vector.Widen(new Vector<ushort>(words[at..]), out var low, out var high);
                    (Vector.ConvertToSingle(low) * (1f / 65535f)).CopyTo(row[at..]);
                    (Vector.ConvertToSingle(high) * (1f / 65535f)).CopyTo(row[(at + Vector<float>.Count)..]);
                }
                for (; at < n; at++)
                    row[at] = words[at] * (1f / 65535f);
                break;
            case SampleType.F16:
                HalfRows.ToSingle(Samples<Half>().Slice(y * n, n), row);
                break;
            default:
                Samples<float>().Slice(y * n, n).CopyTo(row);
                break;
        }
    }

    /// <summary>Writes a row of floats; integer samples are clamped to 0..1 and rounded to the nearest code.</summary>
    public void WriteRow(int y, ReadOnlySpan<float> row) => Write(y, 0, row[..(Width * ChannelCount)]);

    /// <summary>Writes a piece of row <paramref name="y"/> from column <paramref name="x"/> on, whole pixels interleaved.</summary>
    public void Write(int y, int x, ReadOnlySpan<float> piece)
    {
        var at = (y * Width + x) * ChannelCount;
        switch (Type)
        {
            case SampleType.U8:
                for (var i = 0; i < piece.Length; i++)
                    Data[at + i] = (byte)Quantise(piece[i], 255f);
                break;
            case SampleType.U16:
                var words = Samples<ushort>().Slice(at, piece.Length);
                for (var i = 0; i < piece.Length; i++)
                    words[i] = (ushort)Quantise(piece[i], 65535f);
                break;
            case SampleType.F16:
                TensorPrimitives.ConvertToHalf(piece, Samples<Half>().Slice(at, piece.Length));
                break;
            default:
                piece.CopyTo(Samples<float>().Slice(at, piece.Length));
                break;
        }
    }

    /// <summary>The same picture in another sample type.</summary>
    public ImageBuffer As(SampleType type)
    {
        if (type == Type)
            return this;
        var result = new ImageBuffer(Width, Height, Channels, type);
        Parallel.For(
            0,
            Height,
            () => new float[Width * ChannelCount],
            (y, _, row) =>
            {
                ReadRow(y, row);
                result.WriteRow(y, row);
                return row;
            },
            _ => { }
        );
        return result;
    }

    private static float Quantise(float value, float greatest)
    {
        // NaN compares false with everything and so becomes 0.
        var clamped = value > 0f ? MathF.Min(value, 1f) : 0f;
        return MathF.Floor(clamped * greatest + 0.5f);
    }
}
