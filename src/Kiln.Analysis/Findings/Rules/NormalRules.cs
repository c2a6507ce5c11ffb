using Kiln.Looks.Document;
using Kiln.Looks.Edits;
using Kiln.Looks.Readings;
using Kiln.Looks.Steps;
using Kiln.Looks.Steps.Kinds.Numbers;
using Kiln.Looks.Steps.Kinds.Reliefs;

namespace Kiln.Analysis.Findings.Rules;

/// <summary>Directions: the way green points, decoding, length, block noise.</summary>
internal static class NormalRules
{
    public static IEnumerable<Finding> Of(FindingContext c) =>
        c
            .Mapped.Where(m => m.Slot.Role == MapRole.Normal)
            .SelectMany(m => Decoding(m).Concat(Direction(m)).Concat(Quality(c, m)))
            .Concat(c.Lanes.SelectMany(Cut));

    /// <summary>
    /// Directions run from −1 to 1; a step after their making that keeps less than that turns every slope to one side into none.
    /// </summary>
    private static IEnumerable<Finding> Cut(PlacedLane lane)
    {
        if (lane.Lane.Chain is not { } chain)
            yield break;
        var isDirection = false;
        foreach (var step in chain.Steps.Where(s => !s.Bypassed))
        {
            isDirection = isDirection || step is DecodeNormalStep or HeightToNormalStep;
            (float Low, float High)? kept = step switch
            {
                RemapStep { Clamp: true } r => (Math.Min(r.InLow, r.InHigh), Math.Max(r.InLow, r.InHigh)),
                ClampStep c => (c.Low, c.High),
                PowerStep => (0, float.PositiveInfinity),
                _ => null,
            };
            if (isDirection && kept is { } range && (range.Low > -1 || range.High < 1))
                yield return new(
                    "normal.cut",
                    Severity.Error,
                    lane.Address.Text,
                    $"The {Word(step)} step of {lane.Address.Label} comes after the directions are made and keeps "
                        + $"only {Range(range)} of them: slopes to one side are lost.",
                    "the components of a direction run from −1 to 1",
                    "take the step out",
                    new LaneEdit(lane.Address, lane.Lane with { Chain = chain with { Steps = [.. chain.Steps.Where(s => s != step)] } })
                );
        }
    }

    private static string Range((float Low, float High) range) =>
        float.IsInfinity(range.High) ? $"what is above {range.Low:0.##}" : $"{range.Low:0.##} to {range.High:0.##}";

    private static IEnumerable<Finding> Decoding(MappedLane m)
    {
        if (m.Input is not { IsDirection: true })
            yield break;
        var decodes = m.Chain.Steps.Where(s => s is DecodeNormalStep { Bypassed: false }).ToList();
        if (decodes.Count == 0)
            yield return new(
                "normal.direction",
                Severity.Error,
                m.Address.Text,
                $"{m.Slot.File.Name} is wired without being decoded.",
                "stored vectors run from 0 to 1 and must be turned into directions",
                "insert a decode step",
                new StepInsertEdit(m.Address, 0, new DecodeNormalStep(new Feed(1)) { Id = m.FreeId })
            );
        if (decodes.Count > 1)
            yield return new(
                "normal.direction",
                Severity.Error,
                m.Address.Text,
                $"{m.Slot.File.Name} is decoded {decodes.Count} times.",
                "one decode step is enough",
                "take the others out",
                m.WithSteps(m.Chain.Steps.Where(s => s is not DecodeNormalStep { Bypassed: false } || s == decodes[0]))
            );
    }

    private static IEnumerable<Finding> Direction(MappedLane m)
    {
        var stated = m.Origin.Reading.NormalY ?? NormalY.Up;
        if (m.Measured.Direction is not { Direction: { } found } evidence || stated == found)
            yield break;
        var mended = m.Origin.Reading with { NormalY = found };
        yield return new(
            "normal.direction",
            Severity.Error,
            m.Address.Text,
            $"{m.Slot.File.Name} is read with Y {Word(stated)}, but its pixels say Y {Word(found)}: bumps look like dents under "
                + "light from above.",
            evidence.Sentence,
            $"read it with Y {Word(found)}",
            m.Reread(mended, evidence.Sentence)
        )
        {
            Pictures =
            [
                new(m.Slot.File.Content, m.Origin.Reading, "relief as read now, lit from the upper left"),
                new(m.Slot.File.Content, mended, "relief the other way"),
            ],
        };
    }

    private static IEnumerable<Finding> Quality(FindingContext c, MappedLane m)
    {
        if (m.Measured.Content is not { } content)
            yield break;
        if (
            content.UnitShare < c.Thresholds.UnitShare
            && !content.IsTwoChannelNormal
            && !content.IsConstant
            && m.Slot.File.Channels.Count >= 3
        )
            yield return new(
                "normal.not-unit",
                Severity.Warning,
                m.Address.Text,
                $"Many vectors of {m.Slot.File.Name} are not of unit length: it was filtered, blended or is no normal map.",
                $"{content.UnitShare:P0} of the vectors have unit length within 0.12; {c.Thresholds.UnitShare:P0} are expected"
            )
            {
                Pictures = [new(m.Slot.File.Content, m.Origin.Reading, "striped: not of unit length") { Mark = PictureMarks.NotUnit }],
            };
        if (m.Slot.File.Format == "jpeg" && content.Probe.BlockNoise > c.Thresholds.BlockSteps)
            yield return new(
                "normal.jpeg",
                Severity.Warning,
                m.Address.Text,
                $"{m.Slot.File.Name} has JPEG blocks, which light up as a grid on shiny surfaces.",
                $"steps between 8-pixel blocks are {content.Probe.BlockNoise:0.0} times those inside",
                MapRules.Better(m, f => f.Format != "jpeg") is { } other ? $"use {other.Name}" : null,
                MapRules.Better(m, f => f.Format != "jpeg") is { } lossless ? MapRules.Exchange(m, lossless) : null
            )
            {
                Pictures = [new(m.Slot.File.Content, m.Origin.Reading, "64 pixels from the middle") { Crop = 64 }],
            };
    }

    private static string Word(Step step) =>
        step switch
        {
            RemapStep => "remap",
            ClampStep => "clamp",
            _ => "power",
        };

    private static string Word(NormalY y) => y.ToString().ToLowerInvariant();
}
