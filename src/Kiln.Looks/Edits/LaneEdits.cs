using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Kiln.Looks.Document;
using Kiln.Looks.Inputs;
using Kiln.Looks.Steps;
using Kiln.Looks.Steps.Table;

namespace Kiln.Looks.Edits;

/// <summary>Replaces a whole lane, or takes it away (null): the input goes back to its default.</summary>
public sealed record LaneEdit(string Lane, Lane? Content) : LookEdit
{
    internal override (Look, LookEdit) Change(Look look) =>
        (LaneAddress.Set(look, Lane, Content), new LaneEdit(Lane, LaneAddress.Get(look, Lane)));

    [JsonPropertyName("words")]
    public override string Sentence =>
        Content is null ? $"{LaneAddress.Label(Lane)} back to its default" : $"{LaneAddress.Label(Lane)} wired";
}

/// <summary>Sets a lane's value and leaves its chain alone.</summary>
public sealed record ValueEdit(string Lane, LookValue Value) : LookEdit
{
    internal override (Look, LookEdit) Change(Look look)
    {
        var before = LaneAddress.Get(look, Lane);
        return (LaneAddress.Set(look, Lane, (before ?? new Lane()) with { Value = Value }), new LaneEdit(Lane, before));
    }

    [JsonPropertyName("words")]
    public override string Sentence =>
        $"{LaneAddress.Label(Lane)}: "
        + Value switch
        {
            ScalarValue s => s.Number.ToString("0.####"),
            TintValue t => $"{t.R:0.###} {t.G:0.###} {t.B:0.###}",
            _ => "value",
        };
}

public sealed record StepInsertEdit(string Lane, int At, Step Step) : LookEdit
{
    internal override (Look, LookEdit) Change(Look look) =>
        LaneAddress.Steps(look, Lane, steps =>
            At >= 0 && At <= steps.Length
                ? steps.Insert(At, Step)
                : throw new LookException($"{LaneAddress.Label(Lane)} has {steps.Length} steps; nothing can be put at place {At}.")
        );

    [JsonPropertyName("words")]
    public override string Sentence => $"{Step.Entry.Label} added to {LaneAddress.Label(Lane)}";
}

public sealed record StepRemoveEdit(string Lane, string StepId) : LookEdit
{
    internal override (Look, LookEdit) Change(Look look) =>
        LaneAddress.Steps(look, Lane, steps => steps.RemoveAt(LaneAddress.IndexOf(steps, StepId, Lane)));

    [JsonPropertyName("words")]
    public override string Sentence => $"step removed from {LaneAddress.Label(Lane)}";
}

public sealed record StepChangeEdit(string Lane, Step Step) : LookEdit
{
    internal override (Look, LookEdit) Change(Look look) =>
        LaneAddress.Steps(look, Lane, steps => steps.SetItem(LaneAddress.IndexOf(steps, Step.Id, Lane), Step));

    [JsonPropertyName("words")]
    public override string Sentence => $"{Step.Entry.Label} in {LaneAddress.Label(Lane)} changed";
}

public sealed record StepMoveEdit(string Lane, string StepId, int To) : LookEdit
{
    internal override (Look, LookEdit) Change(Look look) => LaneAddress.Steps(look, Lane, steps =>
        {
            var from = LaneAddress.IndexOf(steps, StepId, Lane);
            return steps.RemoveAt(from).Insert(Math.Clamp(To, 0, steps.Length - 1), steps[from]);
        });

    [JsonPropertyName("words")]
    public override string Sentence => $"step moved in {LaneAddress.Label(Lane)}";
}

/// <summary>
/// Lanes are named <c>base_color</c> (ground), <c>source:NAME</c>, <c>cover:N:base_color</c> or <c>cover:N:mask</c>;
/// a step's other input adds <c>/STEP/INPUT</c>, as often as inputs are nested.
/// </summary>
public static class LaneAddress
{
    /// <exception cref="LookException">There is no such place.</exception>
    public static Lane? Get(Look look, string address)
    {
        if (Side(look, address) is { } side)
            return StepSides.Get(side.Step, side.Name);
        var parts = address.Split(':');
        return parts[0] switch
        {
            "source" when parts.Length == 2 => look.Sources.GetValueOrDefault(parts[1]),
            "cover" when parts.Length == 3 => parts[2] == "mask"
                ? LayerAt(look, parts[1]).Layer.Mask
                : LayerAt(look, parts[1]).Layer.Lanes.GetValueOrDefault(parts[2]),
            _ => look.Lanes.GetValueOrDefault(NeutralInputs.Find(address).Name),
        };
    }

