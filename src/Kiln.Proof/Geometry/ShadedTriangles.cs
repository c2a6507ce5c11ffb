using System.Numerics;
using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;

namespace Kiln.Proof.Geometry;

/// <summary>Eight places on surfaces.</summary>
internal struct WidePlaces
{
    /// <summary>Of the triangle itself, then as it is shaded, then along increasing u.</summary>
    public Wide3 Facet,
        Normal,
        Tangent;
    public Wide U,
        V;

    /// <summary>Units of UV to a metre; and the sign of the bitangent.</summary>
    public Wide UvPerMetre,
        BitangentSign;
}

/// <summary>
/// What is interpolated over the triangles of a form and of the ground below it, laid out so that a place needs few reads. Triangles of the
/// ground come after those of the form.
/// </summary>
internal sealed class ShadedTriangles
{
    private readonly record struct Vertex(Vector3 Normal, float U, Vector3 Tangent, float V);

    private readonly record struct Face(Vector3 Normal, float UvPerMetre, int A, int B, int C, float BitangentSign);

    private readonly Vertex[] vertices;
    private readonly Face[] faces;

    public ShadedTriangles(params IReadOnlyList<Mesh> meshes)
    {
        vertices = [.. meshes.SelectMany(Vertices)];
        var made = new List<Face>();
        var first = 0;
        foreach (var mesh in meshes)
        {
            for (var t = 0; t < mesh.Triangles; t++)
                made.Add(Of(mesh, t, first));
            first += mesh.Positions.Length;
        }
        faces = [.. made];
    }

    private static IEnumerable<Vertex> Vertices(Mesh mesh) =>
        mesh.Normals.Select(
            (n, i) =>
            {
                var (t, uv) = (mesh.Tangents[i], mesh.Uvs[i]);
                return new Vertex(n, uv.X, new(t.X, t.Y, t.Z), uv.Y);
            }
        );

    private static Face Of(Mesh mesh, int triangle, int first)
    {
        int a = mesh.Indices[3 * triangle],
            b = mesh.Indices[3 * triangle + 1],
            c = mesh.Indices[3 * triangle + 2];
        var cross = Vector3.Cross(mesh.Positions[b] - mesh.Positions[a], mesh.Positions[c] - mesh.Positions[a]);
        Vector2 d1 = mesh.Uvs[b] - mesh.Uvs[a],
            d2 = mesh.Uvs[c] - mesh.Uvs[a];
        var area = cross.Length();
        var uvArea = MathF.Abs(d1.X * d2.Y - d1.Y * d2.X);
        var sign = mesh.Tangents[a].W + mesh.Tangents[b].W + mesh.Tangents[c].W < 0 ? -1 : 1;
        return new(cross / area, MathF.Sqrt(uvArea / MathF.Max(1e-12f, area)), first + a, first + b, first + c, sign);
    }

    /// <summary>The places on triangles at barycentric weights of the second and third corner.</summary>
    public void At(ReadOnlySpan<int> triangles, ReadOnlySpan<float> us, ReadOnlySpan<float> vs, out WidePlaces places)
    {
        Span<float> to = stackalloc float[13 * Lanes];
        for (var lane = 0; lane < Lanes; lane++)
        {
            ref readonly var face = ref faces[triangles[lane]];
            ref var a = ref vertices[face.A];
            ref var b = ref vertices[face.B];
            ref var c = ref vertices[face.C];
            float u = us[lane],
                v = vs[lane],
                w = 1 - u - v;
            var normal = First(ref a) * w + First(ref b) * u + First(ref c) * v;
            var tangent = Second(ref a) * w + Second(ref b) * u + Second(ref c) * v;
            (to[lane], to[8 + lane], to[16 + lane], to[24 + lane]) = (normal.X, normal.Y, normal.Z, normal.W);
            (to[32 + lane], to[40 + lane], to[48 + lane], to[56 + lane]) = (tangent.X, tangent.Y, tangent.Z, tangent.W);
            (to[64 + lane], to[72 + lane], to[80 + lane]) = (face.Normal.X, face.Normal.Y, face.Normal.Z);
            (to[88 + lane], to[96 + lane]) = (face.UvPerMetre, face.BitangentSign);
        }
        var rows = MemoryMarshal.Cast<float, Wide>(to);
        places = new WidePlaces
        {
            Normal = Wide3.Normalize(new Wide3(rows[0], rows[1], rows[2])),
            U = rows[3],
            Tangent = new(rows[4], rows[5], rows[6]),
            V = rows[7],
            Facet = new(rows[8], rows[9], rows[10]),
            UvPerMetre = rows[11],
            BitangentSign = rows[12],
        };
    }

    private static Vector4 First(ref Vertex v) => Unsafe.As<Vertex, Vector4>(ref v);

    private static Vector4 Second(ref Vertex v) => Unsafe.Add(ref Unsafe.As<Vertex, Vector4>(ref v), 1);
}
