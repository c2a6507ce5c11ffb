using System.Numerics;
using Kiln.Usd;

namespace Kiln.Models.Files.Usd;

/// <summary>The faces of a mesh prim as triangles (UsdGeom, Mesh): by subset, with every set of UVs and the normals.</summary>
internal sealed class UsdMesh
{
    /// <summary>Numbers that a mesh has by corner, point or face.</summary>
    private sealed record Spread(float[] Values, int Size, int[]? Indices, string Interpolation)
    {
        /// <summary>Which element a corner has; -1 for none.</summary>
        public int At(int corner, int point, int face)
        {
            var at = Interpolation switch
            {
                "faceVarying" => corner,
                "vertex" or "varying" => point,
                "uniform" => face,
                _ => 0,
            };
            if (Indices is not null)
                at = at < Indices.Length ? Indices[at] : -1;
            if (at < 0 || (long)(at + 1) * Size > Values.Length)
                return -1;
            for (var i = at * Size; i < (at + 1) * Size; i++)
                if (!float.IsFinite(Values[i]))
                    return -1;
            return at;
        }
    }

    private readonly Vector3[] points;
    private readonly int[] counts,
        indices;
    private readonly HashSet<int> holes;
    private readonly bool isLeftHanded;
    private readonly List<(string Name, Spread Spread)> uvs = [];
    private readonly Spread? normals;

    /// <param name="scale">Metres for a unit.</param>
    public UsdMesh(UsdPrim prim, Matrix4x4 place, float scale)
    {
        var numbers = prim.Find("points")?.Numbers ?? [];
        points = new Vector3[numbers.Length / 3];
        for (var i = 0; i < points.Length; i++)
            points[i] = Vector3.Transform(new((float)numbers[3 * i], (float)numbers[3 * i + 1], (float)numbers[3 * i + 2]), place) * scale;
        (counts, indices) = (Wholes(prim, "faceVertexCounts") ?? [], Wholes(prim, "faceVertexIndices") ?? []);
        holes = [.. Wholes(prim, "holeIndices") ?? []];
        isLeftHanded = prim.Find("orientation")?.Text == "leftHanded";
        foreach (var property in prim.Properties.Values)
            if (IsUvs(property) && Values(prim, property, 2) is { } spread)
                uvs.Add((property.Name["primvars:".Length..], spread));
        normals =
            prim.Find("primvars:normals") is { } own ? Values(prim, own, 3)
            : prim.Find("normals") is { } plain ? Values(prim, plain, 3, "vertex")
            : null;
        Turned = Turn(place);
    }

    /// <summary>As planes turn, not as points do.</summary>
    private Matrix4x4 Turned { get; }

    public int Faces => counts.Length;

    /// <summary>Faces that were left out: they point at nothing, at what is no number, or have fewer than three corners.</summary>
    public int Broken { get; private set; }

    /// <summary>What triangles there can be at most.</summary>
    public long Most => counts.Sum(c => Math.Max(0L, c - 2));

    private static Matrix4x4 Turn(Matrix4x4 place)
    {
        Matrix4x4.Invert(place with { M41 = 0, M42 = 0, M43 = 0 }, out var back);
        return Matrix4x4.Transpose(back);
    }

    public static int[]? Wholes(UsdPrim prim, string name) => prim.Find(name)?.Numbers is { } numbers ? Wholes(numbers) : null;

    /// <summary>Whole numbers; -1 for one that is none, or no index.</summary>
    private static int[] Wholes(double[] numbers) => [.. numbers.Select(n => n is >= 0 and <= int.MaxValue ? (int)n : -1)];

    /// <summary>Places on maps: pairs that say so, or that older files have under the usual names.</summary>
    private static bool IsUvs(UsdProperty property) =>
        property.Name.StartsWith("primvars:", StringComparison.Ordinal)
        && property.Name.IndexOf(':', "primvars:".Length) < 0
        && property.Type is "texCoord2f[]" or "texCoord2d[]" or "texCoord2h[]" or "float2[]" or "double2[]" or "half2[]";

    private static Spread? Values(UsdPrim prim, UsdProperty property, int size, string usual = "constant")
    {
        if (property.Numbers is not { Length: > 0 } numbers || numbers.Length < size)
            return null;
        var own = Wholes(prim, property.Name + ":indices");
        var interpolation = property.Metadata.GetValueOrDefault("interpolation")?.Text ?? usual;
        return new([.. numbers.Select(n => (float)n)], size, own, interpolation);
    }

