using System.Collections.Immutable;
using Kiln.Looks.Document;
using Kiln.Looks.Edits;
using Kiln.Looks.Inputs;
using Kiln.Looks.Maps;
using Kiln.Looks.Steps.Kinds;
using Kiln.Looks.Steps.Kinds.Colours;

namespace Kiln.Looks.Overrides;

/// <summary>
/// What a part of a model has of its own over a look that it shares with others: the look itself stays one. Nothing of it, and the part
/// shows the look as it is.
/// </summary>
public sealed record PartOverride
{
    public static readonly PartOverride None = new();

    /// <summary>Of the part's UVs, before the look's own placement: all its maps move together.</summary>
    public Placement Placement { get; init; } = Placement.Identity;

    /// <summary>By which the base colour is multiplied, in linear light, on every layer; null for none.</summary>
    public TintValue? Tint { get; init; }

    /// <summary>By neutral input of the base layer: what the look has there, chain and all, gives way to the value.</summary>
    public ImmutableSortedDictionary<string, LookValue> Values { get; init; } = ImmutableSortedDictionary<string, LookValue>.Empty;

    [System.Text.Json.Serialization.JsonIgnore]
    public bool IsNothing => Placement.IsIdentity && Tint is null && Values.IsEmpty;

    public bool Equals(PartOverride? other) =>
        other is not null && Placement == other.Placement && Equals(Tint, other.Tint) && Values.SequenceEqual(other.Values);

    public override int GetHashCode() => HashCode.Combine(Placement, Tint, Values.Count);
}

/// <summary>Looks as a part's own overrides make them.</summary>
public static class PartOverrides
{
    private const string Colour = "base_color";

    /// <exception cref="LookException">A number that is none, an input that there is not, or a value of the wrong kind.</exception>
    public static void Check(PartOverride own)
    {
        LookValidation.CheckPlacement(own.Placement);
        if (own.Placement.Variation is not null)
            throw new LookException("Tiles are varied by the look, not by a part of a model.");
        if (own.Tint is { } tint && !(tint.R >= 0 && tint.G >= 0 && tint.B >= 0 && float.IsFinite(tint.R + tint.G + tint.B)))
            throw new LookException("A tint needs three numbers of 0 or more.");
        foreach (var (name, value) in own.Values)
        {
            var input = NeutralInputs.Find(name);
            if (!input.TakesValue || input.IsColour != value is TintValue)
                throw new LookException(
                    $"'{name}' needs {(!input.TakesValue ? "no value: it is a direction" : input.IsColour ? "a colour" : "a number")}."
                );
            LookValidation.CheckValue(value, $"'{name}'");
        }
    }

    /// <summary>The look as a part with overrides shows it.</summary>
    public static Look With(this Look look, PartOverride own)
    {
        if (own.IsNothing)
            return look;
        var result = look;
        foreach (var (input, value) in own.Values)
            result = result with { Lanes = result.Lanes.SetItem(input, new Lane(value)) };
        if (own.Tint is { } tint)
            result = Tinted(result, tint);
        return own.Placement.IsIdentity ? result : Placed(result, own.Placement);
    }

    private static Look Placed(Look look, Placement own) =>
        ChainRewriting.Steps(look with { Placement = look.Placement.After(own) }, step =>
            step is PlaceStep place ? place with { Placement = place.Placement.After(own) } : step
        );

    private static Look Tinted(Look look, TintValue tint)
    {
        Lane Tinted(Lane? lane)
        {
            var chain = lane?.Chain ?? new Chain(new ConstantOrigin(lane?.Value ?? NeutralInputs.Find(Colour).DefaultValue!));
            var step = new MixStep(MixMode.Multiply, new Lane(tint), new Feed(1)) { Id = FreeNames.Step(chain) };
            return (lane ?? new Lane()) with { Chain = chain with { Steps = chain.Steps.Add(step) } };
        }
        return look with
        {
            Lanes = look.Lanes.SetItem(Colour, Tinted(look.Lanes.GetValueOrDefault(Colour))),
            Layers =
            [
                .. look.Layers.Select(l =>
                    l.Lanes.TryGetValue(Colour, out var lane) ? l with { Lanes = l.Lanes.SetItem(Colour, Tinted(lane)) } : l
                ),
            ],
        };
    }
}
