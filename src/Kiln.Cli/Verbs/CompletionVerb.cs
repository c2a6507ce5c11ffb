using System.CommandLine;
using System.Text;

namespace Kiln.Cli.Verbs;

/// <summary>A completion script for the shell, made from the verbs and options as they are.</summary>
internal static class CompletionVerb
{
    public static Command Command(Command root)
    {
        var shell = new Argument<string>("SHELL") { Description = "bash or zsh" };
        var command = new Command("completion", "Prints a completion script for a shell.") { shell };
        command.SetAction(parsed =>
        {
            if (parsed.GetValue(shell) is not ("bash" or "zsh"))
            {
                Console.Error.WriteLine($"kiln: there is no completion for '{parsed.GetValue(shell)}'; bash and zsh have one.");
                return 2;
            }
            Console.Write((parsed.GetValue(shell) == "zsh" ? "autoload -U +X bashcompinit && bashcompinit\n" : "") + Bash(root));
            return 0;
        });
        return command;
    }

    internal static string Bash(Command root)
    {
        var text = new StringBuilder("_kiln() {\n  local cur=\"${COMP_WORDS[COMP_CWORD]}\" words=\"\"\n  case \"${COMP_WORDS[1]}\" in\n");
        foreach (var verb in root.Subcommands)
        {
            var options = verb.Options.Concat(verb.Subcommands.SelectMany(c => c.Options)).Select(o => o.Name).Distinct();
            var words = verb.Subcommands.Select(c => c.Name).Concat(options).Append("--help");
            text.Append($"    {verb.Name}) words=\"{string.Join(' ', words)}\" ;;\n");
        }
        text.Append("  esac\n");
        text.Append(
            "  [ \"$COMP_CWORD\" -eq 1 ] && "
                + $"words=\"{string.Join(' ', root.Subcommands.Select(c => c.Name).Concat(["--help", "--version"]))}\"\n"
        );
        text.Append(
            "  COMPREPLY=($(compgen -W \"$words\" -- \"$cur\") $(compgen -f -- \"$cur\"))\n}\ncomplete -o filenames -F _kiln kiln ./kiln\n"
        );
        return text.ToString();
    }
}
