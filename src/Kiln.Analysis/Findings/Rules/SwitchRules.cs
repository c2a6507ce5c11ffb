using Kiln.Looks.Document;
using Kiln.Looks.Edits;
using Kiln.Looks.Inputs;

namespace Kiln.Analysis.Findings.Rules;

/// <summary>Values that make a connected map do nothing, or tint it.</summary>
internal static class SwitchRules
{
    /// <summary>An input that a map may feed, the weight without which it does nothing, and the value that lets it act.</summary>
    private static readonly (string Map, string Weight, float On)[] Pairs =
    [
        ("emission_color", "emission_luminance", 1),
        ("coat_roughness", "coat_weight", 1),
        ("coat_color", "coat_weight", 1),
        ("fuzz_color", "fuzz_weight", 1),
        ("fuzz_roughness", "fuzz_weight", 1),
        ("subsurface_color", "subsurface_weight", 1),
        ("transmission_color", "transmission_weight", 1),
        ("base_color", "base_weight", 1),
        ("specular_color", "specular_weight", 1),
        ("specular_roughness", "specular_weight", 1),
    ];

    public static IEnumerable<Finding> Of(FindingContext c) => Off(c).Concat(Tinted(c)).Concat(InNetwork(c));

    private static float Value(FindingContext c, string input) =>
        (c.BaseLane(input)?.Value ?? NeutralInputs.Find(input).DefaultValue) is ScalarValue s ? s.Number : 1;

    private static bool IsMapped(FindingContext c, string input) => c.BaseLane(input)?.Chain is not null;

    private static IEnumerable<Finding> Off(FindingContext c) =>
        from pair in Pairs
        where IsMapped(c, pair.Map) && !IsMapped(c, pair.Weight) && Value(c, pair.Weight) == 0
        group pair by pair.Weight into weight
        select new Finding(
            "switch.missing",
            Severity.Error,
            weight.Key,
            $"A map is connected to {((LaneAddress)weight.First().Map).Label}, but {((LaneAddress)weight.Key).Label} is 0: the map "
                + "does nothing.",
            $"{weight.Key} = 0",
            $"set it to {weight.First().On:0.##}",
            new ValueEdit(weight.Key, LookValue.Of(weight.First().On))
        );

    private static IEnumerable<Finding> Tinted(FindingContext c)
    {
        var weight = Value(c, "base_weight");
        if (IsMapped(c, "base_color") && !IsMapped(c, "base_weight") && weight is not (0 or 1))
            yield return new(
                "tint.not-white",
                Severity.Warning,
                "base_weight",
                "A value tints the connected base colour map: the surface is not as bright as its map says.",
                $"base_weight = {weight:0.###} multiplies the map",
                "set it to 1",
                new ValueEdit("base_weight", LookValue.Of(1f))
            );
    }

    /// <summary>Switches of one dialect that its network leaves at a value which makes a connected map do nothing.</summary>
    private static IEnumerable<Finding> InNetwork(FindingContext c)
    {
        if (c is not { Profile: { } profile, Network: { } network })
            yield break;
        foreach (var input in profile.Inputs.Where(i => i.Switch))
        {
            var port = network.Surface.Port(input.Name);
            var value =
                port is null ? input.Default?[0] ?? 0
                : port.Value is { } text ? input.Number(text)
                : 1;
            var partners = profile
                .ScatteringFormulas.Values.Where(f => f.Names.Contains(input.Name))
                .SelectMany(f => f.Names)
                .Where(n => n != input.Name);
            if (value == 0 && partners.Any(n => network.Surface.Port(n)?.Node is not null))
                yield return new(
                    "switch.missing",
                    Severity.Error,
                    input.Name,
                    $"{input.Name} is 0 in {profile.Title}, so a connected map does nothing.",
                    input.Label ?? "a switch left off"
                );
        }
    }
}
