using System.CommandLine;
using System.Text.Json;
using Kiln.Store;
using Kiln.Store.People;

namespace Kiln.Cli.Verbs;

/// <summary>
/// The people of a server's database: added, listed, given a password, disabled. For the first admin of a studio, and where nobody can sign
/// in any more.
/// </summary>
internal static class PeopleVerb
{
    private static readonly Actor CommandLine = new("command line");

    private static Option<string?> DatabaseOption() =>
        new("--database") { Description = "the server's database; else KILN_DATABASE", HelpName = "CONNECTION" };

    public static Command Command() =>
        new("people", "Adds people to a server, lists them, gives a password, disables.") { Add(), List(), Password(), Disable() };

    private static Command Add()
    {
        var (name, role, shown, database, json) = (
            Name(),
            new Option<string>("--role") { Required = true, Description = "viewer, artist, lead or admin" },
            new Option<string?>("--shown-name") { Description = "how the interface calls them" },
            DatabaseOption(),
            Json()
        );
        var command = new Command("add", "Adds somebody. The password is asked for, or read from standard input.")
        {
            name,
            role,
            shown,
            database,
            json,
        };
        command.SetAction((parsed, cancel) => RunAsync(parsed.GetValue(database), async opened =>
                {
                    var plain = PersonRepository.Checked(parsed.GetValue(name)!);
                    var person = await new PersonRepository(opened).AddAsync(
                        plain,
                        parsed.GetValue(shown) ?? "",
                        parsed.GetValue(role)!,
                        Passwords.Hash(plain, Asked(plain)),
                        CommandLine
                    );
                    Say(
                        parsed.GetValue(json),
                        new { name = person.Name, role = person.Role },
                        $"{person.Name} ({person.Role}) can sign in."
                    );
                }));
        return command;
    }

    private static Command List()
    {
        var (database, json) = (DatabaseOption(), Json());
        var command = new Command("list", "Lists people with role and state.") { database, json };
        command.SetAction((parsed, cancel) => RunAsync(parsed.GetValue(database), async opened =>
                {
                    var people = (await new PersonRepository(opened).ListAsync())
                        .Select(p => new
                        {
                            name = p.Name,
                            shownName = p.DisplayName,
                            role = p.Role,
                            state = p.Disabled ? "disabled"
                            : p.PasswordHash.Length == 0 ? "invited"
                            : "active",
                            lastSeen = p.LastSeen,
                        })
                        .ToList();
                    Say(
                        parsed.GetValue(json),
                        new { people },
                        string.Join('\n', people.Select(p => $"{p.name, -20} {p.role, -8} {p.state}"))
                    );
                }));
        return command;
    }

    private static Command Password()
    {
        var (name, database, json) = (Name(), DatabaseOption(), Json());
        var command = new Command(
            "password",
            "Gives somebody a new password, which is asked for or read from standard input; their sessions end."
        )
        {
            name,
            database,
            json,
        };
        command.SetAction((parsed, cancel) => RunAsync(parsed.GetValue(database), async opened =>
                {
                    var plain = PersonRepository.Checked(parsed.GetValue(name)!);
                    await new PersonRepository(opened).SetPasswordAsync(plain, Passwords.Hash(plain, Asked(plain)), CommandLine);
                    Say(parsed.GetValue(json), new { name = plain }, $"{plain} has a new password; their sessions have ended.");
                }));
        return command;
    }

    private static Command Disable()
    {
        var (name, database, json) = (Name(), DatabaseOption(), Json());
        var command = new Command("disable", "Lets somebody sign in no more; what they made stays under their name.")
        {
            name,
            database,
            json,
        };
        command.SetAction((parsed, cancel) => RunAsync(parsed.GetValue(database), async opened =>
                {
                    var person = await new PersonRepository(opened).UpdateAsync(
                        PersonRepository.Checked(parsed.GetValue(name)!),
                        null,
                        true,
                        null,
                        CommandLine
                    );
                    Say(parsed.GetValue(json), new { name = person.Name, disabled = true }, $"{person.Name} can sign in no more.");
                }));
        return command;
    }

    private static Argument<string> Name() => new("NAME") { Description = "the name they sign in with" };

    private static Option<bool> Json() => new("--json") { Description = "one JSON document on standard output" };

    private static void Say(bool json, object document, string words) =>
        Console.WriteLine(json ? JsonSerializer.Serialize(document, CliSession.Json) : words);

    private static async Task<int> RunAsync(string? connection, Func<Database, Task> work)
    {
        try
        {
            await using var opened = new Database(
                connection
                    ?? Environment.GetEnvironmentVariable("KILN_DATABASE")
                    ?? throw new ArgumentException("Say which database: --database CONNECTION, or KILN_DATABASE in the environment.")
            );
            opened.Migrate();
            await work(opened);
            return 0;
        }
        catch (Exception e) when (e is InvalidOperationException || CliSession.IsSentence(e))
        {
            Console.Error.WriteLine("kiln: " + e.Message.ReplaceLineEndings(" "));
            return 2;
        }
    }

    /// <summary>
    /// On a terminal typed twice and not shown; else one line of standard input. Never an argument, which others could see.
    /// </summary>
    private static string Asked(string name)
    {
        if (Console.IsInputRedirected)
            return Console.In.ReadLine() ?? throw new ArgumentException("There is no password on standard input.");
        var first = Typed($"Password for {name}: ");
        return first == Typed("Once more: ") ? first : throw new ArgumentException("The two are not the same.");
    }

    private static string Typed(string prompt)
    {
        Console.Error.Write(prompt);
        var text = new System.Text.StringBuilder();
        while (Console.ReadKey(intercept: true) is { Key: not ConsoleKey.Enter } key)
            if (key.Key == ConsoleKey.Backspace)
                text.Length = Math.Max(0, text.Length - 1);
            else if (!char.IsControl(key.KeyChar))
                text.Append(key.KeyChar);
        Console.Error.WriteLine();
        return text.ToString();
    }
}
