using System.CommandLine;
using System.Text.Json;
using Kiln.Intake;
using Kiln.Intake.Listing;
using Kiln.Intake.Naming;
using Kiln.Looks.Readings;

namespace Kiln.Cli.Verbs;

internal static class IntakeVerb
{
    public static Command Command()
    {
        var paths = new Argument<string[]>("PATH") { Description = "folders, zips or files", Arity = ArgumentArity.OneOrMore };
        var json = new Option<bool>("--json");
        var rules = new Option<string?>("--rules") { Description = "studio naming rules, as Studio writes them (JSON)" };
        var command = new Command("intake", "Finds the surfaces in a delivery and what each file is.") { paths, json, rules };
        command.SetAction(
            (parsed, cancel) =>
                CliSession.RunAsync(async session =>
                {
                    var (result, _) = await session.IntakeAsync(
                        parsed.GetValue(paths)!,
                        cancel,
                        NamingRuleFile.Read(parsed.GetValue(rules))
                    );
                    if (parsed.GetValue(json))
                        Console.WriteLine(JsonSerializer.Serialize(Document(result), CliSession.Json));
                    else
                        Print(result);
                    // A file that was named itself and cannot be read is unreadable input; one among others of a folder is not.
                    var unreadable = parsed
                        .GetValue(paths)!
                        .Where(p => File.Exists(p))
                        .Select(p => (Path: p, Refused: result.Rejected.FirstOrDefault(r => r.Path == Path.GetFileName(p))))
                        .Where(p => p.Refused is not null)
                        .ToList();
                    foreach (var (path, refused) in unreadable)
                        Console.Error.WriteLine($"kiln: '{path}' cannot be read: {refused!.Error.ReplaceLineEndings(" ")}");
                    return unreadable.Count > 0 ? 2 : 0;
                })
        );
        return command;
    }

    private static object Document(IntakeResult result) =>
        new
        {
            sets = result.Sets.Select(s => new
            {
                name = s.Name,
                maps = s.Maps.Select(m => Map(m)),
                alternates = s.Alternates.Select(a => Map(a.Map, a.InsteadOf, a.Reason)),
                previews = s.Previews,
                tags = s.Tags,
            }),
            unsorted = result.Unsorted.Select(Loose),
            setAside = result.SetAside.Select(Loose),
            rejected = result.Rejected.Select(r => new { path = r.Path, error = r.Error }),
            questions = result.Questions.Select(q => new
            {
                phrase = q.Phrase,
                roles = q.Roles.Select(r => r.Id()),
                paths = q.Paths,
            }),
            reflectionPairs = result.ReflectionPairs.Select(p => new
            {
                set = p.Set,
                reflection = p.Reflection,
                specular = p.Specular,
            }),
            models = result.Models,
        };

    private static Dictionary<string, object?> Map(PlacedMap m, string? insteadOf = null, string? reason = null)
    {
        var map = new Dictionary<string, object?>
        {
            ["path"] = m.Path,
            ["role"] = m.Role.Id(),
            ["channel"] = m.Channel.Word(),
            ["reading"] = new
            {
                kind = m.Reading.Kind,
                space = m.Reading.Space,
                reason = m.Reading.Reason,
            },
            ["normalY"] = m.NormalY,
            ["normalYConfidence"] = m.NormalYConfidence,
            ["width"] = m.Width,
            ["height"] = m.Height,
            ["bits"] = m.Bits,
            ["float"] = m.Float,
            ["udim"] = m.Udim,
            ["confidence"] = MathF.Round(m.Confidence, 3),
            ["evidence"] = m.Evidence,
        };
        if (m.AmbiguousPhrase is not null)
            map["ambiguous"] = m.AmbiguousRoles.Select(r => r.Id()).ToArray();
        if (insteadOf is not null)
            (map["insteadOf"], map["reason"]) = (insteadOf, reason);
        return map;
    }

    private static object Loose(LooseFile f) =>
        f.File is null
            ? new { path = f.Path, reason = f.Reason }
            : new
            {
                path = f.Path,
                reason = f.Reason,
                width = f.File.Width,
                height = f.File.Height,
                bits = f.File.Bits,
                @float = f.File.IsFloat,
            };

    private static void Print(IntakeResult result)
    {
        foreach (var set in result.Sets)
        {
            Console.WriteLine(set.Name);
            foreach (var m in set.Maps)
                Console.WriteLine(
                    $"  {m.Role.Label(), -18} {m.Path}  [{m.Channel.Word()}, "
                        + $"{m.Reading.Space}{(m.NormalY is { } y ? $", Y {y.ToString().ToLowerInvariant()}" : "")}] "
                        + $"{m.Width}x{m.Height} {m.Bits} bit{(m.Asks ? $"  ? {m.Confidence:0.00}: {m.Evidence[^1]}" : "")}"
                );
            foreach (var a in set.Alternates)
                Console.WriteLine($"  ({a.Map.Role.Label()}) {a.Map.Path}: {a.Reason}");
        }
        foreach (var q in result.Questions)
            Console.WriteLine(
                $"question   “{q.Phrase}” in {q.Paths.Length} file{(q.Paths.Length == 1 ? "" : "s")}: "
                    + $"{string.Join(" or ", q.Roles.Select(r => r.Label()))}?"
            );
        foreach (var p in result.ReflectionPairs)
            Console.WriteLine(
                $"question   {p.Set}: '{p.Reflection}' and '{p.Specular}' both speak of the reflection: an amount and a colour, "
                    + "or two layers?"
            );
        foreach (var f in result.Unsorted)
            Console.WriteLine($"unsorted   {f.Path}: {f.Reason}");
        foreach (var f in result.SetAside)
            Console.WriteLine($"set aside  {f.Path}: {f.Reason}");
        foreach (var f in result.Rejected)
            Console.WriteLine($"refused    {f.Path}: {f.Error}");
    }
}

/// <summary>Studio naming rules as a file: a JSON list of rules, as Studio writes and the server keeps them.</summary>
internal static class NamingRuleFile
{
    /// <exception cref="DeliveryException">The file is not there, is no list of rules, or a rule cannot be used; the message says
    /// which.</exception>
    public static IReadOnlyList<NamingRule> Read(string? path)
    {
        if (path is null)
            return [];
        if (!File.Exists(path))
            throw new DeliveryException($"There is no rules file at '{path}'.");
        var (rules, problems) = NamingRuleText.Read(File.ReadAllText(path));
        return problems is [var first, ..]
            ? throw new DeliveryException($"{Path.GetFileName(path)}, line {first.Line}: {first.Sentence}")
            : [.. rules.Where(r => r.Enabled).Select(r => r.Rule)];
    }
}
