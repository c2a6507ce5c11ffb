using System.CommandLine;
using System.Text.Json;
using Kiln.Colour.Configs;
using Kiln.Dialects.Baking;
using Kiln.Dialects.Folding;
using Kiln.Exchange.Packages;

namespace Kiln.Cli.Verbs;

/// <summary>A network of one dialect as another: read into a neutral look, and written from it. A folder's networks one after another, gone on with where a run was broken off.</summary>
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
        var json = new Option<bool>("--json");
        var command = new Command("convert", "Reads a network of one dialect, or all of a folder, and writes it as another, with a report.") { file, from, to, output, profile, config, json };
        command.SetAction((parsed, cancel) => CliSession.RunAsync(async session =>
        {
            var names = ConfigNames.Open(parsed.GetValue(config));
            var profiles = CliSession.Profiles(parsed.GetValue(profile));
            var (source, target) = (profiles.Find(parsed.GetValue(from)!), profiles.Find(parsed.GetValue(to)!));
            async Task<object> OneAsync(string path, string folder)
            {
                var network = NetworkFiles.Read(session, path, source);
                var look = await NetworkReading.ReadAsync(source, network, name => names?.OursFor(name) ?? name, new Bakery(session.Textures, session), cancel);
                var compiled = await session.Compiler(target, Colour.WorkingSpace.Find(network.WorkingSpace), names).CompileAsync(look, cancel);
                var files = session.Writer.Files(compiled.Network, target);
                WireVerb.WriteAll(files, folder, session);
                if (!parsed.GetValue(json))
                    foreach (var line in files.Select(f => f.Path).Concat(look.Remarks.Select(r => "remark: " + r)))
                        Console.WriteLine(line);
                return new { name = look.Name, files = files.Select(f => f.Path), inputs = compiled.Inputs, report = WireVerb.Report(compiled.Report), remarks = look.Remarks, findings = Array.Empty<object>() };
            }
            var (what, where) = (parsed.GetValue(file)!, parsed.GetValue(output)!);
            if (Directory.Exists(what))
            {
                var results = await BatchResults.RunAsync(what, where, $"convert {source.Id} {source.Hash} to {target.Id} {target.Hash}",
                    path => OneAsync(path, Path.Combine(where, Path.GetDirectoryName(Path.GetRelativePath(what, path))!)), CliSession.IsSentence, cancel);
                if (parsed.GetValue(json))
                    Console.WriteLine(JsonSerializer.Serialize(new { looks = results.Where(r => r.Result is not null).Select(r => r.Result), failed = results.Where(r => r.Error is not null).Select(r => new { r.File, r.Error }) }, CliSession.Json));
                return results.Any(r => r.Error is not null) ? 1 : 0;
            }
            var converted = await OneAsync(what, where);
            if (parsed.GetValue(json))
                Console.WriteLine(JsonSerializer.Serialize(new { looks = new[] { converted } }, CliSession.Json));
            return 0;
        }));
        return command;
    }
}
