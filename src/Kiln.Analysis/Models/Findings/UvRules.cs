using Kiln.Analysis.Findings;
using Kiln.Looks.Document;
using Kiln.Looks.Maps;
using Kiln.Looks.Overrides;
using Kiln.Looks.Readings;
using Kiln.Models.Measures;
using static Kiln.Analysis.Models.Findings.ModelFindings;

namespace Kiln.Analysis.Models.Findings;

/// <summary>How maps lie on parts.</summary>
internal static class UvRules
{
    /// <summary>From which share on UVs over each other are told.</summary>
    private const double MuchOverlap = 0.02;

    /// <summary>From which share on triangles count as mirrored, and from which all of them.</summary>
    private const double SomeFlipped = 0.01,
        AllFlipped = 0.99;

    /// <summary>How much larger a map may lie on one part than on its neighbour.</summary>
    private const double MostApart = 2;

    public static IEnumerable<ModelFinding> Of(IReadOnlyList<FoundPart> parts) =>
        None(parts).Concat(Overlap(parts)).Concat(Flipped(parts)).Concat(Tiles(parts)).Concat(Density(parts));

    private static bool HasMaps(FoundPart part) => part.Look is { Slots.Count: > 0 };

    private static IEnumerable<ModelFinding> None(IReadOnlyList<FoundPart> parts)
    {
        var bare = parts.Where(p => p is { Figures: { Uvs: null }, Projection: null } && HasMaps(p)).ToList();
        if (bare.Count > 0)
            yield return new(
                "uvs.none",
                Severity.Advice,
                Paths(bare),
                $"{Names(bare)} {Has(bare)} no UVs.",
                "Maps lie on them from six sides, as large as their look says; where two sides meet they do not go on.",
                "Keep them from six sides",
                Projected(bare, "box")
            );
    }

    private static ModelRepair Projected(IEnumerable<FoundPart> parts, string kind) =>
        new(ModelRepairKind.Settings, [.. parts.Select(p => new RepairedPart(p.Path, p.Own, kind))]);

    /// <summary>What is painted for one place shows in another; nothing is wrong with it where the map repeats anyway.</summary>
    private static IEnumerable<ModelFinding> Overlap(IReadOnlyList<FoundPart> parts)
    {
        var over = parts.Where(p => p.Uvs is { Overlap: > MuchOverlap, Outside: 0 } && HasMaps(p)).ToList();
        if (over.Count > 0)
            yield return new(
                "uvs.overlap",
                Severity.Advice,
                Paths(over),
                $"UVs of {Names(over)} lie over each other.",
                $"Up to {Percent(over.Max(p => p.Uvs!.Overlap))} of what is covered is covered twice: what is painted for one place "
                    + "shows in another. A map that repeats can be used so, one that was painted for the part cannot.",
                "Make UVs from six sides",
                Projected(over, "box")
            );
    }

    private static IEnumerable<ModelFinding> Flipped(IReadOnlyList<FoundPart> parts)
    {
        var mirrored = parts.Where(p => p.Uvs is not null && HasMaps(p)).Select(p => (Part: p, Share: Mirrored(p))).ToList();
        var all = mirrored.Where(m => m.Share >= AllFlipped).Select(m => m.Part).ToList();
        if (all.Count > 0)
            yield return new(
                "uvs.flipped",
                Severity.Warning,
                Paths(all),
                $"Maps lie mirrored on {Names(all)}.",
                $"Every island is turned over: letters read backwards{Reliefs(all)}.",
                "Flip U",
                new(
                    ModelRepairKind.Settings,
                    [
                        .. all.Select(p => new RepairedPart(
                            p.Path,
                            p.Own with
                            {
                                Placement = p.Own.Placement with { MirrorU = !p.Own.Placement.MirrorU },
                            },
                            p.Projection
                        )),
                    ]
                )
            );
        var some = mirrored.Where(m => m.Share is > SomeFlipped and < AllFlipped && HasRelief(m.Part)).ToList();
        if (some.Count > 0)
        {
            var which = some.Select(m => m.Part).ToList();
            yield return new(
                "uvs.flipped",
                Severity.Advice,
                Paths(which),
                $"Some islands of {Names(which)} are mirrored under a normal map.",
                $"Up to {Percent(some.Max(m => m.Share))} of the triangles. That is meant where halves share a map; a renderer that does "
                    + "not turn the map's direction with them shows dents for bumps there."
            );
        }
    }

    /// <summary>With what the part's own placement turns over once more.</summary>
    private static double Mirrored(FoundPart part)
    {
        var share = part.Uvs!.Flipped;
        return part.Own.Placement.MirrorU ^ part.Own.Placement.MirrorV ? 1 - share : share;
    }

    private static bool HasRelief(FoundPart part) => part.Look!.Lanes.ContainsKey("geometry_normal");

