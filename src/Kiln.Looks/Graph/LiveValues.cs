using Kiln.Looks.Document;
using Kiln.Looks.Inputs;

namespace Kiln.Looks.Graph;

/// <summary>
/// Numbers of a look that somebody is about to change, by the objects that hold them. A step's field is called <c>lane/step#field</c>, a
/// value <c>lane</c> or <c>lane/step/side</c>, as edits address them.
/// </summary>
public sealed class LiveValues
{
    private readonly Dictionary<object, string> names = new(ReferenceEqualityComparer.Instance);
    private readonly Dictionary<string, Lane> absent = [];

    private LiveValues() { }

    /// <param name="look">As it came from its document: no two of its parts are one object.</param>
    /// <param name="addresses">Lanes, their steps, or sides of steps; all that lies below one is meant.</param>
    public static LiveValues Of(Look look, IReadOnlyCollection<string> addresses)
    {
        var live = new LiveValues();
        foreach (var (name, lane) in look.Lanes)
            live.Take(name, lane, addresses);
        foreach (var (name, lane) in look.Sources)
            live.Take(LaneAddress.OfSource(name).Text, lane, addresses);
        foreach (var (layer, number) in look.Layers.Select((l, i) => (l, i)))
        {
            live.Take(LaneAddress.OfMask(number).Text, layer.Mask, addresses);
            foreach (var (name, lane) in layer.Lanes)
                live.Take(LaneAddress.OfLayer(number, name).Text, lane, addresses);
        }
        foreach (var input in NeutralInputs.All.Where(i => i.DefaultValue is not null && IsBelow(i.Name, addresses)))
            if (!look.Lanes.ContainsKey(input.Name))
                live.names[live.absent[input.Name] = new Lane(input.DefaultValue)] = input.Name;
        return live;
    }

    /// <summary>A lane that the look lacks and that is about to get a value; holds the input's default.</summary>
    internal Lane? Absent(string input) => absent.GetValueOrDefault(input);

    private void Take(string address, Lane lane, IReadOnlyCollection<string> wanted)
    {
        if (IsBelow(address, wanted))
            names[lane] = address;
        foreach (var step in lane.Chain?.Steps ?? [])
        {
            var at = $"{address}/{step.Id}";
            if (IsBelow(at, wanted))
                names[step] = at;
            foreach (var side in step.Entry.Sides)
            {
                var below = $"{at}/{side.Name}";
                if (IsBelow(below, wanted) && side.Holder(step) is { } holder)
                    names[holder] = below;
                Take(below, side.Get(step), wanted);
            }
        }
    }

    private static bool IsBelow(string address, IReadOnlyCollection<string> wanted) =>
        wanted.Any(w => address == w || address.StartsWith(w + "/", StringComparison.Ordinal));

    /// <summary>What the numbers of a lane, an amount or a step are called; null where nobody is about to change them.</summary>
    public string? NameOf(object? holder) => holder is null ? null : names.GetValueOrDefault(holder);
}
