using System.Numerics;

namespace Kiln.Models.Files;

/// <summary>Polygons as triangles that cover the same and are wound the same, one that is not convex too.</summary>
public static class Polygons
{
    /// <param name="corners">Positions around the polygon, in order.</param>
    /// <param name="triangle">Told of each: places in <paramref name="corners"/>.</param>
    public static void Triangulate(IReadOnlyList<Vector3> corners, Action<int, int, int> triangle)
    {
        if (corners.Count == 3)
        {
            triangle(0, 1, 2);
            return;
        }
        if (corners.Count < 3)
            return;
        var flat = Flattened(corners);
        var left = Enumerable.Range(0, corners.Count).ToList();
        while (left.Count > 3)
        {
            var ear = Ear(flat, left);
            triangle(left[(ear + left.Count - 1) % left.Count], left[ear], left[(ear + 1) % left.Count]);
            left.RemoveAt(ear);
        }
        triangle(left[0], left[1], left[2]);
    }

    /// <summary>Seen along the polygon's normal, by Newell's sum over its edges, so that it winds against the clock.</summary>
    private static (double X, double Y)[] Flattened(IReadOnlyList<Vector3> corners)
    {
        double x = 0,
            y = 0,
            z = 0;
        for (var i = 0; i < corners.Count; i++)
        {
            var (a, b) = (corners[i], corners[(i + 1) % corners.Count]);
            x += ((double)a.Y - b.Y) * ((double)a.Z + b.Z);
            y += ((double)a.Z - b.Z) * ((double)a.X + b.X);
            z += ((double)a.X - b.X) * ((double)a.Y + b.Y);
        }
        // The axis that it faces most is left out.
        var (ax, ay, az) = (Math.Abs(x), Math.Abs(y), Math.Abs(z));
        return ax >= ay && ax >= az ? [.. corners.Select(c => x >= 0 ? ((double)c.Y, (double)c.Z) : (c.Z, c.Y))]
            : ay >= az ? [.. corners.Select(c => y >= 0 ? ((double)c.Z, (double)c.X) : (c.X, c.Z))]
            : [.. corners.Select(c => z >= 0 ? ((double)c.X, (double)c.Y) : (c.Y, c.X))];
    }

    /// <summary>A corner that can be cut off: it turns as the polygon does and no other corner lies within.</summary>
    private static int Ear((double X, double Y)[] flat, List<int> left)
    {
        for (var i = 0; i < left.Count; i++)
        {
            var (a, b, c) = (flat[left[(i + left.Count - 1) % left.Count]], flat[left[i]], flat[left[(i + 1) % left.Count]]);
            if (Turn(a, b, c) <= 0)
                continue;
            var isFree = true;
            for (var k = 0; k < left.Count && isFree; k++)
            {
                var p = flat[left[k]];
                if (p == a || p == b || p == c)
                    continue;
                isFree = !(Turn(a, b, p) >= 0 && Turn(b, c, p) >= 0 && Turn(c, a, p) >= 0);
            }
            if (isFree)
                return i;
        }
        // Crossed or without any area: it is cut as it comes.
        return 1;
    }

    private static double Turn((double X, double Y) a, (double X, double Y) b, (double X, double Y) c) =>
        (b.X - a.X) * (c.Y - a.Y) - (b.Y - a.Y) * (c.X - a.X);
}
