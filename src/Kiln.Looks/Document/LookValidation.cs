using System.Collections.Immutable;
using Kiln.Colour.Spaces;
using Kiln.Looks.Inputs;
using Kiln.Looks.Maps;
using Kiln.Looks.Readings;
using Kiln.Looks.Steps.Table;

namespace Kiln.Looks.Document;

/// <summary>What must hold in every look document: known inputs and slots, known spaces, no cycles, bounded size.</summary>
public static class LookValidation
{
    public const int MaximumSteps = 400;
    private const int MaximumDepth = 24;
    private const int MaximumTrims = 60;

    /// <exception cref="LookException">With the first thing that does not hold.</exception>
    public static void Check(Look look)
    {
        if (string.IsNullOrWhiteSpace(look.Name) || look.Name.Length > 200 || look.Name.Any(char.IsControl))
            throw new LookException("A look needs a name of 1 to 200 characters on one line.");
        CheckParts(look);
        foreach (var (input, lane) in look.Lanes)
        {
            NeutralInputs.Find(input);
            CheckLane(look, lane, $"lane '{input}'", 0);
        }
        var acyclic = new HashSet<string>();
        foreach (var (name, lane) in look.Sources)
        {
            if (!Edits.SourceNames.AreAllowed(name))
                throw new LookException($"A source cannot be called '{name}'.");
            CheckLane(look, lane, $"source '{name}'", 0);
            CheckCycle(look, name, [], acyclic);
        }
        foreach (var layer in look.Layers)
        {
            CheckLane(look, layer.Mask, $"the mask of layer '{layer.Name}'", 0);
            foreach (var (input, lane) in layer.Lanes)
            {
                NeutralInputs.Find(input);
                CheckLane(look, lane, $"lane '{input}' of layer '{layer.Name}'", 0);
            }
        }
        if (!(look.SizeU > 0) || !(look.SizeV > 0))
            throw new LookException("The real size of a look must be greater than zero.");
        CheckPlacement(look.Placement);
        CheckVariants(look);
        foreach (var (dialect, trims) in look.Trims)
            CheckTrims(dialect, trims);
        if (
            look.Displacement is var d
            && !(
                d.HeightMetres >= 0
                && d.Midpoint is >= 0 and <= 1
                && d.BoundMetres >= 0
                && d.EdgeMetres > 0
                && d.Subdivision is >= 0 and <= 10
                && d.Level is null or (>= 1 and <= 16)
            )
        )
            throw new LookException(
                "Displacement needs a height and bounds of 0 or more, a midpoint between 0 and 1, edges longer than 0, at most "
                    + "10 subdivisions and a level between 1 and 16."
            );
    }

    /// <summary>Lists and tables hold what they are lists of: JSON can say null in any place of them.</summary>
    private static void CheckParts(Look look)
    {
        static void Whole<T>(IEnumerable<T> parts, string what)
        {
            if (parts.Any(p => p is null))
                throw new LookException($"Among the {what} of the look there is one that is nothing.");
        }
        void Files(IEnumerable<MapFile> files)
        {
            Whole(files, "maps");
            foreach (var file in files)
            {
                Whole(file.Channels, "channels of a map");
                Whole(file.Tiles ?? [], "tiles of a map");
            }
        }
        Whole(look.Tags, "tags");
        Whole(look.Remarks, "remarks");
        Whole(look.Lanes.Values.Concat(look.Sources.Values), "lanes");
        Whole(look.Slots.Values, "slots");
        Whole(look.Layers, "covers");
        Whole(look.Layers.SelectMany(c => c.Lanes.Values), "lanes of the covers");
        Whole(look.Variants, "variants");
        foreach (var slot in look.Slots.Values)
            Files(slot.Candidates.Append(slot.File));
        foreach (var variant in look.Variants)
        {
            Files(variant.Maps.Values);
            Whole(variant.Values.Values, "values of a variant");
        }
        foreach (var trims in look.Trims.Values)
            Whole(trims.IsDefault ? throw new LookException("The trims of a dialect are nothing.") : trims, "trims");
    }

    /// <exception cref="LookException">A trim that cannot be.</exception>
    public static void CheckTrims(string dialect, ImmutableArray<Trim> trims)
    {
        if (trims.Length > MaximumTrims)
            throw new LookException($"There are {trims.Length} trims for {dialect}; at most {MaximumTrims} are possible.");
        foreach (var trim in trims)
        {
            if (NeutralInputs.Find(trim.Input).IsDirection)
                throw new LookException($"'{trim.Input}' is a direction and takes no trim.");
            if (trim.Operation is not ("gain" or "offset" or "power"))
                throw new LookException($"There is no trim '{trim.Operation}'; gain, offset and power are.");
            if (!float.IsFinite(trim.Value) || trim.Operation == "gain" && trim.Value < 0 || trim.Operation == "power" && trim.Value <= 0)
                throw new LookException($"The trim of '{trim.Input}' needs a number: a gain of 0 or more, a power above 0, any offset.");
        }
    }

