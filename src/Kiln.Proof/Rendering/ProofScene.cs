using System.Numerics;
using Kiln.Colour.Spaces;
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

/// <summary>What parts of a form have of their own, by their names.</summary>
/// <param name="Fixed">Surfaces that stay whatever the look is.</param>
/// <param name="Looks">Looks other than the one that lies on the rest; all in its working space.</param>
/// <param name="UnitsPerMetre">By which the form was made larger to stand where forms do.</param>
public sealed record SceneParts(
    IReadOnlyDictionary<string, FixedSurface>? Fixed = null,
    IReadOnlyDictionary<string, ProofMaterial>? Looks = null,
    float UnitsPerMetre = 1
);

/// <summary>A form, its surface and its light. Built once, rendered many times.</summary>
public sealed class ProofScene
{
    private readonly Mesh form;
    private readonly SceneGeometry geometry;
    private readonly byte[] kindOf;

    /// <summary>Looks that one scene has room for.</summary>
    public const int MostLooks = 200;

    /// <param name="framing">What the camera is set by, where the form is moved: two proofs then show the same view.</param>
    /// <exception cref="ArgumentException">There are too many looks, or they are worked in different spaces.</exception>
    public ProofScene(
        Mesh form,
        ProofMaterial material,
        EnvironmentLight light,
        float lightRotationDegrees = 0,
        bool withFloor = true,
        Mesh? framing = null,
        SceneParts? parts = null
    )
    {
        this.form = form;
        Working = material.Working;
        FromXyz = material.Model.FromXyz;
        UnitsPerMetre = parts?.UnitsPerMetre ?? 1;
        Light = light;
        geometry = SceneGeometry.Of(form, withFloor && !light.IsFurnace);
        var kinds = new List<SurfaceKind> { SurfaceKind.OfLook(material), SurfaceKind.Floor };
        kindOf = new byte[geometry.Triangles];
        Array.Fill(kindOf, (byte)1, form.Triangles, kindOf.Length - form.Triangles);
        foreach (var (name, first, count) in form.Parts)
            if (parts?.Fixed?.GetValueOrDefault(name) is { } own)
            {
                Array.Fill(kindOf, (byte)kinds.Count, first, count);
                kinds.Add(SurfaceKind.Of(own));
            }
            else if (parts?.Looks?.GetValueOrDefault(name) is { } look && look != material)
                Array.Fill(kindOf, KindOf(kinds, look), first, count);
        Kinds = kinds;
        IsOpaque = kinds.All(k => k.Look is null or { IsOpaque: true });
        LetsLightIn = kinds.Any(k => k.Look is { LetsLightIn: true });
        (sinLight, cosLight) = MathF.SinCos(lightRotationDegrees * MathF.PI / 180f);
        var framed = (framing ?? form).Positions;
        var (min, max) = (framed.Aggregate(Vector3.Min), framed.Aggregate(Vector3.Max));
        Centre = (min + max) * 0.5f;
        Radius = (max - min).Length() * 0.5f;
    }

    private byte KindOf(List<SurfaceKind> kinds, ProofMaterial look)
    {
        if (look.Working != Working)
            throw new ArgumentException("Looks of one picture are worked in one space.");
        var known = kinds.FindIndex(k => k.Look == look);
        if (known >= 0)
            return (byte)known;
        if (kinds.Count(k => k.Look is not null) == MostLooks)
            throw new ArgumentException($"A picture has room for {MostLooks} looks; this one has more.");
        kinds.Add(SurfaceKind.OfLook(look));
        return (byte)(kinds.Count - 1);
    }

    private readonly float sinLight,
        cosLight;

    /// <summary>What all looks are worked in.</summary>
    public WorkingSpace Working { get; }

    /// <summary>From CIE XYZ to what all looks are worked in.</summary>
    internal Matrix4x4 FromXyz { get; }

    /// <summary>Units of the scene to a metre of the form.</summary>
    public float UnitsPerMetre { get; }

    /// <summary>Whether every look is there everywhere.</summary>
    public bool IsOpaque { get; }

    /// <summary>Whether light may pass through a body.</summary>
    public bool LetsLightIn { get; }

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

    /// <summary>How much of a look's surface is there where a ray meets it, 0..1.</summary>
    /// <param name="look">That lies on the triangle.</param>
    internal float OpacityAt(ProofMaterial look, in Hit hit, Span<Vector3> scratch)
    {
        int a = form.Indices[3 * hit.Triangle],
            b = form.Indices[3 * hit.Triangle + 1],
            c = form.Indices[3 * hit.Triangle + 2];
        var uv = form.Uvs[a] * (1 - hit.U - hit.V) + form.Uvs[b] * hit.U + form.Uvs[c] * hit.V;
        return look.OpacityAt(uv, ShadowFootprint, scratch);
    }

    /// <summary>Side of the square of UV over which light on its way asks whether a surface is there.</summary>
    private const float ShadowFootprint = 1e-3f;
}
