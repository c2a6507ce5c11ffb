using System.Numerics;

namespace Kiln.Proof.Geometry;

/// <summary>How far a surface is moved along its normal.</summary>
/// <param name="Metres">By UV and the side of the square of UV that is asked about.</param>
/// <param name="EdgeMetres">Edges are halved until they are no longer than this.</param>
/// <param name="Subdivision">And at most so often.</param>
/// <param name="Key">The same for the same heights, so that a moved form is made once.</param>
public sealed record SurfaceDisplacement(Func<Vector2, float, float> Metres, float EdgeMetres, int Subdivision, string Key);

/// <summary>
/// Forms whose surface is moved by its height: every triangle in four until edges are short enough, then vertices along their normals; new
/// normals from the moved triangles.
/// </summary>
public static class Displacing
{
    /// <summary>Beyond this many triangles nothing is halved any more: a proof must begin within seconds.</summary>
    public const int MostTriangles = 600_000;

    private const int Kept = 4;

    private static readonly Lock Gate = new();
    private static readonly LinkedList<(string Key, Lazy<Mesh> Mesh)> Made = new();

    /// <summary>The form moved, kept for the next proof of the same heights.</summary>
    public static Mesh Of(string form, Mesh mesh, SurfaceDisplacement displacement)
    {
        var key = $"{form}/{displacement.Key}";
        Lazy<Mesh> moved;
        lock (Gate)
        {
            var known = Made.FirstOrDefault(m => m.Key == key);
            if (known.Mesh is not null)
                Made.Remove(known);
            moved = known.Mesh ?? new(() => Move(mesh, displacement));
            Made.AddFirst((key, moved));
            while (Made.Count > Kept)
                Made.RemoveLast();
        }
        return moved.Value;
    }

    /// <summary>A copy of a mesh with its surface moved.</summary>
    public static Mesh Move(Mesh mesh, SurfaceDisplacement displacement)
    {
        var work = new Halved(mesh);
        for (
            var i = 0;
            i < displacement.Subdivision && work.Triangles * 4 <= MostTriangles && work.LongestEdge() > displacement.EdgeMetres;
            i++
        )
            work.Halve();
        return work.Moved(
            displacement,
            mesh.Parts.Select(p => (p.Name, p.FirstTriangle * work.Times, p.Triangles * work.Times)).ToList(),
            mesh.IsSheet
        );
    }

    private sealed class Halved(Mesh mesh)
    {
        private readonly List<Vector3> positions = [.. mesh.Positions],
            normals = [.. mesh.Normals];
        private readonly List<Vector2> uvs = [.. mesh.Uvs];
        private readonly List<(int A, int B)> halvings = [];
        private int[] indices = mesh.Indices;

        public int Triangles => indices.Length / 3;

        /// <summary>Triangles for each one of the form.</summary>
        public int Times { get; private set; } = 1;

        public float LongestEdge()
        {
            var longest = 0f;
            for (var i = 0; i < indices.Length; i += 3)
            for (var k = 0; k < 3; k++)
                longest = MathF.Max(longest, Vector3.DistanceSquared(positions[indices[i + k]], positions[indices[i + (k + 1) % 3]]));
            return MathF.Sqrt(longest);
        }

        public void Halve()
        {
            // A pair, not one long number: the hash of a long is its halves' difference, the same for most edges of a grid.
            var middles = new Dictionary<(int, int), int>(indices.Length / 2);
            var next = new int[indices.Length * 4];
            for (int i = 0, o = 0; i < indices.Length; i += 3)
            {
                int a = indices[i],
                    b = indices[i + 1],
                    c = indices[i + 2];
                int ab = Middle(a, b),
                    bc = Middle(b, c),
                    ca = Middle(c, a);
                foreach (var index in (ReadOnlySpan<int>)[a, ab, ca, ab, b, bc, ca, bc, c, ab, bc, ca])
                    next[o++] = index;
            }
            indices = next;
            Times *= 4;

            int Middle(int a, int b)
            {
                var key = a < b ? (a, b) : (b, a);
                if (middles.TryGetValue(key, out var known))
                    return known;
                positions.Add((positions[a] + positions[b]) * 0.5f);
                normals.Add(Vector3.Normalize(normals[a] + normals[b]));
                uvs.Add((uvs[a] + uvs[b]) * 0.5f);
                halvings.Add((a, b));
                return middles[key] = positions.Count - 1;
            }
        }

