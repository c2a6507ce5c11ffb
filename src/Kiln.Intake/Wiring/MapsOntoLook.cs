using System.Text.Json.Serialization;
using Kiln.Looks.Document;
using Kiln.Looks.Edits;
using Kiln.Looks.Inputs;
using Kiln.Looks.Maps;
using Kiln.Looks.Readings;
using Kiln.Looks.Steps;

namespace Kiln.Intake.Wiring;

/// <summary>What became of a picture that was brought to a look.</summary>
/// <param name="Where">The slot it lies in; null where it fits nowhere.</param>
/// <param name="Sentence">What was decided, or why nothing was.</param>
public sealed record AssignedMap(string File, string? Where, [property: JsonPropertyName("words")] string Sentence);

/// <summary>
/// Pictures brought to a look that is there already: sorted first, then put into the slots of their roles; lanes that read nothing yet are
/// wired.
/// </summary>
public static class MapsOntoLook
{
    /// <summary>An edit for everything that could be sorted; null when nothing could.</summary>
    public static (LookEdit? Edit, IReadOnlyList<AssignedMap> Assigned) Sorted(Look look, IntakeResult result)
    {
        var assigned = new List<AssignedMap>();
        var edits = new List<LookEdit>();
        var taken = new HashSet<MapRole>();
        foreach (var set in result.Sets)
        {
            // What Intake would ask about is not placed unasked here either.
            assigned.AddRange(
                set.Maps.Where(m => m.Asks)
                    .Select(m => new AssignedMap(
                        m.File.Name,
                        null,
                        $"may be its {m.Role.Label()}, which is not certain: drop it on the lane where it belongs"
                    ))
            );
            var wired = SetWiring.Wire(set with { Maps = [.. set.Maps.Where(m => !m.Asks)] });
            foreach (var (name, slot) in wired.Slots)
            {
                var file = slot.File.Name;
                if (!taken.Add(slot.Role))
                {
                    assigned.Add(new(file, null, $"another picture of this drop is the {slot.Role.Label()} already"));
                    continue;
                }
                if (look.Slots.FirstOrDefault(s => s.Value.Role == slot.Role) is { Key: { } there, Value: var before })
                {
                    edits.Add(new SlotEdit(there, Instead(before, slot.File)));
                    edits.AddRange(Reread(look, there, ReadingIn(wired, name)));
                    assigned.Add(new(file, there, $"takes the place of {before.File.Name}"));
                }
                else
                {
                    edits.Add(new SlotEdit(name, slot));
                    assigned.Add(new(file, name, $"is its {slot.Role.Label()}"));
                }
            }
            foreach (var (input, lane) in wired.Lanes)
                if (
                    look.Lanes.GetValueOrDefault(input)?.Chain is null
                    && lane.Chain is { Origin: SlotOrigin origin } chain
                    && !look.Slots.Any(s => s.Value.Role == wired.Slots[origin.Slot].Role)
                )
                    edits.Add(new LaneEdit(LaneAddress.OfInput(input), lane with { Chain = chain }));
                else if (lane.Chain is null && !look.Lanes.ContainsKey(input) && wired.Lanes.Count > 1)
                    edits.Add(new LaneEdit(LaneAddress.OfInput(input), lane));
        }
        assigned.AddRange(result.Unsorted.Concat(result.SetAside).Select(f => new AssignedMap(f.Path, null, f.Reason)));
        assigned.AddRange(result.Rejected.Select(r => new AssignedMap(r.Path, null, r.Error)));
        var words = string.Join(", ", assigned.Where(b => b.Where is not null).Select(b => b.Where).Distinct());
        return (edits.Count == 0 ? null : new BatchEdit($"brought in: {words}", [.. edits]), assigned);
    }

    /// <summary>The slot with another file, the one it had kept as a candidate.</summary>
    private static Slot Instead(Slot before, MapFile file) =>
        before with
        {
            File = file,
            Candidates = [.. before.Candidates.Where(c => !c.Equals(file)), file],
        };

    private static Reading? ReadingIn(Look look, string slot) =>
        look
            .Lanes.Values.Concat(look.Sources.Values)
            .Select(l => l.Chain?.Origin)
            .OfType<SlotOrigin>()
            .FirstOrDefault(o => o.Slot == slot)
            ?.Reading;

