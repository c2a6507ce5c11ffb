using System.Numerics;
using Kiln.Proof.Geometry;
using Kiln.Proof.Lights;
using Kiln.Proof.Materials;

namespace Kiln.Proof.Rendering;

/// <summary>Where the camera stands: around the form by yaw and pitch in degrees, nearer or farther by zoom (1 = the whole form).</summary>
public sealed record OrbitCamera(float YawDegrees = 28, float PitchDegrees = 20, float Zoom = 1, float ShiftX = 0, float ShiftY = 0)
{
    public const float FieldOfViewDegrees = 26;

    public static OrbitCamera For(string form) =>
        form switch
        {
            "tile" => new(24, 46, 0.92f),
            "sphere" => new(28, 12),
            "cloth" => new(24, 24, 1.14f),
            "chart" => new(0, 0, 1.36f),
            _ => new(28, 18),
        };
}

/// <summary>A form, its surface and its light. Built once, rendered many times.</summary>
public sealed class ProofScene
{
    private readonly Mesh form;
    private readonly Mesh? floor;
    private readonly Bvh bvh;
    private readonly int formTriangles;

    /// <param name="fixedSurfaces">Parts of the form that keep their own surface, by name.</param>
    /// <param name="framing">What the camera is set by, where the form is moved: two proofs then show the same view.</param>
    public ProofScene(
        Mesh form,
        ProofMaterial material,
        EnvironmentLight light,
        float lightRotationDegrees = 0,
        bool withFloor = true,
        IReadOnlyDictionary<string, FixedSurface>? fixedSurfaces = null,
        Mesh? framing = null
    )
    {
        if (fixedSurfaces is { Count: > 0 })
        {
            ofTriangle = new FixedSurface?[form.Triangles];
            foreach (var (name, first, count) in form.Parts)
                Array.Fill(ofTriangle, fixedSurfaces.GetValueOrDefault(name), first, count);
        }
        this.form = form;
        Material = material;
        Light = light;
        floor = withFloor && !light.IsFurnace ? Forms.Floor() : null;
        formTriangles = form.Triangles;
        bvh = BvhCache.Of(form, floor);
        (sinLight, cosLight) = MathF.SinCos(lightRotationDegrees * MathF.PI / 180f);
        var framed = (framing ?? form).Positions;
        var (min, max) = (framed.Aggregate(Vector3.Min), framed.Aggregate(Vector3.Max));
        Centre = (min + max) * 0.5f;
        Radius = (max - min).Length() * 0.5f;
    }

    private readonly FixedSurface?[]? ofTriangle;
    private readonly float sinLight,
        cosLight;

    public ProofMaterial Material { get; }

    public EnvironmentLight Light { get; }

    /// <summary>Whether the form has no inside.</summary>
    public bool IsSheet => form.IsSheet;

    public Vector3 Centre { get; }

    public float Radius { get; }

    /// <summary>World to the light's own axes and back: the light turns about the vertical.</summary>
    public Vector3 ToLight(Vector3 d) => new(cosLight * d.X - sinLight * d.Z, d.Y, sinLight * d.X + cosLight * d.Z);

    public Vector3 FromLight(Vector3 d) => new(cosLight * d.X + sinLight * d.Z, d.Y, -sinLight * d.X + cosLight * d.Z);

    public bool Intersect(Vector3 origin, Vector3 direction, float near, out Hit hit) =>
        bvh.Intersect(origin, direction, near, float.PositiveInfinity, out hit);

    public bool Occluded(Vector3 origin, Vector3 direction, float near) => bvh.Occluded(origin, direction, near, float.PositiveInfinity);

    /// <summary>The surface that a part of the form has of its own; null where the look lies.</summary>
    public FixedSurface? Fixed(in Hit hit) => ofTriangle?[hit.Triangle];

    public bool IsForm(in Hit hit) => hit.Triangle < formTriangles;

    public void Point(in Hit hit, Vector3 origin, Vector3 direction, out SurfacePoint point)
    {
        var mesh = IsForm(hit) ? form : floor!;
        var t = IsForm(hit) ? hit.Triangle : hit.Triangle - formTriangles;
        int a = mesh.Indices[3 * t],
            b = mesh.Indices[3 * t + 1],
            c = mesh.Indices[3 * t + 2];
        float u = hit.U,
            v = hit.V,
            w = 1 - u - v;
        Vector3 e1 = mesh.Positions[b] - mesh.Positions[a],
            e2 = mesh.Positions[c] - mesh.Positions[a];
        var cross = Vector3.Cross(e1, e2);
        Vector2 d1 = mesh.Uvs[b] - mesh.Uvs[a],
            d2 = mesh.Uvs[c] - mesh.Uvs[a];
        var worldArea = cross.Length();
        var uvArea = MathF.Abs(d1.X * d2.Y - d1.Y * d2.X);
        var tangent = mesh.Tangents[a] * w + mesh.Tangents[b] * u + mesh.Tangents[c] * v;
        point = new SurfacePoint
        {
            Position = origin + direction * hit.Distance,
            Facet = cross / worldArea,
            Normal = Vector3.Normalize(mesh.Normals[a] * w + mesh.Normals[b] * u + mesh.Normals[c] * v),
            Tangent = new(tangent.X, tangent.Y, tangent.Z),
            BitangentSign = tangent.W < 0 ? -1 : 1,
            Uv = mesh.Uvs[a] * w + mesh.Uvs[b] * u + mesh.Uvs[c] * v,
            UvPerMetre = MathF.Sqrt(uvArea / MathF.Max(1e-12f, worldArea)),
        };
    }
}

public struct SurfacePoint
{
    public Vector3 Position;
    public Vector3 Facet;
    public Vector3 Normal;
    public Vector3 Tangent;
    public float BitangentSign;
    public Vector2 Uv;
    public float UvPerMetre;
}

/// <summary>Hierarchies of the shipped forms, built once.</summary>
internal static class BvhCache
{
    private static readonly System.Runtime.CompilerServices.ConditionalWeakTable<Mesh, Bvh> WithFloor = [];
    private static readonly System.Runtime.CompilerServices.ConditionalWeakTable<Mesh, Bvh> Alone = [];

    public static Bvh Of(Mesh form, Mesh? floor) =>
        (floor is null ? Alone : WithFloor).GetValue(form, f => new Bvh([.. Triangles(f), .. floor is null ? [] : Triangles(floor)]));

    private static IEnumerable<(Vector3 A, Vector3 B, Vector3 C)> Triangles(Mesh m) =>
        Enumerable
            .Range(0, m.Triangles)
            .Select(t => (m.Positions[m.Indices[3 * t]], m.Positions[m.Indices[3 * t + 1]], m.Positions[m.Indices[3 * t + 2]]));
}
