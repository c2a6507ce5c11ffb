using Kiln.Pixels.Writing;

namespace Kiln.Colour.Spaces;

/// <summary>A CIE 1931 xy chromaticity.</summary>
public readonly record struct Chromaticity(double X, double Y)
{
    public (double X, double Y, double Z) ToXyz() => (X / Y, 1, (1 - X - Y) / Y);
}

/// <summary>The red, green and blue of a space and its white.</summary>
public sealed record Primaries(Chromaticity Red, Chromaticity Green, Chromaticity Blue, Chromaticity White)
{
    /// <summary>CIE daylight at 6504 K, as ITU-R BT.709-6 states it.</summary>
    public static readonly Chromaticity D65 = new(0.3127, 0.3290);

    /// <summary>The ACES white, S-2008-001 / SMPTE ST 2065-1.</summary>
    public static readonly Chromaticity AcesWhite = new(0.32168, 0.33767);

    /// <summary>SMPTE ST 2065-1.</summary>
    public static readonly Primaries Ap0 = new(new(0.7347, 0.2653), new(0, 1), new(0.0001, -0.0770), AcesWhite);

    /// <summary>Academy S-2014-004.</summary>
    public static readonly Primaries Ap1 = new(new(0.713, 0.293), new(0.165, 0.830), new(0.128, 0.044), AcesWhite);

    /// <summary>ITU-R BT.709-6, table 1.</summary>
    public static readonly Primaries Rec709 = new(new(0.640, 0.330), new(0.300, 0.600), new(0.150, 0.060), D65);

    /// <summary>ITU-R BT.2020-2, table 3.</summary>
    public static readonly Primaries Rec2020 = new(new(0.708, 0.292), new(0.170, 0.797), new(0.131, 0.046), D65);

    /// <summary>SMPTE EG 432-1 primaries with the D65 white.</summary>
    public static readonly Primaries DisplayP3 = new(new(0.680, 0.320), new(0.265, 0.690), new(0.150, 0.060), D65);

    /// <summary>Adobe RGB (1998) colour image encoding, 2005-05, section 4.3.</summary>
    public static readonly Primaries AdobeRgb = new(new(0.640, 0.330), new(0.210, 0.710), new(0.150, 0.060), D65);

    /// <summary>As the OpenEXR attribute holds them.</summary>
    public Chromaticities Chromaticities =>
        new((float)Red.X, (float)Red.Y, (float)Green.X, (float)Green.Y, (float)Blue.X, (float)Blue.Y, (float)White.X, (float)White.Y);

    /// <summary>Linear RGB to XYZ with the white at Y = 1 (SMPTE RP 177).</summary>
    public Matrix3 ToXyz()
    {
        var (rx, ry, rz) = Red.ToXyzSafe();
        var (gx, gy, gz) = Green.ToXyzSafe();
        var (bx, by, bz) = Blue.ToXyzSafe();
        var (wx, wy, wz) = White.ToXyz();
        var m = new Matrix3(rx, gx, bx, ry, gy, by, rz, gz, bz);
        var (sr, sg, sb) = m.Inverse().Apply(wx, wy, wz);
        return m * Matrix3.Diagonal(sr, sg, sb);
    }

    /// <summary>XYZ under one white to XYZ under another by the Bradford transform (Lam 1985; ICC.1:2010 annex E).</summary>
    public static Matrix3 Bradford(Chromaticity from, Chromaticity to) =>
        Adaptation(new(0.8951, 0.2664, -0.1614, -0.7502, 1.7135, 0.0367, 0.0389, -0.0685, 1.0296), from, to);

    /// <summary>The same by the transform of CIECAM02 (CIE 159:2004), which camera makers use towards ACES.</summary>
    public static Matrix3 Cat02(Chromaticity from, Chromaticity to) =>
        Adaptation(new(0.7328, 0.4296, -0.1624, -0.7036, 1.6975, 0.0061, 0.0030, 0.0136, 0.9834), from, to);

    private static Matrix3 Adaptation(Matrix3 cone, Chromaticity from, Chromaticity to)
    {
        if (from == to)
            return Matrix3.Identity;
        var (fx, fy, fz) = from.ToXyz();
        var (tx, ty, tz) = to.ToXyz();
        var (fl, fm, fs) = cone.Apply(fx, fy, fz);
        var (tl, tm, ts) = cone.Apply(tx, ty, tz);
        return cone.Inverse() * Matrix3.Diagonal(tl / fl, tm / fm, ts / fs) * cone;
    }

    /// <summary>Linear values of these primaries to linear values of others, white to white.</summary>
    public Matrix3 To(Primaries other) =>
        this == other ? Matrix3.Identity : other.ToXyz().Inverse() * Bradford(White, other.White) * ToXyz();
}

internal static class ChromaticityCoordinates
{
    /// <summary>Unscaled XYZ = (x, y, 1 − x − y), which exists for a blue primary with negative y too.</summary>
    public static (double X, double Y, double Z) ToXyzSafe(this Chromaticity c) => (c.X, c.Y, 1 - c.X - c.Y);
}
