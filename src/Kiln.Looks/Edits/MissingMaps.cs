using System.Collections.Immutable;
using Kiln.Looks.Document;
using Kiln.Looks.Graph;
using Kiln.Pixels;

namespace Kiln.Looks.Edits;

/// <summary>
/// A look without the lanes whose maps are gone, for documents that may not name a file that is not there. What was left out is told.
/// </summary>
public static class MissingMaps
{
    /// <param name="has">Whether the file with a content (SHA-256) is there.</param>
    public static (Look Look, IReadOnlyList<string> Remarks) TakenOut(Look look, Func<ContentHash, bool> has)
    {
        if (look.FilesWithVariants().All(f => f.Contents.All(has)))
            return (look, []);
        var graph = new ShadeGraph();
        var inputs = new LaneGraphs(look, graph, displaces: true);
        var remarks = new List<string>();
        var gone = new HashSet<string>();
        foreach (var name in look.Lanes.Keys)
        {
            if (inputs.Input(name) is not { } node)
                continue;
            var missing = graph
                .Needed([node])
                .Select(n => graph[n].Image?.File)
                .Where(f => f is not null && !f.Contents.All(has))
                .Select(f => f!.Name)
                .Distinct()
                .Order(StringComparer.Ordinal)
                .ToList();
            if (missing.Count == 0)
                continue;
            gone.Add(name);
            remarks.Add(
                $"{LaneAddress.InWords(name)}: {string.Join(" and ", missing.Select(m => $"'{m}'"))} "
                    + $"{(missing.Count == 1 ? "is" : "are")} not there, so the input is left at its default."
            );
        }
        return (look with { Lanes = look.Lanes.Where(l => !gone.Contains(l.Key)).ToImmutableSortedDictionary() }, remarks);
    }
}
