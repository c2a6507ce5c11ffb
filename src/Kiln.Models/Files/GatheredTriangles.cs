using System.Numerics;

namespace Kiln.Models.Files;

/// <summary>Triangles of the primitives of a mesh that share a material, as one part.</summary>
internal sealed class GatheredTriangles
{
    private readonly List<Vector3> positions = [];
    private readonly List<int> corners = [];
    private readonly SortedDictionary<string, (List<Vector2> Places, List<int> Corners)> sets = new(StringComparer.Ordinal);
    private readonly List<Vector3> normals = [];
    private bool hasNormals = true;

    public int Count => corners.Count / 3;

    /// <summary>How many were left out, since they point at nothing or at what is no number.</summary>
    public int Add(float[] from, List<(string Name, float[] Places)> uvs, IEnumerable<(int A, int B, int C)> triangles, float[]? shading)
    {
        hasNormals &= shading?.Length == from.Length;
        // As many as there are positions, so that both have the same numbers.
        for (var i = 0; hasNormals && i < from.Length; i += 3)
            normals.Add(new(shading![i], shading[i + 1], shading[i + 2]));
        var first = positions.Count;
        var count = from.Length / 3;
        var isNumber = new bool[count];
        for (var i = 0; i < count; i++)
        {
            positions.Add(new(from[3 * i], from[3 * i + 1], from[3 * i + 2]));
            isNumber[i] = float.IsFinite(from[3 * i]) && float.IsFinite(from[3 * i + 1]) && float.IsFinite(from[3 * i + 2]);
        }
        foreach (var (name, places) in uvs)
        {
            if (!sets.TryGetValue(name, out var set))
                // Triangles of earlier primitives have none of this set.
                sets[name] = set = ([], [.. Enumerable.Repeat(-1, corners.Count)]);
            for (var i = 0; i < count; i++)
                set.Places.Add(new(places[2 * i], 1 - places[2 * i + 1]));
        }
        var broken = 0;
        foreach (var (a, b, c) in triangles)
        {
            if (!Is(a) || !Is(b) || !Is(c))
            {
                broken++;
                continue;
            }
            corners.AddRange([first + a, first + b, first + c]);
            foreach (var (name, set) in sets)
            {
                var at = uvs.Any(u => u.Name == name) ? set.Places.Count - count : -1;
                set.Corners.AddRange(
                    at >= 0 && IsPlace(set.Places[at + a]) && IsPlace(set.Places[at + b]) && IsPlace(set.Places[at + c])
                        ? [at + a, at + b, at + c]
                        : [-1, -1, -1]
                );
            }
        }
        return broken;

        bool Is(int i) => i >= 0 && i < count && isNumber[i];
    }

    private static bool IsPlace(Vector2 v) => float.IsFinite(v.X) && float.IsFinite(v.Y);

    /// <summary>The part at its place; positions that no triangle has are not among it.</summary>
    public ModelPart Part(string path, string name, string? material, Matrix4x4 place)
    {
        var known = new Dictionary<int, int>();
        var used = new List<Vector3>();
        var own = new int[corners.Count];
        for (var i = 0; i < own.Length; i++)
        {
            if (!known.TryGetValue(corners[i], out var at))
            {
                known[corners[i]] = at = used.Count;
                used.Add(Vector3.Transform(positions[corners[i]], place));
            }
            own[i] = at;
        }
        // As planes turn, not as points do.
        Matrix4x4.Invert(place with { M41 = 0, M42 = 0, M43 = 0 }, out var back);
        var turned = Matrix4x4.Transpose(back);
        return new(
            path,
            name,
            material,
            [.. used],
            own,
            [.. sets.Where(s => s.Value.Corners.Any(c => c >= 0)).Select(s => new UvSet(s.Key, [.. s.Value.Places], [.. s.Value.Corners]))],
            hasNormals ? new([.. normals.Select(n => Vector3.TransformNormal(n, turned))], [.. corners]) : null
        );
    }
}
