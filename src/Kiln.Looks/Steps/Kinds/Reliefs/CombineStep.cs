using System.Text.Json.Serialization;
using Kiln.Looks.Document;
using Kiln.Looks.Graph;
using Kiln.Looks.Readings;
using Kiln.Looks.Steps.Table;

namespace Kiln.Looks.Steps.Kinds.Reliefs;

[JsonConverter(typeof(CamelCaseEnum<CombineMode>))]
public enum CombineMode
{
    /// <summary>Slopes times their weights, added.</summary>
    Additive,

    /// <summary>Slopes times their weights, divided by the sum of the weights.</summary>
    Blended,

    /// <summary>The other laid onto this one as a detail, slopes times their weights first.</summary>
    Detail,
}

/// <summary>Another relief joined to this one. Both are directions; of directions the slopes are weighed, never encoded vectors.</summary>
public sealed record CombineStep(CombineMode Mode, Chain Other, Feed OwnWeight, Feed OtherWeight) : Step, IStepKind<CombineStep>
{
    public static new StepEntry<CombineStep> Entry { get; } =
        new()
        {
            Name = "combine",
            Label = "combine reliefs",
            Order = 150,
            AlsoFoundBy = "detail normal",
            Sentence = "Slopes are weighed, never encoded vectors. Detail lays the other on so that it keeps its shape.",
            Tells = "{mode} {ownWeight.value} : {otherWeight.value}",
            Fields = [StepField.Choice<CombineMode>("mode", "mode")],
            Inputs =
            [
                StepSide<CombineStep>.Chain(
                    "other",
                    "other relief",
                    SideTakes.Direction,
                    s => s.Other,
                    (s, chain) => s with { Other = chain }
                ),
                StepSide<CombineStep>.Amount("ownWeight", "own weight", 2, s => s.OwnWeight, (s, w) => s with { OwnWeight = w }),
                StepSide<CombineStep>.Amount("otherWeight", "its weight", 2, s => s.OtherWeight, (s, w) => s with { OtherWeight = w }),
            ],
            Fresh = new(CombineMode.Additive, Flat, new Feed(1), new Feed(1)),
            Lowers = Lowered,
            Folds = (node, from) =>
                node.Op == ShadeOp.AddReliefs
                    ? (from.Inputs[0], new CombineStep(CombineMode.Additive, from.Chain(2), from.Amount(1), from.Amount(3)))
                    : null,
        };

    /// <summary>A relief that is none, to be replaced.</summary>
    private static Chain Flat =>
        new(new ConstantOrigin(new TintValue(0.5f, 0.5f, 1, "acescg")), [new DecodeNormalStep(new Feed(1)) { Id = "s1" }]);

    private static int Lowered(CombineStep s, int x, StepLowering to)
    {
        var graph = to.Graph;
        var other = to.Side(s.Other);
        if (graph[x].Type != ShadeType.Direction || graph[other].Type != ShadeType.Direction)
            throw new LookException(
                "Reliefs are combined as directions: decode a normal map, or turn a height into a normal, before they meet."
            );
        int own = to.Amount(s.OwnWeight),
            weight = to.Amount(s.OtherWeight);
        int Steep(int direction, int by) =>
            graph.Add(
                new ArithmeticNode(
                    ShadeOp.Multiply,
                    ShadeType.Direction,
                    [
                        to.Lanes.Slopes(direction),
                        graph.Add(new ArithmeticNode(ShadeOp.Pack, ShadeType.Direction, [by, by, graph.Constant(1)])),
                    ]
                )
            );
        int Unit(int direction) => graph.Add(new RotateDirectionNode(direction, RotateDirectionNode.Identity));
        if (s.Mode == CombineMode.Detail)
            return graph.Add(ShadeOp.Reorient, Unit(Steep(x, own)), Unit(Steep(other, weight)));
        if (s.Mode == CombineMode.Additive)
            return graph.Add(ShadeOp.AddReliefs, x, own, other, weight);
        var both = graph.Add(ShadeOp.Maximum, graph.Add(ShadeOp.Add, own, weight), graph.Constant(1e-6f));
        return graph.Add(ShadeOp.AddReliefs, x, graph.Add(ShadeOp.Divide, own, both), other, graph.Add(ShadeOp.Divide, weight, both));
    }
}
