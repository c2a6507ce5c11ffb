using System.CommandLine;
using System.Text.Json;
using Kiln.Colour.Configs;
using Kiln.Dialects.Baking;
using Kiln.Dialects.Folding;
using Kiln.Exchange.Packages;

namespace Kiln.Cli.Verbs;

/// <summary>A network of one dialect as another: read into a neutral look, and written from it.</summary>
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
        var command = new Command("convert", "Reads a network of one dialect and writes it as another, with a report.") { file, from, to, output, profile, config, json };
        command.SetAction((parsed, cancel) => CliSession.RunAsync(async session =>
        {
            var names = ConfigNames.Open(parsed.GetValue(config));
            var profiles = CliSession.Profiles(parsed.GetValue(profile));
            var (source, target) = (profiles.Find(parsed.GetValue(from)!), profiles.Find(parsed.GetValue(to)!));
            var network = NetworkFiles.Read(session, parsed.GetValue(file)!, source);
            var look = await NetworkReading.ReadAsync(source, network, name => names?.OursFor(name) ?? name, new Bakery(session.Textures, session), cancel);
            var compiled = await session.Compiler(target, Colour.WorkingSpace.Find(network.WorkingSpace), names).CompileAsync(look, cancel);
            var files = LookWriter.Files(compiled.Network, target, CliSession.TileCarrier(), session);
            WireVerb.WriteAll(files, parsed.GetValue(output)!, session);
            if (parsed.GetValue(json))
                Console.WriteLine(JsonSerializer.Serialize(new { looks = new[] { new { name = look.Name, files = files.Select(f => f.Path), inputs = compiled.Inputs, report = WireVerb.Report(compiled.Report), remarks = look.Remarks, findings = Array.Empty<object>() } } }, CliSession.Json));
            else
                foreach (var line in files.Select(f => f.Path).Concat(look.Remarks.Select(r => "remark: " + r)))
                    Console.WriteLine(line);
            return 0;
        }));
        return command;
    }
}
