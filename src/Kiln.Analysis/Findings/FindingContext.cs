using Kiln.Dialects.Networks;
using Kiln.Dialects.Profiles;
using Kiln.Looks.Document;
using Kiln.Looks.Edits;
using Kiln.Looks.Inputs;
using Kiln.Looks.Maps;
using Kiln.Looks.Readings;
using Kiln.Looks.Steps;
using Kiln.Looks.Steps.Table;
using Kiln.Pixels;

namespace Kiln.Analysis.Findings;

/// <summary>A lane with where it stands. <paramref name="Input"/> is null for sources and masks.</summary>
public sealed record PlacedLane(LaneAddress Address, NeutralInput? Input, Lane Lane);

/// <summary>A chain that begins with a slot's file.</summary>
public sealed record MappedLane(
    LaneAddress Address,
    NeutralInput? Input,
    Lane Lane,
    Chain Chain,
    SlotOrigin Origin,
    Slot Slot,
    MapMeasurement Measured
)
{
    public string Label => Address.Label;

    /// <summary>The same with another reading, said by the fix of a finding.</summary>
    public LaneEdit Reread(Reading reading, string reason = "set by the fix of a finding") =>
        new(
            Address,
            Lane with
            {
                Chain = Chain with
                {
                    Origin = Origin with { Reading = reading with { Authority = ReadingAuthority.Person, Reason = reason } },
                },
            }
        );

    public LaneEdit WithSteps(IEnumerable<Step> steps) => new(Address, Lane with { Chain = Chain with { Steps = [.. steps] } });

    public string FreeId =>
        Enumerable.Range(1, LookValidation.MaximumSteps + 1).Select(i => $"s{i}").First(id => Chain.Steps.All(s => s.Id != id));
}

/// <summary>
/// All that a check may look at: the look, what was measured of its maps, which files are there, the studio's thresholds, and a dialect's
/// network where one is shown.
/// </summary>
public sealed class FindingContext
{
    private readonly IReadOnlyDictionary<ContentHash, MapMeasurement> measured;

    public FindingContext(
        Look look,
        IReadOnlyDictionary<ContentHash, MapMeasurement> measured,
        Func<ContentHash, bool> exists,
        StudioThresholds? thresholds = null,
        DialectProfile? profile = null,
        Network? network = null
    )
    {
        (Look, this.measured, Exists, Thresholds, Profile, Network) = (look, measured, exists, thresholds ?? new(), profile, network);
        Lanes = [.. All(look)];
        Mapped = [.. Lanes.SelectMany(Of)];
    }

    public Look Look { get; }

    /// <summary>Whether a content is still stored.</summary>
    public Func<ContentHash, bool> Exists { get; }

    public StudioThresholds Thresholds { get; }

    public DialectProfile? Profile { get; }

    public Network? Network { get; }

    /// <summary>Names of other looks that differ from this one in nothing but name and tags.</summary>
    public IReadOnlyList<string> Twins { get; init; } = [];

    /// <summary>Ground, sources, covers and their masks, and the side chains of all their steps.</summary>
    public IReadOnlyList<PlacedLane> Lanes { get; }

    public IReadOnlyList<MappedLane> Mapped { get; }

    public MapMeasurement Measured(MapFile file) => measured.GetValueOrDefault(file.Content) ?? MapMeasurement.Unknown;

    /// <summary>A ground lane, or null.</summary>
    public Lane? BaseLane(string input) => Look.Lanes.GetValueOrDefault(input);

    private static IEnumerable<PlacedLane> All(Look look)
    {
        var own = look
            .Lanes.Select(l => new PlacedLane(l.Key, NeutralInputs.Find(l.Key), l.Value))
            .Concat(look.Sources.Select(s => new PlacedLane(LaneAddress.OfSource(s.Key), null, s.Value)))
            .Concat(
                look.Layers.SelectMany(
                    (c, i) =>
                        c
                            .Lanes.Select(l => new PlacedLane(LaneAddress.OfLayer(i, l.Key), NeutralInputs.Find(l.Key), l.Value))
                            .Append(new(LaneAddress.OfMask(i), null, c.Mask))
                )
            );
        return own.SelectMany(WithSides);
    }

    private static IEnumerable<PlacedLane> WithSides(PlacedLane lane)
    {
        yield return lane;
        foreach (var step in lane.Lane.Chain?.Steps ?? [])
        foreach (var side in StepSides.Names(step))
            if (StepSides.Get(step, side) is { Chain: not null } inner)
                foreach (var deeper in WithSides(new(lane.Address.SideOf(step.Id, side), null, inner)))
                    yield return deeper;
    }

    private IEnumerable<MappedLane> Of(PlacedLane lane)
    {
        if (lane.Lane.Chain is { Origin: SlotOrigin slot } chain && Look.Slots.TryGetValue(slot.Slot, out var content))
            yield return new(lane.Address, lane.Input, lane.Lane, chain, slot, content, Measured(content.File));
    }
}