    private static void CheckVariants(Look look)
    {
        if (look.Variants.Length > Variants.Most)
            throw new LookException($"There are {look.Variants.Length} variants; at most {Variants.Most} are possible.");
        foreach (var variant in look.Variants)
        {
            if (
                string.IsNullOrWhiteSpace(variant.Name)
                || variant.Name.Length > Variants.LongestName
                || variant.Name.Any(char.IsControl)
                || variant.Name != variant.Name.Trim()
            )
                throw new LookException($"A variant needs a name of 1 to {Variants.LongestName} characters on one line.");
            if (look.Variants.Count(v => string.Equals(v.Name, variant.Name, StringComparison.OrdinalIgnoreCase)) > 1)
                throw new LookException($"Two variants are called '{variant.Name}'.");
            foreach (var (address, value) in variant.Values)
            {
                // Covers change places; an address of theirs would come to mean another one.
                var place = LaneAddress.TryParse(address, null, out var parsed) ? parsed : null;
                if (address.StartsWith("cover:", StringComparison.Ordinal))
                    throw new LookException(
                        $"Variant '{variant.Name}' cannot override '{address}': variants are of the base layer and its sources."
                    );
                CheckValue(value, $"'{address}' in variant '{variant.Name}'");
                if (
                    place is null or { Fed: not null }
                    && NeutralInputs.Find(address) is var input
                    && (!input.TakesValue || input.IsColour != value is TintValue)
                )
                    throw new LookException(
                        $"'{address}' in variant '{variant.Name}' needs "
                            + $"{(!input.TakesValue ? "no value: it is a direction" : input.IsColour ? "a colour" : "a number")}."
                    );
            }
            foreach (var (slot, file) in variant.Maps)
                if (!file.Channels.Contains("A") && LookReadings.OfSlot(look, slot).Any(r => r.Channel == MapChannel.A))
                    throw new LookException(
                        $"'{file.Name}' has no alpha channel, which the look reads of its {slot} map; variant '{variant.Name}' "
                            + "cannot have it there."
                    );
            if (variant.Placement is { } placement)
                CheckPlacement(placement);
        }
    }

    internal static void CheckValue(LookValue? value, string where)
    {
        if (value is TintValue tint)
            CheckSpace(tint.Space, where);
        if (
            value is ScalarValue { Number: var n } && !float.IsFinite(n)
            || value is TintValue { R: var r, G: var g, B: var b } && !float.IsFinite(r + g + b)
        )
            throw new LookException($"The value of {where} is not a finite number.");
    }

    private static void CheckLane(Look look, Lane lane, string where, int depth)
    {
        CheckValue(lane.Value, where);
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
            case NoiseOrigin { Noise: var noise }
                when noise.Cells is < 1 or > 512 || noise.Octaves is < 1 or > 10 || !(noise.Gain is >= 0 and <= 1):
                throw new LookException($"The noise in {where} needs 1 to 512 cells, 1 to 10 octaves and a gain between 0 and 1.");
        }
        if (chain.Steps.Any(s => s is null))
            throw new LookException($"A step of {where} is nothing.");
        if (chain.Steps.Select(s => s.Id).Distinct().Count() != chain.Steps.Length)
            throw new LookException($"Two steps in {where} have the same identifier.");
        foreach (var step in chain.Steps)
        {
            foreach (var side in step.Entry.Sides)
                CheckLane(look, side.Get(step), $"{where}, {side.Name}", depth + 1);
            step.Entry.Check(step, where);
        }
    }

    internal static void CheckPlacement(Placement p)
    {
        if (
            !float.IsFinite(
                p.RepeatsU + p.RepeatsV + p.RotationDegrees + p.PictureRotationDegrees + p.OffsetU + p.OffsetV + p.PivotU + p.PivotV
            )
            || p.RepeatsU <= 0
            || p.RepeatsV <= 0
        )
            throw new LookException("A placement needs finite numbers and more than zero repeats; use mirroring to turn a picture over.");
        if (p.Variation is { } v && (v.Cells is < 2 or > 256 || v.Cells % 2 != 0 || !(v.RotationDegrees is >= 0 and <= 180)))
            throw new LookException("Varied tiles need an even number of cells from 2 to 256 and a turn between 0 and 180 degrees.");
        // Unequal repeats squeeze a picture; turned in its own squeezed square it would be sheared.
        if (p.Variation is { RotationDegrees: > 0 } && (p.RepeatsU != p.RepeatsV || p.PictureRotationDegrees != 0))
            throw new LookException("Tiles are turned only where the picture repeats as often along both axes.");
    }

    internal static void CheckSpace(SpaceId space, string where)
    {
        if (!ColourSpace.Exists(space))
            throw new LookException($"The colour space '{space}' in {where} is not known.");
    }

    /// <param name="above">Sources on the way here.</param>
    /// <param name="done">Sources that are known to be without a cycle.</param>
    private static void CheckCycle(Look look, string source, HashSet<string> above, HashSet<string> done)
    {
        if (done.Contains(source))
            return;
        if (!above.Add(source))
            throw new LookException($"The source '{source}' feeds itself.");
        if (look.Sources.TryGetValue(source, out var lane) && lane.Chain is { } chain)
            foreach (var next in SourcesOf(chain))
                CheckCycle(look, next, above, done);
        above.Remove(source);
        done.Add(source);
    }

    internal static IEnumerable<string> SourcesOf(Chain chain)
    {
        if (chain.Origin is SourceOrigin own)
            yield return own.Source;
        foreach (var side in chain.Steps.SelectMany(StepSides.Chains))
        foreach (var name in SourcesOf(side))
            yield return name;
    }
}
