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
                int low = to.Number(s, "outLow", s.OutLow),
                    high = to.Number(s, "outHigh", s.OutHigh);
                var mapped = to.Add(ShadeOp.Remap, x, to.Number(s, "inLow", s.InLow), to.Number(s, "inHigh", s.InHigh), low, high);
                return s.Clamp
                    ? to.Add(ShadeOp.Clamp, mapped, to.Add(ShadeOp.Minimum, low, high), to.Add(ShadeOp.Maximum, low, high))
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
