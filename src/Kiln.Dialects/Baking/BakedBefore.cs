using System.Collections.Concurrent;
using Kiln.Looks.Graph;

namespace Kiln.Dialects.Baking;

/// <summary>
/// Which file came of which nodes: whoever asks what a look would be with another number need not bake again what that number leaves as it
/// is. Only names and sizes are taken from it; a file itself may be gone.
/// </summary>
public sealed class BakedBefore
{
    private const int Most = 4096;

    private readonly ConcurrentDictionary<string, BakedMap> known = new();

    /// <param name="graph">In the picture's own coordinates, so that a placement which the target keeps is no part of it.</param>
    internal static string Key(ShadeGraph graph, IEnumerable<BakePart> parts, BakeTarget into, string size) =>
        $"{into.Name} {into.Space.Id} {into.GreenDown} {into.Rule} {size} "
        + string.Join(' ', parts.Select(p => $"{p.Channels}:{graph.Fingerprint(p.Node)}"));

    internal BakedMap? Find(string key) => known.GetValueOrDefault(key);

    internal void Put(string key, BakedMap map)
    {
        if (known.Count >= Most)
            known.Clear();
        known[key] = map;
    }
}