    private static string Reliefs(IReadOnlyList<FoundPart> parts) =>
        parts.Any(HasRelief) ? ", and a renderer that does not turn normal maps with them shows dents for bumps" : "";

    private static IEnumerable<ModelFinding> Tiles(IReadOnlyList<FoundPart> parts)
    {
        foreach (var part in parts)
        {
            if (part.Look is not { } look || part.Uvs is not { Udims.Count: > 0 } uvs || Tiled(look) is not { Count: > 0 } tiled)
                continue;
            var missing = tiled
                .Select(s => (s.Role, Gone: uvs.Udims.Except(s.Tiles).ToList()))
                .Where(s => s.Gone.Count > 0)
                .Select(s => $"{s.Role}: {string.Join(", ", s.Gone)}")
                .ToList();
            if (missing.Count > 0)
                yield return new(
                    "udim.missing",
                    Severity.Error,
                    [part.Path],
                    $"{part.Name} lies in tiles that its look has no pictures for.",
                    $"It lies in {string.Join(", ", uvs.Udims)}. Missing: {string.Join("; ", missing)}.",
                    "Open the look",
                    ModelRepair.Of(ModelRepairKind.Look)
                );
        }
        foreach (var same in parts.Where(p => p is { Look: not null, LookKey: not null, Uvs: not null }).GroupBy(p => p.LookKey))
        {
            var (first, used) = (same.First(), same.SelectMany(p => p.Uvs!.Udims).ToHashSet());
            var unused = Tiled(first.Look!).SelectMany(s => s.Tiles).Except(used).Order().ToList();
            if (unused.Count > 0 && used.Count > 0)
                yield return new(
                    "udim.unused",
                    Severity.Advice,
                    Paths(same),
                    $"“{first.Look!.Name}” has tiles in which nothing lies.",
                    $"Unused: {string.Join(", ", unused)}. Nothing is wrong with the picture; the maps are larger than they need be.",
                    "Open the look",
                    ModelRepair.Of(ModelRepairKind.Look)
                );
        }
    }

    private static List<(string Role, IReadOnlyList<int> Tiles)> Tiled(Look look) =>
        [
            .. look
                .Slots.Values.Where(s => s.File.IsTiled)
                .Select(s => (s.Role.Label(), (IReadOnlyList<int>)[.. s.File.Tiles!.Select(t => t.Number)])),
        ];

    /// <summary>Neighbours in one look, on which it does not lie equally large.</summary>
    private static IEnumerable<ModelFinding> Density(IReadOnlyList<FoundPart> parts)
    {
        foreach (
            var same in parts
                .Where(p => p is { LookKey: not null, Figures.Density: > 0, Uvs: not null } && HasMaps(p))
                .GroupBy(p => p.LookKey)
        )
        {
            var all = same.OrderByDescending(p => p.Area).ToList();
            foreach (var (i, small) in all.Index().Skip(1))
            {
                if (all.Take(i).FirstOrDefault(large => AreNear(large, small)) is not { } large)
                    continue;
                double a = Widths(large),
                    b = Widths(small);
                if (Math.Max(a, b) / Math.Min(a, b) <= MostApart)
                    continue;
                yield return new(
                    "uvs.density",
                    Severity.Warning,
                    [small.Path, large.Path],
                    $"“{small.Look!.Name}” lies {(b > a ? "smaller" : "larger")} on {small.Name} than on {large.Name} beside it.",
                    FormattableString.Invariant(
                        $"One picture is {1000 / b:0.#} mm wide on {small.Name} and {1000 / a:0.#} mm on {large.Name}: "
                    ) + FormattableString.Invariant($"{Math.Max(a, b) / Math.Min(a, b):0.#} times apart."),
                    $"As large as on {large.Name}",
                    new(ModelRepairKind.Settings, [new(small.Path, Repeated(small.Own, a / b), small.Projection)])
                );
            }
        }
    }

    /// <summary>Pictures to a metre, with what the part's own placement repeats.</summary>
    private static double Widths(FoundPart part) =>
        part.Figures!.Density!.Value * Math.Sqrt(Math.Abs(part.Own.Placement.RepeatsU * (double)part.Own.Placement.RepeatsV));

    private static PartOverride Repeated(PartOverride own, double by)
    {
        Placement placement = own.Placement;
        return own with
        {
            Placement = placement with { RepeatsU = (float)(placement.RepeatsU * by), RepeatsV = (float)(placement.RepeatsV * by) },
        };
    }

    /// <summary>Whether their boxes touch, or nearly.</summary>
    private static bool AreNear(FoundPart a, FoundPart b)
    {
        var reach = 0.05f * Math.Max(a.Size.Max(), b.Size.Max());
        for (var axis = 0; axis < 3; axis++)
        {
            var apart = Math.Abs(a.Figures!.Middle[axis] - b.Figures!.Middle[axis]) - (a.Size[axis] + b.Size[axis]) / 2;
            if (apart > reach)
                return false;
        }
        return true;
    }
}
