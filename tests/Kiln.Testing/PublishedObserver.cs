using System.Globalization;
using System.Numerics;

namespace Kiln.Testing;

/// <summary>The colour matching functions of CIE 1931, 2°, every 5 nm: the table of Debian's colord-data.</summary>
public static class PublishedObserver
{
    public const int First = 360,
        Step = 5;

    public static readonly Vector3[] Xyz = Read();

    private static Vector3[] Read()
    {
        var rows = File.ReadAllText("/usr/share/colord/cmf/CIE1931-2deg-XYZ.cmf")
            .Split("BEGIN_DATA\n")[1]
            .Split("END_DATA")[0]
            .Trim()
            .Split('\n')
            .Select(line =>
                line.Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries)
                    .Select(v => float.Parse(v, CultureInfo.InvariantCulture))
                    .ToArray()
            )
            .ToArray();
        return [.. rows[0].Select((x, i) => new Vector3(x, rows[1][i], rows[2][i]))];
    }
}
