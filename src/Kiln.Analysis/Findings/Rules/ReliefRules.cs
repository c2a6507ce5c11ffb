using Kiln.Looks.Document;
using Kiln.Looks.Edits;
using Kiln.Looks.Steps.Kinds.Reliefs;

namespace Kiln.Analysis.Findings.Rules;

/// <summary>Displacement, and relief that is there twice.</summary>
internal static class ReliefRules
{
    public static IEnumerable<Finding> Of(FindingContext c) => c.Look.Displacement.On ? Displaced(c) : [];

    private static IEnumerable<Finding> Displaced(FindingContext c)
    {
        var d = c.Look.Displacement;
        if (d.Subdivision == 0)
            yield return new(
                "displace.none",
                Severity.Error,
                "displacement",
                "Displacement is on, but the mesh is not subdivided: only its corners move.",
                "subdivision 0",
                "subdivide 3 times",
                With(c, d with { Subdivision = 3 })
            );
        var size = MathF.Min(c.Look.SizeU, c.Look.SizeV);
        if (d.HeightMetres > c.Thresholds.DisplacementOfSize * size)
            yield return new(
                "displace.height",
                Severity.Warning,
                "displacement",
                "The displacement is out of proportion to the surface.",
                $"{d.HeightMetres:0.###} m on {size:0.###} m of surface; {c.Thresholds.DisplacementOfSize:P0} is common practice, "
                    + "no source",
                $"bring it to {0.02f * size:0.###} m",
                With(c, d with { HeightMetres = 0.02f * size, BoundMetres = 0.02f * size })
            );
        if (c.Mapped.FirstOrDefault(m => m.Address.Is("displacement")) is { } map)
            foreach (var finding in OfMap(c, map))
                yield return finding;
    }

    private static LookEdit With(FindingContext c, Displacement changed, ReliefMode? mode = null) =>
        new ReliefEdit(mode ?? c.Look.Relief, changed);

    /// <summary>What the map that moves the surface asks of the settings.</summary>
    private static IEnumerable<Finding> OfMap(FindingContext c, MappedLane map)
    {
        var d = c.Look.Displacement;
        var expected = Midpoint(map);
        if (MathF.Abs(expected.Value - d.Midpoint) > 0.25f)
            yield return new(
                "displace.midpoint",
                Severity.Error,
                "displacement",
                $"The midpoint {d.Midpoint:0.##} is wrong for {map.Slot.File.Name}: the whole surface swells or sinks.",
                expected.Why,
                $"set it to {expected.Value:0.##}",
                With(c, d with { Midpoint = expected.Value, MidpointReason = expected.Why })
            );
        if (d.Level is { } level && 1 << level < Math.Max(map.Slot.File.Width, map.Slot.File.Height))
            yield return new(
                "displace.level",
                Severity.Warning,
                "displacement",
                $"Level {level} reads {1 << level} texels of a map that has {map.Slot.File.Width}: detail is lost.",
                $"2^{level} = {1 << level}",
                $"set it to {Level(map)}",
                With(c, d with { Level = Level(map) })
            );
        var shaded = c.Mapped.FirstOrDefault(m =>
            m.Address.Is("geometry_normal")
            && m.Slot.File.Content == map.Slot.File.Content
            && m.Chain.Steps.Any(s => s is HeightToNormalStep { Bypassed: false })
        );
        if (shaded is not null && c.Look.Relief == ReliefMode.Shading)
            yield return new(
                "relief.double",
                Severity.Warning,
                "displacement",
                $"{map.Slot.File.Name} moves the surface and bends its shading at the same time: its relief counts twice.",
                "the same picture feeds displacement and the normal",
                "share the frequencies out",
                With(c, d, ReliefMode.Both)
            );
    }

    /// <summary>
    /// Integer files have it in the middle (common practice, no source); floats at zero, unless the values say otherwise.
    /// </summary>
    private static (float Value, string Why) Midpoint(MappedLane map)
    {
        if (!map.Slot.File.IsFloat)
            return (0.5f, $"{map.Slot.File.Bits}-bit integer heights have their middle at 0.5");
        return map.Measured is { Content: not null, Darkest: >= 0, Mean: > 0.35f and < 0.65f }
            ? (0.5f, $"float heights around {map.Measured.Mean:0.00} and never negative have their middle at 0.5")
            : (0f, "float heights have their middle at 0");
    }

    private static int Level(MappedLane map) => (int)MathF.Ceiling(MathF.Log2(Math.Max(map.Slot.File.Width, map.Slot.File.Height)));
}
