using System.Numerics;
using Kiln.Colour.Operations;

namespace Kiln.Colour.Spaces;

/// <summary>
/// From one space of ours to another: decode, one matrix, encode. To or from <see cref="ColourSpace.Raw"/> nothing changes.
/// </summary>
public sealed class ColourTransform
{
    private ColourTransform(ColourSpace from, ColourSpace to)
    {
        (From, To) = (from, to);
        IsIdentity = from == to || from.IsRaw || to.IsRaw;
        Matrix =
            IsIdentity || from.Primaries == to.Primaries && from.Primaries is not null
                ? Matrix3.Identity
                : to.ToXyzD65().Inverse() * from.ToXyzD65();
        Chain = IsIdentity
            ? ColourChain.Identity
            : new([new EncodingOp(from.Encoding, Decodes: true), MatrixOp.Of(Matrix), new EncodingOp(to.Encoding, Decodes: false)]);
    }

    public ColourSpace From { get; }

    public ColourSpace To { get; }

    /// <summary>Linear to linear, in double precision.</summary>
    public Matrix3 Matrix { get; }

    /// <summary>The steps, without those that change nothing.</summary>
    public ColourChain Chain { get; }

    public bool IsIdentity { get; }

    public static ColourTransform Between(ColourSpace from, ColourSpace to) => new(from, to);

    /// <summary>One colour.</summary>
    public Vector3 Apply(Vector3 rgb) => Chain.Apply(rgb);

    /// <summary>Interleaved pixels in place: the first three of every <paramref name="stride"/> samples; the rest (alpha) stay.</summary>
    public void Apply(Span<float> pixels, int stride = 3) => Chain.Apply(pixels, stride);
}
