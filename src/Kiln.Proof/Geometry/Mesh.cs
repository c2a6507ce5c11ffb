using System.Numerics;

namespace Kiln.Proof.Geometry;

/// <summary>Triangles with shading normals, UV (v up) and tangents per corner vertex; parts name ranges of triangles.</summary>
public sealed class Mesh
{
    public required Vector3[] Positions { get; init; }

    public required Vector3[] Normals { get; init; }

    public required Vector2[] Uvs { get; init; }

    /// <summary>
    /// xyz along increasing u, w the sign of the bitangent: bitangent = w · cross(normal, tangent), as MikkTSpace defines it.
    /// </summary>
    public Vector4[] Tangents { get; private set; } = [];

    /// <summary>Three vertex numbers a triangle, counter-clockwise seen from outside.</summary>
    public required int[] Indices { get; init; }

    public required IReadOnlyList<(string Name, int FirstTriangle, int Triangles)> Parts { get; init; }

    public int Triangles => Indices.Length / 3;

    /// <summary>Of a form whose edges were halved: between which two vertices each later one was put, in order; the form's own come
    /// first.</summary>
    public IReadOnlyList<(int A, int B)> Halvings { get; init; } = [];

    /// <summary>
    /// Between which of the form's own vertices each vertex lies, three a vertex, and its share of each: halved edges stay within one
    /// triangle of the form. What is known of the form's own vertices alone is so known of all.
    /// </summary>
    public (int[] Vertices, float[] Shares) Between()
    {
        var count = Positions.Length;
        var own = count - Halvings.Count;
        var (vertices, shares) = (new int[3 * count], new float[3 * count]);
        for (var i = 0; i < own; i++)
        {
            vertices.AsSpan(3 * i, 3).Fill(i);
            shares[3 * i] = 1;
        }
        for (var i = own; i < count; i++)
        {
            var (a, b) = Halvings[i - own];
            var used = 0;
            foreach (var from in (ReadOnlySpan<int>)[a, b])
                for (var k = 3 * from; k < 3 * from + 3; k++)
                {
                    if (shares[k] == 0)
                        continue;
                    var at = 3 * i;
                    while (at < 3 * i + used && vertices[at] != vertices[k])
                        at++;
                    if (at == 3 * i + used)
                        used++;
                    vertices[at] = vertices[k];
                    shares[at] += 0.5f * shares[k];
                }
        }
        return (vertices, shares);
    }

    /// <summary>Whether it is a sheet without an inside, seen from both sides.</summary>
    public bool IsSheet { get; init; }

    /// <summary>
    /// Computes tangents: face tangents weighted by corner angle, made perpendicular to the vertex normal (MikkTSpace's definition for
    /// smooth, unsplit vertices).
    /// </summary>
    public Mesh WithTangents()
    {
        var sums = new Vector3[Positions.Length];
        var signs = new float[Positions.Length];
        for (var t = 0; t < Triangles; t++)
        for (var k = 0; k < 3; k++)
        {
            int a = Indices[3 * t + k],
                b = Indices[3 * t + (k + 1) % 3],
                c = Indices[3 * t + (k + 2) % 3];
            Vector3 e1 = Positions[b] - Positions[a],
                e2 = Positions[c] - Positions[a];
            Vector2 d1 = Uvs[b] - Uvs[a],
                d2 = Uvs[c] - Uvs[a];
            var area = d1.X * d2.Y - d1.Y * d2.X;
            if (MathF.Abs(area) < 1e-20f)
                continue;
            var tangent = (e1 * d2.Y - e2 * d1.Y) * MathF.Sign(area);
            var flat = tangent - Normals[a] * Vector3.Dot(tangent, Normals[a]);
            if (flat.LengthSquared() < 1e-20f)
                continue;
            var angle = MathF.Acos(Math.Clamp(Vector3.Dot(Vector3.Normalize(e1), Vector3.Normalize(e2)), -1f, 1f));
            sums[a] += Vector3.Normalize(flat) * angle;
            signs[a] += MathF.Sign(area) * angle;
        }
        Tangents =
        [
            .. sums.Select(
                (s, i) =>
                {
                    var unit =
                        s.LengthSquared() > 1e-20f
                            ? Vector3.Normalize(s - Normals[i] * Vector3.Dot(s, Normals[i]))
                            : Perpendicular(Normals[i]);
                    return new Vector4(unit, signs[i] < 0 ? -1 : 1);
                }
            ),
        ];
        return this;
    }

    public static Vector3 Perpendicular(Vector3 n) =>
        Vector3.Normalize(MathF.Abs(n.X) > 0.9f ? Vector3.Cross(n, Vector3.UnitY) : Vector3.Cross(n, Vector3.UnitX));
}
