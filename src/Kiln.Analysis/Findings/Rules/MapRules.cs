using Kiln.Looks.Document;
using Kiln.Looks.Edits;
using Kiln.Looks.Maps;
using Kiln.Looks.Readings;
using Kiln.Looks.Steps.Kinds;

namespace Kiln.Analysis.Findings.Rules;

/// <summary>The files themselves: gone, unused, constant, mixed sizes, too few bits, seams, twice the same.</summary>
internal static class MapRules
{
    public static IEnumerable<Finding> Of(FindingContext c) =>
        Missing(c)
            .Concat(Unused(c))
            .Concat(c.Mapped.SelectMany(m => Constant(m).Concat(Bits(m)).Concat(Seam(c, m))))
            .Concat(HollowBits(c))
            .Concat(Mixed(c))
            .Concat(Tiles(c))
            .Concat(Twice(c));

    private static IEnumerable<Finding> Missing(FindingContext c) =>
        from slot in c.Look.Slots
        where !slot.Value.File.Contents.All(c.Exists)
        let other = slot.Value.Candidates.FirstOrDefault(f => f.Content != slot.Value.File.Content && c.Exists(f.Content))
        select new Finding(
            "map.missing",
            Severity.Error,
            slot.Key,
            $"{slot.Value.File.Name} is gone: the {slot.Value.Role.Label()} lane has no picture.",
            $"no stored content {slot.Value.File.Content.Short}…",
            other is null ? null : $"use {other.Name} instead",
            other is null ? null : new SlotEdit(slot.Key, slot.Value with { File = other })
        );

    private static IEnumerable<Finding> Unused(FindingContext c)
    {
        var read = c.Mapped.Select(m => m.Origin.Slot).ToHashSet();
        foreach (var (name, slot) in c.Look.Slots.Where(s => !read.Contains(s.Key)))
        {
            var source = FreeName(c.Look, slot.Role.Label());
            yield return new(
                "map.unused",
                Severity.Advice,
                name,
                $"Nothing reads {slot.File.Name}.",
                $"a {slot.Role.Label()} map that no lane begins with",
                "keep it at hand as a source",
                new LaneEdit(LaneAddress.OfSource(source), new(Chain: new(new SlotOrigin(name, UsualOf(slot.Role)))))
            );
        }
    }

    private static string FreeName(Look look, string wanted) =>
        Enumerable.Range(1, 99).Select(i => i == 1 ? wanted : $"{wanted} {i}").First(n => !look.Sources.ContainsKey(n));

    private static IEnumerable<Finding> Constant(MappedLane m)
    {
        if (
            m.Measured.Content is not { IsConstant: true } content
            || m.Input is not { IsScalar: true }
            || m.Origin.Reading is not { Kind: ReadingKind.Scalar, Space.IsRaw: true } reading
            || m.Chain.Steps.Any(s => s is not PlaceStep)
        )
            yield break;
        var value = content.Mean[
            reading.Channel switch
            {
                MapChannel.G when content.Mean.Length > 1 => 1,
                MapChannel.B when content.Mean.Length > 2 => 2,
                MapChannel.A => content.Mean.Length - 1,
                _ => 0,
            }
        ];
        yield return new(
            "map.constant",
            Severity.Advice,
            m.Address.Text,
            $"{m.Slot.File.Name} is {value:0.###} everywhere: a value does the same without a file.",
            "its darkest and brightest pixels are one 8-bit code apart at most",
            $"use the value {value:0.###}",
            new LaneEdit(m.Address, new(LookValue.Of(MathF.Round(value, 4))))
        );
    }

    private static IEnumerable<Finding> Bits(MappedLane m)
    {
        var relief = m.Slot.Role is MapRole.Height or MapRole.Bump or MapRole.Normal;
        if (relief && m.Slot.File.Bits <= 8 && Better(m, f => f.Bits > 8) is { } deeper)
            yield return new(
                "map.bits",
                Severity.Warning,
                m.Address.Text,
                $"{m.Slot.File.Name} has 8 bits, and {deeper.Name} with {deeper.Bits} came with it: slopes show the steps of 8 bits.",
                "255 steps over the whole height",
                $"use {deeper.Name}",
                Exchange(m, deeper)
            );
        if (
            m.Slot.Role is MapRole.Height or MapRole.Bump
            && m.Slot.File.Bits <= 8
            && m.Measured is { Levels: { } levels, Darkest: var low, Brightest: var high }
            && levels.Count(l => l > 0) is var used
            && used is > 2 and < 48
            && (high - low) * 255 > used * 1.5f
        )
            yield return new(
                "map.bits",
                Severity.Warning,
                m.Address.Text,
                $"{m.Slot.File.Name} is banded: its heights come in few steps.",
                $"{used} levels between {low:0.00} and {high:0.00}"
            )
            {
                Pictures = [new(m.Slot.File.Content, m.Origin.Reading, "a piece at full size") { Crop = 128 }],
            };
    }

    /// <summary>Whether a lane reads them or not: whoever uses them later should know.</summary>
    private static IEnumerable<Finding> HollowBits(FindingContext c) =>
        from slot in c.Look.Slots
        where c.Measured(slot.Value.File).Content?.Probe.EightBitContent == true
        select new Finding(
            "map.bits",
            slot.Value.Role is MapRole.Height or MapRole.Bump or MapRole.Normal ? Severity.Warning : Severity.Advice,
            slot.Key,
            $"{slot.Value.File.Name} is a 16-bit file with 8-bit content: the finer steps are not there.",
            "every sampled value is an 8-bit code repeated or shifted"
        );

