using System.Numerics;

namespace Kiln.Proof.Geometry.Occlusion;

/// <summary>
/// Vertices that stand for others which lie near them and face alike, so that what a vertex sees is asked of a few thousand and known of
/// millions.
/// </summary>
/// <param name="Chosen">Numbers of the vertices that are asked.</param>
/// <param name="For">Of each vertex, which of those stands for it: a place in <paramref name="Chosen"/>.</param>
/// <param name="Cell">Side of the cubes whose vertices stand for one another; zero where each stands for itself.</param>
public sealed record NearVertices(int[] Chosen, int[] For, float Cell)
{
    /// <summary>Ways in which a component of a normal points: normals that stand for one another lie within 70°.</summary>
    private const int Ways = 3;

    /// <param name="most">Each vertex stands for itself up to so many; beyond, cells grow until there are no more than that.</param>
    public static NearVertices Of(Mesh mesh, int most)
    {
        var count = mesh.Positions.Length;
        if (count <= most)
            return new([.. Enumerable.Range(0, count)], [.. Enumerable.Range(0, count)], 0);
        var (min, max) = (mesh.Positions.Aggregate(Vector3.Min), mesh.Positions.Aggregate(Vector3.Max));
        // A surface of about the box's size, in so many squares.
        var cell = (max - min).Length() / MathF.Sqrt(most);
        while (true)
        {
            if (InCells(mesh, min, cell, most) is { } near)
                return near;
            cell *= 1.3f;
        }
    }

    private static NearVertices? InCells(Mesh mesh, Vector3 min, float cell, int most)
    {
        var count = mesh.Positions.Length;
        var (known, chosen, of) = (new Dictionary<(int, int, int, int), int>(), new List<int>(), new int[count]);
        for (var i = 0; i < count; i++)
        {
            var (p, n) = ((mesh.Positions[i] - min) / cell, mesh.Normals[i]);
            var way = (Way(n.X) * Ways + Way(n.Y)) * Ways + Way(n.Z);
            var key = ((int)p.X, (int)p.Y, (int)p.Z, way);
            if (!known.TryGetValue(key, out var at))
            {
                if (chosen.Count == most)
                    return null;
                known[key] = at = chosen.Count;
                chosen.Add(i);
            }
            of[i] = at;
        }
        return new([.. chosen], of, cell);
    }

    private static int Way(float component) =>
        component < -0.4f ? 0
        : component > 0.4f ? 2
        : 1;
}
