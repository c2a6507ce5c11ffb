using System.Collections.Immutable;
using System.Text.Json;
using System.Text.Json.Nodes;
using Kiln.Looks.Document;
using Kiln.Looks.Graph;

namespace Kiln.Looks.Steps.Table;

/// <summary>A step that is in the table: its record holds its entry.</summary>
public interface IStepKind<T>
    where T : Step, IStepKind<T>
{
    static abstract StepEntry<T> Entry { get; }
}

/// <summary>Everything the program knows of one kind of step; the only place that knows it.</summary>
public abstract class StepEntry
{
    /// <summary>What documents call it ("kind").</summary>
    public required string Name { get; init; }

    /// <summary>What people call it.</summary>
    public required string Label { get; init; }

    /// <summary>Its place where all steps are listed; those that a network can be read back as are tried in this order.</summary>
    public required int Order { get; init; }

    /// <summary>Other words by which it is found when typed.</summary>
    public string AlsoFoundBy { get; init; } = "";

    /// <summary>What it does, in one sentence for its settings; empty where the label says it.</summary>
    public string Sentence { get; init; } = "";

    /// <summary>Its most telling numbers, for its tile: a text with fields of the document in braces.</summary>
    public string Tells { get; init; } = "";

    public ImmutableArray<StepField> Fields { get; init; } = [];

    public abstract Type Type { get; }

    public abstract IReadOnlyList<StepSide> Sides { get; }

    /// <summary>As it is put into a lane; its settings are the defaults.</summary>
    public abstract Step New { get; }

    /// <exception cref="LookException">The step cannot be so; <paramref name="where"/> names the lane.</exception>
    public abstract void Check(Step step, string where);

    /// <summary>The node of what the step makes of node <paramref name="x"/>.</summary>
    public abstract int Lower(Step step, int x, StepLowering to);

    /// <summary>The step that a node of a network stands for, and the node it works on; null where this kind does not say it.</summary>
    public abstract (int Input, Step Step)? Fold(ShadeNode node, IStepFolding from);

    public StepDescription Describe()
    {
        var made = (JsonObject)JsonSerializer.SerializeToNode(New, LookJson.Options)!;
        foreach (var own in new[] { "kind", "id", "bypassed" })
            made.Remove(own);
        return new(
            Name,
            Label,
            AlsoFoundBy,
            Sentence,
            Tells,
            Fields,
            [.. Sides.Select(s => new StepSideDescription(s.Name, s.Label, s.Takes, s.IsAmount, s.High))],
            made
        );
    }
}

/// <summary>The entry of one kind, with its own record at hand.</summary>
public sealed class StepEntry<T> : StepEntry
    where T : Step, IStepKind<T>
{
    public required T Fresh { get; init; }

    public required Func<T, int, StepLowering, int> Lowers { get; init; }

    public ImmutableArray<StepSide<T>> Inputs { get; init; } = [];

    /// <summary>Throws a <see cref="LookException"/> where the step cannot be; the text names the lane.</summary>
    public Action<T, string> Checks { get; init; } = (_, _) => { };

    /// <summary>What of a network it says; null where nothing is read back as this step.</summary>
    public Func<ShadeNode, IStepFolding, (int Input, Step Step)?>? Folds { get; init; }

    public override Type Type => typeof(T);

    public override IReadOnlyList<StepSide> Sides => Inputs;

    public override Step New => Fresh;

    public override void Check(Step step, string where) => Checks((T)step, where);

    public override int Lower(Step step, int x, StepLowering to) => Lowers((T)step, x, to);

    public override (int Input, Step Step)? Fold(ShadeNode node, IStepFolding from) => Folds?.Invoke(node, from);
}

/// <summary>A kind of step as the interface gets it.</summary>
/// <param name="Fresh">The fields of a new one.</param>
public sealed record StepDescription(
    string Kind,
    string Label,
    string AlsoFoundBy,
    string Sentence,
    string Tells,
    IReadOnlyList<StepField> Fields,
    IReadOnlyList<StepSideDescription> Sides,
    JsonObject Fresh
);

/// <summary>As <see cref="StepSide"/> says.</summary>
public sealed record StepSideDescription(string Name, string Label, SideTakes Takes, bool IsAmount, float High);
