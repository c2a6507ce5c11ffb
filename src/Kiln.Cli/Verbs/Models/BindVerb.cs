using System.CommandLine;
using Kiln.Models;
using Kiln.Models.Binding;

namespace Kiln.Cli.Verbs.Models;

/// <summary>Which set of maps belongs to which part of a model, by their names.</summary>
internal static class BindVerb
{
    public static Command Command()
    {
        var model = new Argument<string>("MODEL") { Description = $"a model ({string.Join(", ", ModelFiles.Endings)})" };
        var maps = new Option<string[]>("--maps")
        {
            Description = "folders, zips or files with maps",
            Required = true,
            AllowMultipleArgumentsPerToken = true,
        };
        var json = new Option<bool>("--json");
        var command = new Command("bind", "Says which maps belong to which part of a model.") { model, maps, json };
        command.SetAction(
            (parsed, cancel) =>
                CliSession.RunAsync(async session =>
                {
                    var parts = ModelFiles.Read(parsed.GetValue(model)!, CliSession.Program).Parts;
                    var (intake, _) = await session.IntakeAsync(parsed.GetValue(maps)!, cancel);
                    var bound = new NameBinding(intake.Sets.Select(s => s.Name)).Of(parts);
                    if (parsed.GetValue(json))
                        CliSession.Say(
                            new
                            {
                                bindings = bound.Bindings,
                                unbound = bound.Unbound,
                                unusedSets = bound.UnusedSets,
                                questions = bound.Questions,
                            }
                        );
                    else
                        Print(bound);
                    return 0;
                })
        );
        return command;
    }

    private static void Print(BoundParts bound)
    {
        foreach (var b in bound.Bindings)
            Console.WriteLine($"{b.Part}: {b.Set} ({b.Confidence:0.00}; {string.Join("; ", b.Evidence)})");
        foreach (var q in bound.Questions)
            Console.WriteLine($"{q.Part}: {string.Join(" or ", q.Candidates)}?");
        foreach (var part in bound.Unbound)
            Console.WriteLine($"{part}: no maps");
        foreach (var set in bound.UnusedSets)
            Console.WriteLine($"set {set}: no part");
    }
}
