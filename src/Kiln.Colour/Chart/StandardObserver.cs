using System.Globalization;
using Kiln.Colour.Spaces;

namespace Kiln.Colour.Chart;

/// <summary>
/// The CIE 1931 2° observer looking at a reflecting surface under daylight D65, by sums over 380 to 780 nm in steps of 5 nm (CIE 15:2004,
/// 7.1).
/// </summary>
public static class StandardObserver
{
    private readonly record struct Row(double Nanometres, double X, double Y, double Z, double Daylight);

    private static readonly Row[] Table = Load();

    /// <summary>CIE XYZ relative to a perfect white, whose XYZ is that of D65 with Y = 1.</summary>
    /// <param name="reflectance">Share of light returned at a wavelength in nanometres, 0..1.</param>
    public static (double X, double Y, double Z) See(Func<double, double> reflectance)
    {
        double x = 0,
            y = 0,
            z = 0,
            wx = 0,
            wy = 0,
            wz = 0;
        foreach (var row in Table)
        {
            var r = reflectance(row.Nanometres);
            (x, y, z) = (x + r * row.Daylight * row.X, y + r * row.Daylight * row.Y, z + r * row.Daylight * row.Z);
            (wx, wy, wz) = (wx + row.Daylight * row.X, wy + row.Daylight * row.Y, wz + row.Daylight * row.Z);
        }
        // The table's own white differs from the rounded chromaticity of D65 in the fifth digit.
        var toD65 = Primaries.Bradford(new(wx / (wx + wy + wz), wy / (wx + wy + wz)), Primaries.D65);
        return toD65.Apply(x / wy, y / wy, z / wy);
    }

    private static Row[] Load()
    {
        using var reader = new StreamReader(
            typeof(StandardObserver).Assembly.GetManifestResourceStream("Kiln.Colour.Chart.cie-1931-d65.csv")!
        );
        return
        [
            .. reader
                .ReadToEnd()
                .Split('\n')
                .Where(l => l.Length > 0 && l[0] != '#')
                .Select(l => l.Split(',').Select(v => double.Parse(v, CultureInfo.InvariantCulture)).ToArray())
                .Select(v => new Row(v[0], v[1], v[2], v[3], v[4])),
        ];
    }
}
