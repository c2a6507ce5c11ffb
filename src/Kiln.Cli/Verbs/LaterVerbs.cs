using System.CommandLine;

namespace Kiln.Cli.Verbs;

/// <summary>Verbs of the contract that this version does not have: one line, exit status 2.</summary>
internal static class LaterVerbs
{
    private static readonly string[] Names = ["verify", "batch"];

    public static IEnumerable<Command> Commands() => Names.Select(name =>
    {
        var command = new Command(name, "Comes in a later version.") { TreatUnmatchedTokensAsErrors = false };
        command.SetAction(_ =>
        {
            Console.Error.WriteLine($"kiln: '{name}' comes in a later version.");
            return 2;
        });
        return command;
    });
}