    /// <summary>The faces as a part; null where none of them is whole.</summary>
    /// <param name="faces">Their numbers; null for all.</param>
    public ModelPart? Part(string path, string name, string? material, IEnumerable<int>? faces)
    {
        var gathered = new Corners(uvs.Count);
        var starts = Starts();
        var around = new List<Vector3>();
        foreach (var face in faces ?? Enumerable.Range(0, counts.Length))
        {
            if (face < 0 || face >= counts.Length || holes.Contains(face))
                continue;
            var (start, count) = (starts[face], counts[face]);
            if (!IsWhole(start, count))
            {
                Broken++;
                continue;
            }
            around.Clear();
            for (var i = 0; i < count; i++)
                around.Add(points[indices[start + i]]);
            Polygons.Triangulate(around, (a, b, c) =>
            {
                if (isLeftHanded)
                    (b, c) = (c, b);
                Add(gathered, start + a, start + b, start + c, face);
            });
        }
        return gathered.Points.Count == 0 ? null : gathered.Part(path, name, material, this);
    }

    private int[] Starts()
    {
        var starts = new int[counts.Length];
        for (var (i, at) = (0, 0L); i < counts.Length; at += Math.Max(0, counts[i]), i++)
            starts[i] = (int)Math.Min(at, int.MaxValue);
        return starts;
    }

    private bool IsWhole(int start, int count)
    {
        if (count < 3 || (long)start + count > indices.Length)
            return false;
        for (var i = start; i < start + count; i++)
            if (indices[i] < 0 || indices[i] >= points.Length || !IsFinite(points[indices[i]]))
                return false;
        return true;
    }

    private static bool IsFinite(Vector3 v) => float.IsFinite(v.X) && float.IsFinite(v.Y) && float.IsFinite(v.Z);

    private void Add(Corners to, int a, int b, int c, int face)
    {
        to.Points.AddRange([indices[a], indices[b], indices[c]]);
        for (var s = 0; s < uvs.Count; s++)
            Three(uvs[s].Spread, to.Uvs[s]);
        if (normals is not null)
            Three(normals, to.Normals);

        void Three(Spread spread, List<int> into)
        {
            var (x, y, z) = (spread.At(a, indices[a], face), spread.At(b, indices[b], face), spread.At(c, indices[c], face));
            into.AddRange(x >= 0 && y >= 0 && z >= 0 ? [x, y, z] : [-1, -1, -1]);
        }
    }

    /// <summary>Three numbers for each triangle of a part: points of the mesh, and elements of what is spread over it.</summary>
    private sealed class Corners(int sets)
    {
        public List<int> Points { get; } = [];

        public List<int>[] Uvs { get; } = [.. Enumerable.Range(0, sets).Select(_ => new List<int>())];

        public List<int> Normals { get; } = [];

        public ModelPart Part(string path, string name, string? material, UsdMesh mesh)
        {
            var (positions, corners) = Used(Points, i => mesh.points[i]);
            var made = new List<UvSet>();
            for (var s = 0; s < mesh.uvs.Count; s++)
                if (Uvs[s].Exists(c => c >= 0))
                {
                    var values = mesh.uvs[s].Spread.Values;
                    var (places, own) = Used(Uvs[s], i => new Vector2(values[2 * i], values[2 * i + 1]));
                    made.Add(new(mesh.uvs[s].Name, places, own));
                }
            NormalSet? shading = null;
            if (mesh.normals is { Values: var n } && Normals.TrueForAll(c => c >= 0))
            {
                var (directions, own) = Used(Normals, i => Vector3.TransformNormal(new(n[3 * i], n[3 * i + 1], n[3 * i + 2]), mesh.Turned));
                shading = new(directions, own);
            }
            return new(path, name, material, positions, corners, made, shading);
        }

        /// <summary>Only what corners have, and the corners by its new numbers.</summary>
        private static (T[] Values, int[] Corners) Used<T>(List<int> corners, Func<int, T> value)
        {
            var known = new Dictionary<int, int>();
            var (values, own) = (new List<T>(), new int[corners.Count]);
            for (var i = 0; i < own.Length; i++)
            {
                if (corners[i] < 0)
                {
                    own[i] = -1;
                    continue;
                }
                if (!known.TryGetValue(corners[i], out var at))
                {
                    known[corners[i]] = at = values.Count;
                    values.Add(value(corners[i]));
                }
                own[i] = at;
            }
            return ([.. values], own);
        }
    }
}
