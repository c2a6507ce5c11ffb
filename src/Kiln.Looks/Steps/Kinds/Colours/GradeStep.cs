using System.Numerics;
using Kiln.Looks.Document;
using Kiln.Looks.Graph;
using Kiln.Looks.Steps.Arithmetic;
using Kiln.Looks.Steps.Table;

namespace Kiln.Looks.Steps.Kinds.Colours;

/// <summary>
/// Hue turned by degrees, saturation and value multiplied (<see cref="Arithmetic.HueSaturationValue"/>), then contrast about a pivot: (x −
/// pivot) · contrast + pivot. Of a scalar only value and contrast.
/// </summary>
public sealed record GradeStep(float HueDegrees = 0, float Saturation = 1, float Value = 1, float Contrast = 1, float Pivot = 0.18f)
    : Step,
        IStepKind<GradeStep>
{
    public static new StepEntry<GradeStep> Entry { get; } =
        new()
        {
            Name = "grade",
            Label = "grade",
            Order = 70,
            AlsoFoundBy = "hue saturation value contrast",
            Tells = "{hueDegrees}° × {saturation}",
            Fields =
            [
                StepField.Number("hueDegrees", "hue", -180, 180, "°", 1),
                StepField.Number("saturation", "saturation", 0, 2),
                StepField.Number("value", "value", 0, 2),
                StepField.Number("contrast", "contrast", 0, 2),
                StepField.Number("pivot", "pivot", 0, 1),
            ],
            Fresh = new(),
            Checks = (s, where) =>
            {
                if (!float.IsFinite(s.HueDegrees + s.Saturation + s.Value + s.Contrast + s.Pivot))
                    throw new LookException($"The grade in {where} needs finite numbers.");
            },
            Lowers = Lowered,
        };

    private static int Lowered(GradeStep s, int x, StepLowering to)
    {
        int value = to.Number(s, "value", s.Value),
            pivot = to.Number(s, "pivot", s.Pivot);
        // A value alone is a product of all three components, and much quicker as one.
        if (to.Graph[x].Type == ShadeType.Colour && (s.HueDegrees != 0 || s.Saturation != 1 || to.IsLive(s)))
            x = to.Add(new ArithmeticNode(ShadeOp.HsvAdjust, ShadeType.Colour, [x, Amount(s, value, to)]));
        else
            x = to.Add(ShadeOp.Multiply, x, value);
        return s.Contrast == 1 && !to.IsLive(s)
            ? x
            : to.Add(
                ShadeOp.Add,
                to.Add(ShadeOp.Multiply, to.Add(ShadeOp.Subtract, x, pivot), to.Number(s, "contrast", s.Contrast)),
                pivot
            );
    }

    /// <summary>Turns of hue, and the factors of saturation and value.</summary>
    private static int Amount(GradeStep s, int value, StepLowering to) =>
        to.Add(
            new ArithmeticNode(
                ShadeOp.Pack,
                ShadeType.Direction,
                [
                    to.Add(ShadeOp.Divide, to.Number(s, "hueDegrees", s.HueDegrees), to.Constant(360)),
                    to.Number(s, "saturation", s.Saturation),
                    value,
                ]
            )
        );
}
