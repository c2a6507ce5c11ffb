using System.Numerics;
using Kiln.Looks.Document;
using Kiln.Looks.Graph;
using Kiln.Looks.Steps.Table;

namespace Kiln.Looks.Steps.Kinds.Reliefs;

/// <summary>A height field to directions: slope = strength · heightMetres · ∂h/∂uv / size of the surface's UV unit in metres.</summary>
public sealed record HeightToNormalStep(Feed Strength, float HeightMetres = 0.02f) : Step, IStepKind<HeightToNormalStep>
{
    public static new StepEntry<HeightToNormalStep> Entry { get; } =
        new()
        {
            Name = "heightToNormal",
            Label = "height to normal",
            Order = 140,
            AlsoFoundBy = "bump",
            Tells = "{heightMetres} m × {strength.value}",
            Fields = [StepField.Number("heightMetres", "height", 0, 0.1f, "m", 0.001f)],
            Inputs =
            [
                StepSide<HeightToNormalStep>.Amount(
                    "strength",
                    "strength",
                    2,
                    s => s.Strength,
                    (s, strength) => s with { Strength = strength }
                ),
            ],
            Fresh = new(new Feed(1)),
            Lowers = (s, x, to) =>
                to.Add(
                    new HeightToNormalNode(
                        to.Graph.As(x, ShadeType.Scalar),
                        to.Amount(s.Strength),
                        new Vector2(s.HeightMetres / to.Lanes.SizeU, s.HeightMetres / to.Lanes.SizeV)
                    )
                ),
        };
}
