using System.CommandLine;
using Kiln.Cli.Help;
using Kiln.Cli.Verbs;
using Kiln.Cli.Verbs.Models;

namespace Kiln.Cli;

/// <summary>All verbs with their options.</summary>
internal static class CommandTree
{
    public static Command Root()
    {
        var root = ProgramHelp.Explained(
            new Command("kiln", "PBR maps to correct looks, for every renderer.")
            {
                IntakeVerb.Command(),
                WireVerb.Command(),
                ConvertVerb.Command(),
                ProofVerb.Command(),
                CheckVerb.Command(),
                ModelVerb.Command(),
                BindVerb.Command(),
                FitVerb.Command(),
                ColourVerb.Command(),
                BatchVerb.Command(),
                VerifyVerb.Command(),
                PeopleVerb.Command(),
                DemoVerb.Command(),
            }
        );
        root.Add(CompletionVerb.Command(root));
        return root;
    }
}
