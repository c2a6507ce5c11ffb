using System.Numerics;

namespace Kiln.Models.Uvs;

/// <summary>
/// UVs for a part that has none: every triangle is seen from the side that it faces most, one of six, and a picture covers so many metres.
/// Pictures are not mirrored, and stand upright on the four sides around the upward axis.
/// </summary>
public static class BoxProjection
{
    public const string Name = "box";

    /// <param name="up">Which axis points upwards: X, Y or Z.</param>
    /// <param name="metresU">Of the picture's width; above 0.</param>
    /// <param name="metresV">Of its height; above 0.</param>
    /// <returns>A set with three places of its own for each triangle; the middle of the part's box has u = v = 0.5 on every side.</returns>
    public static UvSet Of(ModelPart part, char up, float metresU, float metresV)
    {
        var (min, max) = (part.Positions.Aggregate(Vector3.Min), part.Positions.Aggregate(Vector3.Max));
        var middle = (min + max) / 2;
        var size = new Vector2(metresU, metresV);
        var places = new Vector2[part.Corners.Length];
        for (var t = 0; t < part.Triangles; t++)
        {
            Vector3 At(int k) => Upright.Of(part.Positions[part.Corners[3 * t + k]] - middle, up);
            var (a, b, c) = (At(0), At(1), At(2));
            var facet = Vector3.Cross(b - a, c - a);
            for (var k = 0; k < 3; k++)
                places[3 * t + k] =
                    Seen(
                        k == 0 ? a
                            : k == 1 ? b
                            : c,
                        facet
                    ) / size
                    + new Vector2(0.5f);
        }
        return new(Name, places, [.. Enumerable.Range(0, places.Length)]);
    }

    /// <summary>A point as it is seen from the side that a triangle faces: to the right, and upwards.</summary>
    private static Vector2 Seen(Vector3 p, Vector3 facet)
    {
        var (x, y, z) = (MathF.Abs(facet.X), MathF.Abs(facet.Y), MathF.Abs(facet.Z));
        return x > y && x > z ? new(facet.X > 0 ? -p.Z : p.Z, p.Y)
            : y > z ? new(p.X, facet.Y > 0 ? -p.Z : p.Z)
            : new(facet.Z < 0 ? -p.X : p.X, p.Y);
    }
}
