using Kiln.Looks.Document;
using Kiln.Looks.Graph;
using Kiln.Looks.Steps.Table;

namespace Kiln.Looks.Steps.Kinds.Numbers;

/// <summary>x · lerp(1, occlusion, amount).</summary>
public sealed record OcclusionStep(Chain Occlusion, Feed Amount) : Step, IStepKind<OcclusionStep>
{
    public static new StepEntry<OcclusionStep> Entry { get; } =
        new()
        {
            Name = "occlusion",
            Label = "occlusion",
            Order = 160,
            Sentence = "x · lerp(1, occlusion, amount). Path-traced renderers make their own shadows: a third is plenty.",
            Tells = "amount {amount.value}",
            Inputs =
            [
                StepSide<OcclusionStep>.Chain(
                    "occlusion",
                    "occlusion",
                    SideTakes.Scalar,
                    s => s.Occlusion,
                    (s, chain) => s with { Occlusion = chain }
                ),
                StepSide<OcclusionStep>.Amount("amount", "amount", 1, s => s.Amount, (s, amount) => s with { Amount = amount }),
            ],
            Fresh = new(new Chain(new ConstantOrigin(LookValue.Of(1f))), new Feed(0.3f)),
            Lowers = (s, x, to) =>
                to.Add(
                    ShadeOp.Multiply,
                    x,
                    to.Add(ShadeOp.Mix, to.Constant(1), to.Graph.As(to.Side(s.Occlusion), ShadeType.Scalar), to.Amount(s.Amount))
                ),
        };
}
