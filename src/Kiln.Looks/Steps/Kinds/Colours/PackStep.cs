using Kiln.Looks.Document;
using Kiln.Looks.Graph;
using Kiln.Looks.Steps.Table;

namespace Kiln.Looks.Steps.Kinds.Colours;

/// <summary>What came before becomes red; green and blue have chains or values of their own.</summary>
public sealed record PackStep(Lane Green, Lane Blue) : Step, IStepKind<PackStep>
{
    public static new StepEntry<PackStep> Entry { get; } =
        new()
        {
            Name = "pack",
            Label = "pack channels",
            Order = 110,
            Sentence = "What comes in becomes red; green and blue are side rows.",
            Tells = "r, green, blue",
            Inputs =
            [
                new("green", "green", SideTakes.Scalar, s => s.Green, (s, lane) => s with { Green = lane }),
                new("blue", "blue", SideTakes.Scalar, s => s.Blue, (s, lane) => s with { Blue = lane }),
            ],
            Fresh = new(new Lane(LookValue.Of(0.5f)), new Lane(LookValue.Of(0.5f))),
            Lowers = (s, x, to) =>
                to.Add(
                    new ArithmeticNode(
                        ShadeOp.Pack,
                        ShadeType.Colour,
                        [to.Graph.As(x, ShadeType.Scalar), to.Side(s.Green, ShadeType.Scalar), to.Side(s.Blue, ShadeType.Scalar)]
                    )
                ),
        };
}
