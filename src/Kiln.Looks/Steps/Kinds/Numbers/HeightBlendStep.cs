using Kiln.Looks.Document;
using Kiln.Looks.Graph;
using Kiln.Looks.Steps.Table;

namespace Kiln.Looks.Steps.Kinds.Numbers;

/// <summary>
/// A mask that follows two heights: where the layer stands higher it shows first, the lower layer keeps its peaks longest.
/// m' = clamp((h − b − 1) / 2w + m·(1 + w) / w, 0, 1) with the layer's height h, the height b of what lies below, both 0..1, and the
/// softness w: the difference of heights over which one goes over into the other. Nothing shows where m is 0, all where it is 1, and the
/// two sides are alike: m'(m, h, b) + m'(1 − m, b, h) = 1. The comparison of height plus mask is common practice; this form of it, with
/// exact ends, is our own.
/// </summary>
public sealed record HeightBlendStep(Lane Height, Lane Below, float Softness = 0.2f) : Step, IStepKind<HeightBlendStep>
{
    private const float Hardest = 0.001f,
        Softest = 10;

    public static new StepEntry<HeightBlendStep> Entry { get; } =
        new()
        {
            Name = "heightBlend",
            Label = "blend by height",
            Order = 94,
            AlsoFoundBy = "layer mask height cavity edge moss dust",
            Sentence =
                "For a layer's mask: the layer shows first where it stands higher than what lies below; "
                + "a flat layer fills the hollows first.",
            Tells = "softness {softness}",
            Fields = [StepField.Number("softness", "softness", 0.01f, 1)],
            Inputs =
            [
                new("height", "height of the layer", SideTakes.Scalar, s => s.Height, (s, lane) => s with { Height = lane }),
                new("below", "height below", SideTakes.Scalar, s => s.Below, (s, lane) => s with { Below = lane }),
            ],
            Fresh = new(new Lane(LookValue.Of(0.5f)), new Lane(LookValue.Of(0.5f))),
            Checks = (s, where) =>
            {
                if (s.Softness is not (>= Hardest and <= Softest))
                    throw new LookException($"The blend by height in {where} needs a softness between {Hardest} and {Softest}.");
            },
            Lowers = (s, mask, to) =>
            {
                var softness = to.Number(s, "softness", s.Softness);
                int Times(int x, int by) => to.Add(ShadeOp.Multiply, x, by);
                int Height(Lane lane) => to.Add(ShadeOp.Clamp, to.Side(lane, ShadeType.Scalar), to.Constant(0), to.Constant(1));
                var higher = to.Add(ShadeOp.Subtract, to.Add(ShadeOp.Subtract, Height(s.Height), Height(s.Below)), to.Constant(1));
                var shows = to.Add(
                    ShadeOp.Add,
                    Times(higher, to.Add(ShadeOp.Divide, to.Constant(1), to.Add(ShadeOp.Multiply, to.Constant(2), softness))),
                    Times(
                        to.Graph.As(mask, ShadeType.Scalar),
                        to.Add(ShadeOp.Divide, to.Add(ShadeOp.Add, to.Constant(1), softness), softness)
                    )
                );
                return to.Add(ShadeOp.Clamp, shows, to.Constant(0), to.Constant(1));
            },
        };
}
