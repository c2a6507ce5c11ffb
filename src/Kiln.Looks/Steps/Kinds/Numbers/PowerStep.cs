using Kiln.Looks.Document;
using Kiln.Looks.Graph;
using Kiln.Looks.Steps.Table;

namespace Kiln.Looks.Steps.Kinds.Numbers;

/// <summary>x to the power; nothing below zero.</summary>
public sealed record PowerStep(float Exponent = 1) : Step, IStepKind<PowerStep>
{
    public static new StepEntry<PowerStep> Entry { get; } =
        new()
        {
            Name = "power",
            Label = "power",
            Order = 50,
            AlsoFoundBy = "exponent gamma",
            Tells = "^ {exponent}",
            Fields = [StepField.Number("exponent", "exponent", 0.1f, 4)],
            Fresh = new(),
            Checks = (s, where) =>
            {
                if (s.Exponent is not (> 0 and < 1000))
                    throw new LookException($"The power in {where} must be above 0.");
            },
            Lowers = (s, x, to) => to.Add(ShadeOp.Power, x, to.Number(s, "exponent", s.Exponent)),
            Folds = (node, from) =>
                node.Op == ShadeOp.Power && from.Number(1) is { } c ? (from.Inputs[0], new PowerStep(c))
                : node.Op == ShadeOp.SquareRoot ? (from.Inputs[0], new PowerStep(0.5f))
                : null,
        };
}
