using System.Reflection;
using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;
using System.Text.Json.Serialization;
using Kiln.Looks.Document;
using Kiln.Looks.Edits;
using Kiln.Looks.Steps;

namespace Kiln.Contracts.Tests;

/// <summary>Looks and edits as they lie in databases and archives: what was written once is read, and written again the same.</summary>
public sealed class StoredDocuments
{
    private const string Project = "Kiln.Contracts.Tests";

    private static string Stored(string kind) => Path.Combine(GoldenFile.Folder(Project), kind);

    public static TheoryData<string> Looks() =>
        [.. Directory.GetFiles(Stored("looks"), "*.json").Select(f => Path.GetFileName(f)).Order(StringComparer.Ordinal)];

    [Theory]
    [MemberData(nameof(Looks))]
    public void ALookIsWrittenAsItWasStored(string name)
    {
        var look = LookJson.Read(Encoding.UTF8.GetBytes(GoldenFile.Read(Project, $"looks/{name}")));
        GoldenFile.Check(Project, $"looks/{name}", Encoding.UTF8.GetString(LookJson.Write(look, indented: true)));
    }

    [Fact]
    public void EveryEditIsWrittenAsItWasStored()
    {
        var edits = JsonSerializer.Deserialize<List<LookEdit>>(GoldenFile.Read(Project, "edits/every-edit.json"), LookJson.Options)!;
        GoldenFile.Check(
            Project,
            "edits/every-edit.json",
            JsonSerializer.Serialize(edits, new JsonSerializerOptions(LookJson.Options) { WriteIndented = true })
        );
    }

    /// <summary>The stored samples hold every kind of step, origin, value and edit that the program knows.</summary>
    [Theory]
    [InlineData(typeof(Step), "kind", "looks")]
    [InlineData(typeof(Origin), "kind", "looks")]
    [InlineData(typeof(LookValue), "kind", "looks")]
    [InlineData(typeof(LookEdit), "edit", "edits")]
    public void NoKindIsMissingAmongTheSamples(Type type, string discriminator, string folder)
    {
        var stored = Directory
            .GetFiles(Stored(folder))
            .SelectMany(f => Kinds(JsonNode.Parse(File.ReadAllText(f)), discriminator))
            .ToHashSet();
        var known = LookJson.Options.GetTypeInfo(type).PolymorphismOptions!.DerivedTypes.Select(t => (string)t.TypeDiscriminator!).ToList();
        Assert.NotEmpty(known);
        Assert.Empty(known.Except(stored));
    }

    private static IEnumerable<string> Kinds(JsonNode? node, string discriminator) =>
        node switch
        {
            JsonObject o => o.SelectMany(p =>
                p.Key == discriminator && p.Value is JsonValue v && v.TryGetValue<string>(out var kind)
                    ? [kind]
                    : Kinds(p.Value, discriminator)
            ),
            JsonArray a => a.SelectMany(n => Kinds(n, discriminator)),
            _ => [],
        };
}
