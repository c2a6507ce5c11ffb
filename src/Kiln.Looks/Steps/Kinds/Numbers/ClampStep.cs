using Kiln.Looks.Graph;
using Kiln.Looks.Steps.Table;

namespace Kiln.Looks.Steps.Kinds.Numbers;

public sealed record ClampStep(float Low = 0, float High = 1) : Step, IStepKind<ClampStep>
{
    public static new StepEntry<ClampStep> Entry { get; } =
        new()
        {
            Name = "clamp",
            Label = "clamp",
            Order = 80,
            Tells = "{low} … {high}",
            Fields = [StepField.Number("low", "low", 0, 1), StepField.Number("high", "high", 0, 1)],
            Fresh = new(),
            Lowers = (s, x, to) => to.Add(ShadeOp.Clamp, x, to.Number(s, "low", s.Low), to.Number(s, "high", s.High)),
            Folds = (node, from) =>
                node.Op == ShadeOp.Clamp && from.Number(1) is { } low && from.Number(2) is { } high
                    ? (from.Inputs[0], new ClampStep(low, high))
                    : null,
        };
}
