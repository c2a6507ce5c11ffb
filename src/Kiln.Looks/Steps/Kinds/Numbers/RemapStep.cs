using Kiln.Looks.Document;
using Kiln.Looks.Graph;
using Kiln.Looks.Steps.Table;

namespace Kiln.Looks.Steps.Kinds.Numbers;

/// <summary>outLow + (x − inLow) / (inHigh − inLow) · (outHigh − outLow); clamped to the out range when asked.</summary>
public sealed record RemapStep(float InLow = 0, float InHigh = 1, float OutLow = 0, float OutHigh = 1, bool Clamp = true)
    : Step,
        IStepKind<RemapStep>
{
    public static new StepEntry<RemapStep> Entry { get; } =
        new()
        {
            Name = "remap",
            Label = "remap",
            Order = 30,
            AlsoFoundBy = "range levels",
            Tells = "to {outLow} … {outHigh}",
            Fields =
            [
                StepField.Number("inLow", "in low", 0, 1),
                StepField.Number("inHigh", "in high", 0, 1),
                StepField.Number("outLow", "out low", 0, 1) with
                {
                    FollowsInput = true,
                },
                StepField.Number("outHigh", "out high", 0, 1) with
                {
                    FollowsInput = true,
                },
                StepField.Switch("clamp", "clamp to the out range"),
            ],
            Fresh = new(),
            Checks = (s, where) =>
            {
                if (s.InLow == s.InHigh)
                    throw new LookException($"The remap in {where} has an empty input range.");
            },
            Lowers = (s, x, to) =>
            {
                int C(float v) => to.Constant(v);
                var mapped = to.Add(ShadeOp.Remap, x, C(s.InLow), C(s.InHigh), C(s.OutLow), C(s.OutHigh));
                return s.Clamp
                    ? to.Add(ShadeOp.Clamp, mapped, C(MathF.Min(s.OutLow, s.OutHigh)), C(MathF.Max(s.OutLow, s.OutHigh)))
                    : mapped;
            },
            Folds = (node, from) =>
                node.Op == ShadeOp.Remap
                && from.Number(1) is { } a
                && from.Number(2) is { } b
                && from.Number(3) is { } c
                && from.Number(4) is { } d
                    ? (from.Inputs[0], new RemapStep(a, b, c, d, false))
                    : null,
        };
}
