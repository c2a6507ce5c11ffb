using Kiln.Looks.Document;

namespace Kiln.Looks.Inputs;

/// <summary>The numbers of a look's displacement under names that a profile's formulas use beside neutral inputs.</summary>
public static class DisplacementSettings
{
    private static readonly Dictionary<string, Func<Look, float>> Read = new()
    {
        // Without a height there is nothing to move by.
        ["displacement_on"] = look => look.Displacement.On && Lanes(look).Any() ? 1 : 0,
        ["displacement_height"] = look => look.Displacement.HeightMetres,
        ["displacement_midpoint"] = look => look.Displacement.Midpoint,
        ["displacement_bound"] = look => look.Displacement.BoundMetres,
        ["displacement_edge"] = look => look.Displacement.EdgeMetres,
        ["displacement_subdivision"] = look => look.Displacement.Subdivision,
        ["displacement_level"] = Level,
    };

    public static IReadOnlyCollection<string> Names => Read.Keys;

    public static bool Exists(string name) => Read.ContainsKey(name);

    /// <summary>Metres, times, a stored value of 0..1, or 1 and 0 for on and off.</summary>
    public static float Of(Look look, string name) => Read[name](look);

    /// <summary>A look's displacement with the numbers that are given, by name.</summary>
    public static Displacement With(Displacement usual, IReadOnlyDictionary<string, float> numbers)
    {
        float Given(string name, float otherwise) =>
            numbers.TryGetValue(name, out var number) && float.IsFinite(number) ? number : otherwise;
        return usual with
        {
            On = Given("displacement_on", usual.On ? 1 : 0) > 0.5f,
            HeightMetres = Given("displacement_height", usual.HeightMetres),
            Midpoint = Math.Clamp(Given("displacement_midpoint", usual.Midpoint), 0, 1),
            MidpointReason = numbers.ContainsKey("displacement_midpoint") ? "as the network says" : usual.MidpointReason,
            BoundMetres = Given("displacement_bound", usual.BoundMetres),
            EdgeMetres = Given("displacement_edge", usual.EdgeMetres),
            Subdivision = (int)Math.Clamp(Given("displacement_subdivision", usual.Subdivision), 0, 10),
            Level = numbers.ContainsKey("displacement_level") ? (int)Given("displacement_level", 0) : usual.Level,
        };
    }

    /// <summary>The numbers, without the switch, that somebody set otherwise than a look begins with.</summary>
    public static IEnumerable<string> Changed(Look look) =>
        Read.Keys.Where(name =>
            name switch
            {
                "displacement_on" => false,
                "displacement_level" => look.Displacement.Level is not null,
                _ => Of(look, name) != Read[name](Untouched),
            }
        );

    private static readonly Look Untouched = new() { Name = "untouched" };

    /// <summary>The level asked for, else the one that has as many texels on a side as the height's largest file.</summary>
    private static float Level(Look look)
    {
        if (look.Displacement.Level is { } asked)
            return asked;
        var sides = Lanes(look)
            .Select(l => l.Chain!.Origin)
            .OfType<SlotOrigin>()
            .Select(o => look.Slots[o.Slot].File)
            .Select(f => Math.Max(f.Width, f.Height))
            .DefaultIfEmpty(1);
        return MathF.Ceiling(MathF.Log2(sides.Max()));
    }

    private static IEnumerable<Lane> Lanes(Look look) =>
        look
            .Layers.Select(c => c.Lanes)
            .Append(look.Lanes)
            .Select(l => l.GetValueOrDefault("displacement"))
            .Where(l => l?.Chain is not null)
            .Select(l => l!);
}
