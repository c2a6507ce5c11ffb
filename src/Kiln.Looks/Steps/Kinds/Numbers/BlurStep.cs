using Kiln.Looks.Document;
using Kiln.Looks.Graph;
using Kiln.Looks.Steps.Table;

namespace Kiln.Looks.Steps.Kinds.Numbers;

/// <summary>A Gaussian of the given standard deviation, in units of the surface's UV.</summary>
public sealed record BlurStep(float Radius = 0.005f) : Step, IStepKind<BlurStep>
{
    public const float Widest = 0.25f;

    public static new StepEntry<BlurStep> Entry { get; } =
        new()
        {
            Name = "blur",
            Label = "blur",
            Order = 120,
            Sentence = "A Gaussian; the radius is its standard deviation on the surface.",
            Tells = "σ {radius}",
            Fields = [StepField.Number("radius", "radius", 0, 0.05f, "uv", 0.0005f)],
            Fresh = new(),
            Checks = (s, where) =>
            {
                if (s.Radius is not (>= 0 and <= Widest))
                    throw new LookException($"The blur in {where} needs a radius between 0 and {Widest} of the surface.");
            },
            Lowers = (s, x, to) => to.Add(new BlurNode(x, to.Graph[x].Type, s.Radius)),
        };
}
