using Kiln.Looks.Document;

namespace Kiln.Looks.Steps;

/// <summary>A step's other inputs by name, each as a lane: a value, a chain, or both.</summary>
public static class StepSides
{
    public static IReadOnlyList<string> Names(Step step) =>
        step switch
        {
            MixStep => ["other", "amount"],
            OcclusionStep => ["occlusion", "amount"],
            PackStep => ["green", "blue"],
            CombineStep => ["other", "ownWeight", "otherWeight"],
            DecodeNormalStep or HeightToNormalStep => ["strength"],
            _ => [],
        };

    /// <exception cref="LookException">The step has no such input.</exception>
    public static Lane Get(Step step, string name) =>
        (step, name) switch
        {
            (MixStep s, "other") => s.Other,
            (MixStep s, "amount") => Of(s.Amount),
            (OcclusionStep s, "occlusion") => new(Chain: s.Occlusion),
            (OcclusionStep s, "amount") => Of(s.Amount),
            (PackStep s, "green") => s.Green,
            (PackStep s, "blue") => s.Blue,
            (CombineStep s, "other") => new(Chain: s.Other),
            (CombineStep s, "ownWeight") => Of(s.OwnWeight),
            (CombineStep s, "otherWeight") => Of(s.OtherWeight),
            (DecodeNormalStep s, "strength") => Of(s.Strength),
            (HeightToNormalStep s, "strength") => Of(s.Strength),
            _ => throw new LookException($"This step has no input '{name}'."),
        };

    /// <exception cref="LookException">The step has no such input, or the input cannot be that.</exception>
    public static Step With(Step step, string name, Lane lane) =>
        (step, name) switch
        {
            (MixStep s, "other") => s with { Other = lane },
            (MixStep s, "amount") => s with { Amount = Feed(lane) },
            (OcclusionStep s, "occlusion") => s with { Occlusion = Chain(lane) },
            (OcclusionStep s, "amount") => s with { Amount = Feed(lane) },
            (PackStep s, "green") => s with { Green = lane },
            (PackStep s, "blue") => s with { Blue = lane },
            (CombineStep s, "other") => s with { Other = Chain(lane) },
            (CombineStep s, "ownWeight") => s with { OwnWeight = Feed(lane) },
            (CombineStep s, "otherWeight") => s with { OtherWeight = Feed(lane) },
            (DecodeNormalStep s, "strength") => s with { Strength = Feed(lane) },
            (HeightToNormalStep s, "strength") => s with { Strength = Feed(lane) },
            _ => throw new LookException($"This step has no input '{name}'."),
        };

    /// <summary>The chains among a step's other inputs.</summary>
    public static IEnumerable<Chain> Chains(Step step) => Names(step).Select(n => Get(step, n).Chain).OfType<Chain>();

    private static Lane Of(Feed feed) => new(LookValue.Of(feed.Value), feed.Chain);

    /// <summary>An amount that only has a chain counts fully.</summary>
    private static Feed Feed(Lane lane) =>
        lane.Value switch
        {
            null => new(1, lane.Chain),
            ScalarValue s => new(s.Number, lane.Chain),
            _ => throw new LookException("An amount is a number, not a colour."),
        };

    private static Chain Chain(Lane lane) => lane.Chain ?? new Chain(new ConstantOrigin(lane.Value ?? LookValue.Of(1f)));
}
