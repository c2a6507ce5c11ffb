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
    private readonly SceneGeometry geometry;
    private readonly byte[] kindOf;

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
        this.form = form;
        Material = material;
        Light = light;
        geometry = SceneGeometry.Of(form, withFloor && !light.IsFurnace);
        var kinds = new List<SurfaceKind> { SurfaceKind.OfLook(material), SurfaceKind.Floor };
        kindOf = new byte[geometry.Triangles];
        Array.Fill(kindOf, (byte)1, form.Triangles, kindOf.Length - form.Triangles);
        foreach (var (name, first, count) in form.Parts)
            if (fixedSurfaces?.GetValueOrDefault(name) is { } own)
            {
                Array.Fill(kindOf, (byte)kinds.Count, first, count);
                kinds.Add(SurfaceKind.Of(own));
            }
        Kinds = kinds;
        (sinLight, cosLight) = MathF.SinCos(lightRotationDegrees * MathF.PI / 180f);
        var framed = (framing ?? form).Positions;
        var (min, max) = (framed.Aggregate(Vector3.Min), framed.Aggregate(Vector3.Max));
        Centre = (min + max) * 0.5f;
        Radius = (max - min).Length() * 0.5f;
    }

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

    internal Wide3 ToLight(in Wide3 d) => new(cosLight * d.X - sinLight * d.Z, d.Y, sinLight * d.X + cosLight * d.Z);

    internal Wide3 FromLight(in Wide3 d) => new(cosLight * d.X + sinLight * d.Z, d.Y, cosLight * d.Z - sinLight * d.X);

    public bool Intersect(Vector3 origin, Vector3 direction, float near, out Hit hit) =>
        geometry.Bvh.Intersect(origin, direction, near, float.PositiveInfinity, out hit);

    public bool Occluded(Vector3 origin, Vector3 direction, float near) =>
        geometry.Bvh.Occluded(origin, direction, near, float.PositiveInfinity);

    /// <summary>What is interpolated over the triangles.</summary>
    internal ShadedTriangles Shading => geometry.Shading;

    /// <summary>Kinds of surfaces: the look, the floor, and those that parts of the form have of their own.</summary>
    internal IReadOnlyList<SurfaceKind> Kinds { get; }

    internal int KindOf(int triangle) => kindOf[triangle];

    /// <summary>Whether the look lies on a triangle.</summary>
    internal bool IsLook(int triangle) => kindOf[triangle] == 0;

    /// <summary>How much of the look's surface is there where a ray meets it, 0..1.</summary>
    internal float OpacityAt(in Hit hit, Span<Vector3> scratch)
    {
        int a = form.Indices[3 * hit.Triangle],
            b = form.Indices[3 * hit.Triangle + 1],
            c = form.Indices[3 * hit.Triangle + 2];
        var uv = form.Uvs[a] * (1 - hit.U - hit.V) + form.Uvs[b] * hit.U + form.Uvs[c] * hit.V;
        return Material.OpacityAt(uv, ShadowFootprint, scratch);
    }

    /// <summary>Side of the square of UV over which light on its way asks whether a surface is there.</summary>
    private const float ShadowFootprint = 1e-3f;
}
