using Kiln.Colour;
using Kiln.Looks.Inputs;

namespace Kiln.Looks.Document;

/// <summary>What must hold in every look document: known inputs and slots, known spaces, no cycles, bounded size.</summary>
public static class LookValidation
{
    public const int MaximumSteps = 400;
    private const int MaximumDepth = 24;

    /// <exception cref="LookException">With the first thing that does not hold.</exception>
    public static void Check(Look look)
    {
        if (string.IsNullOrWhiteSpace(look.Name) || look.Name.Length > 200 || look.Name.Any(char.IsControl))
            throw new LookException("A look needs a name of 1 to 200 characters on one line.");
        foreach (var (input, lane) in look.Lanes)
        {
            NeutralInputs.Find(input);
            CheckLane(look, lane, $"lane '{input}'", 0);
        }
        foreach (var (name, lane) in look.Sources)
        {
            CheckLane(look, lane, $"source '{name}'", 0);
            CheckCycle(look, name, []);
        }
        foreach (var cover in look.Covers)
        {
            CheckLane(look, cover.Mask, $"the mask of cover '{cover.Name}'", 0);
            foreach (var (input, lane) in cover.Lanes)
            {
                NeutralInputs.Find(input);
                CheckLane(look, lane, $"lane '{input}' of cover '{cover.Name}'", 0);
            }
        }
        if (!(look.SizeU > 0) || !(look.SizeV > 0))
            throw new LookException("The real size of a look must be greater than zero.");
        CheckPlacement(look.Placement);
    }

    private static void CheckLane(Look look, Lane lane, string where, int depth)
    {
        if (lane.Value is TintValue tint)
            CheckSpace(tint.Space, where);
        if (lane.Value is ScalarValue { Number: var n } && !float.IsFinite(n))
            throw new LookException($"The value of {where} is not a finite number.");
        if (lane.Chain is { } chain)
            CheckChain(look, chain, where, depth);
    }

    private static void CheckChain(Look look, Chain chain, string where, int depth)
    {
        if (depth > MaximumDepth)
            throw new LookException($"Side chains in {where} are nested more than {MaximumDepth} deep.");
        if (chain.Steps.Length > MaximumSteps)
            throw new LookException($"{where} has {chain.Steps.Length} steps; at most {MaximumSteps} are possible.");
        switch (chain.Origin)
        {
            case SlotOrigin slot:
                if (!look.Slots.ContainsKey(slot.Slot))
                    throw new LookException($"{where} reads the slot '{slot.Slot}', which the look does not have.");
                CheckSpace(slot.Reading.Space, where);
                break;
            case SourceOrigin source when !look.Sources.ContainsKey(source.Source):
                throw new LookException($"{where} begins with the source '{source.Source}', which the look does not have.");
        }
        if (chain.Steps.Select(s => s.Id).Distinct().Count() != chain.Steps.Length)
            throw new LookException($"Two steps in {where} have the same identifier.");
        foreach (var step in chain.Steps)
            switch (step)
            {
                case PlaceStep place: CheckPlacement(place.Placement); break;
                case MixStep mix: CheckLane(look, mix.Other, where, depth + 1); CheckFeed(look, mix.Amount, where, depth); break;
                case OcclusionStep occlusion: CheckChain(look, occlusion.Occlusion, where, depth + 1); CheckFeed(look, occlusion.Amount, where, depth); break;
                case DecodeNormalStep decode: CheckFeed(look, decode.Strength, where, depth); break;
                case HeightToNormalStep height: CheckFeed(look, height.Strength, where, depth); break;
                case RemapStep { InLow: var low, InHigh: var high } when low == high: throw new LookException($"The remap in {where} has an empty input range.");
            }
    }

    private static void CheckFeed(Look look, Feed feed, string where, int depth)
    {
        if (!float.IsFinite(feed.Value))
            throw new LookException($"An amount in {where} is not a finite number.");
        if (feed.Chain is { } chain)
            CheckChain(look, chain, where, depth + 1);
    }

    private static void CheckPlacement(Placement p)
    {
        if (!float.IsFinite(p.RepeatsU + p.RepeatsV + p.RotationDegrees + p.OffsetU + p.OffsetV + p.PivotU + p.PivotV) || p.RepeatsU <= 0 || p.RepeatsV <= 0)
            throw new LookException("A placement needs finite numbers and more than zero repeats; use mirroring to turn a picture over.");
    }

    private static void CheckSpace(string space, string where)
    {
        if (!ColourSpace.Exists(space))
            throw new LookException($"The colour space '{space}' in {where} is not known.");
    }

    private static void CheckCycle(Look look, string source, HashSet<string> above)
    {
        if (!above.Add(source))
            throw new LookException($"The source '{source}' feeds itself.");
        if (look.Sources.TryGetValue(source, out var lane) && lane.Chain is { } chain)
            foreach (var next in SourcesOf(chain))
                CheckCycle(look, next, [.. above]);
    }

    internal static IEnumerable<string> SourcesOf(Chain chain)
    {
        if (chain.Origin is SourceOrigin own)
            yield return own.Source;
        foreach (var side in chain.Steps.SelectMany(SideChains))
            foreach (var name in SourcesOf(side))
                yield return name;
    }

    /// <summary>The chains of a step's other inputs.</summary>
    public static IEnumerable<Chain> SideChains(Step step)
    {
        Chain?[] chains = step switch
        {
            MixStep mix => [mix.Other.Chain, mix.Amount.Chain],
            OcclusionStep occlusion => [occlusion.Occlusion, occlusion.Amount.Chain],
            DecodeNormalStep decode => [decode.Strength.Chain],
            HeightToNormalStep height => [height.Strength.Chain],
            _ => [],
        };
        return chains.Where(c => c is not null)!;
    }
}
