using System.Text.Json.Serialization;
using Kiln.Looks.Document;
using Kiln.Looks.Graph;
using Kiln.Looks.Readings;
using Kiln.Looks.Steps.Table;

namespace Kiln.Looks.Steps.Kinds.Colours;

[JsonConverter(typeof(CamelCaseEnum<MixMode>))]
public enum MixMode
{
    Normal,
    Multiply,
    Screen,
    Add,
    Subtract,
    Overlay,
    Minimum,
    Maximum,
    HardLight,
    SoftLight,
    Difference,
    Exclusion,
}

/// <summary>lerp(x, blend(x, other), amount); blend formulas of W3C Compositing and Blending Level 1, 9.1, on linear values.</summary>
public sealed record MixStep(MixMode Mode, Lane Other, Feed Amount) : Step, IStepKind<MixStep>
{
    public static new StepEntry<MixStep> Entry { get; } =
        new()
        {
            Name = "mix",
            Label = "mix",
            Order = 90,
            AlsoFoundBy = "blend multiply screen overlay add",
            Tells = "{mode} {amount.value}",
            Fields = [StepField.Choice<MixMode>("mode", "mode")],
            Inputs =
            [
                new("other", "with", SideTakes.Anything, s => s.Other, (s, lane) => s with { Other = lane }),
                StepSide<MixStep>.Amount("amount", "amount", 1, s => s.Amount, (s, amount) => s with { Amount = amount }),
            ],
            Fresh = new(MixMode.Normal, new Lane(LookValue.Of(0.5f)), new Feed(0.5f)),
            Lowers = (s, x, to) =>
            {
                var other = to.Side(s.Other);
                return to.Add(ShadeOp.Mix, x, Blend(to, s.Mode, x, other), to.Amount(s.Amount));
            },
            Folds = Folded,
        };

    /// <summary>What a plain gain or offset says was taken before: it is earlier in the table.</summary>
    private static (int, Step)? Folded(ShadeNode node, IStepFolding from)
    {
        (int, Step) Whole(MixMode mode) => (from.Inputs[from.Main], new MixStep(mode, from.Lane(from.Other), new Feed(1)));
        return node.Op switch
        {
            ShadeOp.Multiply => Whole(MixMode.Multiply),
            ShadeOp.Add => Whole(MixMode.Add),
            ShadeOp.Minimum => Whole(MixMode.Minimum),
            ShadeOp.Maximum => Whole(MixMode.Maximum),
            ShadeOp.Subtract when !from.IsFixed(0) => (from.Inputs[0], new MixStep(MixMode.Subtract, from.Lane(1), new Feed(1))),
            ShadeOp.Mix => (from.Inputs[0], new MixStep(MixMode.Normal, from.Lane(1), from.Amount(2))),
            _ => null,
        };
    }

    /// <summary>W3C Compositing and Blending Level 1, section 9.1, a = backdrop, b = source, in linear values.</summary>
    private static int Blend(StepLowering to, MixMode mode, int a, int b)
    {
        int Op(ShadeOp op, int p, int q) => to.Graph.Add(op, p, q);
        switch (mode)
        {
            case MixMode.Multiply:
                return Op(ShadeOp.Multiply, a, b);
            case MixMode.Screen:
                return Op(ShadeOp.Subtract, Op(ShadeOp.Add, a, b), Op(ShadeOp.Multiply, a, b));
            case MixMode.Add:
                return Op(ShadeOp.Add, a, b);
            case MixMode.Subtract:
                return Op(ShadeOp.Subtract, a, b);
            case MixMode.Minimum:
                return Op(ShadeOp.Minimum, a, b);
            case MixMode.Maximum:
                return Op(ShadeOp.Maximum, a, b);
            case MixMode.Overlay:
                // Per component: a ≤ ½ multiplies by 2a, else screens with 2a − 1. The halves are told apart by clamping, so no branch is
                // needed.
                var low = Op(ShadeOp.Minimum, Op(ShadeOp.Multiply, a, to.Graph.Constant(2)), to.Graph.Constant(1));
                var high = Op(
                    ShadeOp.Maximum,
                    Op(ShadeOp.Subtract, Op(ShadeOp.Multiply, a, to.Graph.Constant(2)), to.Graph.Constant(1)),
                    to.Graph.Constant(0)
                );
                var product = Op(ShadeOp.Multiply, low, b);
                return Op(ShadeOp.Subtract, Op(ShadeOp.Add, product, high), Op(ShadeOp.Multiply, high, b));
            case MixMode.HardLight:
                return Blend(to, MixMode.Overlay, b, a);
            case MixMode.Difference:
                return Op(ShadeOp.Maximum, Op(ShadeOp.Subtract, a, b), Op(ShadeOp.Subtract, b, a));
            case MixMode.Exclusion:
                return Op(ShadeOp.Subtract, Op(ShadeOp.Add, a, b), Op(ShadeOp.Multiply, Op(ShadeOp.Multiply, a, b), to.Graph.Constant(2)));
            case MixMode.SoftLight:
                return SoftLight(to, a, b);
            default:
                return b;
        }
    }

    /// <summary>
    /// Per component: b ≤ ½: a − (1 − 2b)·a·(1 − a), else a + (2b − 1)·(D(a) − a) with D(a) = ((16a − 12)·a + 4)·a for a ≤ ¼ and √a above.
    /// The halves are told apart by clamping.
    /// </summary>
    private static int SoftLight(StepLowering to, int a, int b)
    {
        int Op(ShadeOp op, int p, int q) => to.Graph.Add(op, p, q);
        int C(float v) => to.Graph.Constant(v);
        var twice = Op(ShadeOp.Subtract, Op(ShadeOp.Multiply, b, C(2)), C(1));
        int under = Op(ShadeOp.Minimum, twice, C(0)),
            over = Op(ShadeOp.Maximum, twice, C(0));
        var darker = Op(ShadeOp.Multiply, under, Op(ShadeOp.Multiply, a, Op(ShadeOp.Subtract, C(1), a)));
        // √a and the polynomial meet at ¼: each on its own side, minus what both have there.
        var quarter = Op(ShadeOp.Minimum, a, C(0.25f));
        var polynomial = Op(
            ShadeOp.Multiply,
            Op(ShadeOp.Add, Op(ShadeOp.Multiply, Op(ShadeOp.Subtract, Op(ShadeOp.Multiply, quarter, C(16)), C(12)), quarter), C(4)),
            quarter
        );
        var root = to.Graph.Add(ShadeOp.SquareRoot, Op(ShadeOp.Maximum, a, C(0.25f)));
        var d = Op(ShadeOp.Subtract, Op(ShadeOp.Add, polynomial, root), C(0.5f));
        return Op(ShadeOp.Add, Op(ShadeOp.Add, a, darker), Op(ShadeOp.Multiply, over, Op(ShadeOp.Subtract, d, a)));
    }
}
