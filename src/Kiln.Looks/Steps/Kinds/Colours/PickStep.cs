using Kiln.Looks.Graph;
using Kiln.Looks.Readings;
using Kiln.Looks.Steps.Table;

namespace Kiln.Looks.Steps.Kinds.Colours;

/// <summary>One channel (r, g, b or luminance) of what came before, as a scalar.</summary>
public sealed record PickStep(MapChannel Channel) : Step, IStepKind<PickStep>
{
    public static new StepEntry<PickStep> Entry { get; } =
        new()
        {
            Name = "pick",
            Label = "pick channel",
            Order = 100,
            AlsoFoundBy = "luminance red green blue",
            Tells = "{channel}",
            Fields = [StepField.Choice("channel", "channel", ("r", "r"), ("g", "g"), ("b", "b"), ("luminance", "luminance"))],
            Fresh = new(MapChannel.R),
            Lowers = (s, x, to) => to.Graph.Channel(x, s.Channel),
            Folds = (node, from) =>
                node is ChannelNode c ? (from.Inputs[0], new PickStep(c.Channel))
                : node.Op == ShadeOp.Luminance ? (from.Inputs[0], new PickStep(MapChannel.Luminance))
                : null,
        };
}
