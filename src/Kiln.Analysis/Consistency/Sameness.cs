using Kiln.Looks.Document;
using Kiln.Looks.Edits;
using Kiln.Looks.Inputs;
using Kiln.Looks.Maps;
using Kiln.Looks.Steps;
using Kiln.Looks.Steps.Kinds.Numbers;

namespace Kiln.Analysis.Consistency;

/// <summary>Edits that bring a look's measurement to a value that others have too. What comes of them is measured, not promised.</summary>
public static class Sameness
{
    public const string TexelDensity = "texelDensity",
        BaseLuminance = "baseLuminance",
        RoughnessSpread = "roughnessSpread";

    public static readonly IReadOnlyList<string> Quantities = [TexelDensity, BaseLuminance, RoughnessSpread];

    /// <summary>Closer than this share of the target a look is left as it is.</summary>
    private const double CloseEnough = 0.005;

    /// <summary>What a look has of a quantity; null where it has none.</summary>
    public static double? Of(LookMeasures measures, string quantity) =>
        quantity switch
        {
            TexelDensity => measures.TexelDensity,
            BaseLuminance => measures.BaseLuminance,
            RoughnessSpread => measures.RoughnessSpread,
            _ => throw new LookException($"Looks are not made alike by '{quantity}'; {string.Join(", ", Quantities)} are possible."),
        };

    /// <summary>
    /// The edit that leads there: repeats for the texel density, a gain for the luminance, a remap about the mean for the spread. Null
    /// where the look is there.
    /// </summary>
    /// <exception cref="LookException">No such edit leads there; the message says why.</exception>
    public static LookEdit? Towards(Look look, LookMeasures measures, string quantity, double target)
    {
        if (!(target > 0) || !double.IsFinite(target))
            throw new LookException("The value to come to must be above zero.");
        if (Of(measures, quantity) is not { } now || now <= 0)
            throw new LookException(
                quantity == TexelDensity ? "No map of it says how fine it is."
                : quantity == BaseLuminance ? "Its base colour is black; no gain makes it brighter."
                : "Its roughness is the same everywhere; there is no spread to widen."
            );
        var factor = (float)(target / now);
        if (Math.Abs(factor - 1) < CloseEnough)
            return null;
        return quantity switch
        {
            TexelDensity => new PlacementEdit(
                look.Placement with
                {
                    RepeatsU = look.Placement.RepeatsU * factor,
                    RepeatsV = look.Placement.RepeatsV * factor,
                }
            ),
            BaseLuminance => Luminance(look, factor),
            _ => Spread(look, measures.RoughnessMean, factor),
        };
    }

    private static LookEdit Luminance(Look look, float factor)
    {
        const string lane = "base_color";
        var there = look.Lanes.GetValueOrDefault(lane);
        if (there?.Chain is { } chain)
            return Appended(lane, chain, new GainStep(factor));
        var value = (TintValue)(there?.Value ?? NeutralInputs.Find(lane).DefaultValue!);
        return Kiln.Colour.Spaces.ColourSpace.Find(value.Space).IsLinear
            ? new ValueEdit(lane, value with { R = value.R * factor, G = value.G * factor, B = value.B * factor })
            : throw new LookException(
                $"Its base colour is kept in {Kiln.Colour.Spaces.ColourSpace.Find(value.Space).Label}; say it in a linear space first."
            );
    }

    private static LookEdit Spread(Look look, float mean, float factor)
    {
        const string lane = "specular_roughness";
        if (look.Lanes.GetValueOrDefault(lane)?.Chain is not { } chain)
            throw new LookException("Its roughness is one value; there is no spread to change.");
        // mean + (x − mean) · factor, then back within what a roughness can be.
        var about = new RemapStep(0, 1, mean - mean * factor, mean + (1 - mean) * factor, Clamp: false);
        return new BatchEdit(
            $"roughness spread × {factor:0.##}",
            [Appended(lane, chain, about), Appended(lane, chain, new ClampStep(), 1)]
        );
    }

    private static StepInsertEdit Appended(string lane, Chain chain, Step step, int after = 0) =>
        new(
            lane,
            chain.Steps.Length + after,
            step with
            {
                Id = FreeNames.Of(after == 0 ? "alike" : $"alike{after}", n => chain.Steps.Any(s => s.Id == n)),
            }
        );
}
