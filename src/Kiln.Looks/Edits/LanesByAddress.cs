using System.Collections.Immutable;
using Kiln.Looks.Document;
using Kiln.Looks.Inputs;
using Kiln.Looks.Steps;
using Kiln.Looks.Steps.Table;

namespace Kiln.Looks.Edits;

/// <summary>A look's lanes by their addresses: read, put in place, their steps changed.</summary>
public static class LanesByAddress
{
    /// <returns>The lane; null where the input has its default, or the source is not there.</returns>
    /// <exception cref="LookException">There is no such place.</exception>
    public static Lane? LaneAt(this Look look, LaneAddress address) =>
        address switch
        {
            { Side: { } side } => StepSides.Get(StepOf(look, side.Owner, side.Step), side.Name),
            { Source: { } source } => look.Sources.GetValueOrDefault(source),
            { Layer: { } layer, IsMask: true } => LayerAt(look, layer).Mask,
            { Layer: { } layer } => LayerAt(look, layer).Lanes.GetValueOrDefault(address.Input!),
            _ => look.Lanes.GetValueOrDefault(NeutralInputs.Find(address.Input!).Name),
        };

    /// <param name="lane">Null for the default.</param>
    /// <exception cref="LookException">There is no such place.</exception>
    internal static Look WithLane(this Look look, LaneAddress address, Lane? lane)
    {
        switch (address)
        {
            case { Side: { } side }:
                var owner = look.LaneAt(side.Owner)!;
                var changed = StepSides.With(
                    StepOf(look, side.Owner, side.Step),
                    side.Name,
                    lane ?? throw new LookException("A step's input can be given a value, not taken away.")
                );
                var steps = owner.Chain!.Steps;
                steps = steps.SetItem(steps.IndexOfStep(side.Step, side.Owner), changed);
                return look.WithLane(side.Owner, owner with { Chain = owner.Chain with { Steps = steps } });
            case { Source: { } source }:
                return look with { Sources = Put(look.Sources, source, lane) };
            case { Layer: { } number }:
                var layer = LayerAt(look, number);
                layer = address.IsMask
                    ? layer with
                    {
                        Mask = lane ?? new Lane(LookValue.Of(1f)),
                    }
                    : layer with
                    {
                        Lanes = Put(layer.Lanes, NeutralInputs.Find(address.Input!).Name, lane),
                    };
                return look with { Layers = look.Layers.SetItem(number, layer) };
            default:
                return look with { Lanes = Put(look.Lanes, NeutralInputs.Find(address.Input!).Name, lane) };
        }
    }

    /// <exception cref="LookException">Nothing is connected there.</exception>
    internal static (Look, LookEdit) WithSteps(this Look look, LaneAddress address, Func<ImmutableArray<Step>, ImmutableArray<Step>> change)
    {
        var before = look.LaneAt(address);
        if (before?.Chain is not { } chain)
            throw new LookException($"{address.Label} has no chain; connect a map to it first.");
        return (look.WithLane(address, before with { Chain = chain with { Steps = change(chain.Steps) } }), new LaneEdit(address, before));
    }

    /// <exception cref="LookException">The lane has no such step.</exception>
    internal static int IndexOfStep(this ImmutableArray<Step> steps, string id, LaneAddress address)
    {
        var index = steps.ToList().FindIndex(s => s.Id == id);
        return index >= 0 ? index : throw new LookException($"{address.Label} has no step '{id}'; somebody else may have removed it.");
    }

    private static Step StepOf(Look look, LaneAddress address, string id) =>
        look.LaneAt(address)?.Chain is { } chain
            ? chain.Steps[chain.Steps.IndexOfStep(id, address)]
            : throw new LookException($"{address.Label} has no chain; somebody else may have disconnected it.");

    private static Layer LayerAt(Look look, int number) =>
        number < look.Layers.Length ? look.Layers[number] : throw new LookException($"The look has no layer {number}.");

    private static ImmutableSortedDictionary<string, Lane> Put(ImmutableSortedDictionary<string, Lane> lanes, string key, Lane? lane) =>
        lane is null ? lanes.Remove(key) : lanes.SetItem(key, lane);
}
