using System.Numerics;
using Kiln.Colour.Spaces;
using Kiln.Pixels;

namespace Kiln.Colour.Chart;

/// <summary>
/// The chart as a base colour map, to be brought in like any other: patches above, and sixteen even steps of CIELAB lightness from black to
/// white below.
/// </summary>
public static class ChartMap
{
    private const int Steps = 16;

    /// <param name="side">Pixels on a side, 64 to 4096.</param>
    /// <param name="space">What the numbers are encoded in.</param>
    /// <param name="type">U8 or U16 for encoded spaces, F16 or F32 for linear ones.</param>
    public static ImageBuffer Draw(int side, ColourSpace space, SampleType type)
    {
        if (side is < 64 or > 4096)
            throw new ArgumentException($"A chart of {side} pixels is not drawn; 64 to 4096 are.");
        var convert = ColourTransform.Between(ColourSpace.CieXyzD65, space);
        Vector3 Grey(double reflectance) =>
            convert.Apply(new ChartPatch("", PatchKind.Grey, Primaries.D65.X, Primaries.D65.Y, reflectance, "").Xyz);
        var board = Grey(ReferenceChart.BoardGrey);
        var steps = Enumerable.Range(0, Steps).Select(i => Grey(Reflectance(100.0 * i / (Steps - 1)))).ToArray();
        var patches = ReferenceChart.Patches.Select((p, i) => (Colour: p.In(space), Place: ReferenceChart.Place(i))).ToArray();
        var result = new ImageBuffer(side, side, ImageBuffer.Rgb, type);
        var row = new float[side * 3];
        for (var y = 0; y < side; y++)
        {
            for (var x = 0; x < side; x++)
            {
                Vector2 at = new((x + 0.5f) / side, 1 - (y + 0.5f) / side);
                var colour = at.Y < 1 - ReferenceChart.PatchPart ? steps[Math.Min(Steps - 1, (int)(at.X * Steps))] : board;
                foreach (var (c, (low, high)) in patches)
                    if (at.X >= low.X && at.X < high.X && at.Y >= low.Y && at.Y < high.Y)
                        colour = c;
                colour.CopyTo(row.AsSpan(x * 3));
            }
            result.WriteRow(y, row);
        }
        return result;
    }

    /// <summary>CIE 15:2004, 8.2.1.1, backwards.</summary>
    private static double Reflectance(double lightness)
    {
        var f = (lightness + 16) / 116;
        return f > 6.0 / 29 ? f * f * f : 3 * 36.0 / 841 * (f - 4.0 / 29);
    }
}
