using System.Text.Json;
using System.Text.Json.Nodes;
using Kiln.Looks.Document;
using Kiln.Looks.Edits;
using Kiln.Looks.Inputs;
using Kiln.Looks.Maps;
using Kiln.Looks.Steps;
using Kiln.Looks.Steps.Table;

namespace Kiln.Looks.Moving;

/// <summary>The numbers that the controls of one selection move, with their ranges. Whole numbers (a seed, a count) are left out.</summary>
public static class LookNumbers
{
    public const string Placement = "placement",
        Size = "size";

    private const float HighestOffset = 1,
        HighestRotation = 180,
        LowestRepeats = 0.25f,
        HighestRepeats = 8,
        SmallestSurface = 0.05f,
        LargestSurface = 4;

    private static readonly (string Field, Func<Placement, float> Get, float Low, float High)[] PlacementFields =
    [
        ("repeatsU", p => p.RepeatsU, LowestRepeats, HighestRepeats),
        ("repeatsV", p => p.RepeatsV, LowestRepeats, HighestRepeats),
        ("rotationDegrees", p => p.RotationDegrees, -HighestRotation, HighestRotation),
        ("offsetU", p => p.OffsetU, -HighestOffset, HighestOffset),
        ("offsetV", p => p.OffsetV, -HighestOffset, HighestOffset),
    ];

    /// <param name="address"><see cref="Placement"/>, <see cref="Size"/>, a lane whose value is meant, or a lane and a step,
    /// <c>lane/step</c>.</param>
    /// <returns>None where there is nothing such, or nothing that moves.</returns>
    public static IReadOnlyList<LookNumber> At(Look look, string address) =>
        address switch
        {
            Placement =>
            [
                .. PlacementFields.Select(f =>
                    Number($"{Placement}#{f.Field}", f.Get(look.Placement), f.Low, f.High, (l, v) => Fields(l, Placement, f.Field, v))
                ),
            ],
            Size =>
            [
                Number("size#sizeU", look.SizeU, SmallestSurface, LargestSurface, (l, v) => Fields(l, Size, "sizeU", v)),
                Number("size#sizeV", look.SizeV, SmallestSurface, LargestSurface, (l, v) => Fields(l, Size, "sizeV", v)),
            ],
            _ => OfLane(look, address),
        };

    private static IReadOnlyList<LookNumber> OfLane(Look look, string address)
    {
        if (Lane(look, address) is var (lane, found) && (found is not { Chain: not null } || address.Contains('/')))
            return OfValue(address, lane, found?.Value);
        return
            address.LastIndexOf('/') is var cut and > 0
            && Lane(look, address[..cut]) is var (owner, held)
            && held?.Chain?.Steps.FirstOrDefault(s => s.Id == address[(cut + 1)..]) is { } step
            ? OfStep(address, owner, step)
            : [];
    }

    private static (LaneAddress Address, Lane? Lane)? Lane(Look look, string address)
    {
        try
        {
            return LaneAddress.TryParse(address, null, out var parsed) ? (parsed, look.LaneAt(parsed)) : null;
        }
        catch (LookException)
        {
            // Nothing is there.
            return null;
        }
    }

    private static IReadOnlyList<LookNumber> OfValue(string name, LaneAddress address, LookValue? value)
    {
        var input = address.Fed is { } called ? NeutralInputs.Find(called) : null;
        switch (value ?? input?.DefaultValue)
        {
            case ScalarValue number:
                return [Number(name, number.Number, input?.Low ?? 0, input?.High ?? 1, (l, v) => WithValue(l, address, LookValue.Of(v)))];
            case TintValue colour:
                return
                [
                    .. new[] { colour.R, colour.G, colour.B }.Select(
                        (own, i) =>
                            Number(name, own, 0, 1, (l, v) => WithValue(l, address, Replaced(ValueAt(l, address) ?? colour, i, v))) with
                            {
                                Component = i,
                            }
                    ),
                ];
            default:
                return [];
        }
    }

    private static TintValue? ValueAt(Look look, LaneAddress address) => look.LaneAt(address)?.Value as TintValue;

    private static TintValue Replaced(TintValue colour, int component, float value) =>
        component switch
        {
            0 => colour with { R = value },
            1 => colour with { G = value },
            _ => colour with { B = value },
        };

    private static Look WithValue(Look look, LaneAddress address, LookValue value) =>
        look.WithLane(address, look.LaneAt(address) is { } lane ? lane with { Value = value } : new Lane(value));

    private static List<LookNumber> OfStep(string name, LaneAddress lane, Step step)
    {
        var numbers = new List<LookNumber>();
        var document = JsonSerializer.SerializeToNode(step, LookJson.Options)!.AsObject();
        foreach (var field in step.Entry.Fields)
            if (field.Kind == StepFieldKind.Number && field.Increment is null or < 1 && document[field.Name] is JsonValue number)
            {
                // A slider that follows what its lane feeds may go as far as that does.
                var input = field.FollowsInput && lane.Fed is { } fed ? NeutralInputs.Find(fed) : null;
                numbers.Add(
                    Number($"{name}#{field.Name}", number.GetValue<float>(), input?.Low ?? field.Low, input?.High ?? field.High, (l, v) =>
                        StepFields(l, lane, step.Id, new() { [field.Name] = v })
                    )
                );
            }
            else if (field.Kind == StepFieldKind.Placement && document[field.Name] is JsonObject placed)
            {
                var own = placed.Deserialize<Placement>(LookJson.Options)!;
                numbers.AddRange(
                    PlacementFields.Select(part =>
                        Number($"{name}#{field.Name}.{part.Field}", part.Get(own), part.Low, part.High, (l, v) =>
                            StepFields(l, lane, step.Id, new() { [field.Name] = PartOf(l, lane, step.Id, field.Name, part.Field, v) })
                        )
                    )
                );
            }
        foreach (var side in step.Entry.Sides.Where(s => s.IsAmount))
            if (side.Get(step).Value is ScalarValue amount)
                numbers.Add(
                    Number($"{name}/{side.Name}", amount.Number, 0, side.High, (l, v) =>
                        WithValue(l, LaneAddress.Parse($"{name}/{side.Name}"), LookValue.Of(v))
                    )
                );
        return numbers;
    }

    /// <summary>A placement of a step as it stands now, with one of its numbers replaced.</summary>
    private static JsonObject PartOf(Look look, LaneAddress lane, string step, string field, string part, float value)
    {
        var steps = look.LaneAt(lane)!.Chain!.Steps;
        var placed = JsonSerializer.SerializeToNode(steps.First(s => s.Id == step), LookJson.Options)![field]!.DeepClone().AsObject();
        placed[part] = value;
        return placed;
    }

    private static Look StepFields(Look look, LaneAddress lane, string step, JsonObject fields) =>
        new FieldsEdit("step", fields, lane, step).Change(look).Item1;

    private static Look Fields(Look look, string of, string field, float value) =>
        new FieldsEdit(of, new() { [field] = value }).Change(look).Item1;

    private static LookNumber Number(string name, float value, float low, float high, Func<Look, float, Look> with) =>
        new(name, 0, value, MathF.Min(low, value), MathF.Max(high, value), with);
}