    private static IEnumerable<Finding> Seam(FindingContext c, MappedLane m)
    {
        // Tiles are painted for a model and need not repeat.
        if (
            m.Slot.File.IsTiled
            || m.Measured.Content?.Probe is not { } probe
            || Math.Max(probe.SeamAcross, probe.SeamDown) is var step && step <= c.Thresholds.SeamSteps
        )
            yield break;
        yield return new(
            "map.seam",
            Severity.Warning,
            m.Address.Text,
            $"The {(probe.SeamAcross >= probe.SeamDown ? "left and right" : "top and bottom")} edges of {m.Slot.File.Name} do not "
                + "meet: repeated, it shows a line.",
            $"the step over the seam is {step:0.0} times the largest one inside"
        )
        {
            Pictures = [new(m.Slot.File.Content, m.Origin.Reading, "its edges brought together in the middle") { Halved = true }],
        };
    }

    private static IEnumerable<Finding> Mixed(FindingContext c)
    {
        var used = c.Mapped.Select(m => m.Origin.Slot).Distinct().Select(s => (Name: s, Slot: c.Look.Slots[s])).ToList();
        if (used.Count < 2)
            yield break;
        var usual = used.GroupBy(s => (s.Slot.File.Width, s.Slot.File.Height))
            .OrderByDescending(g => g.Count())
            .ThenByDescending(g => g.Key.Width)
            .First()
            .Key;
        foreach (var (name, slot) in used.Where(s => (s.Slot.File.Width, s.Slot.File.Height) != usual))
        {
            var aspect = Math.Abs((float)slot.File.Width / slot.File.Height - (float)usual.Width / usual.Height) > 0.01f;
            var fitting = slot.Candidates.FirstOrDefault(f => (f.Width, f.Height) == usual && c.Exists(f.Content));
            yield return new(
                "map.mixed",
                aspect ? Severity.Warning : Severity.Advice,
                name,
                $"{slot.File.Name} is {slot.File.Width} × {slot.File.Height} where the other maps are {usual.Width} × "
                    + $"{usual.Height}{(aspect ? ": it is stretched over them" : "")}.",
                $"{used.Count(s => (s.Slot.File.Width, s.Slot.File.Height) == usual)} of {used.Count} maps share a size",
                fitting is null ? null : $"use {fitting.Name}",
                fitting is null ? null : new SlotEdit(name, slot with { File = fitting })
            );
        }
    }

    /// <summary>A tile that one map has and another lacks.</summary>
    private static IEnumerable<Finding> Tiles(FindingContext c)
    {
        var used = c.Mapped.Select(m => m.Origin.Slot).Distinct().Select(s => (Name: s, c.Look.Slots[s].File)).ToList();
        var all = used.SelectMany(s => s.File.Tiles ?? []).Select(t => t.Number).Distinct().Order().ToList();
        // A packed file lies in several slots; it is said of it once.
        foreach (var (name, file) in used.DistinctBy(s => s.File))
            if (all.Except(file.Tiles?.Select(t => t.Number) ?? []).ToList() is { Count: > 0 } missing)
                yield return new(
                    "map.mixed",
                    Severity.Warning,
                    name,
                    file.Tiles is null
                        ? $"{file.Name} is one picture where the other maps come in tiles."
                        : $"{file.Name} has no tile {string.Join(", ", missing)}: there the surface has no such map.",
                    $"the maps of this look have the tiles {string.Join(", ", all)}"
                );
    }

    private static IEnumerable<Finding> Twice(FindingContext c) =>
        from same in c.Look.Slots.GroupBy(s => s.Value.File.Content)
        // A packed file lies in several slots under one name, rightly.
        where same.Select(s => s.Value.File.Name).Distinct().Count() > 1
        select new Finding(
            "dup.map",
            Severity.Advice,
            same.Skip(1).First().Key,
            $"The same picture lies in {string.Join(" and ", same.Select(s => s.Key))}.",
            $"both hold content {same.Key.Short}…: " + $"{string.Join(", ", same.Select(s => s.Value.File.Name).Distinct())}"
        )
        {
            Pictures =
            [
                .. same.Take(2)
                    .Select(s => new EvidencePicture(s.Value.File.Content, UsualOf(s.Value.Role), $"{s.Key}: {s.Value.File.Name}")),
            ],
        };

    private static Reading UsualOf(MapRole role) =>
        new(
            role.Kind(),
            role.Kind() == ReadingKind.Colour ? "srgb_texture" : "raw",
            role.Kind() == ReadingKind.Scalar ? MapChannel.Luminance : MapChannel.Rgb
        );

    /// <summary>The best other candidate of a map's slot that fits; the largest first.</summary>
    public static MapFile? Better(MappedLane m, Func<MapFile, bool> fits) =>
        m
            .Slot.Candidates.Where(f => f.Content != m.Slot.File.Content && fits(f) && f.Width >= m.Slot.File.Width)
            .OrderByDescending(f => f.Width)
            .ThenByDescending(f => f.Bits)
            .FirstOrDefault();

    public static SlotEdit Exchange(MappedLane m, MapFile file) => new(m.Origin.Slot, m.Slot with { File = file });
}
