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
        var library = new Option<int>("--library") { Description = "make a library of this many surfaces instead, for measurements" };
        var maps = new Option<int>("--maps") { Description = "files a surface of the library, 5 to 7", DefaultValueFactory = _ => 5 };
        var command = new Command("demo", "Makes the demo deliveries in a folder.") { folder, size, library, maps };
        command.SetAction(
            (parsed, _) =>
                CliSession.RunAsync(_ =>
                {
                    var pixels = Math.Clamp(parsed.GetValue(size), 64, 4096);
                    if (parsed.GetValue(library) is > 0 and var surfaces)
                        DemoLibrary.Make(parsed.GetValue(folder)!, surfaces, pixels, Math.Clamp(parsed.GetValue(maps), 5, 7));
                    else
                        DemoDeliveries.Make(parsed.GetValue(folder)!, pixels);
                    return Task.FromResult(0);
                })
        );
        return command;
    }
}
