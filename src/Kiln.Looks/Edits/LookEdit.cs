using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Kiln.Looks.Document;
using Kiln.Looks.Maps;

namespace Kiln.Looks.Edits;

/// <summary>
/// A change to a look as a value: applying it gives the new look and the edit that leads back. Undo, history, autosave and audit are this
/// one mechanism.
/// </summary>
[JsonPolymorphic(TypeDiscriminatorPropertyName = "edit")]
[JsonDerivedType(typeof(RenameEdit), "rename")]
[JsonDerivedType(typeof(TagsEdit), "tags")]
[JsonDerivedType(typeof(LaneEdit), "lane")]
[JsonDerivedType(typeof(ValueEdit), "value")]
[JsonDerivedType(typeof(StepInsertEdit), "stepInsert")]
[JsonDerivedType(typeof(StepRemoveEdit), "stepRemove")]
[JsonDerivedType(typeof(StepChangeEdit), "stepChange")]
[JsonDerivedType(typeof(StepMoveEdit), "stepMove")]
[JsonDerivedType(typeof(PlacementEdit), "placement")]
[JsonDerivedType(typeof(FieldsEdit), "fields")]
[JsonDerivedType(typeof(SizeEdit), "size")]
[JsonDerivedType(typeof(SlotEdit), "slot")]
[JsonDerivedType(typeof(TrimsEdit), "trims")]
[JsonDerivedType(typeof(ColourEdit), "colour")]
[JsonDerivedType(typeof(SourceRenameEdit), "sourceRename")]
[JsonDerivedType(typeof(LayerInsertEdit), "coverInsert")]
[JsonDerivedType(typeof(LayerRemoveEdit), "coverRemove")]
[JsonDerivedType(typeof(LayerMoveEdit), "coverMove")]
[JsonDerivedType(typeof(LayerChangeEdit), "coverChange")]
[JsonDerivedType(typeof(ReliefEdit), "relief")]
[JsonDerivedType(typeof(VariantEdit), "variant")]
[JsonDerivedType(typeof(VariantsEdit), "variants")]
[JsonDerivedType(typeof(RestoreEdit), "restore")]
[JsonDerivedType(typeof(BatchEdit), "batch")]
public abstract record LookEdit
{
    /// <exception cref="LookException">The edit does not fit this look; the look is unchanged.</exception>
    public (Look Look, LookEdit Inverse) Apply(Look look)
    {
        var (result, inverse) = Change(look);
        LookValidation.Check(result);
        return (result, inverse);
    }

    internal abstract (Look Look, LookEdit Inverse) Change(Look look);

    /// <summary>What the edit does, for the history, in the language of the bench.</summary>
    [JsonIgnore]
    public abstract string Sentence { get; }
}

public sealed record RenameEdit(string Name) : LookEdit
{
    internal override (Look, LookEdit) Change(Look look) => (look with { Name = Name }, new RenameEdit(look.Name));

    [JsonPropertyName("words")]
    public override string Sentence => $"renamed to {Name}";
}

public sealed record TagsEdit(ImmutableArray<string> Tags) : LookEdit
{
    internal override (Look, LookEdit) Change(Look look) => (look with { Tags = Tags }, new TagsEdit(look.Tags));

    [JsonPropertyName("words")]
    public override string Sentence => Tags.Length == 0 ? "tags removed" : "tags: " + string.Join(", ", Tags);
}

public sealed record PlacementEdit(Placement Placement) : LookEdit
{
    internal override (Look, LookEdit) Change(Look look) => (look with { Placement = Placement }, new PlacementEdit(look.Placement));

    [JsonPropertyName("words")]
    public override string Sentence =>
        $"placement: {Placement.RepeatsU:0.##} × {Placement.RepeatsV:0.##}, {Placement.RotationDegrees:0.#}°";
}

public sealed record SizeEdit(float SizeU, float SizeV) : LookEdit
{
    internal override (Look, LookEdit) Change(Look look) =>
        (look with { SizeU = SizeU, SizeV = SizeV }, new SizeEdit(look.SizeU, look.SizeV));

    [JsonPropertyName("words")]
    public override string Sentence => $"real size: {SizeU:0.###} × {SizeV:0.###} m";
}

public sealed record SlotEdit(string Slot, Slot? Content) : LookEdit
{
    internal override (Look, LookEdit) Change(Look look) =>
        (
            look with
            {
                Slots = Content is null ? look.Slots.Remove(Slot) : look.Slots.SetItem(Slot, Content),
            },
            new SlotEdit(Slot, look.Slots.GetValueOrDefault(Slot))
        );

    [JsonPropertyName("words")]
    public override string Sentence => Content is null ? $"slot {Slot} emptied" : $"slot {Slot}: {Content.File.Name}";
}

public sealed record TrimsEdit(string Dialect, ImmutableArray<Trim> Trims) : LookEdit
{
    internal override (Look, LookEdit) Change(Look look) =>
        (
            look with
            {
                Trims = Trims.IsEmpty ? look.Trims.Remove(Dialect) : look.Trims.SetItem(Dialect, Trims),
            },
            new TrimsEdit(Dialect, look.Trims.GetValueOrDefault(Dialect, []))
        );

    [JsonPropertyName("words")]
    public override string Sentence => $"trims for {Dialect}";
}

/// <summary>The look is taken over under another colour config; pictures stay the same, written names follow.</summary>
public sealed record ColourEdit(LookColour? Colour) : LookEdit
{
    internal override (Look, LookEdit) Change(Look look) => (look with { Colour = Colour }, new ColourEdit(look.Colour));

    [JsonPropertyName("words")]
    public override string Sentence =>
        Colour is { ConfigHash: not null } c ? $"taken over under the config {c.ConfigTitle}" : "taken over without a config";
}

/// <summary>Several edits as one: one undo, one line in the history.</summary>
public sealed record BatchEdit(string Name, ImmutableArray<LookEdit> Edits) : LookEdit
{
    internal override (Look, LookEdit) Change(Look look)
    {
        var inverses = new Stack<LookEdit>();
        foreach (var edit in Edits)
        {
            (look, var inverse) = edit.Change(look);
            inverses.Push(inverse);
        }
        return (look, new BatchEdit(Name, [.. inverses]));
    }

    [JsonPropertyName("words")]
    public override string Sentence => Name;
}
