using System.Text.Json.Serialization;
using Kiln.Looks.Document;
using Kiln.Looks.Steps;
using Kiln.Looks.Steps.Table;

namespace Kiln.Looks.Edits;

/// <summary>Replaces a whole lane, or takes it away (null): the input goes back to its default.</summary>
public sealed record LaneEdit(LaneAddress Lane, Lane? Content) : LookEdit
{
    internal override (Look, LookEdit) Change(Look look) => (look.WithLane(Lane, Content), new LaneEdit(Lane, look.LaneAt(Lane)));

    [JsonPropertyName("words")]
    public override string Sentence => Content is null ? $"{Lane.Label} back to its default" : $"{Lane.Label} wired";
}

/// <summary>Sets a lane's value and leaves its chain alone.</summary>
public sealed record ValueEdit(LaneAddress Lane, LookValue Value) : LookEdit
{
    internal override (Look, LookEdit) Change(Look look)
    {
        var before = look.LaneAt(Lane);
        return (look.WithLane(Lane, (before ?? new Lane()) with { Value = Value }), new LaneEdit(Lane, before));
    }

    [JsonPropertyName("words")]
    public override string Sentence =>
        $"{Lane.Label}: "
        + Value switch
        {
            ScalarValue s => s.Number.ToString("0.####"),
            TintValue t => $"{t.R:0.###} {t.G:0.###} {t.B:0.###}",
            _ => "value",
        };
}

public sealed record StepInsertEdit(LaneAddress Lane, int At, Step Step) : LookEdit
{
    internal override (Look, LookEdit) Change(Look look) =>
        look.WithSteps(Lane, steps =>
            At >= 0 && At <= steps.Length
                ? steps.Insert(At, Step)
                : throw new LookException($"{Lane.Label} has {steps.Length} steps; nothing can be put at place {At}.")
        );

    [JsonPropertyName("words")]
    public override string Sentence => $"{Step.Entry.Label} added to {Lane.Label}";
}

public sealed record StepRemoveEdit(LaneAddress Lane, string StepId) : LookEdit
{
    internal override (Look, LookEdit) Change(Look look) => look.WithSteps(Lane, steps => steps.RemoveAt(steps.IndexOfStep(StepId, Lane)));

    [JsonPropertyName("words")]
    public override string Sentence => $"step removed from {Lane.Label}";
}

public sealed record StepChangeEdit(LaneAddress Lane, Step Step) : LookEdit
{
    internal override (Look, LookEdit) Change(Look look) =>
        look.WithSteps(Lane, steps => steps.SetItem(steps.IndexOfStep(Step.Id, Lane), Step));

    [JsonPropertyName("words")]
    public override string Sentence => $"{Step.Entry.Label} in {Lane.Label} changed";
}

public sealed record StepMoveEdit(LaneAddress Lane, string StepId, int To) : LookEdit
{
    internal override (Look, LookEdit) Change(Look look) => look.WithSteps(Lane, steps =>
        {
            var from = steps.IndexOfStep(StepId, Lane);
            return steps.RemoveAt(from).Insert(Math.Clamp(To, 0, steps.Length - 1), steps[from]);
        });

    [JsonPropertyName("words")]
    public override string Sentence => $"step moved in {Lane.Label}";
}
