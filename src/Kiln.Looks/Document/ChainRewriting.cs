using System.Collections.Immutable;
using Kiln.Looks.Steps;
using Kiln.Looks.Steps.Table;

namespace Kiln.Looks.Document;

/// <summary>Changes all chains of a look, side chains and masks included.</summary>
internal static class ChainRewriting
{
    /// <summary>Replaces where chains begin.</summary>
    public static Look Origins(Look look, Func<Origin, Origin> change) => In(look, change, s => s);

    /// <summary>Replaces steps; what they take beside is changed by then.</summary>
    public static Look Steps(Look look, Func<Step, Step> change) => In(look, o => o, change);

    private static Look In(Look look, Func<Origin, Origin> origin, Func<Step, Step> step)
    {
        Chain Chain(Chain chain) => new(origin(chain.Origin), [.. chain.Steps.Select(Step)]);
        Lane Lane(Lane lane) => lane.Chain is { } chain ? lane with { Chain = Chain(chain) } : lane;
        Step Step(Step old) =>
            step(StepSides.Names(old).Aggregate(old, (s, side) => StepSides.With(s, side, Lane(StepSides.Get(s, side)))));
        ImmutableSortedDictionary<string, Lane> Lanes(ImmutableSortedDictionary<string, Lane> lanes) =>
            lanes.ToImmutableSortedDictionary(l => l.Key, l => Lane(l.Value));
        return look with
        {
            Lanes = Lanes(look.Lanes),
            Sources = Lanes(look.Sources),
            Layers = [.. look.Layers.Select(c => c with { Lanes = Lanes(c.Lanes), Mask = Lane(c.Mask) })],
        };
    }
}
