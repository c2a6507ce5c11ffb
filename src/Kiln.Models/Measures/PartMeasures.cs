using System.Numerics;

namespace Kiln.Models.Measures;

/// <summary>Sizes of parts, in the units of their positions.</summary>
public static class PartMeasures
{
    /// <summary>Of all triangles, in square metres.</summary>
    public static double Area(ModelPart part)
    {
        double sum = 0;
        for (var t = 0; t < part.Triangles; t++)
            sum += TriangleArea(part, t);
        return sum;
    }

    public static double TriangleArea(ModelPart part, int triangle)
    {
        var (a, b, c) = Of(part, triangle);
        double ux = (double)b.X - a.X,
            uy = (double)b.Y - a.Y,
            uz = (double)b.Z - a.Z,
            vx = (double)c.X - a.X,
            vy = (double)c.Y - a.Y,
            vz = (double)c.Z - a.Z;
        double x = uy * vz - uz * vy,
            y = uz * vx - ux * vz,
            z = ux * vy - uy * vx;
        return 0.5 * Math.Sqrt(x * x + y * y + z * z);
    }

    internal static (Vector3 A, Vector3 B, Vector3 C) Of(ModelPart part, int triangle) =>
        (
            part.Positions[part.Corners[3 * triangle]],
            part.Positions[part.Corners[3 * triangle + 1]],
            part.Positions[part.Corners[3 * triangle + 2]]
        );

    public static (Vector3 Min, Vector3 Max) Bounds(IEnumerable<ModelPart> parts)
    {
        var (min, max) = (new Vector3(float.PositiveInfinity), new Vector3(float.NegativeInfinity));
        foreach (var position in parts.SelectMany(p => p.Positions))
            (min, max) = (Vector3.Min(min, position), Vector3.Max(max, position));
        return (min, max);
    }

    /// <summary>Positions that differ.</summary>
    public static int Vertices(ModelPart part) => part.Positions.ToHashSet().Count;
}
