using System.Numerics;

namespace Kiln.Colour.Spaces;

/// <summary>CIELAB (CIE 15) with the white D65.</summary>
public static class CieLab
{
    /// <param name="xyz">Relative to a white of Y = 1.</param>
    public static (double L, double A, double B) Of(Vector3 xyz)
    {
        var (wx, wy, wz) = Primaries.D65.ToXyz();
        double x = F(xyz.X / wx),
            y = F(xyz.Y / wy),
            z = F(xyz.Z / wz);
        return (116 * y - 16, 500 * (x - y), 200 * (y - z));
    }

    /// <summary>Back to XYZ.</summary>
    public static Vector3 ToXyz(double l, double a, double b)
    {
        var (wx, wy, wz) = Primaries.D65.ToXyz();
        double fy = (l + 16) / 116,
            fx = fy + a / 500,
            fz = fy - b / 200;
        return new((float)(wx * Inverse(fx)), (float)(wy * Inverse(fy)), (float)(wz * Inverse(fz)));
    }

    private const double Kappa = 24389.0 / 27,
        Epsilon = 216.0 / 24389;

    private static double F(double t) => t > Epsilon ? Math.Cbrt(t) : (Kappa * t + 16) / 116;

    private static double Inverse(double f) => f * f * f > Epsilon ? f * f * f : (116 * f - 16) / Kappa;
}
