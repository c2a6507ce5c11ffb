using System.CommandLine;
using System.Text.Json;
using Kiln.Store;
using Kiln.Store.Contents;

namespace Kiln.Cli.Verbs;

/// <summary>Holds a server's data against its own hashes: after a restore, or whenever one wants to be sure.</summary>
internal static class VerifyVerb
{
    public static Command Command()
    {
        var database = new Option<string>("--database") { Required = true, Description = "Connection string of the server's database." };
        var data = new Option<string>("--data") { Required = true, Description = "The server's data folder." };
        var from = new Option<string?>("--mend-from")
        {
            Description =
                "A folder with true copies (a backup's contents, the pictures as they were delivered): faulty files are replaced "
                + "by the one with the right hash. Without it nothing is written.",
            HelpName = "FOLDER",
        };
        var json = new Option<bool>("--json");
        var command = new Command("verify", "Checks every stored file, look, version and profile of a server against its hash. Only reads.")
        {
            database,
            data,
            from,
            json,
        };
        command.SetAction(
            (parsed, cancel) =>
                CliSession.RunAsync(async _ =>
                {
                    var folder = Path.Combine(parsed.GetValue(data)!, "contents");
                    if (!Directory.Exists(folder))
                        throw new FileNotFoundException($"There is no folder {folder}: --data names the server's data folder.");
                    await using var opened = new Database(parsed.GetValue(database)!);
                    var store = new ContentStore(folder);
                    var verified = await Verification.RunAsync(opened, store, cancel);
                    if (parsed.GetValue(from) is { } copies && verified.Faults.Count > 0)
                    {
                        foreach (var mended in Verification.Mend(store, verified, copies, cancel))
                            Console.Error.WriteLine($"mended: content {mended}");
                        verified = await Verification.RunAsync(opened, store, cancel);
                    }
                    if (parsed.GetValue(json))
                        Console.WriteLine(JsonSerializer.Serialize(verified, CliSession.Json));
                    else
                    {
                        foreach (var fault in verified.Faults)
                            Console.WriteLine("fault: " + fault);
                        Console.WriteLine(
                            $"{verified.Contents} files ({verified.Bytes / 1048576.0:0.0} MB), {verified.Looks} looks, "
                                + $"{verified.Versions} versions, {verified.Profiles} profile texts: "
                                + $"{(verified.Faults.Count == 0 ? "all as they were written" : $"{verified.Faults.Count} faults")}"
                        );
                        Console.WriteLine("summary " + verified.Summary);
                    }
                    return verified.Faults.Count == 0 ? 0 : 1;
                })
        );
        return command;
    }
}
