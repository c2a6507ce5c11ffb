using System.CommandLine;
using Kiln.Analysis.Fit;
using Kiln.Colour.Configs;
using Kiln.Dialects.Networks;

namespace Kiln.Cli.Verbs;

/// <summary>Trims that bring a look in one dialect closest to what it is in another.</summary>
internal sealed class FitVerb
{
    private readonly Argument<string> file = new("FILE");
    private readonly Option<string> from = new("--from") { Required = true };
    private readonly Option<string> to = new("--to") { Required = true };
    private readonly Option<string?> profile = new("--profile");
    private readonly Option<string?> config = new("--config");
    private readonly Option<string?> output = new("--out") { Description = "For a folder of networks: where results are kept." };
    private readonly Option<string?> material = new("--material")
    {
        Description = "the material to fit, by its name; needed where the file has several",
    };
    private readonly Option<string[]> roots = NetworkFiles.Roots();
    private readonly Option<bool> json = new("--json");

    public static Command Command() => new FitVerb().Made();

    private Command Made()
    {
        var command = new Command("fit", "Searches trims that bring a network, as another dialect, closest to what it is in its own.")
        {
            file,
            from,
            to,
            profile,
            config,
            output,
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
        var fitting = new NetworkFitting(session, source, target, ConfigNames.Open(parsed.GetValue(config)));
        var isJson = parsed.GetValue(json);
        async Task<object> OneAsync(string path)
        {
            var files = new NetworkFiles(session, parsed.GetValue(roots) ?? []);
            var network = Only(files.Read(path, source, parsed.GetValue(material)), path);
            var (name, result) = await fitting.OfAsync(network, cancel);
            if (!isJson)
                Say(name, result);
            return new
            {
                name,
                result.Trims,
                before = Figures(result.Before),
                after = Figures(result.After),
                result.ReflectanceBefore,
                result.ReflectanceAfter,
                result.Refusal,
                seconds = Math.Round(result.Seconds, 2),
            };
        }
        var what = parsed.GetValue(file)!;
        if (!Directory.Exists(what))
        {
            var found = await OneAsync(what);
            if (isJson)
                CliSession.Say(found);
            return 0;
        }
        var results = await BatchResults.RunAsync(
            what,
            parsed.GetValue(output) ?? throw new ArgumentException("For a folder, --out says where its results are kept."),
            $"fit {source.Id} {source.Hash} to {target.Id} {target.Hash}",
            OneAsync,
            CliSession.IsSentence,
            cancel
        );
        if (isJson)
            CliSession.Say(new { looks = results });
        return results.Any(r => r.Error is not null) ? 1 : 0;
    }

    /// <summary>A fit is of one material; which one is not guessed.</summary>
    public static Network Only(IReadOnlyList<Network> networks, string path) =>
        networks is [var one]
            ? one
            : throw new ArgumentException(
                $"'{Path.GetFileName(path)}' has {networks.Count} materials; say which with --material: "
                    + $"{string.Join(", ", networks.Select(n => $"'{n.Material}'").Take(20))}."
            );

    private static void Say(string name, FitResult result)
    {
        Console.WriteLine(name);
        foreach (var trim in result.Trims)
            Console.WriteLine($"{trim.Input}: {trim.Operation} {trim.Value:0.####}");
        if (result.Refusal is { } why)
            Console.WriteLine(why);
        Console.WriteLine($"mean ΔE {result.Before.MeanDeltaE:0.00} before, {result.After.MeanDeltaE:0.00} after");
    }

    private static object Figures(FitFigures figures) =>
        new
        {
            meanDeltaE = Math.Round(figures.MeanDeltaE, 4),
            percentile95 = Math.Round(figures.Percentile95, 4),
            lights = figures.Lights.Select(l => new
            {
                l.Light,
                meanDeltaE = Math.Round(l.MeanDeltaE, 4),
                percentile95 = Math.Round(l.Percentile95, 4),
                noise = Math.Round(l.Noise, 4),
            }),
        };
}
