using System.Numerics;
using System.Numerics.Tensors;
using System.Runtime.CompilerServices;
using Kiln.Looks.Graph;
using Kiln.Looks.Readings;
using Kiln.Looks.Steps.Arithmetic;

namespace Kiln.Looks.Evaluation;

/// <summary>The operations of <see cref="ShadeArithmetic"/> for whole rows: one span a component, scalars in one span for all.</summary>
internal static class RasterArithmetic
{
    /// <param name="count">Numbers in use of each span.</param>
    public static void Apply(ShadeNode node, float[][][] x, float[][] to, int count)
    {
        switch (node.Op)
        {
            case ShadeOp.Channel:
                x[0][((ChannelNode)node).Channel.Place() ?? 0].AsSpan(0, count).CopyTo(to[0]);
                return;
            case ShadeOp.Luminance:
                var sum = to[0].AsSpan(0, count);
                TensorPrimitives.Multiply(x[0][0].AsSpan(0, count), ((LuminanceNode)node).Weights.X, sum);
                TensorPrimitives.MultiplyAdd(x[0][1].AsSpan(0, count), ((LuminanceNode)node).Weights.Y, sum, sum);
                TensorPrimitives.MultiplyAdd(x[0][2].AsSpan(0, count), ((LuminanceNode)node).Weights.Z, sum, sum);
                return;
            case ShadeOp.Pack:
                for (var c = 0; c < 3; c++)
                    x[c][0].AsSpan(0, count).CopyTo(to[c]);
                return;
            case ShadeOp.DecodeNormal
            or ShadeOp.RotateDirection
            or ShadeOp.Heading
            or ShadeOp.Revolutions
            or ShadeOp.HsvAdjust
            or ShadeOp.Reorient
            or ShadeOp.AddReliefs
            or ShadeOp.ConvertSpace:
                ByPixel(node, x, to, count);
                return;
        }
        for (var c = 0; c < to.Length; c++)
            ByComponent(node, c, x, to[c].AsSpan(0, count));
    }

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private static void ByComponent(ShadeNode node, int c, float[][][] x, Span<float> to)
    {
        var count = to.Length;
        ReadOnlySpan<float> In(int i) => x[i][Math.Min(c, x[i].Length - 1)].AsSpan(0, count);
        var a = In(0);
        switch (node.Op)
        {
            case ShadeOp.Invert:
                TensorPrimitives.Subtract(1f, a, to);
                break;
            case ShadeOp.Add:
                TensorPrimitives.Add(a, In(1), to);
                break;
            case ShadeOp.Subtract:
                TensorPrimitives.Subtract(a, In(1), to);
                break;
            case ShadeOp.Multiply:
                TensorPrimitives.Multiply(a, In(1), to);
                break;
            case ShadeOp.Minimum:
                TensorPrimitives.Min(a, In(1), to);
                break;
            case ShadeOp.Maximum:
                TensorPrimitives.Max(a, In(1), to);
                break;
            case ShadeOp.Splat:
                a.CopyTo(to);
                break;
            case ShadeOp.Clamp:
                TensorPrimitives.Max(a, In(1), to);
                TensorPrimitives.Min(to, In(2), to);
                break;
            case ShadeOp.SquareRoot:
                TensorPrimitives.Max(a, 0f, to);
                TensorPrimitives.Sqrt(to, to);
                break;
            case ShadeOp.Mix:
                TensorPrimitives.Subtract(In(1), a, to);
                TensorPrimitives.MultiplyAdd(to, In(2), a, to);
                break;
            case ShadeOp.Remap:
                TensorPrimitives.Subtract(a, In(1), to);
                Spread(to, In(2), In(1), In(4), In(3));
                break;
            case ShadeOp.Divide:
                var by = In(1);
                for (var i = 0; i < to.Length; i++)
                    to[i] = by[i] == 0 ? 0 : a[i] / by[i];
                break;
            case ShadeOp.Power:
                var power = In(1);
                for (var i = 0; i < to.Length; i++)
                    to[i] = a[i] <= 0 ? 0 : MathF.Pow(a[i], power[i]);
                break;
            case ShadeOp.IfGreater:
                ReadOnlySpan<float> left = x[0][0].AsSpan(0, count),
                    right = x[1][0].AsSpan(0, count),
                    yes = In(2),
                    no = In(3);
                for (var i = 0; i < to.Length; i++)
                    to[i] = left[i] > right[i] ? yes[i] : no[i];
                break;
            case ShadeOp.Curve:
                CurveRows.Apply(((CurveNode)node).Curve.AsSpan(), a, to);
                break;
            default:
                throw new InvalidOperationException($"{node.Op} is no plain arithmetic.");
        }
    }

    /// <summary>x ← low + x / (inHigh − inLow) · (high − low).</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private static void Spread(
        Span<float> x,
        ReadOnlySpan<float> inHigh,
        ReadOnlySpan<float> inLow,
        ReadOnlySpan<float> high,
        ReadOnlySpan<float> low
    )
    {
        int width = Vector<float>.Count,
            i = 0;
        for (; i + width <= x.Length; i += width)
        {
            var l = new Vector<float>(low[i..]);
            (
                l
                + new Vector<float>(x[i..])
                    / (new Vector<float>(inHigh[i..]) - new Vector<float>(inLow[i..]))
                    * (new Vector<float>(high[i..]) - l)
            ).CopyTo(x[i..]);
        }
        for (; i < x.Length; i++)
            x[i] = low[i] + x[i] / (inHigh[i] - inLow[i]) * (high[i] - low[i]);
    }

    private static void ByPixel(ShadeNode node, float[][][] x, float[][] to, int count)
    {
        Span<Vector3> inputs = stackalloc Vector3[x.Length];
        for (var i = 0; i < count; i++)
        {
            for (var k = 0; k < x.Length; k++)
                inputs[k] = x[k].Length == 1 ? new(x[k][0][i]) : new(x[k][0][i], x[k][1][i], x[k][2][i]);
            var value = ShadeArithmetic.Apply(node, inputs);
            (to[0][i], to[1][i], to[2][i]) = (value.X, value.Y, value.Z);
        }
    }
}