    /// <summary>One picture for one lane: the person says where it belongs, so it is wired whatever it was taken for.</summary>
    /// <param name="isSure">Whether it was sorted without a doubt; a guess gives way to what the lane usually reads.</param>
    public static LookEdit Wired(Look look, LaneAddress address, MapFile file, MapRole? sorted, Reading? reading, bool isSure = true)
    {
        var input = address.Fed is { } fed ? NeutralInputs.Find(fed) : null;
        var role = sorted is { } known && (isSure || input is null) ? known : RoleOf(input);
        // Along the surface a picture of colours holds directions, a grey one turns.
        var own = input is { IsTangent: true }
            ? file.Channels.Count >= 3 && !file.EqualChannels
                ? ReadingKind.Direction
                : ReadingKind.Scalar
            : role.Kind();
        var wanted = input is null
            ? address.IsMask
                ? ReadingKind.Scalar
                : own
            : input.IsColour
                ? ReadingKind.Colour
                : input.IsDirection
                    ? ReadingKind.Direction
                    : ReadingKind.Scalar;
        var kind = wanted == ReadingKind.Direction && own != ReadingKind.Direction ? ReadingKind.Scalar : wanted;
        var taken =
            reading?.Kind == kind
                ? reading
                : new Reading(
                    kind,
                    UsualReading.Space(kind, file.IsFloat, file.EmbeddedColour),
                    kind == ReadingKind.Scalar ? MapChannel.Luminance : MapChannel.Rgb,
                    kind == ReadingKind.Direction ? NormalY.Up : null,
                    Midpoint: file.IsFloat ? 0f : 0.5f,
                    Reason: $"as {address.Label} needs it"
                );
        var name = look.Slots.FirstOrDefault(s => s.Value.File.Equals(file)).Key ?? FreeNames.Of(role.Id(), look.Slots.ContainsKey);
        Step? first =
            wanted != ReadingKind.Direction
                ? role == MapRole.Glossiness && input?.Name.Contains("roughness", StringComparison.Ordinal) == true
                    ? FirstSteps.GlossinessToRoughness
                    : null
                : own == ReadingKind.Direction
                    ? FirstSteps.NormalMap
                    : input is { IsTangent: true }
                        ? null
                        : FirstSteps.HeightMap;
        var chain = new Chain(new SlotOrigin(name, taken), first is null ? [] : [first]);
        return new BatchEdit(
            $"{file.Name} wired to {address.Label}",
            [
                new SlotEdit(name, look.Slots.GetValueOrDefault(name) ?? new(role, file, [file])),
                new LaneEdit(address, new(look.LaneAt(address)?.Value, chain)),
            ]
        );
    }

    /// <summary>What a file in a lane usually is, where nothing else is known.</summary>
    private static MapRole RoleOf(NeutralInput? input) =>
        input switch
        {
            null => MapRole.IdMask,
            { IsTangent: true } => MapRole.Anisotropy,
            { IsDirection: true } => MapRole.Normal,
            { Name: "base_color" } => MapRole.BaseColor,
            { Name: "base_metalness" } => MapRole.Metalness,
            { Name: "geometry_opacity" } => MapRole.Opacity,
            { Name: "occlusion" } => MapRole.AmbientOcclusion,
            { Name: "displacement" } => MapRole.Height,
            { Name: "specular_weight" } => MapRole.SpecularLevel,
            { Name: "emission_color" } => MapRole.Emission,
            { IsColour: true } => MapRole.SpecularColor,
            { Name: var name } when name.EndsWith("roughness", StringComparison.Ordinal) => MapRole.Roughness,
            _ => MapRole.Coat,
        };

    /// <summary>Lanes that read the slot as the old file had to be read follow the new one.</summary>
    private static IEnumerable<LookEdit> Reread(Look look, string slot, Reading? reading)
    {
        if (reading is null)
            yield break;
        foreach (var (input, lane) in look.Lanes)
            if (
                lane.Chain is { Origin: SlotOrigin origin } chain
                && origin.Slot == slot
                && origin.Reading.Kind == reading.Kind
                && origin.Reading.Authority != ReadingAuthority.Person
                && origin.Reading != reading
            )
                yield return new LaneEdit(
                    LaneAddress.OfInput(input),
                    lane with
                    {
                        Chain = chain with { Origin = origin with { Reading = reading } },
                    }
                );
    }
}
