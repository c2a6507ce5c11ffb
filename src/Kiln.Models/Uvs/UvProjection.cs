using System.Numerics;

namespace Kiln.Models.Uvs;

/// <summary>How a picture is thrown on a part.</summary>
public enum ProjectionKind
{
    /// <summary>From the one of six sides that each triangle faces most.</summary>
    Box,

    /// <summary>From the front, the side or above: along one axis.</summary>
    Front,
    Side,
    Top,

    /// <summary>Around the upward axis, as a label around a bottle.</summary>
    Cylinder,

    /// <summary>Around the middle, poles above and below.</summary>
    Sphere,
}

/// <summary>
/// UVs that are made for a part, beside those of its file: true to the look's size in metres, the middle of the part's box at u = v = 0.5.
/// What goes around closes: there a picture is made a little larger or smaller, so that it fits a whole number of times.
/// </summary>
public static class UvProjection
{
    /// <param name="up">Which axis points upwards: X, Y or Z.</param>
    /// <param name="metresU">Of the picture's width; above 0.</param>
    /// <param name="metresV">Of its height; above 0.</param>
    /// <returns>A set with three places of its own for each triangle, called by the kind.</returns>
    public static UvSet Of(ModelPart part, ProjectionKind kind, char up, float metresU, float metresV)
    {
        if (part.Positions.Length == 0 || kind == ProjectionKind.Box)
            return BoxProjection.Of(part, up, metresU, metresV);
        var (min, max) = (part.Positions.Aggregate(Vector3.Min), part.Positions.Aggregate(Vector3.Max));
        var middle = (min + max) / 2;
        var standing = Array.ConvertAll(part.Positions, p => Upright.Of(p - middle, up));
        var size = new Vector2(metresU, metresV);
        Func<Vector3, Vector3> seen = kind switch
        {
            ProjectionKind.Front => p => new(p.X / size.X, p.Y / size.Y, 0),
            ProjectionKind.Side => p => new(-p.Z / size.X, p.Y / size.Y, 0),
            ProjectionKind.Top => p => new(p.X / size.X, -p.Z / size.Y, 0),
            ProjectionKind.Cylinder => Around(standing, size, isSphere: false),
            ProjectionKind.Sphere => Around(standing, size, isSphere: true),
            _ => throw new ArgumentOutOfRangeException(nameof(kind)),
        };
        var places = new Vector2[part.Corners.Length];
        Span<Vector3> three = stackalloc Vector3[3];
        for (var t = 0; t < part.Triangles; t++)
        {
            for (var k = 0; k < 3; k++)
                three[k] = seen(standing[part.Corners[3 * t + k]]);
            Join(three);
            for (var k = 0; k < 3; k++)
                places[3 * t + k] = new Vector2(three[k].X, three[k].Y) + new Vector2(0.5f);
        }
        return new(kind.ToString().ToLowerInvariant(), places, [.. Enumerable.Range(0, places.Length)]);
    }

    /// <summary>
    /// A point as u, v and the whole width around, in pictures; the width is negative for a point on the axis, which lies at no angle.
    /// </summary>
    private static Func<Vector3, Vector3> Around(Vector3[] points, Vector2 size, bool isSphere)
    {
        var radius = points.Max(p => isSphere ? p.Length() : new Vector2(p.X, p.Z).Length());
        var width = MathF.Max(1, MathF.Round(2 * MathF.PI * radius / size.X));
        var height = MathF.PI * radius / size.Y;
        return p =>
        {
            var far = new Vector2(p.X, p.Z).Length();
            var u = MathF.Atan2(p.X, p.Z) / (2 * MathF.PI) * width;
            var v = isSphere ? MathF.Atan2(p.Y, far) / MathF.PI * height : p.Y / size.Y;
            return new(u, v, far > 1e-6f * radius ? width : -width);
        };
    }

    /// <summary>The corners of a triangle on one side of where a picture closes; one on the axis lies between the others.</summary>
    private static void Join(Span<Vector3> three)
    {
        var width = MathF.Abs(three[0].Z);
        if (width == 0)
            return;
        var first =
            three[0].Z > 0 ? 0
            : three[1].Z > 0 ? 1
            : 2;
        foreach (ref var corner in three)
            corner.X -= width * MathF.Round((corner.X - three[first].X) / width);
        var (sum, count) = (0f, 0);
        foreach (var corner in three)
            if (corner.Z > 0)
                (sum, count) = (sum + corner.X, count + 1);
        foreach (ref var corner in three)
            if (corner.Z < 0 && count > 0)
                corner.X = sum / count;
    }
}
