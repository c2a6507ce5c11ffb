using System.Numerics;
using System.Runtime.Intrinsics;
using Kiln.Looks.Graph;
using Kiln.Looks.Maps;
using Kiln.Simd;
using static Kiln.Simd.WideMath;

namespace Kiln.Looks.Evaluation;

/// <summary>
/// A <see cref="ShadeProgram"/> run at eight points of a surface at once. Operations that are rare in a surface are worked out lane by lane
/// by the same arithmetic.
/// </summary>
public sealed class WideProgram(ShadeProgram program)
{
    /// <summary>Registers for <see cref="Run"/>, with what is constant in them; one set for each thread.</summary>
    public Wide3[] NewRegisters() => [.. program.NewRegisters().Select(Wide3.Of)];

    /// <summary>
    /// Computes every node that varies at eight points; footprints are the sides of the squares of UV that they stand for.
    /// </summary>
    public void Run(Wide u, Wide v, Wide footprint, Span<Wide3> registers)
    {
        foreach (var i in program.Varying)
            registers[i] = Value(i, u, v, footprint, registers);
    }

    private Wide3 Value(int i, Wide u, Wide v, Wide footprint, ReadOnlySpan<Wide3> registers)
    {
        var node = program.Node(i);
        switch (node.Op)
        {
            case ShadeOp.Constant:
                return Wide3.Of(((ConstantNode)node).Value);
            case ShadeOp.Image:
                return program.IsScattered(i) ? Alone(i, u, v, footprint) : Lookup(i, u, v, footprint);
            case ShadeOp.Noise:
                return Alone(i, u, v, footprint);
            case ShadeOp.HeightToNormal:
                return FromHeight(i, u, v, footprint, registers[program.Inputs(i)[1]].X);
            case ShadeOp.Blur:
                return Blurred(i, u, v, footprint);
            default:
                return WideArithmetic.Apply(node, program.Inputs(i), registers);
        }
    }

    private Wide3 Lookup(int i, Wide u, Wide v, Wide footprint)
    {
        ref readonly var lie = ref program.Lie(i);
        return program
            .Texture(i)
            .Sample(lie.Uu * u + lie.Uv * v + Of(lie.ShiftU), lie.Vu * u + lie.Vv * v + Of(lie.ShiftV), footprint * lie.Scale);
    }

    private Wide3 Alone(int i, Wide u, Wide v, Wide footprint)
    {
        var result = Wide3.Zero;
        for (var lane = 0; lane < Lanes; lane++)
            result[lane] = program.Origin(i, new(u[lane], v[lane]), footprint[lane]);
        return result;
    }

    private Wide3 FromHeight(int i, Wide u, Wide v, Wide footprint, Wide strength)
    {
        var step = Max(footprint, Of(program.Texel(program.Inputs(i)[0]))) * 0.5f;
        var du = Around(i, u + step, v, footprint).X - Around(i, u - step, v, footprint).X;
        var dv = Around(i, u, v + step, footprint).X - Around(i, u, v - step, footprint).X;
        var scale = ((HeightToNormalNode)program.Node(i)).Range;
        var perStep = Negative(strength) / (2f * step);
        return Wide3.Normalize(new Wide3(du * perStep * scale.X, dv * perStep * scale.Y, Wide.One));
    }

    private Wide3 Blurred(int i, Wide u, Wide v, Wide footprint)
    {
        var spacing = ShadeProgram.BlurSpacing * ((BlurNode)program.Node(i)).Deviation;
        var size = Max(footprint, Of(spacing));
        var sum = Wide3.Zero;
        var total = 0f;
        for (var dy = -ShadeProgram.BlurTaps; dy <= ShadeProgram.BlurTaps; dy++)
        for (var dx = -ShadeProgram.BlurTaps; dx <= ShadeProgram.BlurTaps; dx++)
        {
            var weight = ShadeProgram.BlurWeight(dx, dy);
            sum += Around(i, u + Of(dx * spacing), v + Of(dy * spacing), size) * weight;
            total += weight;
        }
        return sum * (1f / total);
    }

    /// <summary>What the first input of a node is elsewhere on the surface.</summary>
    private Wide3 Around(int i, Wide u, Wide v, Wide footprint)
    {
        var side = new Wide3[program.Count];
        foreach (var k in program.Below(i))
            side[k] = Value(k, u, v, footprint, side);
        return side[program.Inputs(i)[0]];
    }
}
