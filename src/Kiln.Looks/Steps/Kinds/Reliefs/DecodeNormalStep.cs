using System.Text.Json.Serialization;
using Kiln.Looks.Document;
using Kiln.Looks.Graph;
using Kiln.Looks.Readings;
using Kiln.Looks.Steps.Table;

namespace Kiln.Looks.Steps.Kinds.Reliefs;

/// <summary>Encoded vector to direction: 2t − 1, slopes times strength, green turned for Y-down maps, renormalised.</summary>
/// <param name="OnSurface">The map holds directions of the surface as it lies there, so they do not turn with it: what a renderer's network
/// says without a turn of its own.</param>
public sealed record DecodeNormalStep(
    Feed Strength,
    [property: JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)] bool OnSurface = false
) : Step, IStepKind<DecodeNormalStep>
{
    public static new StepEntry<DecodeNormalStep> Entry { get; } =
        new()
        {
            Name = "decodeNormal",
            Label = "decode normal",
            Order = 130,
            Tells = "strength {strength.value}",
            Fields = [StepField.Switch("onSurface", "its directions do not turn with the map")],
            Inputs =
            [
                StepSide<DecodeNormalStep>.Amount(
                    "strength",
                    "strength",
                    2,
                    s => s.Strength,
                    (s, strength) => s with { Strength = strength }
                ),
            ],
            Fresh = new(new Feed(1)),
            // What a network says of placements and green is read back where pictures are: the folding of lanes.
            Lowers = Lowered,
        };

    private static int Lowered(DecodeNormalStep s, int x, StepLowering to)
    {
        var down = to.Graph[x].Image?.Reading.NormalY == NormalY.Down;
        var decoded = to.Add(new DecodeNormalNode(x, to.Amount(s.Strength), down));
        var (xx, xy, yx, yy) = to.Lanes.IsAlong ? to.Placement.TangentRotation : to.Placement.DirectionRotation;
        return to.Placement.RotatesDirections && !s.OnSurface ? to.Add(new RotateDirectionNode(decoded, new(xx, xy, yx, yy))) : decoded;
    }
}
