using Kiln.Looks.Graph;
using Kiln.Looks.Steps.Table;

namespace Kiln.Looks.Steps.Kinds.Numbers;

/// <summary>1 − x.</summary>
public sealed record InvertStep : Step, IStepKind<InvertStep>
{
    public static new StepEntry<InvertStep> Entry { get; } =
        new()
        {
            Name = "invert",
            Label = "invert",
            Order = 20,
            Sentence = "1 − x: glossiness becomes roughness, black becomes white.",
            Tells = "1 − x",
            Fresh = new(),
            Lowers = (_, x, to) => to.Add(ShadeOp.Invert, x),
            Folds = (node, from) => node.Op == ShadeOp.Invert ? (from.Inputs[0], new InvertStep()) : null,
        };
}
