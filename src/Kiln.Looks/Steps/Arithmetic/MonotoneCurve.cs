using System.Collections.Immutable;
using Kiln.Looks.Steps.Kinds.Numbers;

namespace Kiln.Looks.Steps.Arithmetic;

/// <summary>
/// A curve through points that rises where they rise and never overshoots: piecewise cubic Hermite with limited tangents
/// (Fritsch and Carlson, "Monotone Piecewise Cubic Interpolation", SIAM J. Numer. Anal. 17, 1980). Beyond the ends it stays at their
/// values.
/// </summary>
public static class MonotoneCurve
{
    /// <summary>Numbers that a point takes: x, y, tangent.</summary>
    private const int Stride = 3;

    /// <summary>x, y and tangent of every point, in order.</summary>
    /// <param name="points">At least two, x rising.</param>
    public static ImmutableArray<float> Prepare(IReadOnlyList<CurvePoint> points)
    {
        var n = points.Count;
        var slope = new double[n - 1];
        for (var i = 0; i + 1 < n; i++)
            slope[i] = ((double)points[i + 1].Y - points[i].Y) / ((double)points[i + 1].X - points[i].X);
        var tangent = new double[n];
        tangent[0] = slope[0];
        tangent[^1] = slope[^1];
        for (var i = 1; i + 1 < n; i++)
            tangent[i] = slope[i - 1] * slope[i] <= 0 ? 0 : (slope[i - 1] + slope[i]) / 2;
        for (var i = 0; i + 1 < n; i++)
        {
            if (slope[i] == 0)
            {
                tangent[i] = tangent[i + 1] = 0;
                continue;
            }
            // Inside the circle of radius 3 the piece is monotone (their sufficient condition).
            double a = tangent[i] / slope[i],
                b = tangent[i + 1] / slope[i],
                length = a * a + b * b;
            if (length <= 9)
                continue;
            var shrink = 3 / Math.Sqrt(length);
            tangent[i] = shrink * a * slope[i];
            tangent[i + 1] = shrink * b * slope[i];
        }
        return [.. points.SelectMany((p, i) => new[] { p.X, p.Y, (float)tangent[i] })];
    }

    public static float At(ReadOnlySpan<float> curve, float x)
    {
        if (!(x > curve[0]))
            return curve[1];
        var last = curve.Length - Stride;
        if (x >= curve[last])
            return curve[last + 1];
        var i = 0;
        while (x >= curve[i + Stride])
            i += Stride;
        float h = curve[i + Stride] - curve[i],
            t = (x - curve[i]) / h,
            t2 = t * t,
            t3 = t2 * t;
        return (2 * t3 - 3 * t2 + 1) * curve[i + 1]
            + (t3 - 2 * t2 + t) * h * curve[i + 2]
            + (3 * t2 - 2 * t3) * curve[i + Stride + 1]
            + (t3 - t2) * h * curve[i + Stride + 2];
    }
}
