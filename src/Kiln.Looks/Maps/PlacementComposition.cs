using System.Numerics;

namespace Kiln.Looks.Maps;

/// <summary>Placements made of others.</summary>
public static class PlacementComposition
{
    /// <summary>Against the largest number of a linear part, what counts as nothing.</summary>
    private const float Nothing = 1e-6f;

    /// <summary>The same placement moved so that its constant part is the given one.</summary>
    public static Placement WithShift(this Placement placement, Vector2 shift)
    {
        var bare = placement with { OffsetU = 0, OffsetV = 0, PivotU = 0, PivotV = 0 };
        var missing = bare.Shift - shift;
        var (uu, uv, vu, vv) = bare.Linear;
        var d = uu * vv - uv * vu;
        return bare with { OffsetU = (vv * missing.X - uv * missing.Y) / d, OffsetV = (uu * missing.Y - vu * missing.X) / d };
    }

    /// <summary>
    /// What a picture lies like that is placed on a surface whose coordinates are placed themselves: for every point,
    /// <c>result.Apply(p) = placement.Apply(first.Apply(p))</c>. Tiles stay varied as those of the picture are, but are not turned where
    /// the result repeats unequally or shears.
    /// </summary>
    /// <param name="first">Of the surface.</param>
    public static Placement After(this Placement placement, Placement first)
    {
        if (first.IsIdentity)
            return placement;
        var (a, b, c, d) = Product(placement.Linear, first.Linear);
        var whole = Of(a, b, c, d) with { Variation = placement.Variation };
        if (whole.Variation is { RotationDegrees: > 0 } && (whole.RepeatsU != whole.RepeatsV || whole.PictureRotationDegrees != 0))
            whole =
                MathF.Abs(whole.RepeatsU / whole.RepeatsV - 1) < 1e-4f && whole.PictureRotationDegrees == 0
                    ? whole with
                    {
                        RepeatsV = whole.RepeatsU,
                    }
                    : whole with
                    {
                        Variation = whole.Variation with { RotationDegrees = 0 },
                    };
        return whole.WithShift(placement.Apply(first.Shift));
    }

    private static (float, float, float, float) Product(
        (float Uu, float Uv, float Vu, float Vv) m,
        (float Uu, float Uv, float Vu, float Vv) n
    ) => (m.Uu * n.Uu + m.Uv * n.Vu, m.Uu * n.Uv + m.Uv * n.Vv, m.Vu * n.Uu + m.Vv * n.Vu, m.Vu * n.Uv + m.Vv * n.Vv);

    /// <summary>The placement with a linear part, in the plainest words: without rotations where that can be.</summary>
    private static Placement Of(float a, float b, float c, float d)
    {
        var largest = MathF.Max(MathF.Max(MathF.Abs(a), MathF.Abs(b)), MathF.Max(MathF.Abs(c), MathF.Abs(d)));
        if (MathF.Max(MathF.Abs(b), MathF.Abs(c)) <= Nothing * largest)
            return Repeated(a, d, 0, 0);
        if (MathF.Abs(a * c + b * d) <= Nothing * largest * largest)
        {
            // Rows at right angles: repeats after one rotation.
            var angle = MathF.Atan2(b, a);
            var (sin, cos) = MathF.SinCos(angle);
            return Repeated(MathF.Sqrt(a * a + b * b), d * cos - c * sin, angle, 0);
        }
        // Singular values of a matrix of two by two, in closed form.
        var (e, f, g, h) = ((a + d) / 2, (a - d) / 2, (c + b) / 2, (c - b) / 2);
        var (q, r) = (MathF.Sqrt(e * e + h * h), MathF.Sqrt(f * f + g * g));
        var (sum, difference) = (MathF.Atan2(h, e), MathF.Atan2(g, f));
        return Repeated(q + r, q - r, -(sum - difference) / 2, -(sum + difference) / 2);
    }

    private static Placement Repeated(float u, float v, float angle, float pictureAngle) =>
        new(
            MathF.Abs(u),
            MathF.Abs(v),
            angle * 180 / MathF.PI,
            MirrorU: u < 0,
            MirrorV: v < 0,
            PictureRotationDegrees: pictureAngle * 180 / MathF.PI
        );
}
