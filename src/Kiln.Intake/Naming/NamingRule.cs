using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Kiln.Looks.Readings;

namespace Kiln.Intake.Naming;

/// <summary>What a studio rule says of a phrase in a file name.</summary>
[JsonConverter(typeof(CamelCaseEnum<NamingRuleKind>))]
public enum NamingRuleKind
{
    /// <summary>The phrase names one role.</summary>
    Role,

    /// <summary>The phrase names a packed file with a role in each of its channels.</summary>
    Packed,

    /// <summary>Files with the phrase are preview pictures.</summary>
    Preview,

    /// <summary>The phrase says that normals point up, or down, in green.</summary>
    NormalUp,
    NormalDown,

    /// <summary>The phrase says nothing and belongs to no surface name.</summary>
    Ignored,
}

/// <summary>
/// A rule of the studio about names. <paramref name="Phrase"/> is one or more tokens, lower case, separated by spaces (“spec col”).
/// <paramref name="Role"/> is set for <see cref="NamingRuleKind.Role"/>, <paramref name="Channels"/> (r, g, b, a, rgb to role) for packed
/// ones.
/// </summary>
public sealed record NamingRule(
    string Phrase,
    NamingRuleKind Kind,
    MapRole? Role = null,
    ImmutableSortedDictionary<string, MapRole>? Channels = null
)
{
    /// <summary>What is wrong with the rule, as a sentence; null when it can be used.</summary>
    [JsonIgnore]
    public string? Fault
    {
        get
        {
            var tokens = Phrase.Split(' ');
            if (
                Phrase.Length is 0 or > 80
                || tokens.Any(t => t.Length == 0 || t.Any(c => !char.IsLetterOrDigit(c)) || t != t.ToLowerInvariant())
            )
                return "A rule's phrase is one or more words of letters and digits, lower case, with one space between them.";
            if (tokens.Any(t => NameTokens.Split(t).Count != 1))
                return $"“{Phrase}” can never match: names are split between letters and digits, so write "
                    + $"“{string.Join(' ', tokens.SelectMany(NameTokens.Split))}”.";
            if (Kind == NamingRuleKind.Role && Role is null)
                return "A rule that names a role needs the role.";
            if (Kind == NamingRuleKind.Packed && Channels is not { Count: > 0 })
                return "A rule for a packed file needs a role for at least one channel.";
            if (Channels?.Keys.FirstOrDefault(c => c is not ("r" or "g" or "b" or "a" or "rgb")) is { } odd)
                return $"There is no channel '{odd}'; channels are r, g, b, a and rgb.";
            return null;
        }
    }

    /// <summary>The rule as a sentence.</summary>
    [JsonIgnore]
    public string Sentence =>
        Kind switch
        {
            NamingRuleKind.Role => $"“{Phrase}” means {Role!.Value.Label()}",
            NamingRuleKind.Packed => $"“{Phrase}” is packed: {string.Join(", ", Channels!.Select(c => $"{c.Value.Label()} in {c.Key}"))}",
            NamingRuleKind.Preview => $"“{Phrase}” marks a preview picture",
            NamingRuleKind.NormalUp => $"“{Phrase}” says that normals are Y up",
            NamingRuleKind.NormalDown => $"“{Phrase}” says that normals are Y down",
            _ => $"“{Phrase}” says nothing about a map",
        };
}
