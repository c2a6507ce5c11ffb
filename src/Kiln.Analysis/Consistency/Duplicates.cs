using System.Globalization;
using System.Numerics;
using Kiln.Looks.Document;
using Kiln.Looks.Ids;
using Kiln.Looks.Maps;
using Kiln.Looks.Readings;

namespace Kiln.Analysis.Consistency;

/// <summary>A look's map among others that are the same or nearly so.</summary>
public sealed record TwinMap(LookId Look, string Name, string Slot, MapFile File);

/// <param name="Kind">same: the same content; similar: nearly the same picture in another file.</param>
public sealed record TwinGroup(string Kind, MapRole Role, IReadOnlyList<TwinMap> Maps);

/// <summary>Maps that several looks have: by content, and by what the pictures look like.</summary>
public static class Duplicates
{
    /// <summary>
    /// Bits of 64 in which two pictures' likenesses may differ. Measured on the demo's maps and their recompressed and halved copies;
    /// common practice is 5 to 10.
    /// </summary>
    public const int MostBits = 6;

    /// <summary>Groups of two and more, the same before the similar, the largest first.</summary>
    public static IReadOnlyList<TwinGroup> Among(IEnumerable<(LookId Id, Look Look)> looks)
    {
        var maps = looks
            .SelectMany(l => l.Look.Slots.Select(s => (s.Value.Role, Map: new TwinMap(l.Id, l.Look.Name, s.Key, s.Value.File))))
            .ToList();
        var same = maps.GroupBy(m => (m.Role, m.Map.File.Content))
            .Where(g => g.DistinctBy(m => m.Map.Look).Count() > 1)
            .Select(g => new TwinGroup("same", g.Key.Role, [.. g.Select(m => m.Map)]));
        return
        [
            .. same.OrderByDescending(g => g.Maps.Count),
            .. maps.GroupBy(m => m.Role).SelectMany(r => Similar(r.Key, [.. r.Select(m => m.Map)])).OrderByDescending(g => g.Maps.Count),
        ];
    }

    /// <summary>Pictures that hang together by near pairs. A picture without a likeness, or with an even one, is like none.</summary>
    private static IEnumerable<TwinGroup> Similar(MapRole role, IReadOnlyList<TwinMap> maps)
    {
        var pictures = maps.GroupBy(m => m.File.Content)
            .Select(g => (Bits: Bits(g.First().File), Maps: g.ToList()))
            .Where(p => p.Bits is not (0 or ulong.MaxValue))
            .ToList();
        var parent = Enumerable.Range(0, pictures.Count).ToArray();
        int Root(int i) => parent[i] == i ? i : parent[i] = Root(parent[i]);
        for (var i = 0; i < pictures.Count; i++)
        for (var j = i + 1; j < pictures.Count; j++)
            if (BitOperations.PopCount(pictures[i].Bits ^ pictures[j].Bits) <= MostBits)
                parent[Root(j)] = Root(i);
        return Enumerable
            .Range(0, pictures.Count)
            .GroupBy(Root)
            .Where(g => g.Count() > 1)
            .Select(g => new TwinGroup("similar", role, [.. g.SelectMany(i => pictures[i].Maps)]));
    }

    private static ulong Bits(MapFile file) =>
        ulong.TryParse(file.Likeness, NumberStyles.HexNumber, CultureInfo.InvariantCulture, out var bits) ? bits : 0;
}
