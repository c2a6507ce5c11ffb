using System.Collections.Immutable;
using System.Text.Json;
using System.Text.Json.Serialization;
using Kiln.Looks.Document;
using Kiln.Looks.Readings;
using Kiln.Looks.Texts;

namespace Kiln.Intake.Naming;

/// <summary>A naming rule with what the studio says beside it.</summary>
/// <param name="Enabled">Whether it is in force.</param>
/// <param name="Reason">Why there is the rule; empty for no reason.</param>
public sealed record StudioNamingRule(NamingRule Rule, bool Enabled = true, string Reason = "");

/// <summary>The studio's naming rules as one text: a JSON list with a rule on each line. The command line reads the same text.</summary>
public static class NamingRuleText
{
    public const int LongestText = 256 * 1024,
        LongestReason = 400;

    /// <summary>A rule as the text holds it.</summary>
    private sealed record Written(
        string Phrase,
        NamingRuleKind Kind,
        MapRole? Role = null,
        ImmutableSortedDictionary<string, MapRole>? Channels = null,
        [property: JsonIgnore(Condition = JsonIgnoreCondition.Never)] bool Enabled = true,
        string? Reason = null
    );

    private static readonly JsonSerializerOptions Options = new(LookJson.Options)
    {
        UnmappedMemberHandling = JsonUnmappedMemberHandling.Disallow,
        Encoder = System.Text.Encodings.Web.JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
    };

    public static string Write(IEnumerable<StudioNamingRule> rules)
    {
        var lines = rules
            .Select(r =>
                JsonSerializer.Serialize(
                    new Written(
                        r.Rule.Phrase,
                        r.Rule.Kind,
                        r.Rule.Role,
                        r.Rule.Channels,
                        r.Enabled,
                        r.Reason.Length == 0 ? null : r.Reason
                    ),
                    Options
                )
            )
            .ToList();
        return lines.Count == 0 ? "[]\n" : $"[\n  {string.Join(",\n  ", lines)}\n]\n";
    }

    /// <returns>The rules that can be used, and everything that is wrong with the text; with nothing wrong it can be kept.</returns>
    public static (IReadOnlyList<StudioNamingRule> Rules, IReadOnlyList<TextProblem> Problems) Read(string text)
    {
        if (text.Length > LongestText)
            return ([], [new(1, $"Naming rules have at most {LongestText / 1024} kB.")]);
        try
        {
            using var whole = JsonDocument.Parse(text, new() { AllowTrailingCommas = true });
            return whole.RootElement.ValueKind == JsonValueKind.Array
                ? Each(whole.RootElement, JsonLines.Of(text))
                : ([], [new(1, "Naming rules are a list in square brackets.")]);
        }
        catch (JsonException e)
        {
            var sentence = e.Message.Contains("'/' is invalid", StringComparison.Ordinal)
                ? "Comments are not kept here; write a \"reason\" with the rule."
                : JsonFaults.Sentence(e, "The text");
            return ([], [new((int)(e.LineNumber ?? 0) + 1, sentence)]);
        }
    }

    private static (IReadOnlyList<StudioNamingRule>, IReadOnlyList<TextProblem>) Each(JsonElement list, JsonLines lines)
    {
        var rules = new List<StudioNamingRule>();
        var problems = new List<TextProblem>();
        var inForce = new Dictionary<string, int>();
        var at = 0;
        foreach (var entry in list.EnumerateArray())
        {
            var place = at++.ToString(System.Globalization.CultureInfo.InvariantCulture);
            void Say(string sentence) => problems.Add(new(lines.At(place), sentence, place));
            try
            {
                if (entry.Deserialize<Written>(Options) is not { } written)
                {
                    Say("There is nothing where a rule should be.");
                    continue;
                }
                var rule = new NamingRule(written.Phrase, written.Kind, written.Role, written.Channels);
                if (rule.Fault is { } fault)
                    Say(fault);
                else if (written.Reason?.Length > LongestReason)
                    Say($"A reason has at most {LongestReason} characters.");
                else if (written.Enabled && !inForce.TryAdd(rule.Phrase, lines.At(place)))
                    Say($"Line {inForce[rule.Phrase]} has a rule for “{rule.Phrase}” too; switch one of them off.");
                else
                    rules.Add(new(rule, written.Enabled, written.Reason ?? ""));
            }
            catch (JsonException e)
            {
                Say(JsonFaults.Sentence(e, "The rule"));
            }
        }
        return (rules, problems);
    }
}
