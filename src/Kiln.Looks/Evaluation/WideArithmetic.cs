using System.Numerics;
using System.Runtime.Intrinsics;
using Kiln.Looks.Graph;
using Kiln.Looks.Readings;
using Kiln.Simd;
using static Kiln.Simd.WideMath;

namespace Kiln.Looks.Evaluation;

/// <summary><see cref="ShadeArithmetic"/> on eight points at once; what is not said here is said there, lane by lane.</summary>
internal static class WideArithmetic
{
    /// <param name="from">The registers of the node's inputs.</param>
    public static Wide3 Apply(ShadeNode node, int[] from, ReadOnlySpan<Wide3> registers)
    {
        ref readonly var x = ref from.Length > 0 ? ref registers[from[0]] : ref Nothing;
        ref readonly var y = ref from.Length > 1 ? ref registers[from[1]] : ref Nothing;
        ref readonly var z = ref from.Length > 2 ? ref registers[from[2]] : ref Nothing;
        return node.Op switch
        {
            ShadeOp.Parameter => Wide3.Of(((ParameterNode)node).Value),
            ShadeOp.Invert => Wide3.One - x,
            ShadeOp.Add => x + y,
            ShadeOp.Subtract => x - y,
            ShadeOp.Multiply => x * y,
            ShadeOp.Divide => new(Quotient(x.X, y.X), Quotient(x.Y, y.Y), Quotient(x.Z, y.Z)),
            ShadeOp.Minimum => Wide3.Min(x, y),
            ShadeOp.Maximum => Wide3.Max(x, y),
            ShadeOp.Clamp => Wide3.Min(Wide3.Max(x, y), z),
            ShadeOp.SquareRoot => Wide3.Sqrt(Wide3.Max(x, Wide3.Zero)),
            ShadeOp.Power => new(Pow(x.X, y.X), Pow(x.Y, y.Y), Pow(x.Z, y.Z)),
            ShadeOp.Mix => x + (y - x) * z,
            ShadeOp.Remap => registers[from[3]] + (x - y) / (z - y) * (registers[from[4]] - registers[from[3]]),
            ShadeOp.IfGreater => Wide3.Select(Greater(x.X, y.X), z, registers[from[3]]),
            ShadeOp.Channel => new(
                ((ChannelNode)node).Channel switch
                {
                    MapChannel.G => x.Y,
                    MapChannel.B => x.Z,
                    _ => x.X,
                }
            ),
            ShadeOp.Luminance => new(Wide3.Dot(x, Wide3.Of(((LuminanceNode)node).Weights))),
            ShadeOp.Splat => x,
            ShadeOp.DecodeNormal => Decode(x, y.X, ((DecodeNormalNode)node).YDown),
            ShadeOp.RotateDirection => Rotated(((RotateDirectionNode)node).Matrix, x),
            ShadeOp.Pack => new(x.X, y.X, z.X),
            _ => Alone(node, from, registers),
        };
    }

    private static readonly Wide3 Nothing = Wide3.Zero;

    private static Wide3 Alone(ShadeNode node, int[] from, ReadOnlySpan<Wide3> registers)
    {
        Span<Vector3> x = stackalloc Vector3[5];
        var result = Wide3.Zero;
        for (var lane = 0; lane < Lanes; lane++)
        {
            for (var k = 0; k < from.Length; k++)
                x[k] = registers[from[k]][lane];
            result[lane] = ShadeArithmetic.Apply(node, x[..from.Length]);
        }
        return result;
    }

    private static Wide3 Decode(in Wide3 stored, Wide strength, bool yDown)
    {
        var n = stored * 2f - Wide3.One;
        return Unit(new(n.X * strength, (yDown ? Negative(n.Y) : n.Y) * strength, n.Z));
    }

    private static Wide3 Rotated(Vector4 m, in Wide3 n) => Unit(new(m.X * n.X + m.Y * n.Y, m.Z * n.X + m.W * n.Y, n.Z));

    private static Wide3 Unit(in Wide3 n)
    {
        var length = WideMath.Sqrt(Wide3.Dot(n, n));
        var has = Greater(length, Of(1e-12f)) & WideMath.Finite(length);
        return Wide3.Select(has, n * (Wide.One / length), Wide3.UnitZ);
    }

    private static Wide Quotient(Wide a, Wide b) => Vector256.AndNot(a / b, Vector256.Equals(b, Wide.Zero));
}
