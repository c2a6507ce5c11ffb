using System.Numerics;

namespace Kiln.Proof.Geometry.Models;

/// <summary>
/// A model's parts as one mesh: a vertex for each place with one normal and one UV. Triangles without an area are left out, those wound
/// against their normals are turned. Where there are no normals, faces that meet at less than <see cref="SmoothDegrees"/> are smooth.
/// </summary>
public static class PartsAsMesh
{
    /// <summary>Edges sharper than this are seen; common practice, no source.</summary>
    public const float SmoothDegrees = 40;

    /// <summary>Faces around a place beyond which the rest is not asked whether it is smooth with a face: poles of fine spheres.</summary>
    private const int MostAround = 256;

    /// <exception cref="ArgumentException">No part has a triangle with an area.</exception>
    public static Mesh Of(IReadOnlyList<PartTriangles> parts)
    {
        var (positions, normals, uvs, indices) = (new List<Vector3>(), new List<Vector3>(), new List<Vector2>(), new List<int>());
        var ranges = new List<(string, int, int)>();
        var known = new Dictionary<(int, Vector3, Vector2), int>();
        foreach (var part in parts)
        {
            known.Clear();
            var first = indices.Count / 3;
            var facets = Facets(part);
            var own = part.Normals is null ? Smoothed(part, facets) : null;
            for (var t = 0; t < facets.Length; t++)
            {
                if (facets[t] == Vector3.Zero)
                    continue;
                var shading = (Span<Vector3>)[Normal(part, own, facets[t], 3 * t), Normal(part, own, facets[t], 3 * t + 1), default];
                shading[2] = Normal(part, own, facets[t], 3 * t + 2);
                var isTurned = Vector3.Dot(shading[0] + shading[1] + shading[2], facets[t]) < 0;
                foreach (var k in isTurned ? (ReadOnlySpan<int>)[0, 2, 1] : [0, 1, 2])
                {
                    var corner = 3 * t + k;
                    var uv = UvOf(part, corner);
                    var key = (part.Corners[corner], shading[k], uv);
                    if (!known.TryGetValue(key, out var at))
                    {
                        known[key] = at = positions.Count;
                        positions.Add(part.Positions[part.Corners[corner]]);
                        normals.Add(shading[k]);
                        uvs.Add(uv);
                    }
                    indices.Add(at);
                }
            }
            ranges.Add((part.Name, first, indices.Count / 3 - first));
        }
        if (indices.Count == 0)
            throw new ArgumentException("Nothing of the model has an area.");
        return new Mesh
        {
            Positions = [.. positions],
            Normals = [.. normals],
            Uvs = [.. uvs],
            Indices = [.. indices],
            Parts = ranges,
        }.WithTangents();
    }

    /// <summary>Of each triangle; zero for one without an area.</summary>
    private static Vector3[] Facets(PartTriangles part)
    {
        var facets = new Vector3[part.Corners.Length / 3];
        for (var t = 0; t < facets.Length; t++)
        {
            var (a, b, c) = (At(part, 3 * t), At(part, 3 * t + 1), At(part, 3 * t + 2));
            var cross = Vector3.Cross(b - a, c - a);
            var length = cross.Length();
            // Against the longest of its edges it is no line.
            var longest = Math.Max(Vector3.DistanceSquared(a, b), Math.Max(Vector3.DistanceSquared(b, c), Vector3.DistanceSquared(c, a)));
            facets[t] = length > 1e-7f * longest && float.IsFinite(length) && length > 0 ? cross / length : Vector3.Zero;
        }
        return facets;
    }

    /// <summary>Zero where there is none, or none that is a number.</summary>
    private static Vector2 UvOf(PartTriangles part, int corner) =>
        part.Uvs is { } set && set.Corners[corner] >= 0 && set.Places[set.Corners[corner]] is var uv && float.IsFinite(uv.X + uv.Y)
            ? uv
            : Vector2.Zero;

    private static Vector3 At(PartTriangles part, int corner) => part.Positions[part.Corners[corner]];

    private static Vector3 Normal(PartTriangles part, Vector3[]? own, Vector3 facet, int corner)
    {
        var given = own is not null ? own[corner] : part.Normals!.Value.Directions[part.Normals.Value.Corners[corner]];
        var length = given.Length();
        return float.IsFinite(length) && length > 1e-12f ? given / length : facet;
    }

    /// <summary>Of each corner: the mean of the faces around its place that lie nearly as its own, by the angles they have there.</summary>
    private static Vector3[] Smoothed(PartTriangles part, Vector3[] facets)
    {
        var (places, count) = Places(part);
        var firsts = new int[count + 1];
        foreach (var corner in part.Corners)
            firsts[places[corner] + 1]++;
        for (var i = 0; i < count; i++)
            firsts[i + 1] += firsts[i];
        var (around, filled) = (new int[part.Corners.Length], firsts.ToArray());
        for (var corner = 0; corner < part.Corners.Length; corner++)
            around[filled[places[part.Corners[corner]]]++] = corner;
        var least = MathF.Cos(SmoothDegrees * MathF.PI / 180);
        var normals = new Vector3[part.Corners.Length];
        Parallel.For(0, part.Corners.Length, corner =>
        {
            var (facet, place) = (facets[corner / 3], places[part.Corners[corner]]);
            var sum = Vector3.Zero;
            for (var i = firsts[place]; i < Math.Min(firsts[place + 1], firsts[place] + MostAround); i++)
                if (Vector3.Dot(facets[around[i] / 3], facet) >= least)
                    sum += facets[around[i] / 3] * Angle(part, around[i]);
            normals[corner] = sum.LengthSquared() > 1e-12f ? Vector3.Normalize(sum) : facet;
        });
        return normals;
    }

    /// <summary>Positions that are the same have one number, so that a seam of the UVs is none of the shape.</summary>
    private static (int[] Of, int Count) Places(PartTriangles part)
    {
        var known = new Dictionary<Vector3, int>(part.Positions.Length);
        var of = new int[part.Positions.Length];
        for (var i = 0; i < of.Length; i++)
        {
            if (!known.TryGetValue(part.Positions[i], out var at))
                known[part.Positions[i]] = at = known.Count;
            of[i] = at;
        }
        return (of, known.Count);
    }

    private static float Angle(PartTriangles part, int corner)
    {
        var first = corner / 3 * 3;
        var (at, one, other) = (At(part, corner), At(part, first + (corner - first + 1) % 3), At(part, first + (corner - first + 2) % 3));
        return MathF.Acos(Math.Clamp(Vector3.Dot(Vector3.Normalize(one - at), Vector3.Normalize(other - at)), -1, 1));
    }
}
