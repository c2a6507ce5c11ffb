using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Kiln.Looks.Document;

namespace Kiln.Looks.Edits;

/// <summary>
/// Puts a variant in the place of the one called <paramref name="Name"/>, adds it where there is none, or takes it away (null).
/// </summary>
public sealed record VariantEdit(string Name, Variant? Content) : LookEdit
{
    internal override (Look, LookEdit) Change(Look look)
    {
        var at = look.Variants.ToList().FindIndex(v => v.Name == Name);
        if (at < 0 && Content is null)
            throw new LookException($"The look has no variant '{Name}'; somebody else may have removed it.");
        var changed =
            at < 0 ? look.Variants.Add(Content!)
            : Content is null ? look.Variants.RemoveAt(at)
            : look.Variants.SetItem(at, Content);
        return (look with { Variants = changed }, new VariantsEdit(look.Variants));
    }

    [JsonPropertyName("words")]
    public override string Sentence =>
        Content is null ? $"variant {Name} removed"
        : Content.Name != Name ? $"variant {Name} is now called {Content.Name}"
        : $"variant {Name}";
}

/// <summary>All variants at once, as a sheet gives them.</summary>
public sealed record VariantsEdit(ImmutableArray<Variant> Variants) : LookEdit
{
    internal override (Look, LookEdit) Change(Look look) => (look with { Variants = Variants }, new VariantsEdit(look.Variants));

    [JsonPropertyName("words")]
    public override string Sentence =>
        Variants.Length switch
        {
            0 => "no variants",
            1 => "one variant",
            var n => $"{n} variants",
        };
}
