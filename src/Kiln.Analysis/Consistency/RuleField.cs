using System.Text.Json.Serialization;
using Kiln.Looks.Document;
using Kiln.Looks.Readings;

namespace Kiln.Analysis.Consistency;

/// <summary>What a rule is made of, and so with what it is entered.</summary>
[JsonConverter(typeof(CamelCaseEnum<RuleFieldKind>))]
public enum RuleFieldKind
{
    /// <summary>A regular expression.</summary>
    Pattern,

    /// <summary>A list of identifiers from a fixed set.</summary>
    Choices,

    /// <summary>From a least to a most value; either may be open.</summary>
    Span,

    /// <summary>A whole number for each identifier of a fixed set.</summary>
    NumberByChoice,

    /// <summary>One upper limit.</summary>
    Most,
}

/// <summary>One rule that a collection may have.</summary>
/// <param name="Id">Its place in the text, parts joined by a dot; <see cref="BrokenRule.Rule"/> names it so.</param>
/// <param name="Group">Heading under which it stands.</param>
/// <param name="Unit">Of its numbers; empty for ratios and words.</param>
/// <param name="Asks">What it asks of a look, as a sentence.</param>
public sealed record RuleField(string Id, string Label, string Group, RuleFieldKind Kind, string Unit, string Asks)
{
    /// <summary>The span that rules ask for; null for another kind of rule, and where they ask for nothing.</summary>
    [JsonIgnore]
    public Func<CollectionRules, FromTo?> SpanOf { get; init; } = _ => null;

    /// <summary>The numbers of a look that the rule is about: one of a measured look, one for each map where it is about maps.</summary>
    [JsonIgnore]
    public Func<Look, LookKnowledge, IEnumerable<RuledValue>> ValuesOf { get; init; } = (_, _) => [];
}

/// <summary>A number that a rule is about.</summary>
/// <param name="Subject">What has it, to begin a sentence: "The texel density".</param>
public sealed record RuledValue(string Subject, double Value);

/// <summary>Every rule that there is, in the order in which a form shows them.</summary>
public static class RuleFields
{
    private const string Names = "Name and maps",
        Files = "Files",
        Surface = "Surface",
        Renderers = "Renderers";

    public static readonly IReadOnlyList<RuleField> All =
    [
        new("names", "Names of looks", Names, RuleFieldKind.Pattern, "", "The whole name of a look must match this regular expression."),
        new("maps", "Maps that must be there", Names, RuleFieldKind.Choices, "", "A look without one of these maps breaks the rule."),
        new("readings", "Allowed colour spaces", Names, RuleFieldKind.Choices, "", "A colour map must be read in one of these spaces."),
        new("pixels", "Longer side of a map", Files, RuleFieldKind.Span, "px", "Holds for every map of a look by itself.")
        {
            SpanOf = r => r.Pixels,
            ValuesOf = (look, _) =>
                look.Slots.Values.Select(s => new RuledValue($"The longer side of {s.File.Name}", Math.Max(s.File.Width, s.File.Height))),
        },
        new(
            "leastBits",
            "Least bits of a channel",
            Files,
            RuleFieldKind.NumberByChoice,
            "bits",
            "A map of this kind must have at least these bits."
        ),
        Measured(
            "texelDensity",
            "Texel density",
            Files,
            "px/m",
            "Pixels to a metre of the coarsest map.",
            r => r.TexelDensity,
            m => m.TexelDensity
        ),
        new("mostMegabytes", "Most data of a look", Files, RuleFieldKind.Most, "MB", "All map files of a look together.")
        {
            SpanOf = r => r.MostMegabytes is { } most ? new(Most: most) : null,
            ValuesOf = (_, known) => known.Bytes == 0 ? [] : [new("The size of its maps", Math.Round(known.Bytes / 1048576.0, 1))],
        },
        OfClass(
            "baseLuminance",
            "luminance of base colour",
            metal: false,
            "Mean relative luminance, 0 to 1.",
            r => r.BaseLuminance,
            m => m.BaseLuminance
        ),
        OfClass(
            "baseLuminance",
            "luminance of base colour",
            metal: true,
            "Mean relative luminance, 0 to 1.",
            r => r.BaseLuminance,
            m => m.BaseLuminance
        ),
        OfClass(
            "baseSaturation",
            "saturation of base colour",
            metal: false,
            "Mean chroma over lightness.",
            r => r.BaseSaturation,
            m => m.BaseSaturation
        ),
        OfClass(
            "baseSaturation",
            "saturation of base colour",
            metal: true,
            "Mean chroma over lightness.",
            r => r.BaseSaturation,
            m => m.BaseSaturation
        ),
        Measured(
            "roughnessSpread",
            "Spread of roughness",
            Surface,
            "",
            "From the 5th to the 95th percentile of the roughness, 0 to 1.",
            r => r.RoughnessSpread,
            m => m.RoughnessSpread
        ),
        new(
            "dialects",
            "Renderers without loss",
            Renderers,
            RuleFieldKind.Choices,
            "",
            "A look must be exported for these renderers without losing anything."
        ),
    ];

    private static RuleField Measured(
        string id,
        string label,
        string group,
        string unit,
        string asks,
        Func<CollectionRules, FromTo?> span,
        Func<LookMeasures, double?> value
    ) =>
        new(id, label, group, RuleFieldKind.Span, unit, asks)
        {
            SpanOf = span,
            ValuesOf = (_, known) =>
                known.Measures is { } measures && value(measures) is { } number
                    ? [new($"The {char.ToLowerInvariant(label[0])}{label[1..]}", number)]
                    : [],
        };

    /// <summary>A rule for dielectrics or for metals alone: looks of the other class have no number for it.</summary>
    private static RuleField OfClass(
        string id,
        string quantity,
        bool metal,
        string asks,
        Func<CollectionRules, ByClass?> spans,
        Func<LookMeasures, double?> value
    )
    {
        var words = metal ? "Metals" : "Dielectrics";
        return Measured(
            $"{id}.{(metal ? "metal" : "dielectric")}",
            $"{words}: {quantity}",
            Surface,
            "",
            $"{asks} Only for {words.ToLowerInvariant()}.",
            r => metal ? spans(r)?.Metal : spans(r)?.Dielectric,
            m => m.IsMetal == metal ? value(m) : null
        ) with
        {
            ValuesOf = (_, known) =>
                known.Measures is { } m && m.IsMetal == metal && value(m) is { } number ? [new($"The {quantity}", number)] : [],
        };
    }
}
