using System.CommandLine;
using System.Text.Json;
using Kiln.Analysis.Fit;
using Kiln.Colour;
using Kiln.Colour.Configs;
using Kiln.Colour.Spaces;
using Kiln.Dialects.Baking;
using Kiln.Dialects.Folding;
using Kiln.Dialects.Networks;
using Kiln.Proof.Materials;

namespace Kiln.Cli.Verbs;

/// <summary>Trims that bring a look in one dialect closest to what it is in another.</summary>
internal static class FitVerb
{
    /// <summary>Enough for proofs of a hundred pixels.</summary>
    private const int Textures = 1024;

    public static Command Command()
    {
        var file = new Argument<string>("FILE");
        var from = new Option<string>("--from") { Required = true };
        var to = new Option<string>("--to") { Required = true };
        var profile = new Option<string?>("--profile");
        var config = new Option<string?>("--config");
        var output = new Option<string?>("--out") { Description = "For a folder of networks: where results are kept." };
        var material = new Option<string?>("--material")
        {
            Description = "the material to fit, by its name; needed where the file has several",
        };
        var roots = new Option<string[]>("--texture-root")
        {
            Description = "a folder in which textures may lie beside the document's own; may be given several times",
        };
        var json = new Option<bool>("--json");
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
        command.SetAction(
            (parsed, cancel) =>
                CliSession.RunAsync(async session =>
                {
                    var names = ConfigNames.Open(parsed.GetValue(config));
                    string Ours(string name) => names?.OursFor(name) ?? name;
                    var profiles = CliSession.Profiles(parsed.GetValue(profile));
                    var (source, target) = (profiles.Find(parsed.GetValue(from)!), profiles.Find(parsed.GetValue(to)!));
                    async Task<object> OneAsync(string path)
                    {
                        var network = Only(
                            new NetworkFiles(session, parsed.GetValue(roots) ?? []).Read(path, source, parsed.GetValue(material)),
                            path
                        );
                        var working = WorkingSpace.Find(network.WorkingSpace);
                        var look = await NetworkReading.ReadAsync(source, network, Ours, new Bakery(session.Textures, session), cancel);
                        var wanted = await ProofMaterial.OfNetworkAsync(network, source, session.Textures, Textures, Ours, cancel);
                        var compiler = session.Compiler(target, working, names);
                        var result = await new TrimFit(source, target, working).RunAsync(
                            await LookSpread.OfAsync(look, session.Textures, working, Textures, cancel),
                            wanted,
                            async trims =>
                                await ProofMaterial.OfNetworkAsync(
                                    (
                                        await compiler.CompileAsync(look with { Trims = look.Trims.SetItem(target.Id, trims) }, cancel)
                                    ).Network,
                                    target,
                                    session.Textures,
                                    Textures,
                                    Ours,
                                    cancel
                                ),
                            p => Console.Error.WriteLine($"{100 * p.Part:0} % {p.Sentence}"),
                            cancel
                        );
                        if (!parsed.GetValue(json))
                            Say(look.Name, result);
                        return new
                        {
                            look.Name,
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
                    if (Directory.Exists(what))
                    {
                        var results = await BatchResults.RunAsync(
                            what,
                            parsed.GetValue(output) ?? throw new ArgumentException("For a folder, --out says where its results are kept."),
                            $"fit {source.Id} {source.Hash} to {target.Id} {target.Hash}",
                            OneAsync,
                            CliSession.IsSentence,
                            cancel
                        );
                        if (parsed.GetValue(json))
                            Console.WriteLine(JsonSerializer.Serialize(new { looks = results }, CliSession.Json));
                        return results.Any(r => r.Error is not null) ? 1 : 0;
                    }
                    var found = await OneAsync(what);
                    if (parsed.GetValue(json))
                        Console.WriteLine(JsonSerializer.Serialize(found, CliSession.Json));
                    return 0;
                })
        );
        return command;
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
