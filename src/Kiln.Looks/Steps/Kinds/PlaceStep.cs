using Kiln.Looks.Document;
using Kiln.Looks.Maps;
using Kiln.Looks.Steps.Table;

namespace Kiln.Looks.Steps.Kinds;

/// <summary>A placement of this map's own instead of the look's shared one. Acts on all before it.</summary>
public sealed record PlaceStep(Placement Placement) : Step, IStepKind<PlaceStep>
{
    public static new StepEntry<PlaceStep> Entry { get; } =
        new()
        {
            Name = "place",
            Label = "place",
            Order = 10,
            AlsoFoundBy = "placement repeat rotate",
            Tells = "{placement.repeatsU} × {placement.repeatsV}",
            Fields = [new(StepFieldKind.Placement, "placement", "placement")],
            Fresh = new(Placement.Identity),
            Checks = (s, _) => LookValidation.CheckPlacement(s.Placement),
            // The chain begins with its last placement; nothing is left to do here.
            Lowers = (_, x, _) => x,
        };
}
