using System.Numerics;

namespace Kiln.Colour;

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
        Matrix = IsIdentity || from.Primaries == to.Primaries && from.Primaries is not null ? Matrix3.Identity : to.ToXyzD65().Inverse() * from.ToXyzD65();
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

    /// <summary>Interleaved pixels in place: the first three of every <paramref name="stride"/> samples; the rest (alpha) stay.</summary>
    public void Apply(Span<float> pixels, int stride = 3)
    {
        if (IsIdentity)
            return;
        float m11 = (float)Matrix.M11, m12 = (float)Matrix.M12, m13 = (float)Matrix.M13;
        float m21 = (float)Matrix.M21, m22 = (float)Matrix.M22, m23 = (float)Matrix.M23;
        float m31 = (float)Matrix.M31, m32 = (float)Matrix.M32, m33 = (float)Matrix.M33;
        bool decoding = !From.IsLinear, encoding = !To.IsLinear;
        for (var i = 0; i + 2 < pixels.Length; i += stride)
        {
            float r = pixels[i], g = pixels[i + 1], b = pixels[i + 2];
            if (decoding)
                (r, g, b) = (decode.Decode(r), decode.Decode(g), decode.Decode(b));
            (r, g, b) = (m11 * r + m12 * g + m13 * b, m21 * r + m22 * g + m23 * b, m31 * r + m32 * g + m33 * b);
            if (encoding)
                (r, g, b) = (encode.Encode(r), encode.Encode(g), encode.Encode(b));
            pixels[i] = r;
            pixels[i + 1] = g;
            pixels[i + 2] = b;
        }
    }
}
