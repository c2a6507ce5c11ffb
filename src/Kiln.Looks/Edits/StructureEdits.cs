using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Kiln.Looks.Document;
using Kiln.Looks.Steps;
using Kiln.Looks.Steps.Table;

namespace Kiln.Looks.Edits;

/// <summary>Gives a source another name; everything that begins with it follows.</summary>
public sealed record SourceRenameEdit(string From, string To) : LookEdit
{
    internal override (Look, LookEdit) Change(Look look)
    {
        if (!look.Sources.TryGetValue(From, out var lane))
            throw new LookException($"The look has no source '{From}'; somebody else may have removed it.");
        if (!SourceNames.AreAllowed(To))
            throw new LookException("A source needs a name of 1 to 60 characters on one line, without a colon or a slash.");
        if (look.Sources.ContainsKey(To))
            throw new LookException($"The look has a source '{To}' already.");
        string Renamed(string text) =>
            LaneAddress.TryParse(text, null, out var address) && address.Source == From
                ? LaneAddress.OfSource(To).Text + text[LaneAddress.OfSource(From).Text.Length..]
                : text;
        var renamed = look with
        {
            Sources = look.Sources.Remove(From).Add(To, lane),
            Variants =
            [
                .. look.Variants.Select(v => v with { Values = v.Values.ToImmutableSortedDictionary(o => Renamed(o.Key), o => o.Value) }),
            ],
        };
        return (
            ChainRewriting.Origins(renamed, o => o is SourceOrigin { Source: var s } && s == From ? new SourceOrigin(To) : o),
            new SourceRenameEdit(To, From)
        );
    }

    [JsonPropertyName("words")]
    public override string Sentence => $"source {From} is now called {To}";
}

/// <summary>What sources may be called: lanes are addressed by them.</summary>
public static class SourceNames
{
    public static bool AreAllowed(string name) =>
        name.Trim().Length is > 0 and <= 60 && !name.Contains(':') && !name.Contains('/') && !name.Any(char.IsControl);
}

/// <summary>Lays a cover over what is there, at a place in the order (0 is the lowest).</summary>
public sealed record LayerInsertEdit(int At, [property: JsonPropertyName("cover")] Layer Layer) : LookEdit
{
    public const int MostLayers = 16;

    internal override (Look, LookEdit) Change(Look look)
    {
        if (look.Layers.Length >= MostLayers)
            throw new LookException($"A look has at most {MostLayers} covers.");
        if (string.IsNullOrWhiteSpace(Layer.Name) || Layer.Name.Length > 60)
            throw new LookException("A layer needs a name of 1 to 60 characters.");
        var at = Math.Clamp(At, 0, look.Layers.Length);
        return (look with { Layers = look.Layers.Insert(at, Layer) }, new LayerRemoveEdit(at));
    }

    [JsonPropertyName("words")]
    public override string Sentence => $"layer {Layer.Name} added";
}

public sealed record LayerRemoveEdit(int At) : LookEdit
{
    internal override (Look, LookEdit) Change(Look look)
    {
        var layer = Layers.Of(look, At);
        return (look with { Layers = look.Layers.RemoveAt(At) }, new LayerInsertEdit(At, layer));
    }

    [JsonPropertyName("words")]
    public override string Sentence => $"layer {At + 1} removed";
}

public sealed record LayerMoveEdit(int From, int To) : LookEdit
{
    internal override (Look, LookEdit) Change(Look look)
    {
        var layer = Layers.Of(look, From);
        var to = Math.Clamp(To, 0, look.Layers.Length - 1);
        return (look with { Layers = look.Layers.RemoveAt(From).Insert(to, layer) }, new LayerMoveEdit(to, From));
    }

    [JsonPropertyName("words")]
    public override string Sentence => $"layer {From + 1} moved to place {To + 1}";
}

/// <summary>Name and relief rule of a cover; its lanes and mask stay.</summary>
public sealed record LayerChangeEdit(int At, string Name, ReliefRule Relief) : LookEdit
{
    internal override (Look, LookEdit) Change(Look look)
    {
        var layer = Layers.Of(look, At);
        if (string.IsNullOrWhiteSpace(Name) || Name.Length > 60)
            throw new LookException("A layer needs a name of 1 to 60 characters.");
        return (
            look with
            {
                Layers = look.Layers.SetItem(At, layer with { Name = Name, Relief = Relief }),
            },
            new LayerChangeEdit(At, layer.Name, layer.Relief)
        );
    }

    [JsonPropertyName("words")]
    public override string Sentence =>
        $"layer {At + 1}: {Name}, its normal and height "
        + Relief switch
        {
            ReliefRule.Add => "are added",
            ReliefRule.FollowBaseLayer => "follow the base layer",
            _ => "replace those below",
        };
}

internal static class Layers
{
    public static Layer Of(Look look, int at) =>
        at >= 0 && at < look.Layers.Length
            ? look.Layers[at]
            : throw new LookException($"The look has no layer {at + 1}; somebody else may have removed it.");
}

/// <summary>How relief is rendered, and displacement with all it needs.</summary>
public sealed record ReliefEdit(ReliefMode Mode, Displacement Displacement) : LookEdit
{
    internal override (Look, LookEdit) Change(Look look) =>
        (look with { Relief = Mode, Displacement = Displacement }, new ReliefEdit(look.Relief, look.Displacement));

    [JsonPropertyName("words")]
    public override string Sentence =>
        $"relief by {Mode switch { ReliefMode.Geometry => "geometry", ReliefMode.Both => "geometry and shading", _ => "shading" }}"
        + (Displacement.On ? $", displaced by {Displacement.HeightMetres:0.####} m around {Displacement.Midpoint:0.##}" : "");
}
