using System.CommandLine;
using Kiln.Colour.Configs;

namespace Kiln.Cli.Verbs;

/// <summary>
/// A network of one dialect as another: read into a neutral look, and written from it. A folder's networks one after another, gone on with
/// where a run was broken off.
/// </summary>
internal sealed class ConvertVerb
{
    private readonly Argument<string> file = new("FILE");
    private readonly Option<string> from = new("--from") { Required = true };
    private readonly Option<string> to = new("--to") { Required = true };
    private readonly Option<string> output = new("--out") { Required = true };
    private readonly Option<string?> profile = new("--profile");
    private readonly Option<string?> config = new("--config");
    private readonly Option<string?> material = new("--material")
    {
        Description = "the one material to convert, by its name; else all of the file",
    };
    private readonly Option<string[]> roots = NetworkFiles.Roots();
    private readonly Option<bool> json = new("--json");

    public static Command Command() => new ConvertVerb().Made();

    private Command Made()
    {
        var command = new Command("convert", "Reads a network of one dialect, or all of a folder, and writes it as another, with a report.")
        {
            file,
            from,
            to,
            output,
            profile,
            config,
            material,
            roots,
            json,
        };
        command.SetAction((parsed, cancel) => CliSession.RunAsync(session => RunAsync(session, parsed, cancel)));
        return command;
    }

    private async Task<int> RunAsync(CliSession session, ParseResult parsed, CancellationToken cancel)
    {
        var profiles = CliSession.Profiles(parsed.GetValue(profile));
        var (source, target) = (profiles.Find(parsed.GetValue(from)!), profiles.Find(parsed.GetValue(to)!));
        var isJson = parsed.GetValue(json);
        var conversion = new NetworkConversion(session, source, target, ConfigNames.Open(parsed.GetValue(config)));
        async Task<object[]> OneAsync(string path, string folder)
        {
            var files = new NetworkFiles(session, parsed.GetValue(roots) ?? []);
            var looks = new List<object>();
            foreach (var network in files.Read(path, source, parsed.GetValue(material)))
                looks.Add(await conversion.WriteAsync(network, folder, files.Remarks, isQuiet: isJson, cancel));
            return [.. looks];
        }
        var (what, where) = (parsed.GetValue(file)!, parsed.GetValue(output)!);
        if (!Directory.Exists(what))
        {
            var converted = await OneAsync(what, where);
            if (isJson)
                CliSession.Say(new { looks = converted });
            return 0;
        }
        string Folder(string path) => Path.Combine(where, Path.GetDirectoryName(path)!);
        var results = await BatchResults.RunAsync(
            what,
            where,
            $"convert every material of {source.Id} {source.Hash} to {target.Id} {target.Hash}",
            async path => await OneAsync(path, Folder(Path.GetRelativePath(what, path))),
            CliSession.IsSentence,
            cancel,
            before => conversion.Reserve(before, Folder(before.File))
        );
        if (isJson)
            CliSession.Say(
                new
                {
                    looks = results.Where(r => r.Result is not null).SelectMany(r => r.Result!.Value.EnumerateArray()),
                    failed = results.Where(r => r.Error is not null).Select(r => new { r.File, r.Error }),
                }
            );
        return results.Any(r => r.Error is not null) ? 1 : 0;
    }
}
