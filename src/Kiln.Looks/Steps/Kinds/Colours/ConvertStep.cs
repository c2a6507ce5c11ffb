using Kiln.Looks.Document;
using Kiln.Looks.Graph;
using Kiln.Looks.Steps.Table;

namespace Kiln.Looks.Steps.Kinds.Colours;

/// <summary>The numbers are taken as being in one space and given in another; identifiers of colour.md.</summary>
public sealed record ConvertStep(string From, string To) : Step, IStepKind<ConvertStep>
{
    public static new StepEntry<ConvertStep> Entry { get; } =
        new()
        {
            Name = "convert",
            Label = "colour convert",
            Order = 170,
            Tells = "{from} → {to}",
            Fields = [new(StepFieldKind.ColourSpace, "from", "from"), new(StepFieldKind.ColourSpace, "to", "to")],
            Fresh = new("acescg", "lin_rec709"),
            Checks = (s, where) =>
            {
                LookValidation.CheckSpace(s.From, where);
                LookValidation.CheckSpace(s.To, where);
            },
            Lowers = (s, x, to) => to.Add(new ConvertSpaceNode(to.Graph.As(x, ShadeType.Colour), s.From, s.To)),
        };
}
