using System.Collections.Immutable;
using CsCheck;
using Kiln.Intake.Naming;
using Kiln.Looks.Readings;

namespace Kiln.Intake.Tests;

/// <summary>The studio's naming rules as a text: read as it was written, and every fault with its line.</summary>
public sealed class NamingRuleTextTests
{
    private static readonly Gen<string> Word = Gen.String[Gen.Char['a', 'z'], 1, 8];

    private static readonly Gen<NamingRule> Rules = Gen.Select(
            Word.Array[1, 3].Select(w => string.Join(' ', w)),
            Gen.Enum<NamingRuleKind>(),
            Gen.Enum<MapRole>(),
            Gen.Int[0, 4].Select(i => new[] { "r", "g", "b", "a", "rgb" }[i])
        )
        .Select(
            (phrase, kind, role, channel) =>
                new NamingRule(
                    phrase,
                    kind,
                    kind == NamingRuleKind.Role ? role : null,
                    kind == NamingRuleKind.Packed ? ImmutableSortedDictionary<string, MapRole>.Empty.Add(channel, role) : null
                )
        );

    [Fact]
    public void WhatIsWrittenIsReadAgain() =>
        Gen.Select(Rules, Gen.Bool, Gen.String[0, 30])
            .Select((rule, on, reason) => new StudioNamingRule(rule, on, reason))
            .List[0, 8]
            .Where(list => list.Where(r => r.Enabled).Select(r => r.Rule.Phrase).Distinct().Count() == list.Count(r => r.Enabled))
            .Sample(list =>
            {
                var (read, problems) = NamingRuleText.Read(NamingRuleText.Write(list));
                Assert.Empty(problems);
                Assert.Equal(list.Select(Told), read.Select(Told));
            });

    private static string Told(StudioNamingRule rule) => $"{rule.Rule.Sentence} {rule.Enabled} {rule.Reason}";

    /// <summary>Studio exported rules without what stands beside them; such files are read as before.</summary>
    [Fact]
    public void AnOlderFileIsRead()
    {
        var (rules, problems) = NamingRuleText.Read("""[ { "phrase": "wetness", "kind": "role", "role": "coat" } ]""");
        Assert.Empty(problems);
        Assert.Equal(new StudioNamingRule(new("wetness", NamingRuleKind.Role, MapRole.Coat)), Assert.Single(rules));
    }

    [Fact]
    public void EveryFaultHasItsLineAndTheRestIsRead()
    {
        var (rules, problems) = NamingRuleText.Read(
            """
            [
              { "phrase": "wetness", "kind": "role", "role": "coat" },
              { "phrase": "Two Words", "kind": "ignored" },
              { "phrase": "x", "kind": "rolle" },
              { "phrase": "y", "kind": "role" },
              null,
              { "phrase": "wetness", "kind": "ignored" },
              { "phrase": "wetness", "kind": "ignored", "enabled": false },
              { "phrase": "z", "kind": "ignored", "why": "x" }
            ]
            """
        );
        Assert.Equal([3, 4, 5, 6, 7, 9], problems.Select(p => p.Line));
        Assert.Equal(["1", "2", "3", "4", "5", "7"], problems.Select(p => p.Path));
        Assert.Contains("Line 2 has a rule for “wetness” too", problems[4].Sentence);
        Assert.Contains("no field 'why'", problems[5].Sentence);
        Assert.Equal(2, rules.Count);
    }

    [Theory]
    [InlineData("", 1)]
    [InlineData("{}", 1)]
    [InlineData("null", 1)]
    [InlineData("[\n  1 2\n]", 2)]
    [InlineData("[\n  // why\n]", 2)]
    public void WhatIsNoListIsASentence(string text, int line)
    {
        var (rules, problems) = NamingRuleText.Read(text);
        Assert.Empty(rules);
        Assert.Equal(line, Assert.Single(problems).Line);
        Assert.DoesNotContain("Kiln.", problems[0].Sentence);
    }

    [Fact]
    public void CommentsAreRefusedSinceTheyWouldBeLost() =>
        Assert.Contains("reason", NamingRuleText.Read("[ /* why */ ]").Problems[0].Sentence);

    [Fact]
    public void AnEndlessTextIsASentence() =>
        Assert.Contains("at most 256 kB", NamingRuleText.Read(new string(' ', NamingRuleText.LongestText + 1)).Problems[0].Sentence);
}
