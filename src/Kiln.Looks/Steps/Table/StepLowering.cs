using Kiln.Looks.Document;
using Kiln.Looks.Graph;
using Kiln.Looks.Maps;

namespace Kiln.Looks.Steps.Table;

/// <summary>What a step has at hand to become nodes of a graph.</summary>
/// <param name="Placement">Where the map lies that the steps of this chain work on.</param>
public sealed record StepLowering(LaneGraphs Lanes, Placement Placement)
{
    public ShadeGraph Graph => Lanes.Graph;

    public int Constant(float value) => Graph.Constant(value);

    public int Add(ShadeOp op, params ReadOnlySpan<int> inputs) => Graph.Add(op, inputs);

    public int Add(ShadeNode node) => Graph.Add(node);

    /// <summary>Another input's chain or value, as it comes.</summary>
    public int Side(Lane lane) => lane.Chain is { } chain ? Lanes.Chain(chain) : Lanes.Value(lane.Value ?? LookValue.Of(0f));

    public int Side(Lane lane, ShadeType type) => Graph.As(Side(lane), type);

    public int Side(Chain chain) => Lanes.Chain(chain);

    public int Amount(Feed feed) =>
        feed.Chain is { } chain
            ? Graph.Add(ShadeOp.Multiply, Graph.As(Lanes.Chain(chain), ShadeType.Scalar), Graph.Constant(feed.Value))
            : Graph.Constant(feed.Value);
}
