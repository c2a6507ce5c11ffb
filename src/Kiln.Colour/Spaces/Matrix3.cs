using System.Numerics;

namespace Kiln.Colour.Spaces;

/// <summary>A 3 × 3 matrix in double precision, row by row; vectors are columns.</summary>
public readonly record struct Matrix3(
    double M11,
    double M12,
    double M13,
    double M21,
    double M22,
    double M23,
    double M31,
    double M32,
    double M33
)
{
    public static readonly Matrix3 Identity = Diagonal(1, 1, 1);

    public static Matrix3 Diagonal(double a, double b, double c) => new(a, 0, 0, 0, b, 0, 0, 0, c);

    public static Matrix3 operator *(Matrix3 a, Matrix3 b) =>
        new(
            a.M11 * b.M11 + a.M12 * b.M21 + a.M13 * b.M31,
            a.M11 * b.M12 + a.M12 * b.M22 + a.M13 * b.M32,
            a.M11 * b.M13 + a.M12 * b.M23 + a.M13 * b.M33,
            a.M21 * b.M11 + a.M22 * b.M21 + a.M23 * b.M31,
            a.M21 * b.M12 + a.M22 * b.M22 + a.M23 * b.M32,
            a.M21 * b.M13 + a.M22 * b.M23 + a.M23 * b.M33,
            a.M31 * b.M11 + a.M32 * b.M21 + a.M33 * b.M31,
            a.M31 * b.M12 + a.M32 * b.M22 + a.M33 * b.M32,
            a.M31 * b.M13 + a.M32 * b.M23 + a.M33 * b.M33
        );

    public (double X, double Y, double Z) Apply(double x, double y, double z) =>
        (M11 * x + M12 * y + M13 * z, M21 * x + M22 * y + M23 * z, M31 * x + M32 * y + M33 * z);

    /// <summary>Applies the matrix in single precision.</summary>
    public Vector3 Apply(Vector3 v) =>
        new(
            (float)M11 * v.X + (float)M12 * v.Y + (float)M13 * v.Z,
            (float)M21 * v.X + (float)M22 * v.Y + (float)M23 * v.Z,
            (float)M31 * v.X + (float)M32 * v.Y + (float)M33 * v.Z
        );

    public Matrix3 Inverse()
    {
        double a = M22 * M33 - M23 * M32,
            b = M23 * M31 - M21 * M33,
            c = M21 * M32 - M22 * M31;
        var d = 1 / (M11 * a + M12 * b + M13 * c);
        return new(
            a * d,
            (M13 * M32 - M12 * M33) * d,
            (M12 * M23 - M13 * M22) * d,
            b * d,
            (M11 * M33 - M13 * M31) * d,
            (M13 * M21 - M11 * M23) * d,
            c * d,
            (M12 * M31 - M11 * M32) * d,
            (M11 * M22 - M12 * M21) * d
        );
    }

    public bool IsIdentity(double tolerance = 1e-12)
    {
        var i = Identity;
        return Math.Abs(M11 - i.M11)
                + Math.Abs(M12)
                + Math.Abs(M13)
                + Math.Abs(M21)
                + Math.Abs(M22 - 1)
                + Math.Abs(M23)
                + Math.Abs(M31)
                + Math.Abs(M32)
                + Math.Abs(M33 - 1)
            <= tolerance;
    }
}
