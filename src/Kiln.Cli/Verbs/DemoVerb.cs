using System.CommandLine;
using Kiln.Demo;

namespace Kiln.Cli.Verbs;

/// <summary>Makes the demo deliveries; used by ./start and the tests.</summary>
internal static class DemoVerb
{
    public static Command Command()
    {
        var folder = new Argument<string>("FOLDER");
        var size = new Option<int>("--size") { DefaultValueFactory = _ => 1024 };
        var command = new Command("demo", "Makes the demo deliveries in a folder.") { folder, size };
        command.SetAction((parsed, _) => CliSession.RunAsync(_ =>
        {
            DemoDeliveries.Make(parsed.GetValue(folder)!, Math.Clamp(parsed.GetValue(size), 64, 4096));
            return Task.FromResult(0);
        }));
        return command;
    }
}
