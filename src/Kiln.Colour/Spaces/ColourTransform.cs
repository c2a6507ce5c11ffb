using System.Numerics;
using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;
using System.Runtime.Intrinsics;

namespace Kiln.Colour.Spaces;

/// <summary>From one space to another: decode, one matrix, encode. To or from <see cref="ColourSpace.Raw"/> nothing changes.</summary>
public sealed class ColourTransform
{
    private readonly ColourEncoding decode;
    private readonly ColourEncoding encode;

    private ColourTransform(ColourSpace from, ColourSpace to)
    {
        From = from;
        To = to;
        IsIdentity = from == to || from.IsRaw || to.IsRaw;
        Matrix =
            IsIdentity || from.Primaries == to.Primaries && from.Primaries is not null
                ? Matrix3.Identity
                : to.ToXyzD65().Inverse() * from.ToXyzD65();
        decode = from.Encoding;
        encode = to.Encoding;
    }

    public ColourSpace From { get; }

    public ColourSpace To { get; }

    /// <summary>Linear to linear, in double precision.</summary>
    public Matrix3 Matrix { get; }

    public bool IsIdentity { get; }

    public static ColourTransform Between(ColourSpace from, ColourSpace to) => new(from, to);

    /// <summary>One colour.</summary>
    public Vector3 Apply(Vector3 rgb)
    {
        if (IsIdentity)
            return rgb;
        var linear = new Vector3(decode.Decode(rgb.X), decode.Decode(rgb.Y), decode.Decode(rgb.Z));
        linear = Matrix.Apply(linear);
        return new(encode.Encode(linear.X), encode.Encode(linear.Y), encode.Encode(linear.Z));
    }

    private const int Block = 1024;

    /// <summary>Interleaved pixels in place: the first three of every <paramref name="stride"/> samples; the rest (alpha) stay.</summary>
    public void Apply(Span<float> pixels, int stride = 3)
    {
        if (IsIdentity)
            return;
        if (stride == 3)
        {
            // A block at a time, so that decoding, matrix and encoding find it in the cache.
            for (var at = 0; at + 2 < pixels.Length; at += 3 * Block)
                Three(pixels.Slice(at, Math.Min(3 * Block, (pixels.Length - at) / 3 * 3)));
            return;
        }
        Span<float> packed = stackalloc float[3 * Block];
        for (int at = 0, count = pixels.Length / stride; at < count; at += Block)
        {
            var some = Math.Min(Block, count - at);
            for (var i = 0; i < some; i++)
                pixels.Slice((at + i) * stride, 3).CopyTo(packed[(3 * i)..]);
            Three(packed[..(3 * some)]);
            for (var i = 0; i < some; i++)
                packed.Slice(3 * i, 3).CopyTo(pixels[((at + i) * stride)..]);
        }
    }

    private void Three(Span<float> pixels)
    {
        decode.Decode(pixels);
        if (!Matrix.IsIdentity())
            Multiply(pixels);
        encode.Encode(pixels);
    }

    /// <summary>Eight pixels at a time: three vectors are sorted into red, green and blue, multiplied, and sorted back.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private void Multiply(Span<float> pixels)
    {
        var whole = MemoryMarshal.Cast<float, Vector256<float>>(pixels[..(pixels.Length / 24 * 24)]);
        Vector256<float> m11 = Vector256.Create((float)Matrix.M11),
            m12 = Vector256.Create((float)Matrix.M12),
            m13 = Vector256.Create((float)Matrix.M13);
        Vector256<float> m21 = Vector256.Create((float)Matrix.M21),
            m22 = Vector256.Create((float)Matrix.M22),
            m23 = Vector256.Create((float)Matrix.M23);
        Vector256<float> m31 = Vector256.Create((float)Matrix.M31),
            m32 = Vector256.Create((float)Matrix.M32),
            m33 = Vector256.Create((float)Matrix.M33);
        for (var i = 0; i + 2 < whole.Length; i += 3)
        {
            var (r, g, b) = InterleavedPixels.Sorted(whole[i], whole[i + 1], whole[i + 2]);
            var x = Vector256.MultiplyAddEstimate(m13, b, Vector256.MultiplyAddEstimate(m12, g, m11 * r));
            var y = Vector256.MultiplyAddEstimate(m23, b, Vector256.MultiplyAddEstimate(m22, g, m21 * r));
            var z = Vector256.MultiplyAddEstimate(m33, b, Vector256.MultiplyAddEstimate(m32, g, m31 * r));
            (whole[i], whole[i + 1], whole[i + 2]) = InterleavedPixels.Joined(x, y, z);
        }
        for (var i = whole.Length * 8; i + 2 < pixels.Length; i += 3)
            Matrix.Apply(new Vector3(pixels[i], pixels[i + 1], pixels[i + 2])).CopyTo(pixels[i..]);
    }
}
