using System.Numerics;

namespace Kiln.Proof.Geometry.Models;

/// <summary>
/// Meshes whose long edges are halved until they are short, so that what is known at vertices alone, such as the light that arrives, is
/// known finely enough. The surface stays where it is: an edge is halved on both of its sides or on none.
/// </summary>
public static class ShortEdges
{
    /// <param name="longest">Edges longer than this are halved, again and again.</param>
    /// <param name="most">Beyond so many triangles nothing is halved any more.</param>
    public static Mesh Of(Mesh mesh, float longest, int most)
    {
        var work = new Work(mesh);
        while (work.Halve(longest * longest, most)) { }
        return work.IsTouched ? work.Made() : mesh;
    }

    private sealed class Work(Mesh mesh)
    {
        private readonly List<Vector3> positions = [.. mesh.Positions],
            normals = [.. mesh.Normals];
        private readonly List<Vector2> uvs = [.. mesh.Uvs];
        private int[] indices = mesh.Indices;
        private List<(string Name, int FirstTriangle, int Triangles)> parts = [.. mesh.Parts];

        public bool IsTouched { get; private set; }

        /// <returns>Whether anything was halved; not where all would become too much.</returns>
        public bool Halve(float longestSquared, int most)
        {
            var (middles, next) = (new Dictionary<(int, int), int>(), new List<int>(indices.Length));
            var nextParts = new List<(string, int, int)>();
            foreach (var (name, first, count) in parts)
            {
                var begun = next.Count / 3;
                for (var t = first; t < first + count; t++)
                {
                    Span<int> corners = [indices[3 * t], indices[3 * t + 1], indices[3 * t + 2]];
                    Span<int> between = [-1, -1, -1];
                    for (var k = 0; k < 3; k++)
                        if (Vector3.DistanceSquared(positions[corners[k]], positions[corners[(k + 1) % 3]]) > longestSquared)
                            between[k] = Middle(middles, corners[k], corners[(k + 1) % 3]);
                    Divide(corners, between, next);
                }
                nextParts.Add((name, begun, next.Count / 3 - begun));
            }
            if (middles.Count == 0 || next.Count / 3 > most)
                return false;
            (indices, parts, IsTouched) = ([.. next], nextParts, true);
            return true;
        }

        /// <summary>A triangle in as many as it has halved edges, and one more; the shorter diagonal where there is a choice.</summary>
        private void Divide(ReadOnlySpan<int> c, ReadOnlySpan<int> m, List<int> to)
        {
            var halved = (m[0] >= 0 ? 1 : 0) + (m[1] >= 0 ? 1 : 0) + (m[2] >= 0 ? 1 : 0);
            if (halved is 0)
                to.AddRange(c);
            else if (halved is 3)
                to.AddRange([c[0], m[0], m[2], m[0], c[1], m[1], m[2], m[1], c[2], m[0], m[1], m[2]]);
            else
            {
                // Turned so that the first edge is halved and the last is not, or is the only one that is.
                var k = 0;
                while (m[k] < 0 || m[(k + 2) % 3] >= 0)
                    k++;
                var (a, b, d, ab, bd) = (c[k], c[(k + 1) % 3], c[(k + 2) % 3], m[k], m[(k + 1) % 3]);
                if (bd < 0)
                    to.AddRange([a, ab, d, ab, b, d]);
                else if (Vector3.DistanceSquared(positions[a], positions[bd]) < Vector3.DistanceSquared(positions[ab], positions[d]))
                    to.AddRange([ab, b, bd, a, ab, bd, a, bd, d]);
                else
                    to.AddRange([ab, b, bd, a, ab, d, ab, bd, d]);
            }
        }

        private int Middle(Dictionary<(int, int), int> middles, int a, int b)
        {
            var key = a < b ? (a, b) : (b, a);
            if (middles.TryGetValue(key, out var known))
                return known;
            positions.Add((positions[a] + positions[b]) * 0.5f);
            var normal = normals[a] + normals[b];
            normals.Add(normal.LengthSquared() > 1e-12f ? Vector3.Normalize(normal) : normals[a]);
            uvs.Add((uvs[a] + uvs[b]) * 0.5f);
            return middles[key] = positions.Count - 1;
        }

        public Mesh Made()
        {
            // Vertices of a round that was given up belong to no triangle, and are the last.
            var used = indices.Max() + 1;
            return new Mesh
            {
                Positions = [.. positions.Take(used)],
                Normals = [.. normals.Take(used)],
                Uvs = [.. uvs.Take(used)],
                Indices = indices,
                Parts = parts,
                IsSheet = mesh.IsSheet,
            }.WithTangents();
        }
    }
}
