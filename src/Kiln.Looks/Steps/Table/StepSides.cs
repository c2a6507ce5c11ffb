using Kiln.Looks.Document;

namespace Kiln.Looks.Steps.Table;

/// <summary>A step's other inputs by name, each as a lane: a value, a chain, or both.</summary>
public static class StepSides
{
    public static IEnumerable<string> Names(Step step) => step.Entry.Sides.Select(s => s.Name);

    /// <exception cref="LookException">The step has no such input.</exception>
    public static Lane Get(Step step, string name) => Find(step, name).Get(step);

    /// <exception cref="LookException">The step has no such input, or the input cannot be that.</exception>
    public static Step With(Step step, string name, Lane lane) => Find(step, name).With(step, lane);

    /// <summary>The chains among a step's other inputs.</summary>
    public static IEnumerable<Chain> Chains(Step step) => step.Entry.Sides.Select(s => s.Get(step).Chain).OfType<Chain>();

    private static StepSide Find(Step step, string name) =>
        step.Entry.Sides.FirstOrDefault(s => s.Name == name) ?? throw new LookException($"This step has no input '{name}'.");
}
