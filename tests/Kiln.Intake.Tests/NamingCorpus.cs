using Kiln.Looks.Readings;

namespace Kiln.Intake.Tests;

/// <summary>One file of the naming corpus with what is true of it.</summary>
/// <param name="Surface">Null for previews, readmes and models.</param>
/// <param name="Truth">Roles by channel ("" for the whole file), or empty where no name could tell ("ask").</param>
public sealed record CorpusFile(string Delivery, string Path, string? Surface, IReadOnlyDictionary<string, MapRole> Truth, string Kind);

/// <summary>Reads Corpus/naming-*.txt; the form is explained at the head of those files.</summary>
public static class NamingCorpus
{
    public static IReadOnlyList<CorpusFile> Read(string half)
    {
        var files = new List<CorpusFile>();
        string delivery = "",
            surface = "";
        foreach (var line in File.ReadLines(Path.Combine(AppContext.BaseDirectory, "Corpus", $"naming-{half}.txt")))
        {
            if (line.Length == 0 || line[0] == '#')
                continue;
            if (line.StartsWith("delivery ", StringComparison.Ordinal))
                delivery = line[9..];
            else if (line.StartsWith("surface ", StringComparison.Ordinal))
                surface = line[8..];
            else
                files.AddRange(Line(delivery, surface, line));
        }
        return files;
    }

    private static IEnumerable<CorpusFile> Line(string delivery, string surface, string line)
    {
        var at = line.LastIndexOf(" : ", StringComparison.Ordinal);
        var pattern = line[..at];
        foreach (var pair in line[(at + 3)..].Split(' ', StringSplitOptions.RemoveEmptyEntries))
        {
            var cut = pair.IndexOf('=');
            var token = pair[..cut] == "-" ? "" : pair[..cut].Replace('·', ' ');
            var truth = pair[(cut + 1)..];
            var path = pattern.Replace("*", token);
            if (truth is "preview" or "readme" or "model")
                yield return new(delivery, path, null, new Dictionary<string, MapRole>(), truth);
            else if (truth == "ask")
                yield return new(delivery, path, surface, new Dictionary<string, MapRole>(), truth);
            else
                yield return new(delivery, path, surface, Channels(truth), "map");
        }
    }

    private static Dictionary<string, MapRole> Channels(string truth)
    {
        if (!truth.Contains('+'))
            return new() { [""] = MapRoles.Parse(truth) };
        var parts = truth.Split('+');
        // "baseColor+++opacity": colour in rgb, opacity in alpha.
        if (parts is [var first, "", "", var alpha] && MapRoles.Parse(first).Kind() == ReadingKind.Colour)
            return new() { ["rgb"] = MapRoles.Parse(first), ["a"] = MapRoles.Parse(alpha) };
        return parts
            .Select((p, i) => (p, c: "rgba"[i].ToString()))
            .Where(p => p.p is not ("" or "."))
            .ToDictionary(p => p.c, p => MapRoles.Parse(p.p));
    }
}
