using System.CommandLine;
using System.Diagnostics;
using System.Text.RegularExpressions;
using Kiln.Cli.Help;
using Kiln.Cli.Verbs;

namespace Kiln.Cli.Tests;

/// <summary>The verbs and options by themselves: explained, exemplified, completed, and refused where they are wrong.</summary>
public sealed partial class CommandTreeTests
{
    private static readonly Command Root = CommandTree.Root();

    private static IEnumerable<Command> All(Command command) => command.Subcommands.SelectMany(All).Prepend(command);

    public static TheoryData<string> Verbs => [.. Root.Subcommands.Select(c => c.Name)];

    [Theory]
    [MemberData(nameof(Verbs))]
    public void EveryOptionAndArgumentHasASentence(string verb)
    {
        foreach (var command in All(Root.Subcommands.Single(c => c.Name == verb)))
        {
            Assert.False(string.IsNullOrWhiteSpace(command.Description), command.Name);
            Assert.All(command.Options, o => Assert.False(string.IsNullOrWhiteSpace(o.Description), $"{command.Name} {o.Name}"));
            Assert.All(command.Arguments, a => Assert.False(string.IsNullOrWhiteSpace(a.Description), $"{command.Name} {a.Name}"));
        }
    }

    public static TheoryData<string> Examples => [.. ProgramHelp.Examples.Values.SelectMany(e => e).Distinct()];

    /// <summary>What the help shows can be typed.</summary>
    [Theory]
    [MemberData(nameof(Examples))]
    public void EveryExampleIsUnderstood(string line)
    {
        var own = Words().Matches(line[line.IndexOf("kiln ", StringComparison.Ordinal)..]).Select(m => m.Value.Trim('"')).Skip(1);
        var parsed = Root.Parse([.. own.TakeWhile(w => w != ">")]);
        Assert.Empty(parsed.Errors);
        Assert.NotSame(Root, parsed.CommandResult.Command);
    }

    [Theory]
    [MemberData(nameof(Verbs))]
    public void EveryVerbHasAnExample(string verb) => Assert.Contains(verb, ProgramHelp.Examples.Keys);

    [Theory]
    [InlineData("frobnicate", "frobnicate")]
    [InlineData("proof a.mtlx --ligth overcast", "--ligth")]
    [InlineData("proof a.mtlx --samples many", "--samples")]
    [InlineData("intake", "intake")]
    public void WhatIsWrongIsNamed(string line, string named) =>
        Assert.Contains(Root.Parse(line.Split(' ')).Errors, e => e.Message.Contains(named, StringComparison.Ordinal));

    /// <summary>By bash itself: what it offers after the words typed so far.</summary>
    [Theory]
    [InlineData("kiln ''", "intake wire convert proof check model bind fit colour batch verify people demo completion --help --version")]
    [InlineData("kiln pro", "proof")]
    [InlineData("kiln proof --li", "--light")]
    [InlineData("kiln people l", "list")]
    public void TheShellOffersIt(string typed, string offered)
    {
        using var empty = new TemporaryFolder();
        var script = $"""
            {CompletionVerb.Bash(Root)}
            COMP_WORDS=({typed}); COMP_CWORD=$((${"{#COMP_WORDS[@]}"} - 1)); _kiln; printf '%s\n' "${"{COMPREPLY[@]}"}"
            """;
        using var bash = Process.Start(
            new ProcessStartInfo("bash", ["-c", script]) { RedirectStandardOutput = true, WorkingDirectory = empty.Path }
        )!;
        var said = bash.StandardOutput.ReadToEnd().Split('\n', StringSplitOptions.RemoveEmptyEntries);
        bash.WaitForExit();
        Assert.Equal(offered.Split(' ').Order(), said.Order());
    }

    [GeneratedRegex("\"[^\"]*\"|\\S+")]
    private static partial Regex Words();
}
