using System.Text.Json;
using System.Text.Json.Serialization;
using System.Text.RegularExpressions;
using Kiln.Colour.Spaces;
using Kiln.Faults;
using Kiln.Looks.Readings;

namespace Kiln.Analysis.Consistency;

/// <summary>From a least to a most value, either of which may be open.</summary>
public sealed record FromTo(double? Least = null, double? Most = null)
{
    public bool Holds(double value) => !(value < Least) && !(value > Most);

    public override string ToString() =>
        (Least, Most) switch
        {
            ({ } least, { } most) => $"{least:0.###} to {most:0.###}",
            ({ } least, null) => $"at least {least:0.###}",
            (null, { } most) => $"at most {most:0.###}",
            _ => "anything",
        };
}

/// <summary>The same quantity of dielectrics and of metals.</summary>
public sealed record ByClass(FromTo? Dielectric = null, FromTo? Metal = null);

/// <summary>
/// What a collection asks of its looks. Read from JSON with comments; a rule that is not there asks for nothing.
/// </summary>
/// <param name="Names">A regular expression that a whole name must match.</param>
/// <param name="Maps">Roles that must be there.</param>
/// <param name="Pixels">Longer side of every map.</param>
/// <param name="LeastBits">Role to bits of a channel.</param>
/// <param name="TexelDensity">Pixels to a metre.</param>
/// <param name="BaseLuminance">Mean relative luminance of the base colour, 0..1.</param>
/// <param name="BaseSaturation">Mean chroma over lightness in CIELAB.</param>
/// <param name="RoughnessSpread">From the 5th to the 95th percentile.</param>
/// <param name="Readings">Colour spaces that maps may be read in.</param>
/// <param name="Dialects">Dialects that must take the look without loss.</param>
/// <param name="MostMegabytes">All its map files together.</param>
public sealed record CollectionRules(
    string? Names = null,
    string[]? Maps = null,
    FromTo? Pixels = null,
    Dictionary<string, int>? LeastBits = null,
    FromTo? TexelDensity = null,
    ByClass? BaseLuminance = null,
    ByClass? BaseSaturation = null,
    FromTo? RoughnessSpread = null,
    string[]? Readings = null,
    string[]? Dialects = null,
    double? MostMegabytes = null
)
{
    public const int LongestText = 64 * 1024;

    private static readonly JsonSerializerOptions Options = new(JsonSerializerDefaults.Web)
    {
        ReadCommentHandling = JsonCommentHandling.Skip,
        AllowTrailingCommas = true,
        UnmappedMemberHandling = JsonUnmappedMemberHandling.Disallow,
    };

    private static readonly IReadOnlyList<string> KnownRoles = [.. MapRoles.All.Select(r => r.Id())];

    [JsonIgnore]
    public Regex? Pattern { get; private set; }

    /// <exception cref="RuleException">It cannot be read; the message names the line.</exception>
    public static CollectionRules Read(string text)
    {
        if (text.Length > LongestText)
            throw new RuleException($"Rules have at most {LongestText / 1024} kB.");
        try
        {
            var rules = JsonSerializer.Deserialize<CollectionRules>(text, Options) ?? throw new RuleException("There is nothing in it.");
            foreach (var (name, span) in rules.Spans())
                if (span.Least > span.Most)
                    throw new RuleException(
                        $"{name}: from {span.Least:0.###} to {span.Most:0.###} there is nothing; no look could ever keep that rule."
                    );
            foreach (var role in (rules.Maps ?? []).Concat(rules.LeastBits?.Keys.AsEnumerable() ?? []))
                if (!KnownRoles.Contains(role))
                    throw new RuleException($"There is no role '{role}'. Known: {string.Join(", ", KnownRoles)}.");
            foreach (var space in rules.Readings ?? [])
                if (ColourSpace.All.All(s => s.Id != space))
                    throw new RuleException($"There is no colour space '{space}' here.");
            if (rules.Names is { } names)
                rules.Pattern = Compiled(names);
            return rules;
        }
        catch (JsonException e)
        {
            var fault = e.Message.Contains("could not be mapped", StringComparison.Ordinal)
                ? $"there is no rule '{e.Path?.TrimStart('$', '.')}'."
                : "this is no JSON that rules can be read from.";
            throw new RuleException($"Line {e.LineNumber + 1}: {fault}", e);
        }
    }

    /// <summary>Without what is asked of names.</summary>
    public CollectionRules WithoutNames() => this with { Names = null, Pattern = null };

    /// <summary>Matched in time proportional to the name's length, so that no pattern can keep the server.</summary>
    /// <exception cref="RuleException">It is no pattern, or needs to go back and forth.</exception>
    public static Regex Compiled(string pattern)
    {
        try
        {
            return new($"^(?:{pattern})$", RegexOptions.NonBacktracking | RegexOptions.CultureInvariant);
        }
        catch (Exception e) when (e is ArgumentException or NotSupportedException)
        {
            throw new RuleException(
                e is NotSupportedException
                    ? "names: looking ahead, looking back and references to groups are not possible in a pattern here."
                    : $"names: '{pattern}' is no regular expression: {e.Message.TrimEnd('.')}.",
                e
            );
        }
    }

    private IEnumerable<(string Name, FromTo Span)> Spans() =>
        new (string, FromTo?)[]
        {
            ("pixels", Pixels),
            ("texelDensity", TexelDensity),
            ("baseLuminance.dielectric", BaseLuminance?.Dielectric),
            ("baseLuminance.metal", BaseLuminance?.Metal),
            ("baseSaturation.dielectric", BaseSaturation?.Dielectric),
            ("baseSaturation.metal", BaseSaturation?.Metal),
            ("roughnessSpread", RoughnessSpread),
        }
            .Where(s => s.Item2 is not null)
            .Select(s => (s.Item1, s.Item2!));
}

/// <summary>Rules cannot be read; the message is a sentence.</summary>
public sealed class RuleException(string message, Exception? inner = null)
    : KilnException(FaultKind.Unusable, "rules.invalid", message, inner);
