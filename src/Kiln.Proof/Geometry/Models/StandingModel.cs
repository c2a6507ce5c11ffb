using System.Numerics;
using Kiln.Proof.Rendering;

namespace Kiln.Proof.Geometry.Models;

/// <summary>A model as it stands where forms do: upright, on the floor, as large as they are.</summary>
/// <param name="UnitsPerMetre">By which it was made larger.</param>
public sealed record StandingModel(Mesh Mesh, float UnitsPerMetre)
{
    /// <summary>Of the sphere around a form, in metres.</summary>
    private const float Radius = 0.6f;

    /// <summary>From where all of a model is seen, whatever its shape.</summary>
    public static OrbitCamera Whole => new(Zoom: 0.88f);

    /// <param name="up">Which axis of the parts points upwards: X, Y or Z.</param>
    /// <exception cref="ArgumentException">No part has a triangle with an area, or all lie in one place.</exception>
    public static StandingModel Of(IReadOnlyList<PartTriangles> parts, char up)
    {
        var (min, max) = (new Vector3(float.PositiveInfinity), new Vector3(float.NegativeInfinity));
        foreach (var position in parts.SelectMany(p => p.Corners.Select(c => p.Positions[c])))
            (min, max) = (Vector3.Min(min, position), Vector3.Max(max, position));
        var size = (max - min).Length();
        if (!(size > 0) || !float.IsFinite(size))
            throw new ArgumentException("The model has no size.");
        var larger = 2 * Radius / size;
        var (low, high) = (Upright(min, up), Upright(max, up));
        var middle = (low + high) / 2;
        var below = new Vector3(middle.X, MathF.Min(low.Y, high.Y), middle.Z);
        var standing = parts
            .Select(p =>
                p with
                {
                    Positions = [.. p.Positions.Select(v => (Upright(v, up) - below) * larger)],
                    Normals = p.Normals is { } n ? ([.. n.Directions.Select(d => Upright(d, up))], n.Corners) : null,
                }
            )
            .ToList();
        return new(PartsAsMesh.Of(standing), larger);
    }

    /// <summary>The part that is seen at a place of a picture, from the left and from the top 0..1; null where none is.</summary>
    public string? PartAt(OrbitCamera camera, int width, int height, Vector2 place)
    {
        var (min, max) = (Mesh.Positions.Aggregate(Vector3.Min), Mesh.Positions.Aggregate(Vector3.Max));
        var frame = new CameraFrame(camera, (min + max) * 0.5f, (max - min).Length() * 0.5f, width, height);
        var geometry = SceneGeometry.Of(Mesh, withFloor: true);
        var towards = frame.Direction(place.X * width, place.Y * height);
        return geometry.Bvh.Intersect(frame.Eye, towards, 0, float.PositiveInfinity, out var hit)
            ? Mesh
                .Parts.Where(p => hit.Triangle >= p.FirstTriangle && hit.Triangle < p.FirstTriangle + p.Triangles)
                .Select(p => p.Name)
                .FirstOrDefault()
            : null;
    }

    /// <summary>With its upward axis along y, turned and not mirrored.</summary>
    private static Vector3 Upright(Vector3 v, char up) =>
        up switch
        {
            'Z' => new(v.X, v.Z, -v.Y),
            'X' => new(-v.Y, v.X, v.Z),
            _ => v,
        };
}
