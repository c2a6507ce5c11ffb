using Kiln.Looks.Graph;
using Kiln.Looks.Steps.Table;

namespace Kiln.Looks.Steps.Kinds.Numbers;

/// <summary>x · gain + offset.</summary>
public sealed record GainStep(float Gain = 1, float Offset = 0) : Step, IStepKind<GainStep>
{
    public static new StepEntry<GainStep> Entry { get; } =
        new()
        {
            Name = "gain",
            Label = "gain and offset",
            Order = 40,
            Tells = "× {gain} + {offset}",
            Fields = [StepField.Number("gain", "gain", 0, 2), StepField.Number("offset", "offset", -1, 1)],
            Fresh = new(),
            Lowers = (s, x, to) =>
                to.Add(ShadeOp.Add, to.Add(ShadeOp.Multiply, x, to.Number(s, "gain", s.Gain)), to.Number(s, "offset", s.Offset)),
            Folds = Folded,
        };

    private static (int, Step)? Folded(ShadeNode node, IStepFolding from) =>
        node.Op switch
        {
            ShadeOp.Multiply when from.Number(from.Other) is { } c => (from.Inputs[from.Main], new GainStep(c)),
            ShadeOp.Add when from.Number(from.Other) is { } c => (from.Inputs[from.Main], new GainStep(1, c)),
            ShadeOp.Subtract when from.Number(1) is { } c => (from.Inputs[0], new GainStep(1, -c)),
            ShadeOp.Subtract when from.Number(0) is { } c => (from.Inputs[1], new GainStep(-1, c)),
            ShadeOp.Divide when from.Number(1) is { } c && c != 0 => (from.Inputs[0], new GainStep(1 / c)),
            _ => null,
        };
}