        public Mesh Moved(SurfaceDisplacement displacement, IReadOnlyList<(string, int, int)> parts, bool isSheet)
        {
            var footprint = new float[positions.Count];
            for (var i = 0; i < indices.Length; i += 3)
            for (var k = 0; k < 3; k++)
                footprint[indices[i + k]] = MathF.Max(
                    footprint[indices[i + k]],
                    Vector2.Distance(uvs[indices[i + k]], uvs[indices[i + (k + 1) % 3]])
                );
            // One place, one movement: vertices that only differ in UV are a seam and must not gape. They move by their mean.
            var seams = Seams();
            var moved = new Vector3[positions.Count];
            var heights = new float[positions.Count];
            Parallel.For(0, positions.Count, i => heights[i] = displacement.Metres(uvs[i], footprint[i]));
            for (var i = 0; i < moved.Length; i++)
                moved[i] = positions[i] + normals[i] * heights[i];
            foreach (var same in seams)
            {
                var (mean, along) = (same.Average(i => heights[i]), same.Aggregate(Vector3.Zero, (sum, i) => sum + normals[i]));
                if (along.LengthSquared() > 1e-6f)
                    foreach (var i in same)
                        moved[i] = positions[same[0]] + Vector3.Normalize(along) * mean;
            }
            return new Mesh
            {
                Positions = moved,
                Normals = Smooth(moved, seams),
                Uvs = [.. uvs],
                Indices = indices,
                Parts = parts,
                IsSheet = isSheet,
                Halvings = halvings,
            }.WithTangents();
        }

        /// <summary>Cosine of the angle up to which two normals at one place are one surface.</summary>
        private const float Smoothly = 0.9f;

        private List<int[]> Seams()
        {
            const float grid = 2e-5f;
            var found = new Dictionary<(int, int, int), List<int>>();
            for (var i = 0; i < positions.Count; i++)
            {
                var key = (
                    (int)MathF.Round(positions[i].X / grid),
                    (int)MathF.Round(positions[i].Y / grid),
                    (int)MathF.Round(positions[i].Z / grid)
                );
                (found.TryGetValue(key, out var there) ? there : found[key] = []).Add(i);
            }
            return [.. found.Values.Where(v => v.Count > 1).Select(v => v.ToArray())];
        }

        /// <summary>Normals of the moved triangles, weighted by area, the same on both sides of a seam.</summary>
        private Vector3[] Smooth(Vector3[] moved, List<int[]> seams)
        {
            var sums = new Vector3[moved.Length];
            for (var i = 0; i < indices.Length; i += 3)
            {
                int a = indices[i],
                    b = indices[i + 1],
                    c = indices[i + 2];
                var cross = Vector3.Cross(moved[b] - moved[a], moved[c] - moved[a]);
                sums[a] += cross;
                sums[b] += cross;
                sums[c] += cross;
            }
            foreach (var same in seams)
            {
                // A hard edge keeps its two sides.
                if (same.Any(i => Vector3.Dot(normals[i], normals[same[0]]) < Smoothly))
                    continue;
                var sum = same.Aggregate(Vector3.Zero, (s, i) => s + sums[i]);
                foreach (var i in same)
                    sums[i] = sum;
            }
            for (var i = 0; i < sums.Length; i++)
                sums[i] = sums[i].LengthSquared() > 1e-24f ? Vector3.Normalize(sums[i]) : normals[i];
            return sums;
        }
    }
}
