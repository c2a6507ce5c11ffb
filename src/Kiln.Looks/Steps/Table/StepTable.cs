using System.Collections.Immutable;
using System.Reflection;
using System.Text.Json.Serialization.Metadata;

namespace Kiln.Looks.Steps.Table;

/// <summary>
/// All kinds of steps. A record that derives from <see cref="Step"/> and holds its <see cref="IStepKind{T}.Entry"/> is in it; documents,
/// validation, evaluation, reading back and the interface's fields all come from here.
/// </summary>
public static class StepTable
{
    public static readonly ImmutableArray<StepEntry> All =
    [
        .. typeof(Step)
            .Assembly.GetTypes()
            .Where(t => t.IsSubclassOf(typeof(Step)) && !t.IsAbstract)
            .Select(t => (StepEntry)t.GetProperty(nameof(Step.Entry), BindingFlags.Static | BindingFlags.Public)!.GetValue(null)!)
            .OrderBy(e => e.Order)
            .ThenBy(e => e.Name, StringComparer.Ordinal),
    ];

    private static readonly Dictionary<Type, StepEntry> ByType = All.ToDictionary(e => e.Type);

    public static StepEntry Of(Type step) => ByType[step];

    /// <summary>Tells JSON which kinds there are: a modifier for the resolver of every serialiser that meets steps.</summary>
    public static void Kinds(JsonTypeInfo type)
    {
        if (type.Type != typeof(Step))
            return;
        type.PolymorphismOptions = new() { TypeDiscriminatorPropertyName = "kind" };
        foreach (var entry in All)
            type.PolymorphismOptions.DerivedTypes.Add(new(entry.Type, entry.Name));
    }
}