    internal static Look Set(Look look, string address, Lane? lane)
    {
        if (Side(look, address) is { } side)
        {
            var owner = Get(look, side.Owner)!;
            var steps = owner.Chain!.Steps;
            var changed = StepSides.With(
                side.Step,
                side.Name,
                lane ?? throw new LookException("A step's input can be given a value, not taken away.")
            );
            return Set(
                look,
                side.Owner,
                owner with
                {
                    Chain = owner.Chain with { Steps = steps.SetItem(IndexOf(steps, side.Step.Id, side.Owner), changed) },
                }
            );
        }
        var parts = address.Split(':');
        switch (parts[0])
        {
            case "source" when parts.Length == 2:
                return look with { Sources = Put(look.Sources, parts[1], lane) };
            case "cover" when parts.Length == 3:
                var (index, layer) = LayerAt(look, parts[1]);
                layer =
                    parts[2] == "mask"
                        ? layer with
                        {
                            Mask = lane ?? new Lane(LookValue.Of(1f)),
                        }
                        : layer with
                        {
                            Lanes = Put(layer.Lanes, NeutralInputs.Find(parts[2]).Name, lane),
                        };
                return look with { Layers = look.Layers.SetItem(index, layer) };
            default:
                return look with { Lanes = Put(look.Lanes, NeutralInputs.Find(address).Name, lane) };
        }
    }

    /// <summary>The step whose input an address names, and where that step stands; null for a lane of its own.</summary>
    private static (string Owner, Step Step, string Name)? Side(Look look, string address)
    {
        var name = address.LastIndexOf('/');
        if (name < 0)
            return null;
        var step = address.LastIndexOf('/', name - 1);
        if (step <= 0)
            throw new LookException($"'{address}' names no input of a step.");
        var owner = address[..step];
        if (Get(look, owner)?.Chain is not { } chain)
            throw new LookException($"{Label(owner)} has no chain; somebody else may have disconnected it.");
        return (owner, chain.Steps[IndexOf(chain.Steps, address[(step + 1)..name], owner)], address[(name + 1)..]);
    }

    internal static (Look, LookEdit) Steps(Look look, string address, Func<ImmutableArray<Step>, ImmutableArray<Step>> change)
    {
        var before = Get(look, address);
        if (before?.Chain is not { } chain)
            throw new LookException($"{Label(address)} has no chain; connect a map to it first.");
        return (Set(look, address, before with { Chain = chain with { Steps = change(chain.Steps) } }), new LaneEdit(address, before));
    }

    internal static int IndexOf(ImmutableArray<Step> steps, string id, string address)
    {
        var index = steps.ToList().FindIndex(s => s.Id == id);
        return index >= 0 ? index : throw new LookException($"{Label(address)} has no step '{id}'; somebody else may have removed it.");
    }

    /// <summary>As a person would say it: "cover 1, base color", "base color, other of s3".</summary>
    public static string Label(string address)
    {
        var parts = address.Split('/');
        var lane = parts[0].Split(':');
        var words = lane[0] switch
        {
            "source" when lane.Length == 2 => $"source {lane[1]}",
            "cover" when lane.Length == 3 && int.TryParse(lane[1], out var n) => $"cover {n + 1}, {lane[2].Replace('_', ' ')}",
            _ => parts[0].Replace('_', ' '),
        };
        for (var i = 1; i + 1 < parts.Length; i += 2)
            words += $", {parts[i + 1]} of {parts[i]}";
        return words;
    }

    private static (int Index, Layer Layer) LayerAt(Look look, string index) =>
        int.TryParse(index, out var i) && i >= 0 && i < look.Layers.Length
            ? (i, look.Layers[i])
            : throw new LookException($"The look has no cover {index}.");

    private static ImmutableSortedDictionary<string, Lane> Put(ImmutableSortedDictionary<string, Lane> lanes, string key, Lane? lane) =>
        lane is null ? lanes.Remove(key) : lanes.SetItem(key, lane);
}
