using System.Collections.Immutable;
using Kiln.Looks.Edits;
using Kiln.Looks.Maps;

namespace Kiln.Looks.Document;

/// <summary>A named set of overrides over a look, as one of its colourways.</summary>
public sealed record Variant(string Name)
{
    /// <summary>By <see cref="LaneAddress"/>: what is there, chain and all, gives way to the value.</summary>
    public ImmutableSortedDictionary<string, LookValue> Values { get; init; } = ImmutableSortedDictionary<string, LookValue>.Empty;

    /// <summary>By slot: read as the look's own map is.</summary>
    public ImmutableSortedDictionary<string, MapFile> Maps { get; init; } = ImmutableSortedDictionary<string, MapFile>.Empty;

    /// <summary>Null where it lies as the look does.</summary>
    public Placement? Placement { get; init; }
}

/// <summary>Looks as their variants make them.</summary>
public static class Variants
{
    public const int Most = 200,
        LongestName = 80;

    /// <summary>
    /// The look that a variant is: called by both names, without variants of its own. What has no place in the look any more is left out.
    /// </summary>
    public static Look As(this Look look, Variant variant)
    {
        var result = look with { Name = $"{look.Name} {variant.Name}", Variants = [], Placement = variant.Placement ?? look.Placement };
        foreach (var (slot, file) in variant.Maps)
            if (result.Slots.TryGetValue(slot, out var there))
                result = result with { Slots = result.Slots.SetItem(slot, there with { File = file }) };
        // What lies within a chain that gave way to a value has gone with it.
        foreach (var (address, value) in variant.Values)
            if (HasPlace(result, address))
                result = result.WithLane(LaneAddress.Parse(address), new Lane(value));
        return result;
    }

    /// <exception cref="LookException">It has no variant of that name.</exception>
    public static Look As(this Look look, string variant) =>
        look.As(
            look.Variants.FirstOrDefault(v => v.Name == variant)
                ?? throw new LookException(
                    $"The look '{look.Name}' has no variant '{variant}'; somebody else may have removed or renamed it."
                )
        );

    /// <summary>The overrides whose place the look has lost.</summary>
    public static IReadOnlyList<string> Unplaced(Look look, Variant variant) =>
        [
            .. variant.Values.Keys.Where(a => !HasPlace(look, a)),
            .. variant.Maps.Keys.Where(s => !look.Slots.ContainsKey(s)).Select(s => "map " + s),
        ];

    /// <summary>Every file that the look is made of, those of its variants included; each once.</summary>
    public static IEnumerable<MapFile> FilesWithVariants(this Look look) =>
        look
            .Slots.Values.Select(s => s.File)
            .Concat(look.Variants.SelectMany(v => v.Maps.Values))
            .DistinctBy(f => string.Join(' ', f.Contents));

    /// <summary>An input of the ground always has a place: it has a default.</summary>
    private static bool HasPlace(Look look, string address)
    {
        try
        {
            return LaneAddress.TryParse(address, null, out var place)
                && (look.LaneAt(place) is not null || place is { Side: null, Source: null, Layer: null });
        }
        catch (LookException)
        {
            return false;
        }
    }
}
