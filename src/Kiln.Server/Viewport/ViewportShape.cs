using System.Numerics;
using System.Runtime.InteropServices;
using Kiln.Proof.Geometry;
using Kiln.Proof.Geometry.Models;
using Kiln.Proof.Geometry.Occlusion;
using Kiln.Proof.Rendering;

namespace Kiln.Server.Viewport;

/// <summary>Forms and models as the viewport draws them: their triangles, and what their vertices see.</summary>
internal static class ViewportShape
{
    /// <summary>Of a model, edges longer than this are halved: light is known at vertices alone. It is as large as forms are.</summary>
    private const float LongestEdge = 0.06f;

    /// <summary>Beyond so many triangles a model is fine enough.</summary>
    private const int Fine = 150_000;

    /// <summary>So many vertices of a model are asked what they see, some for many others.</summary>
    private const int MostAsked = 12_000;

    /// <param name="Parts">Of a model, in the order of its triangles.</param>
    private sealed record Head(
        float[] Centre,
        float Radius,
        bool IsSheet,
        float Yaw,
        float Pitch,
        float Zoom,
        int Own,
        IReadOnlyList<Range> Parts
    )
    {
        public float FieldOfView { get; } = OrbitCamera.FieldOfViewDegrees;
        public int FloorSide { get; } = FormOcclusion.FloorSide;
        public float FloorMetres { get; } = FormOcclusion.FloorMetres;
        public int Cells { get; } = SkyCells.Directions.Length;
        public int CellsAbove { get; } = SkyCells.Above;
    }

    private sealed record Range(string Path, int First, int Triangles);

    /// <exception cref="ArgumentException">There is no such form.</exception>
    public static byte[] OfForm(string name, SurfaceDisplacement? displacement)
    {
        var plain = Forms.Named(name);
        var mesh = displacement is null ? plain : Displacing.Of(name, plain, displacement);
        // What is known of the form's own vertices is known of all; a form that is not moved has its own alone.
        var own = displacement is null ? null : plain;
        return Of(mesh, HeadOf(plain, OrbitCamera.For(name), plain.Positions.Length, []), FormOcclusion.Of(plain), mesh.Between(), own);
    }

    public static byte[] OfModel(StandingModel standing)
    {
        var mesh = ShortEdges.Of(standing.Mesh, LongestEdge, Fine);
        var near = NearVertices.Of(mesh, MostAsked);
        var head = HeadOf(
            mesh,
            StandingModel.Whole,
            near.Chosen.Length,
            [.. mesh.Parts.Select(p => new Range(p.Name, p.FirstTriangle, p.Triangles))]
        );
        var count = mesh.Positions.Length;
        var (between, shares) = (new int[3 * count], new float[3 * count]);
        for (var i = 0; i < count; i++)
        {
            between.AsSpan(3 * i, 3).Fill(near.For[i]);
            shares[3 * i] = 1;
        }
        var own =
            near.Chosen.Length == count
                ? null
                : new Mesh
                {
                    Positions = [.. near.Chosen.Select(i => mesh.Positions[i])],
                    Normals = [.. near.Chosen.Select(i => mesh.Normals[i])],
                    Uvs = [],
                    Indices = [],
                    Parts = [],
                };
        return Of(mesh, head, FormOcclusion.Of(mesh, near.Chosen), (between, shares), own);
    }

    private static Head HeadOf(Mesh mesh, OrbitCamera camera, int own, IReadOnlyList<Range> parts)
    {
        var (min, max) = (mesh.Positions.Aggregate(Vector3.Min), mesh.Positions.Aggregate(Vector3.Max));
        return new(
            Numbers((min + max) * 0.5f),
            (max - min).Length() * 0.5f,
            mesh.IsSheet,
            camera.YawDegrees,
            camera.PitchDegrees,
            camera.Zoom,
            own,
            parts
        );
    }

    /// <param name="own">The vertices of which is known what they see, where those are not the mesh's.</param>
    private static byte[] Of(Mesh mesh, Head head, FormOcclusion sees, (int[] Vertices, float[] Shares) between, Mesh? own) =>
        new BinaryParts(head)
            .With("positions", Flat(mesh.Positions))
            .With("normals", Flat(mesh.Normals))
            .With("tangents", MemoryMarshal.Cast<Vector4, float>(mesh.Tangents).ToArray())
            .With("uvs", MemoryMarshal.Cast<Vector2, float>(mesh.Uvs).ToArray())
            .With("between", between.Vertices)
            .With("shares", between.Shares)
            .With("cells", [.. Cells()])
            .With("seen", MemoryMarshal.Cast<uint, int>(sees.Seen).ToArray())
            .With("visible", sees.Visible)
            .With("floor", MemoryMarshal.Cast<uint, int>(sees.Floor).ToArray())
            .With("ownPositions", Flat(own?.Positions ?? []))
            .With("ownNormals", Flat(own?.Normals ?? []))
            .With("indices", mesh.Indices)
            .ToArray();

    /// <summary>Four numbers of each cell, its direction and solid angle, then four of each, its edges.</summary>
    private static IEnumerable<float> Cells() =>
        SkyCells
            .Directions.SelectMany((d, i) => new[] { d.X, d.Y, d.Z, SkyCells.SolidAngles[i] })
            .Concat(SkyCells.Edges.SelectMany(e => new[] { e.Upper, e.Lower, e.From, e.To }));

    private static float[] Flat(Vector3[] all) => MemoryMarshal.Cast<Vector3, float>(all).ToArray();

    internal static float[] Numbers(Vector3 v) => [v.X, v.Y, v.Z];
}
