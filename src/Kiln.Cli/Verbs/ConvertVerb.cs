using System.CommandLine;
using System.Text.Json;
using Kiln.Colour.Configs;
using Kiln.Colour.Spaces;
using Kiln.Dialects.Baking;
using Kiln.Dialects.Folding;
using Kiln.Dialects.Networks;
using Kiln.Exchange.Packages;
using Kiln.Looks.Edits;

namespace Kiln.Cli.Verbs;

/// <summary>
/// A network of one dialect as another: read into a neutral look, and written from it. A folder's networks one after another, gone on with
/// where a run was broken off.
/// </summary>
internal static class ConvertVerb
{
    public static Command Command()
    {
        var file = new Argument<string>("FILE");
        var from = new Option<string>("--from") { Required = true };
        var to = new Option<string>("--to") { Required = true };
        var output = new Option<string>("--out") { Required = true };
        var profile = new Option<string?>("--profile");
        var config = new Option<string?>("--config");
        var material = new Option<string?>("--material") { Description = "the one material to convert, by its name; else all of the file" };
        var roots = new Option<string[]>("--texture-root")
        {
            Description = "a folder in which textures may lie beside the document's own; may be given several times",
        };
        var json = new Option<bool>("--json");
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
        command.SetAction(
            (parsed, cancel) =>
                CliSession.RunAsync(async session =>
                {
                    var names = ConfigNames.Open(parsed.GetValue(config));
                    var profiles = CliSession.Profiles(parsed.GetValue(profile));
                    var (source, target) = (profiles.Find(parsed.GetValue(from)!), profiles.Find(parsed.GetValue(to)!));
                    var written = new Dictionary<string, WrittenNames>();
                    async Task<object[]> OneAsync(string path, string folder)
                    {
                        var files = new NetworkFiles(session, parsed.GetValue(roots) ?? []);
                        var networks = files.Read(path, source, parsed.GetValue(material));
                        var looks = new List<object>();
                        foreach (var network in networks)
                            looks.Add(await LookAsync(network, folder, files.Remarks));
                        return [.. looks];
                    }
                    async Task<object> LookAsync(Network network, string folder, IReadOnlyList<string> said)
                    {
                        var read = await NetworkReading.ReadAsync(
                            source,
                            network,
                            name => names?.OursFor(name) ?? name,
                            new Bakery(session.Textures, session),
                            cancel
                        );
                        var (look, missing) = MissingMaps.TakenOut(read, session.Has);
                        var compiled = await session
                            .Compiler(target, Colour.Spaces.WorkingSpace.Find(network.WorkingSpace), names)
                            .CompileAsync(look, cancel);
                        if (!written.TryGetValue(folder, out var taken))
                            written[folder] = taken = new();
                        var apart = taken.Apart(compiled.Network);
                        var files = session.Writer.Files(apart, target);
                        WireVerb.WriteAll(files, folder, session);
                        string[] remarks =
                        [
                            .. look.Remarks,
                            .. said.Where(s => network.Textures.Any(t => s.Contains($"'{t.Path}'", StringComparison.Ordinal))),
                            .. missing,
                            .. WireVerb.Renamed(compiled.Network, apart),
                        ];
                        foreach (var remark in remarks.Except(said))
                            Console.Error.WriteLine("kiln: " + remark);
                        if (!parsed.GetValue(json))
                            foreach (var line in files.Select(f => f.Path))
                                Console.WriteLine(line);
                        return new
                        {
                            name = look.Name,
                            files = files.Select(f => f.Path),
                            inputs = WireVerb.Inputs(compiled, apart),
                            report = WireVerb.Report(compiled.Report),
                            remarks,
                            findings = Array.Empty<object>(),
                        };
                    }
                    var (what, where) = (parsed.GetValue(file)!, parsed.GetValue(output)!);
                    if (Directory.Exists(what))
                    {
                        string Folder(string path) => Path.Combine(where, Path.GetDirectoryName(path)!);
                        var results = await BatchResults.RunAsync(
                            what,
                            where,
                            $"convert every material of {source.Id} {source.Hash} to {target.Id} {target.Hash}",
                            async path => await OneAsync(path, Folder(Path.GetRelativePath(what, path))),
                            CliSession.IsSentence,
                            cancel,
                            before => Reserve(before, Folder(before.File))
                        );
                        if (parsed.GetValue(json))
                            Console.WriteLine(
                                JsonSerializer.Serialize(
                                    new
                                    {
                                        looks = results.Where(r => r.Result is not null).SelectMany(r => r.Result!.Value.EnumerateArray()),
                                        failed = results.Where(r => r.Error is not null).Select(r => new { r.File, r.Error }),
                                    },
                                    CliSession.Json
                                )
                            );
                        return results.Any(r => r.Error is not null) ? 1 : 0;
                    }
                    var converted = await OneAsync(what, where);
                    if (parsed.GetValue(json))
                        Console.WriteLine(JsonSerializer.Serialize(new { looks = converted }, CliSession.Json));
                    return 0;

                    // What an earlier run wrote keeps its names.
                    void Reserve(BatchResult before, string folder)
                    {
                        if (!written.TryGetValue(folder, out var taken))
                            written[folder] = taken = new();
                        foreach (
                            var path in before
                                .Result!.Value.EnumerateArray()
                                .SelectMany(l => l.GetProperty("files").EnumerateArray())
                                .Select(f => f.GetString()!)
                        )
                            if (File.Exists(Path.Combine(folder, path)))
                                taken.Reserve(path, CliSession.HashOf(Path.Combine(folder, path)));
                    }
                })
        );
        return command;
    }
}
