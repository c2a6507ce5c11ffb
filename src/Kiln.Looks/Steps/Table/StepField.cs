using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Kiln.Looks.Readings;

namespace Kiln.Looks.Steps.Table;

[JsonConverter(typeof(CamelCaseEnum<StepFieldKind>))]
public enum StepFieldKind
{
    Number,
    Choice,
    Switch,
    ColourSpace,
    Curve,
    Placement,
    Quantiles,
}

/// <summary>One of the values a field chooses from: as documents say it and as people do.</summary>
public sealed record StepOption(string Id, string Label);

/// <summary>A setting of a step: its name in the document, and how it is entered.</summary>
/// <param name="Low">Of a number: the lower end of its slider. A typed value may go beyond.</param>
/// <param name="Increment">Of a number: the smallest step of its slider; null where the range says it.</param>
/// <param name="FollowsInput">Of a number: the slider has the ends of the surface input that the lane feeds, where it feeds one.</param>
public sealed record StepField(
    StepFieldKind Kind,
    string Name,
    string Label,
    float Low = 0,
    float High = 1,
    string? Unit = null,
    float? Increment = null,
    bool FollowsInput = false,
    ImmutableArray<StepOption>? Options = null
)
{
    public static StepField Number(string name, string label, float low, float high, string? unit = null, float? increment = null) =>
        new(StepFieldKind.Number, name, label, low, high, unit, increment);

    public static StepField Switch(string name, string label) => new(StepFieldKind.Switch, name, label);

    public static StepField Choice(string name, string label, params ReadOnlySpan<(string Id, string Label)> options)
    {
        var list = ImmutableArray.CreateBuilder<StepOption>();
        foreach (var (id, words) in options)
            list.Add(new(id, words));
        return new(StepFieldKind.Choice, name, label, Options: list.ToImmutable());
    }

    /// <summary>All values of an enumeration, in its order; hardLight reads "hard light".</summary>
    public static StepField Choice<T>(string name, string label)
        where T : struct, Enum
    {
        static string Words(string id) => string.Concat(id.Select(c => char.IsUpper(c) ? " " + char.ToLowerInvariant(c) : $"{c}"));
        return Choice(
            name,
            label,
            [.. Enum.GetNames<T>().Select(n => System.Text.Json.JsonNamingPolicy.CamelCase.ConvertName(n)).Select(id => (id, Words(id)))]
        );
    }
}
