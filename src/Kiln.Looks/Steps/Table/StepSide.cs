using System.Text.Json.Serialization;
using Kiln.Looks.Document;
using Kiln.Looks.Readings;

namespace Kiln.Looks.Steps.Table;

/// <summary>What may be connected to a step's other input.</summary>
[JsonConverter(typeof(CamelCaseEnum<SideTakes>))]
public enum SideTakes
{
    /// <summary>Numbers or colours, as they come.</summary>
    Anything,
    Scalar,
    Direction,
}

/// <summary>Another input of a step beside what comes before it: a row of its own in the interface.</summary>
public abstract class StepSide(string name, string label, SideTakes takes, bool isAmount, float high)
{
    /// <summary>Its name in documents and addresses.</summary>
    public string Name { get; } = name;

    public string Label { get; } = label;

    public SideTakes Takes { get; } = takes;

    /// <summary>Whether it is a number that a chain multiplies, rather than a lane.</summary>
    public bool IsAmount { get; } = isAmount;

    /// <summary>Of an amount: the upper end of its slider.</summary>
    public float High { get; } = high;

    public abstract Lane Get(Step step);

    /// <summary>The part of the step that holds the input: the same object each time; null for a chain.</summary>
    public abstract object? Holder(Step step);

    /// <exception cref="LookException">The input cannot be that.</exception>
    public abstract Step With(Step step, Lane lane);
}

public sealed class StepSide<T>(
    string name,
    string label,
    SideTakes takes,
    Func<T, Lane> get,
    Func<T, Lane, T> with,
    bool isAmount = false,
    float high = 1
) : StepSide(name, label, takes, isAmount, high)
    where T : Step
{
    /// <summary>What holds the input where it is not a lane of its own.</summary>
    private Func<T, object?> HeldBy { get; init; } = get;

    public override object? Holder(Step step) => HeldBy((T)step);

    public override Lane Get(Step step) => get((T)step);

    public override Step With(Step step, Lane lane) => with((T)step, lane);

    public static StepSide<T> Amount(string name, string label, float high, Func<T, Feed> get, Func<T, Feed, T> with) =>
        new(name, label, SideTakes.Scalar, s => Of(get(s)), (s, lane) => with(s, Feed(lane)), isAmount: true, high) { HeldBy = get };

    public static StepSide<T> Chain(string name, string label, SideTakes takes, Func<T, Chain> get, Func<T, Chain, T> with) =>
        new(name, label, takes, s => new(Chain: get(s)), (s, lane) => with(s, ChainOf(lane))) { HeldBy = _ => null };

    private static Lane Of(Feed feed) => new(LookValue.Of(feed.Value), feed.Chain);

    /// <summary>An amount that only has a chain counts fully.</summary>
    private static Feed Feed(Lane lane) =>
        lane.Value switch
        {
            null => new(1, lane.Chain),
            ScalarValue s => new(s.Number, lane.Chain),
            _ => throw new LookException("An amount is a number, not a colour."),
        };

    private static Chain ChainOf(Lane lane) => lane.Chain ?? new Chain(new ConstantOrigin(lane.Value ?? LookValue.Of(1f)));
}
