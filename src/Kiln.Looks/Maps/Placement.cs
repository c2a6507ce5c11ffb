using System.Numerics;
using System.Text.Json.Serialization;

namespace Kiln.Looks.Maps;

/// <summary>
/// Repeats broken up by chance, so that no pattern of tiles is seen: over a lattice of cells the picture is moved and turned.
/// </summary>
/// <param name="Cells">Along one unit of UV; even, 2..256.</param>
/// <param name="RotationDegrees">Turned by up to so much either way, 0..180.</param>
public sealed record TileVariation(int Cells = 8, [property: JsonPropertyName("turnDegrees")] float RotationDegrees = 0, int Seed = 1);

/// <summary>
/// Where a picture lies on the surface. u to the right, v up, origin at the lower left. The picture is repeated
/// (<paramref name="RepeatsU"/> × <paramref name="RepeatsV"/> times over one unit of UV), rotated counter-clockwise about the pivot, then
/// moved by the offset;
/// mirroring swaps left and right, or top and bottom, of every repeat in place.
/// </summary>
/// <param name="PictureRotationDegrees">
/// A second rotation, counter-clockwise, after the repeats and about the picture's own origin: with unequal repeats it shears, as documents
/// do that scale before they rotate
/// (KHR_texture_transform, UsdTransform2d). Rotation, repeats and second rotation together are any linear map (singular value
/// decomposition).
/// </param>
public sealed record Placement(
    float RepeatsU = 1,
    float RepeatsV = 1,
    float RotationDegrees = 0,
    float OffsetU = 0,
    float OffsetV = 0,
    float PivotU = 0.5f,
    float PivotV = 0.5f,
    bool MirrorU = false,
    bool MirrorV = false,
    TileVariation? Variation = null,
    float PictureRotationDegrees = 0
)
{
    public static readonly Placement Identity = new();

    /// <summary>Small enough that a whole surface lies within one texel of any picture.</summary>
    private const float PointRepeats = 1e-6f;

    /// <summary>One point of the picture all over the surface: what a placement without surface coordinates reads.</summary>
    /// <param name="at">In the picture, u to the right and v up.</param>
    public static Placement AtPoint(Vector2 at) => new(PointRepeats, PointRepeats, 0, -at.X / PointRepeats, -at.Y / PointRepeats, 0, 0);

    /// <summary>Whether it reads one point of the picture.</summary>
    [JsonIgnore]
    public bool IsPoint => RepeatsU <= PointRepeats && RepeatsV <= PointRepeats;

    [JsonIgnore]
    public bool IsIdentity => this with { PivotU = 0.5f, PivotV = 0.5f } == Identity;

    /// <summary>The linear part: picture coordinates change by this when surface coordinates do. Columns are ∂/∂u and ∂/∂v.</summary>
    [JsonIgnore]
    public (float Uu, float Uv, float Vu, float Vv) Linear
    {
        get
        {
            var (sin, cos) = MathF.SinCos(RotationDegrees * MathF.PI / 180f);
            float su = MirrorU ? -RepeatsU : RepeatsU,
                sv = MirrorV ? -RepeatsV : RepeatsV;
            return Rotated(su * cos, su * sin, -sv * sin, sv * cos);
        }
    }

    /// <summary>A linear part after the picture's own rotation.</summary>
    private (float Uu, float Uv, float Vu, float Vv) Rotated(float uu, float uv, float vu, float vv)
    {
        if (PictureRotationDegrees == 0)
            return (uu, uv, vu, vv);
        var (sin, cos) = MathF.SinCos(PictureRotationDegrees * MathF.PI / 180f);
        return (cos * uu + sin * vu, cos * uv + sin * vv, cos * vu - sin * uu, cos * vv - sin * uv);
    }

    /// <summary>The constant part: picture = Linear · surface + Shift.</summary>
    [JsonIgnore]
    public Vector2 Shift
    {
        get
        {
            var (uu, uv, vu, vv) = Linear;
            float pu = OffsetU + PivotU,
                pv = OffsetV + PivotV;
            var mirrored = new Vector2(
                MirrorU ? 1 - RepeatsU * PivotU : RepeatsU * PivotU,
                MirrorV ? 1 - RepeatsV * PivotV : RepeatsV * PivotV
            );
            if (PictureRotationDegrees != 0)
            {
                var (cosines, sines, minus, same) = Rotated(1, 0, 0, 1);
                mirrored = new(cosines * mirrored.X + sines * mirrored.Y, minus * mirrored.X + same * mirrored.Y);
            }
            return mirrored - new Vector2(uu * pu + uv * pv, vu * pu + vv * pv);
        }
    }

    /// <summary>Surface coordinates to picture coordinates.</summary>
    public Vector2 Apply(Vector2 surface)
    {
        var (uu, uv, vu, vv) = Linear;
        return new Vector2(uu * surface.X + uv * surface.Y, vu * surface.X + vv * surface.Y) + Shift;
    }

    /// <summary>
    /// How directions turn with the picture: the transposed linear part without its uniform scale, because relief scales with the size of a
    /// repeat.
    /// With h'(x) = h(Mx) the gradient is Mᵀ∇h (chain rule), and (n_x, n_y) is the negative gradient.
    /// </summary>
    [JsonIgnore]
    public (float Xx, float Xy, float Yx, float Yy) DirectionRotation
    {
        get
        {
            var (uu, uv, vu, vv) = Linear;
            var scale = 1f / MathF.Sqrt(MathF.Max(1e-12f, MathF.Abs(uu * vv - uv * vu)));
            return (uu * scale, vu * scale, uv * scale, vv * scale);
        }
    }

    /// <summary>
    /// How directions along the surface turn with the picture: by the inverse of the linear part, without its uniform scale. A line of the
    /// map is x' = Mx; what runs along x' in it runs along M⁻¹x' on the surface.
    /// With equal repeats it is the same turn as that of relief.
    /// </summary>
    [JsonIgnore]
    public (float Xx, float Xy, float Yx, float Yy) TangentRotation
    {
        get
        {
            var (uu, uv, vu, vv) = Linear;
            var determinant = uu * vv - uv * vu;
            var scale = MathF.Sign(determinant) / MathF.Sqrt(MathF.Max(1e-12f, MathF.Abs(determinant)));
            return (vv * scale, -uv * scale, -vu * scale, uu * scale);
        }
    }

    [JsonIgnore]
    public bool RotatesDirections
    {
        get
        {
            var (xx, xy, yx, yy) = DirectionRotation;
            return MathF.Abs(xx - 1) + MathF.Abs(xy) + MathF.Abs(yx) + MathF.Abs(yy - 1) > 1e-5f;
        }
    }
}
