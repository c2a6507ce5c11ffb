using System.CommandLine;
using System.Text.Json;
using Kiln.Analysis.Findings;
using Kiln.Colour.Configs;
using Kiln.Colour.Spaces;
using Kiln.Dialects.Networks;
using Kiln.Dialects.Profiles;
using Kiln.Exchange.Packages;
using Kiln.Intake.Wiring;
using Kiln.Looks.Document;
using Kiln.Looks.Readings;
using Kiln.Looks.Steps.Kinds.Numbers;

namespace Kiln.Cli.Verbs;

internal sealed class WireVerb
{
    private readonly Argument<string[]> paths = new("PATH") { Arity = ArgumentArity.OneOrMore };
    private readonly Option<string> dialect = new("--dialect") { Required = true };
    private readonly Option<string> output = new("--out") { Required = true };
    private readonly Option<string?> profile = new("--profile");
    private readonly Option<string> working = new("--working") { DefaultValueFactory = _ => "acescg" };
    private readonly Option<string?> config = new("--config");
    private readonly Option<bool> convert = new("--convert-textures");
    private readonly Option<float?> occlusion = new("--occlusion");
    private readonly Option<bool> json = new("--json");

    public static Command Command() => new WireVerb().Made();

    private Command Made()
    {
        var command = new Command("wire", "Intake, wiring and writing in one go: one network per surface.")
        {
            paths,
            dialect,
            output,
            profile,
            working,
            config,
            convert,
            occlusion,
            json,
        };
        command.SetAction((parsed, cancel) => CliSession.RunAsync(session => RunAsync(session, parsed, cancel)));
        return command;
    }

    private async Task<int> RunAsync(CliSession session, ParseResult parsed, CancellationToken cancel)
    {
        var names = ConfigNames.Open(parsed.GetValue(config));
        var space = WorkingSpace.Find(parsed.GetValue(working)!);
        var profiles = CliSession.Profiles(parsed.GetValue(profile));
        var target = profiles.Find(parsed.GetValue(dialect)!);
        var (intake, _) = await session.IntakeAsync(parsed.GetValue(paths)!, cancel, config: names);
        var looks = new List<object>();
        var errors = 0;
        var written = new WrittenNames();
        foreach (var (at, set) in intake.Sets.Index())
        {
            CliProgress.Say($"writing {at + 1} of {intake.Sets.Length}: {set.Name}");
            var look = SetWiring.Wire(set, set.Name);
            if (parsed.GetValue(occlusion) is { } amount)
                look = OcclusionInBase(look, amount);
            var compiled = await session.Compiler(target, space, names, parsed.GetValue(convert)).CompileAsync(look, cancel);
            CliProgress.Clear();
            var apart = written.Apart(compiled.Network);
            var files = session.Writer.Files(apart, target);
            string[] remarks = [.. look.Remarks, .. Renamed(compiled.Network, apart)];
            foreach (var remark in remarks)
                Console.Error.WriteLine("kiln: " + remark);
            WriteAll(files, parsed.GetValue(output)!, session);
            var findings = LookFindings.Of(look, await session.Measuring.OfAsync(look, cancel), session.Has, target, compiled.Network);
            errors += findings.Count(f => f.Severity == Severity.Error);
            looks.Add(
                new
                {
                    name = set.Name,
                    files = files.Select(f => f.Path),
                    inputs = Inputs(compiled, apart),
                    report = Report(compiled.Report),
                    remarks,
                    findings = findings.Select(CheckVerb.Line),
                }
            );
            if (!parsed.GetValue(json))
                Console.WriteLine($"{set.Name}: {string.Join(", ", files.Select(f => f.Path))}");
        }
        if (parsed.GetValue(json))
            Console.WriteLine(JsonSerializer.Serialize(new { looks }, CliSession.Json));
        return errors > 0 ? 1 : 0;
    }

    public static Look OcclusionInBase(Look look, float amount)
    {
        if (
            !look.Slots.ContainsKey(MapRole.AmbientOcclusion.Id())
            || look.Lanes.GetValueOrDefault("base_color")?.Chain is not { } chain
            || look.Lanes["occlusion"].Chain is not { } ao
        )
            return look;
        var step = new OcclusionStep(ao, new Feed(amount)) { Id = $"s{chain.Steps.Length + 1}" };
        return look with { Lanes = look.Lanes.SetItem("base_color", new(Chain: chain with { Steps = chain.Steps.Add(step) })) };
    }

    /// <summary>The inputs as the document has them, with the names under which their textures were written.</summary>
    public static IEnumerable<InputSummary> Inputs(CompiledLook compiled, Network apart)
    {
        var paths = compiled.Network.Textures.Zip(apart.Textures).ToDictionary(t => t.First.Path, t => t.Second.Path);
        return compiled.Inputs.Select(i => i.Texture is { } texture ? i with { Texture = paths.GetValueOrDefault(texture, texture) } : i);
    }

    /// <summary>What was written under another name than its own, so that nothing of another look was overwritten.</summary>
    public static IEnumerable<string> Renamed(Network compiled, Network apart)
    {
        if (compiled.Material != apart.Material)
            yield return $"Another look is written as '{compiled.Material}'; this one is '{apart.Material}'.";
        foreach (var (own, other) in compiled.Textures.Zip(apart.Textures).Where(t => t.First.Path != t.Second.Path))
            yield return $"'{own.Path}' holds another picture of another look; this one's is '{other.Path}'.";
    }

    public static object Report(ConversionReport r) =>
        new
        {
            exact = r.Exact,
            approximated = r.Approximated,
            baked = r.Baked,
            lost = r.Lost,
        };

    public static void WriteAll(IReadOnlyList<WrittenFile> files, string folder, CliSession session)
    {
        foreach (var file in files)
        {
            var target = Path.Combine(folder, file.Path);
            Directory.CreateDirectory(Path.GetDirectoryName(target)!);
            if (file.Content is { } content && !session.Has(content))
                continue;
            using var to = File.Create(target);
            file.CopyTo(to, session);
        }
    }
}
