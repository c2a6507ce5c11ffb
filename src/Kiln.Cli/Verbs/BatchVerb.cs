using System.CommandLine;
using Kiln.Colour.Configs;
using Kiln.Dialects.Profiles;
using Kiln.Proof.Rendering;
using Kiln.Store;
using Kiln.Store.Collections;
using Kiln.Store.Contents;
using Kiln.Store.Looks;

namespace Kiln.Cli.Verbs;

/// <summary>
/// A collection of a server as packages of one dialect, written without the server: errors are kept by look, and the others are written all
/// the same.
/// </summary>
internal sealed class BatchVerb
{
    private readonly Option<string> database = new("--database") { Required = true };
    private readonly Option<string> data = new("--data") { Required = true };
    private readonly Option<string> collection = new("--collection") { Required = true };
    private readonly Option<string> dialect = new("--dialect") { Required = true };
    private readonly Option<string> output = new("--out") { Required = true };
    private readonly Option<string?> profile = new("--profile");
    private readonly Option<string?> config = new("--config");
    private readonly Option<bool> drafts = new("--drafts")
    {
        Description = "writes looks as they are now; without it, the newest published version of each, and looks without one are left out",
    };
    private readonly Option<bool> json = new("--json");

    public static Command Command() => new BatchVerb().Made();

    private Command Made()
    {
        var command = new Command("batch", "Writes a collection of a server's database as packages of a dialect.")
        {
            database,
            data,
            collection,
            dialect,
            output,
            profile,
            config,
            drafts,
            json,
        };
        command.SetAction((parsed, cancel) => CliSession.RunAsync(session => RunAsync(session, parsed, cancel)));
        return command;
    }

    private async Task<int> RunAsync(CliSession session, ParseResult parsed, CancellationToken cancel)
    {
        var profiles = CliSession.Profiles(parsed.GetValue(profile));
        var target = profiles.Find(parsed.GetValue(dialect)!);
        await using var opened = new Database(parsed.GetValue(database)!);
        var store = new ContentStore(Path.Combine(parsed.GetValue(data)!, "contents"));
        var writing = new CollectionWriting(opened, store, session, profiles, ConfigNames.Open(parsed.GetValue(config)));
        var name = parsed.GetValue(collection);
        var wanted = (await new CollectionRepository(opened).ListAsync()).FirstOrDefault(c => c.Name == name)
            ?? throw new ArgumentException($"There is no collection '{name}' in that database.");
        var folder = Directory.CreateDirectory(parsed.GetValue(output)!).FullName;
        var (isJson, isDraft) = (parsed.GetValue(json), parsed.GetValue(drafts));
        var results = new List<object>();
        var failed = 0;
        foreach (var row in await new LookListRepository(opened).DocumentsAsync(wanted.Id))
        {
            try
            {
                var (number, file, report) = await writing.WriteAsync(row, target, isDraft, folder, cancel);
                results.Add(
                    new
                    {
                        name = row.Name,
                        version = number,
                        file,
                        report = WireVerb.Report(report),
                    }
                );
                if (!isJson)
                    Console.WriteLine($"{row.Name} ({(number is { } v ? $"version {v}" : "draft")}): {file}");
            }
            catch (Exception e) when (CliSession.IsSentence(e))
            {
                failed++;
                results.Add(new { name = row.Name, error = e.Message });
                Console.Error.WriteLine($"{row.Name}: {e.Message}");
            }
        }
        if (isJson)
            CliSession.Say(new { looks = results });
        return failed > 0 ? 1 : 0;
    }
}
