using System.Collections.Immutable;
using System.Text;
using System.Text.Json;
using Kiln.Looks.Document;
using Kiln.Looks.Edits;

namespace Kiln.Looks.Tests;

/// <summary>Documents and histories of release 0.2, in which a source could be called <c>edges/worn</c>.</summary>
public sealed class SlashedSourcesTests
{
    private static readonly Chain Half = new(new ConstantOrigin(LookValue.Of(0.5f)));

    private static Look WithSource()
    {
        var look = new Look { Name = "old" };
        look = new LaneEdit(LaneAddress.OfSource("edges-worn"), new(Chain: Half)).Apply(look).Look;
        look = new LaneEdit("specular_roughness", new(Chain: new(new SourceOrigin("edges-worn")))).Apply(look).Look;
        var variant = new Variant("plain")
        {
            Values = new Dictionary<string, LookValue> { ["source:edges-worn"] = LookValue.Of(1f) }.ToImmutableSortedDictionary(),
        };
        return new VariantEdit("plain", variant).Apply(look).Look;
    }

    private static string Old(string json) => json.Replace("edges-worn", "edges/worn", StringComparison.Ordinal);

    [Fact]
    public void ADocumentIsReadWithADash()
    {
        var text = Old(Encoding.UTF8.GetString(LookJson.Write(WithSource())));
        Assert.Contains("source:edges/worn", text, StringComparison.Ordinal);
        var read = LookJson.Read(Encoding.UTF8.GetBytes(text));
        Assert.Equal(["edges-worn"], read.Sources.Keys);
        Assert.Equal(new SourceOrigin("edges-worn"), read.Lanes["specular_roughness"].Chain!.Origin);
        Assert.Empty(Variants.Unplaced(read, read.Variants[0]));
        Assert.Equal(LookJson.Write(WithSource()), LookJson.Write(read));
    }

    [Fact]
    public void ADashedNameThatIsTakenGetsANumber()
    {
        var look = new LaneEdit(LaneAddress.OfSource("edges-worn"), new(Chain: Half)).Apply(new Look { Name = "old" }).Look;
        var both = Encoding
            .UTF8.GetString(LookJson.Write(look))
            .Replace("\"sources\":{", "\"sources\":{\"edges/worn\":{\"value\":{\"kind\":\"scalar\",\"x\":1}},", StringComparison.Ordinal);
        Assert.Equal(["edges-worn", "edges-worn 2"], LookJson.Read(Encoding.UTF8.GetBytes(both)).Sources.Keys);
    }

    /// <summary>
    /// Every kind of edit that can name a source, as 0.2 kept it: its own inverse leads back in a look that was read with a dash.
    /// </summary>
    [Fact]
    public void TheEditsOfAHistoryFollow()
    {
        var look = WithSource();
        var source = LaneAddress.OfSource("edges-worn");
        LookEdit[] edits =
        [
            new LaneEdit(source, new(LookValue.Of(0.25f))),
            new ValueEdit(source, LookValue.Of(0.25f)),
            new LaneEdit("base_metalness", new(Chain: new(new SourceOrigin("edges-worn")))),
            new SourceRenameEdit("edges-worn", "edges"),
            new VariantsEdit([]),
            new RestoreEdit(new Look { Name = "empty" }, "at first"),
            new BatchEdit("both", [new RenameEdit("oak/ash"), new ValueEdit(source, LookValue.Of(0.75f))]),
        ];
        foreach (var edit in edits)
        {
            var kept = Old(JsonSerializer.Serialize(edit, LookJson.Options));
            var (changed, inverse) = LookJson.ReadEdit(kept).Apply(look);
            Assert.Equal(LookJson.Write(edit.Apply(look).Look), LookJson.Write(changed));
            var back = LookJson.ReadEdit(Old(JsonSerializer.Serialize(inverse, LookJson.Options)));
            Assert.Equal(LookJson.Write(look), LookJson.Write(back.Apply(changed).Look));
        }
    }

    /// <summary>What has slashes by right keeps them: a step's other input, a name, a file.</summary>
    [Fact]
    public void OtherSlashesStay()
    {
        var edit = new BatchEdit("a/b", [new ValueEdit("source:edges/s1/other", LookValue.Of(1f)), new RenameEdit("source:a/b")]);
        Assert.Equal(
            JsonSerializer.Serialize<LookEdit>(edit, LookJson.Options),
            JsonSerializer.Serialize(LookJson.ReadEdit(JsonSerializer.Serialize<LookEdit>(edit, LookJson.Options)), LookJson.Options)
        );
    }
}
