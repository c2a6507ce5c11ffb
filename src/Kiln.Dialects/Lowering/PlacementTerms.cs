using System.Numerics;
using Kiln.Dialects.Profiles;
using Kiln.Looks.Maps;

namespace Kiln.Dialects.Lowering;

/// <summary>
/// A placement in a dialect's own terms, and back. The design's order is rotation, then repeats, then the picture's own rotation: t =
/// R(−φ)·S·R(−θ)·uv + shift.
/// </summary>
public sealed record PlacementTerms(float ScaleU, float ScaleV, float Angle, float ShiftU, float ShiftV)
{
    private const float RightAngleTolerance = 1e-4f;

    /// <summary>Whether the dialect's order of operations can say this placement.</summary>
    public static bool CanSay(PlacementRule rule, Placement placement)
    {
        if (placement.Variation is not null)
            return false;
        return InOwnOrder(rule, placement) || rule.OrderPort is not null && InOwnOrder(rule.ScaledFirst(), placement);
    }

    /// <summary>Whether the dialect's usual order says it, so that no other has to be asked for.</summary>
    public static bool InOwnOrder(PlacementRule rule, Placement placement)
    {
        if (IsUniform(placement))
            return true;
        // A quarter turn on either side of unequal repeats only exchanges them.
        return rule.Order == TransformOrder.RotateThenScale
            ? IsQuarter(placement.PictureRotationDegrees)
            : IsQuarter(placement.RotationDegrees);
    }

    private static bool IsQuarter(float degrees) => MathF.Abs(MathF.IEEERemainder(degrees, 90)) < RightAngleTolerance;

    private static bool IsUniform(Placement p) => p.RepeatsU == p.RepeatsV && p.MirrorU == p.MirrorV;

    /// <summary>Whether a rotation lies nearer to a quarter than to a half turn, so that it exchanges the axes.</summary>
    private static bool Exchanges(float degrees) => MathF.Abs(MathF.IEEERemainder(degrees, 180)) > 45;

    public static PlacementTerms Of(PlacementRule rule, Placement placement)
    {
        float su = placement.MirrorU ? -placement.RepeatsU : placement.RepeatsU,
            sv = placement.MirrorV ? -placement.RepeatsV : placement.RepeatsV;
        var (uu, uv, vu, vv) = placement.Linear;
        var shift = placement.Shift;
        // Both rotations as one, on the dialect's side of the repeats.
        var degrees = placement.RotationDegrees + placement.PictureRotationDegrees;
        var passed = rule.Order == TransformOrder.RotateThenScale ? placement.PictureRotationDegrees : placement.RotationDegrees;
        if (!IsUniform(placement) && Exchanges(passed))
            (su, sv) = (sv, su);
        if (rule.VDown)
        {
            // uv = D·uv' + (0, 1) and t' = D·t + (0, 1) with D = diag(1, −1): rotations change their sense, the shift follows.
            shift = new(shift.X + uv, 1 - (shift.Y + vv));
            (uv, vu) = (-uv, -vu);
            degrees = -degrees;
        }
        if (rule.Pivot is [var px, var py])
            shift += new Vector2(uu * px + uv * py - px, vu * px + vv * py - py);
        if (rule.Shift == ShiftTime.Before)
        {
            var d = uu * vv - uv * vu;
            shift = -new Vector2((vv * shift.X - uv * shift.Y) / d, (uu * shift.Y - vu * shift.X) / d);
        }
        var angle = rule.Sense == RotationSense.CounterClockwise ? degrees : -degrees;
        return new(
            rule.Scale == ScaleSense.Divide ? 1 / su : su,
            rule.Scale == ScaleSense.Divide ? 1 / sv : sv,
            rule.Angle == AngleUnit.Radians ? angle * MathF.PI / 180f : angle,
            shift.X,
            shift.Y
        );
    }

    /// <summary>The placement that a dialect's settings mean.</summary>
    public Placement ToPlacement(PlacementRule rule)
    {
        float su = rule.Scale == ScaleSense.Divide ? 1 / ScaleU : ScaleU,
            sv = rule.Scale == ScaleSense.Divide ? 1 / ScaleV : ScaleV;
        var degrees = rule.Angle == AngleUnit.Radians ? Angle * 180f / MathF.PI : Angle;
        if (rule.Sense != RotationSense.CounterClockwise)
            degrees = -degrees;
        // In the dialect's own axes: linear part, then the shift as an addition.
        var (sin, cos) = MathF.SinCos(degrees * MathF.PI / 180f);
        var (uu, uv, vu, vv) =
            rule.Order == TransformOrder.RotateThenScale
                ? (su * cos, su * sin, -sv * sin, sv * cos)
                : (su * cos, sv * sin, -su * sin, sv * cos);
        // Scaled unequally before it is rotated: a shear, which only the picture's own rotation says.
        var after = rule.Order != TransformOrder.RotateThenScale && su != sv && !IsQuarter(degrees);
        if (rule.Order != TransformOrder.RotateThenScale && !after && Exchanges(degrees))
            (su, sv) = (sv, su);
        var shift = new Vector2(ShiftU, ShiftV);
        if (rule.Shift == ShiftTime.Before)
            shift = -new Vector2(uu * shift.X + uv * shift.Y, vu * shift.X + vv * shift.Y);
        if (rule.Pivot is [var px, var py])
            shift -= new Vector2(uu * px + uv * py - px, vu * px + vv * py - py);
        if (rule.VDown)
        {
            degrees = -degrees;
            (uv, vu) = (-uv, -vu);
            shift = new(shift.X - uv, 1 - shift.Y - vv);
        }
        // Mirroring keeps each repeat in place, which moves the pattern by one repeat: whole numbers do not matter to a repeating picture.
        return new Placement(
            MathF.Abs(su),
            MathF.Abs(sv),
            after ? 0 : degrees,
            0,
            0,
            0,
            0,
            su < 0,
            sv < 0,
            PictureRotationDegrees: after ? degrees : 0
        ).WithShift(shift);
    }
}
