using System.Numerics;

namespace Kiln.Colour.Spaces;

/// <summary>
/// XYZ of light that has the same energy at every wavelength, to the primaries of a space: what is 1, 1, 1 there stays 1, 1, 1 (Bradford).
/// </summary>
public static class EqualEnergy
{
    private static readonly Chromaticity White = new(1 / 3.0, 1 / 3.0);

    /// <summary>For row vectors, as System.Numerics multiplies them.</summary>
    public static Matrix4x4 To(ColourSpace space)
    {
        var primaries = space.Primaries ?? Primaries.Ap1;
        var m = primaries.ToXyz().Inverse() * Primaries.Bradford(White, primaries.White);
        Vector3 Column(double x, double y, double z)
        {
            var (r, g, b) = m.Apply(x, y, z);
            return new((float)r, (float)g, (float)b);
        }
        var (a, c, d) = (Column(1, 0, 0), Column(0, 1, 0), Column(0, 0, 1));
        return new(a.X, a.Y, a.Z, 0, c.X, c.Y, c.Z, 0, d.X, d.Y, d.Z, 0, 0, 0, 0, 1);
    }
}
