using System.Text.Json;
using System.Text.Json.Nodes;
using System.Text.Json.Serialization;
using Kiln.Looks.Document;
using Kiln.Looks.Maps;
using Kiln.Looks.Steps;
using Kiln.Looks.Texts;

namespace Kiln.Looks.Edits;

/// <summary>
/// Single fields of something that has several: what was set meanwhile beside them stays. Two quick changes of one placement, or two
/// people's, do not lose each other.
/// </summary>
/// <param name="Of">"placement", "displacement" (with "mode", how relief is rendered), "size", or "step".</param>
/// <param name="Fields">The fields by their names in the document, with their new values; null takes an optional one away.</param>
/// <param name="Lane">Of a step: the address of its lane.</param>
/// <param name="Step">Of a step: its identifier.</param>
public sealed record FieldsEdit(string Of, JsonObject Fields, LaneAddress? Lane = null, string? Step = null) : LookEdit
{
    private const int MostFields = 40;

    /// <summary>As documents are read, but nothing that is unknown is dropped.</summary>
    private static readonly JsonSerializerOptions Strict = new(LookJson.Options)
    {
        UnmappedMemberHandling = JsonUnmappedMemberHandling.Disallow,
        DefaultIgnoreCondition = JsonIgnoreCondition.Never,
    };

    private sealed record Sizes(float SizeU, float SizeV);

    private sealed record Relief(ReliefMode Mode, Displacement Displacement);

    internal override (Look, LookEdit) Change(Look look)
    {
        if (Fields.Count is 0 or > MostFields)
            throw new LookException("An edit of fields names between one and forty of them.");
        switch (Of)
        {
            case "placement":
                var (placement, former) = Merged(look.Placement, "placement");
                return (look with { Placement = placement }, this with { Fields = former });
            case "size":
                var (sizes, before) = Merged(new Sizes(look.SizeU, look.SizeV), "size");
                return (look with { SizeU = sizes.SizeU, SizeV = sizes.SizeV }, this with { Fields = before });
            case "displacement":
                var mode = Fields["mode"] is { } wanted ? Read<ReliefMode>(wanted, "relief") : look.Relief;
                var rest = new JsonObject(Fields.Where(f => f.Key != "mode").Select(f => KeyValuePair.Create(f.Key, f.Value?.DeepClone())));
                var (moved, old) = rest.Count == 0 ? (look.Displacement, rest) : Merged(look.Displacement, "displacement", rest);
                if (Fields.ContainsKey("mode"))
                    old = new JsonObject(old.Select(f => KeyValuePair.Create(f.Key, f.Value?.DeepClone())))
                    {
                        ["mode"] = JsonSerializer.SerializeToNode(look.Relief, Strict),
                    };
                return (look with { Relief = mode, Displacement = moved }, this with { Fields = old });
            case "step" when Lane is not null && Step is not null:
                JsonObject? kept = null;
                var (changed, _) = look.WithSteps(Lane, steps =>
                {
                    var at = steps.IndexOfStep(Step, Lane);
                    (var step, kept) = Merged(steps[at], "step");
                    return steps.SetItem(at, step);
                });
                return (changed, this with { Fields = kept! });
            default:
                throw new LookException($"There are no fields of '{Of}'; placement, displacement, size and step have some.");
        }
    }

    private (T Value, JsonObject Former) Merged<T>(T value, string what, JsonObject? fields = null)
    {
        var document = JsonSerializer.SerializeToNode(value, Strict)!.AsObject();
        var former = new JsonObject();
        foreach (var (name, field) in fields ?? Fields)
        {
            if (!document.ContainsKey(name) || name is "id" or "kind" or "step")
                throw new LookException($"A {what} has no field '{name}' that could be set.");
            former[name] = document[name]?.DeepClone();
            document[name] = field?.DeepClone();
        }
        return (Read<T>(document, what), former);
    }

    private static T Read<T>(JsonNode node, string what)
    {
        try
        {
            return node.Deserialize<T>(Strict) ?? throw new LookException($"A {what} cannot be nothing.");
        }
        catch (Exception e) when (e is JsonException or InvalidOperationException or NotSupportedException or FormatException)
        {
            throw new LookException(
                $"The {what} cannot be set so: {(e is JsonException json ? JsonFaults.Sentence(json, $"The {what}") : e.Message)}",
                e
            );
        }
    }

    [JsonIgnore]
    [JsonPropertyName("words")]
    public override string Sentence =>
        $"{(Of == "step" && Lane is not null ? $"a step in {Lane.Label}" : Of)}: "
        + $"{string.Join(", ", Fields.Select(f => $"{Plain(f.Key)} {Short(f.Value)}"))}";

    public bool Equals(FieldsEdit? other) =>
        other is not null && (Of, Lane, Step) == (other.Of, other.Lane, other.Step) && JsonNode.DeepEquals(Fields, other.Fields);

    public override int GetHashCode() => HashCode.Combine(Of, Lane, Step, Fields.Count);

    /// <summary>repeatsU → repeats u.</summary>
    private static string Plain(string name) =>
        string.Concat(name.Select(c => char.IsUpper(c) ? " " + char.ToLowerInvariant(c) : c.ToString()));

    private static string Short(JsonNode? value) =>
        value is JsonValue plain
            ? plain.ToString() is { Length: <= 40 } text
                ? text
                : "changed"
            : value is null
                ? "off"
                : "changed";
}
