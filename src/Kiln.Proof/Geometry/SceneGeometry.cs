using System.Numerics;
using System.Runtime.CompilerServices;

namespace Kiln.Proof.Geometry;

/// <summary>A form, with the ground below it or without, ready to be met by rays. Made once for a form.</summary>
internal sealed class SceneGeometry
{
    private static readonly ConditionalWeakTable<Mesh, SceneGeometry> WithFloor = [],
        Alone = [];
    private static readonly Mesh Floor = Forms.Floor();

    private SceneGeometry(params IReadOnlyList<Mesh> meshes)
    {
        Bvh = new([.. meshes.SelectMany(Corners)]);
        Shading = new(meshes);
        Triangles = meshes.Sum(m => m.Triangles);
    }

    public static SceneGeometry Of(Mesh form, bool withFloor) =>
        withFloor ? WithFloor.GetValue(form, f => new(f, Floor)) : Alone.GetValue(form, f => new(f));

    public Bvh Bvh { get; }

    public ShadedTriangles Shading { get; }

    /// <summary>Those of the form come first.</summary>
    public int Triangles { get; }

    private static IEnumerable<(Vector3 A, Vector3 B, Vector3 C)> Corners(Mesh m) =>
        Enumerable
            .Range(0, m.Triangles)
            .Select(t => (m.Positions[m.Indices[3 * t]], m.Positions[m.Indices[3 * t + 1]], m.Positions[m.Indices[3 * t + 2]]));
}
