using System.Numerics;
using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;
using System.Runtime.Intrinsics;
using Kiln.Colour.Configs;
using Kiln.Colour.Spaces;

namespace Kiln.Colour.Operations;

/// <summary>A 4 × 4 matrix, row by row, and an offset; combined and inverted in double precision, applied in single.</summary>
public sealed record MatrixOp : ColourOp
{
    private readonly double[] m;
    private readonly double[] offset;
    private readonly Matrix4x4 columns;
    private readonly Vector4 shift;

    /// <summary>The matrix over red, green and blue, where that is all there is: no offset, alpha by itself.</summary>
    private readonly Matrix3? three;

    /// <param name="matrix">16 numbers.</param>
    /// <param name="offset">4 numbers.</param>
    public MatrixOp(double[] matrix, double[] offset)
    {
        (m, this.offset) = (matrix, offset);
        // Row vectors times the transpose.
        columns = new(
            (float)m[0],
            (float)m[4],
            (float)m[8],
            (float)m[12],
            (float)m[1],
            (float)m[5],
            (float)m[9],
            (float)m[13],
            (float)m[2],
            (float)m[6],
            (float)m[10],
            (float)m[14],
            (float)m[3],
            (float)m[7],
            (float)m[11],
            (float)m[15]
        );
        shift = new((float)offset[0], (float)offset[1], (float)offset[2], (float)offset[3]);
        var plain = offset.All(o => o == 0) && m[15] == 1 && m[3] == 0 && m[7] == 0 && m[11] == 0 && m[12] == 0 && m[13] == 0 && m[14] == 0;
        three = plain ? new(m[0], m[1], m[2], m[4], m[5], m[6], m[8], m[9], m[10]) : null;
    }

    public static MatrixOp Of(Matrix3 a) =>
        new([a.M11, a.M12, a.M13, 0, a.M21, a.M22, a.M23, 0, a.M31, a.M32, a.M33, 0, 0, 0, 0, 1], new double[4]);

    /// <summary>A factor and then an offset for each of red, green and blue.</summary>
    public static MatrixOp Scale(double[] factor, double[] offset) =>
        new([factor[0], 0, 0, 0, 0, factor[1], 0, 0, 0, 0, factor[2], 0, 0, 0, 0, 1], [offset[0], offset[1], offset[2], 0]);

    public override bool IsIdentity
    {
        get
        {
            for (var i = 0; i < 16; i++)
                if (Math.Abs(m[i] - (i % 5 == 0 ? 1 : 0)) > 1e-9)
                    return false;
            return offset.All(o => o == 0);
        }
    }

    public override bool ReadsAlpha => m[3] != 0 || m[7] != 0 || m[11] != 0;

    public override void Apply(Span<Vector4> pixels)
    {
        foreach (ref var p in pixels)
            p = Vector4.Transform(p, columns) + shift;
    }

    public override Vector3 Apply(Vector3 rgb) => three is { } matrix ? matrix.Apply(rgb) : base.Apply(rgb);

    public override void Apply(Span<float> rgb)
    {
        if (three is { } matrix)
            Multiply(matrix, rgb);
        else
            base.Apply(rgb);
    }

    /// <summary>Eight pixels at a time: three vectors are sorted into red, green and blue, multiplied, and sorted back.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private static void Multiply(Matrix3 matrix, Span<float> pixels)
    {
        var whole = MemoryMarshal.Cast<float, Vector256<float>>(pixels[..(pixels.Length / 24 * 24)]);
        Vector256<float> m11 = Vector256.Create((float)matrix.M11),
            m12 = Vector256.Create((float)matrix.M12),
            m13 = Vector256.Create((float)matrix.M13);
        Vector256<float> m21 = Vector256.Create((float)matrix.M21),
            m22 = Vector256.Create((float)matrix.M22),
            m23 = Vector256.Create((float)matrix.M23);
        Vector256<float> m31 = Vector256.Create((float)matrix.M31),
            m32 = Vector256.Create((float)matrix.M32),
            m33 = Vector256.Create((float)matrix.M33);
        for (var i = 0; i + 2 < whole.Length; i += 3)
        {
            var (r, g, b) = InterleavedPixels.Sorted(whole[i], whole[i + 1], whole[i + 2]);
            var x = Vector256.MultiplyAddEstimate(m13, b, Vector256.MultiplyAddEstimate(m12, g, m11 * r));
            var y = Vector256.MultiplyAddEstimate(m23, b, Vector256.MultiplyAddEstimate(m22, g, m21 * r));
            var z = Vector256.MultiplyAddEstimate(m33, b, Vector256.MultiplyAddEstimate(m32, g, m31 * r));
            (whole[i], whole[i + 1], whole[i + 2]) = InterleavedPixels.Joined(x, y, z);
        }
        for (var i = whole.Length * 8; i + 2 < pixels.Length; i += 3)
            matrix.Apply(new Vector3(pixels[i], pixels[i + 1], pixels[i + 2])).CopyTo(pixels[i..]);
    }

    public MatrixOp Then(MatrixOp next)
    {
        var product = new double[16];
        var moved = new double[4];
        for (var r = 0; r < 4; r++)
        {
            for (var c = 0; c < 4; c++)
            for (var k = 0; k < 4; k++)
                product[4 * r + c] += next.m[4 * r + k] * m[4 * k + c];
            moved[r] = next.offset[r];
            for (var k = 0; k < 4; k++)
                moved[r] += next.m[4 * r + k] * offset[k];
        }
        return new(product, moved);
    }

    public override ColourOp Inverse()
    {
        var inverse = InverseOf(m) ?? throw new ConfigException("a matrix without an inverse is asked for backwards");
        var moved = new double[4];
        for (var r = 0; r < 4; r++)
        for (var k = 0; k < 4; k++)
            moved[r] -= inverse[4 * r + k] * offset[k];
        return new MatrixOp(inverse, moved);
    }

    /// <summary>By elimination with pivots.</summary>
    private static double[]? InverseOf(double[] matrix)
    {
        var a = (double[])matrix.Clone();
        var b = new double[16];
        for (var i = 0; i < 4; i++)
            b[5 * i] = 1;
        for (var c = 0; c < 4; c++)
        {
            var pivot = Enumerable.Range(c, 4 - c).MaxBy(r => Math.Abs(a[4 * r + c]));
            if (Math.Abs(a[4 * pivot + c]) < 1e-12)
                return null;
            for (var k = 0; k < 4; k++)
            {
                (a[4 * c + k], a[4 * pivot + k]) = (a[4 * pivot + k], a[4 * c + k]);
                (b[4 * c + k], b[4 * pivot + k]) = (b[4 * pivot + k], b[4 * c + k]);
            }
            var d = a[5 * c];
            for (var k = 0; k < 4; k++)
                (a[4 * c + k], b[4 * c + k]) = (a[4 * c + k] / d, b[4 * c + k] / d);
            for (var r = 0; r < 4; r++)
            {
                var f = a[4 * r + c];
                if (r == c || f == 0)
                    continue;
                for (var k = 0; k < 4; k++)
                    (a[4 * r + k], b[4 * r + k]) = (a[4 * r + k] - f * a[4 * c + k], b[4 * r + k] - f * b[4 * c + k]);
            }
        }
        return b;
    }

    public bool Equals(MatrixOp? other) =>
        other is not null && m.AsSpan().SequenceEqual(other.m) && offset.AsSpan().SequenceEqual(other.offset);

    public override int GetHashCode() => HashCode.Combine(m[0], m[1], m[5], offset[0]);
}
