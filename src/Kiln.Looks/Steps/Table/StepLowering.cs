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

    /// <summary>A number of the step's document.</summary>
    public int Number(Step step, string field, float value) =>
        LiveName(step, field) is { } name ? Graph.Parameter(name, new(value), ShadeType.Scalar) : Graph.Constant(value);

    /// <summary>What a field's numbers are called; null where nobody is about to change them.</summary>
    public string? LiveName(Step step, string field) => Lanes.Live?.NameOf(step) is { } name ? $"{name}#{field}" : null;

    /// <summary>Whether somebody is about to change the step: what its numbers leave out today may be there tomorrow.</summary>
    public bool IsLive(Step step) => Lanes.Live?.NameOf(step) is not null;

    public int Add(ShadeOp op, params ReadOnlySpan<int> inputs) => Graph.Add(op, inputs);

    public int Add(ShadeNode node) => Graph.Add(node);

    /// <summary>Another input's chain or value, as it comes.</summary>
    public int Side(Lane lane) => lane.Chain is { } chain ? Lanes.Chain(chain) : Lanes.ValueOf(lane, LookValue.Of(0f));

    public int Side(Lane lane, ShadeType type) => Graph.As(Side(lane), type);

    public int Side(Chain chain) => Lanes.Chain(chain);

    public int Amount(Feed feed) =>
        feed.Chain is { } chain ? Graph.Add(ShadeOp.Multiply, Graph.As(Lanes.Chain(chain), ShadeType.Scalar), Value(feed)) : Value(feed);

    private int Value(Feed feed) =>
        Lanes.Live?.NameOf(feed) is { } name ? Graph.Parameter(name, new(feed.Value), ShadeType.Scalar) : Graph.Constant(feed.Value);
}
