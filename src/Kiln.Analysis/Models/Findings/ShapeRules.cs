using Kiln.Analysis.Findings;
using static Kiln.Analysis.Models.Findings.ModelFindings;

namespace Kiln.Analysis.Models.Findings;

/// <summary>Sizes, places and normals of parts.</summary>
internal static class ShapeRules
{
    /// <summary>Beyond these a model is taken to be in another unit, in metres.</summary>
    private const float Huge = 50,
        Tiny = 0.004f;

    /// <summary>Against the size of a part, how near another of its shape is the same place.</summary>
    private const float SamePlace = 1e-3f;

    /// <summary>From which share on normals that point to the back are told.</summary>
    private const double SomeBack = 0.01;

    public static IEnumerable<ModelFinding> Of(IReadOnlyList<FoundPart> parts) =>
        Unit(parts).Concat(Twins(parts)).Concat(Normals(parts)).Concat(Unmeasured(parts));

    private static IEnumerable<ModelFinding> Unit(IReadOnlyList<FoundPart> parts)
    {
        var largest = parts.Where(p => p.Size.Count == 3).Select(p => p.Size.Max()).DefaultIfEmpty(1).Max();
        if (parts.Count == 0 || largest is >= Tiny and <= Huge)
            yield break;
        yield return new(
            "unit.suspicious",
            Severity.Warning,
            Paths(parts.Where(p => p.Size.Count == 3 && p.Size.Max() == largest)),
            $"The model is {Long(largest)} long. {(largest > Huge ? "Centimetres, or millimetres?" : "Metres, or inches?")}",
            "Maps of a stated size lie on made UVs by the model's metres, and a package says them; the picture is the same in any unit."
        );
    }

    private static string Long(float metres) =>
        metres > 1 ? FormattableString.Invariant($"{metres:0.#} m") : FormattableString.Invariant($"{1000 * metres:0.##} mm");

    private static IEnumerable<ModelFinding> Twins(IReadOnlyList<FoundPart> parts)
    {
        foreach (var alike in parts.Where(p => p is { Figures: not null, Triangles: > 0 }).GroupBy(p => p.Triangles))
        {
            var all = alike.ToList();
            for (var i = 1; i < all.Count; i++)
                if (all.Take(i).FirstOrDefault(o => IsTwin(o, all[i])) is { } other)
                    yield return new(
                        "part.twin",
                        Severity.Warning,
                        [all[i].Path, other.Path],
                        $"{all[i].Name} lies where {other.Name} does.",
                        $"Both have {all[i].Triangles} triangles, the same size and the same place: which of the two is seen is chance."
                    );
        }
    }

    private static bool IsTwin(FoundPart a, FoundPart b)
    {
        var reach = SamePlace * a.Size.Max();
        return Enumerable
                .Range(0, 3)
                .All(axis =>
                    Math.Abs(a.Size[axis] - b.Size[axis]) <= reach && Math.Abs(a.Figures!.Middle[axis] - b.Figures!.Middle[axis]) <= reach
                )
            && Math.Abs(a.Area - b.Area) <= SamePlace * Math.Max(a.Area, b.Area);
    }

    /// <summary>Before anything was measured nothing is said to be in order.</summary>
    private static IEnumerable<ModelFinding> Unmeasured(IReadOnlyList<FoundPart> parts)
    {
        var unknown = parts.Where(p => p.Figures is null).ToList();
        if (unknown.Count > 0)
            yield return new(
                "figures.none",
                Severity.Advice,
                Paths(unknown),
                $"UVs and normals of {Names(unknown)} were not measured.",
                "The model came in before that was done. Bring its file in again to have them checked."
            );
    }

    private static IEnumerable<ModelFinding> Normals(IReadOnlyList<FoundPart> parts)
    {
        var back = parts.Where(p => p.Figures is { BackNormals: > SomeBack }).ToList();
        if (back.Count > 0)
            yield return new(
                "normals.back",
                Severity.Warning,
                Paths(back),
                $"Normals of {Names(back)} point to the back of their faces.",
                $"At up to {Percent(back.Max(p => p.Figures!.BackNormals))} of the triangles: they are shaded as if seen from inside. "
                    + "The faces or the normals are turned over in the file."
            );
        var none = parts.Where(p => p.Figures is { HasNormals: false }).ToList();
        if (none.Count > 0)
            yield return new(
                "normals.none",
                Severity.Advice,
                Paths(none),
                $"{Names(none)} {Has(none)} no normals in the file.",
                "They are made: faces that meet at less than 40 degrees are smooth."
            );
    }
}
