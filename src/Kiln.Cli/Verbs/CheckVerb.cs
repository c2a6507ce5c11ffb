using System.CommandLine;
using System.Text.Json;
using Kiln.Analysis.Findings;
using Kiln.Intake;
using Kiln.Intake.Wiring;
using Kiln.Looks.Document;

namespace Kiln.Cli.Verbs;

internal static class CheckVerb
{
    public static Command Command()
    {
        var paths = new Argument<string[]>("PATH") { Arity = ArgumentArity.OneOrMore };
        var dialect = new Option<string?>("--dialect");
        var rules = new Option<string?>("--rules");
        var json = new Option<bool>("--json");
        var command = new Command("check", "Says what is probably wrong, with evidence.") { paths, dialect, rules, json };
        command.SetAction(
            (parsed, cancel) =>
                CliSession.RunAsync(async session =>
                {
                    var thresholds = parsed.GetValue(rules) is { } file ? Thresholds(file) : new StudioThresholds();
                    var findings = new List<Finding>();
                    var (intake, listing) = await session.IntakeAsync(parsed.GetValue(paths)!, cancel);
                    findings.AddRange(
                        intake.Rejected.Select(r => new Finding("map.missing", Severity.Error, r.Path, r.Error, "the file was refused"))
                    );
                    var wired = intake.Sets.Select(set => (Set: set, Look: SetWiring.Wire(set))).ToList();
                    var contents = wired.ToLookup(w => Nameless(w.Look), w => w.Look.Name);
                    foreach (var (set, look) in wired)
                    {
                        findings.AddRange(Contradictions(set));
                        var profile = parsed.GetValue(dialect) is { } id ? CliSession.Profiles(null).Find(id) : null;
                        var network = profile is null ? null : (await session.Compiler(profile).CompileAsync(look, cancel)).Network;
                        var context = new FindingContext(
                            look,
                            await session.Measuring.OfAsync(look, cancel),
                            session.Has,
                            thresholds,
                            profile,
                            network
                        )
                        {
                            Twins = [.. contents[Nameless(look)].Where(n => n != look.Name)],
                        };
                        findings.AddRange(LookFindings.Of(context).Select(f => f with { Subject = $"{set.Name}: {f.Subject}" }));
                    }
                    if (parsed.GetValue(json))
                        Console.WriteLine(JsonSerializer.Serialize(new { findings = findings.Select(Line) }, CliSession.Json));
                    else
                        foreach (var f in findings)
                            Console.WriteLine(
                                $"{f.Severity.ToString().ToLowerInvariant(), -8} {f.Code, -24} {f.Subject}: {f.Message} ({f.Evidence})"
                            );
                    return findings.Any(f => f.Severity == Severity.Error) ? 1 : 0;
                })
        );
        return command;
    }

    /// <summary>The studio's thresholds as JSON; what the file leaves out keeps its default.</summary>
    private static StudioThresholds Thresholds(string file)
    {
        try
        {
            return JsonSerializer.Deserialize<StudioThresholds>(
                File.ReadAllText(file),
                new JsonSerializerOptions(JsonSerializerDefaults.Web)
                {
                    UnmappedMemberHandling = System.Text.Json.Serialization.JsonUnmappedMemberHandling.Disallow,
                }
            )!;
        }
        catch (JsonException e)
        {
            throw new ArgumentException($"The rules in '{file}' cannot be read: {e.Message}", e);
        }
    }

    /// <summary>What a look is, its name aside.</summary>
    private static string Nameless(Look look) => LookJson.Hash(look with { Name = "", Tags = [] });

    /// <summary>A delivery whose names and pixels disagree about the normal direction, or whose pictures contradict their names.</summary>
    private static IEnumerable<Finding> Contradictions(MapSet set) =>
        from map in set.Maps
        from sentence in map.Evidence
        where sentence.Contains("the pixels are believed", StringComparison.Ordinal)
        select new Finding(
            "normal.direction",
            Severity.Error,
            $"{set.Name}: {map.Path}",
            "The file's name and its pixels disagree about the normal direction.",
            sentence,
            "read it as the pixels say"
        );

    public static object Line(Finding f) =>
        new
        {
            code = f.Code,
            severity = f.Severity,
            subject = f.Subject,
            message = f.Message,
            evidence = f.Evidence,
            fix = f.Fix,
        };
}
