using System.Numerics;
using Kiln.Looks.Readings;
using Kiln.Looks.Steps.Arithmetic;

namespace Kiln.Looks.Graph;

/// <summary>What each operation does to numbers. Lookups and height derivatives need more than numbers and live in the evaluator.</summary>
public static class ShadeArithmetic
{
    public static Vector3 Apply(ShadeNode node, ReadOnlySpan<Vector3> x) =>
        node.Op switch
        {
            ShadeOp.Constant => ((ConstantNode)node).Value,
            ShadeOp.Parameter => ((ParameterNode)node).Value,
            ShadeOp.Invert => Vector3.One - x[0],
            ShadeOp.Add => x[0] + x[1],
            ShadeOp.Subtract => x[0] - x[1],
            ShadeOp.Multiply => x[0] * x[1],
            ShadeOp.Divide => new(Quotient(x[0].X, x[1].X), Quotient(x[0].Y, x[1].Y), Quotient(x[0].Z, x[1].Z)),
            ShadeOp.Minimum => Vector3.Min(x[0], x[1]),
            ShadeOp.Maximum => Vector3.Max(x[0], x[1]),
            ShadeOp.Clamp => Vector3.Min(Vector3.Max(x[0], x[1]), x[2]),
            ShadeOp.Power => new(Power(x[0].X, x[1].X), Power(x[0].Y, x[1].Y), Power(x[0].Z, x[1].Z)),
            ShadeOp.SquareRoot => Vector3.SquareRoot(Vector3.Max(x[0], Vector3.Zero)),
            ShadeOp.Mix => x[0] + (x[1] - x[0]) * x[2],
            ShadeOp.Remap => x[3] + (x[0] - x[1]) / (x[2] - x[1]) * (x[4] - x[3]),
            ShadeOp.IfGreater => x[0].X > x[1].X ? x[2] : x[3],
            ShadeOp.Channel => new(
                ((ChannelNode)node).Channel switch
                {
                    MapChannel.G => x[0].Y,
                    MapChannel.B => x[0].Z,
                    _ => x[0].X,
                }
            ),
            ShadeOp.Luminance => new(Vector3.Dot(x[0], ((LuminanceNode)node).Weights)),
            ShadeOp.Splat => x[0],
            ShadeOp.DecodeNormal => Decode(x[0], x[1].X, ((DecodeNormalNode)node).YDown),
            ShadeOp.RotateDirection => Rotated(((RotateDirectionNode)node).Matrix, x[0]),
            ShadeOp.Heading => Heading(x[0].X),
            ShadeOp.Revolutions => new(Revolutions(x[0])),
            ShadeOp.Curve => Curved(((CurveNode)node).Curve.AsSpan(), x[0]),
            ShadeOp.HsvAdjust => HueSaturationValue.Adjust(x[0], x[1]),
            ShadeOp.Pack => new(x[0].X, x[1].X, x[2].X),
            ShadeOp.Reorient => ReliefCombining.Reorient(x[0], x[1]),
            ShadeOp.AddReliefs => ReliefCombining.Add(x[0], x[1].X, x[2], x[3].X),
            ShadeOp.ConvertSpace => SpaceConversions.Between((ConvertSpaceNode)node).Apply(x[0]),
            _ => throw new InvalidOperationException($"{node.Op} is no plain arithmetic."),
        };

    private static Vector3 Rotated(Vector4 m, Vector3 n) => Unit(new(m.X * n.X + m.Y * n.Y, m.Z * n.X + m.W * n.Y, n.Z));

    private static Vector3 Curved(ReadOnlySpan<float> curve, Vector3 x) =>
        new(MonotoneCurve.At(curve, x.X), MonotoneCurve.At(curve, x.Y), MonotoneCurve.At(curve, x.Z));

    /// <summary>n = 2t − 1, green turned for Y-down maps, slopes times strength, unit length.</summary>
    public static Vector3 Decode(Vector3 stored, float strength, bool yDown)
    {
        var n = stored * 2f - Vector3.One;
        return Unit(new(n.X * strength, (yDown ? -n.Y : n.Y) * strength, n.Z));
    }

    /// <summary>The direction on the surface so many whole turns counter-clockwise from u.</summary>
    public static Vector3 Heading(float turns)
    {
        var (sin, cos) = MathF.SinCos(2 * MathF.PI * (turns - MathF.Floor(turns)));
        return new(cos, sin, 0);
    }

    /// <summary>How far a direction is turned from u counter-clockwise, in whole turns, 0 to below 1.</summary>
    public static float Revolutions(Vector3 direction)
    {
        var turns = MathF.Atan2(direction.Y, direction.X) / (2 * MathF.PI);
        return turns < 0 ? turns + 1 : turns;
    }

    private static Vector3 Unit(Vector3 n)
    {
        var length = n.Length();
        return length > 1e-12f && float.IsFinite(length) ? n / length : Vector3.UnitZ;
    }

    private static float Quotient(float a, float b) => b == 0 ? 0 : a / b;

    private static float Power(float a, float b) => a <= 0 ? 0 : MathF.Pow(a, b);
}
