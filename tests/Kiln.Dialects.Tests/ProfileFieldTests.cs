using System.Text.Json.Nodes;
using Kiln.Dialects.Profiles;

namespace Kiln.Dialects.Tests;

/// <summary>The form in Studio is made from the schema: what has no label there would be shown by its identifier, or not at all.</summary>
public sealed class ProfileFieldTests
{
    private static readonly JsonObject Schema = JsonNode.Parse(ProfileSchema.Text())!.AsObject();

    /// <summary>Every field of the schema, by its path; what repeats another one's parts (a reference) ends there.</summary>
    private static IEnumerable<(string Path, JsonObject Schema)> Fields(JsonObject schema, string path = "")
    {
        foreach (var (name, part) in schema["properties"] as JsonObject ?? [])
        foreach (var field in Within((JsonObject)part!, path.Length == 0 ? name : $"{path}/{name}"))
            yield return field;
        if (schema["items"] is JsonObject item && !item.ContainsKey("$ref"))
            foreach (var field in Within(item, $"{path}/*"))
                yield return field;
        if (schema["additionalProperties"] is JsonObject value)
            foreach (var field in Within(value, $"{path}/{{}}"))
                yield return field;
    }

    private static IEnumerable<(string, JsonObject)> Within(JsonObject part, string path) => [(path, part), .. Fields(part, path)];

    [Fact]
    public void EveryFieldHasALabelAndEveryLabelAField()
    {
        // A place of a list of objects has the label of the list.
        var paths = Fields(Schema).Where(f => !(f.Path.EndsWith("/*", StringComparison.Ordinal) && f.Schema.ContainsKey("properties")));
        Assert.Equal(
            paths.Select(f => f.Path).Order(StringComparer.Ordinal),
            ProfileFields.Table.Fields.Keys.Order(StringComparer.Ordinal)
        );
        Assert.All(ProfileFields.Table.Fields.Values, f => Assert.NotEmpty(f.Label));
    }

    [Fact]
    public void EveryWordHasALabelAndEveryLabelAWord()
    {
        foreach (var (path, schema) in Fields(Schema))
        {
            // Types of inputs are texts that the check looks at.
            if (path == "inputs/*/type")
                continue;
            var words = (schema["enum"] as JsonArray ?? []).Select(w => w!.GetValue<string>()).Order(StringComparer.Ordinal);
            var labelled = (schema["x-choices"] as JsonObject ?? []).Select(c => c.Key).Order(StringComparer.Ordinal);
            Assert.Equal((path, string.Join(' ', words)), (path, string.Join(' ', labelled)));
        }
    }

    [Fact]
    public void EveryPartOfAProfileStandsInOneSection() =>
        Assert.Equal(
            Schema["properties"]!.AsObject().Select(p => p.Key).Order(StringComparer.Ordinal),
            ProfileFields.Table.Sections.SelectMany(s => s.Fields).Order(StringComparer.Ordinal)
        );

    /// <summary>Words that a profile may have are those that the shipped ones use, and a schema that forbade one would mark it as wrong in
    /// an editor.</summary>
    [Fact]
    public void ShippedProfilesUseOnlyWordsOfTheSchema()
    {
        foreach (var profile in DialectProfiles.Load(DialectProfiles.ShippedFolder()).All)
            Allowed(
                JsonNode.Parse(
                    profile.Text,
                    null,
                    new() { CommentHandling = System.Text.Json.JsonCommentHandling.Skip, AllowTrailingCommas = true }
                ),
                Schema,
                profile.Id
            );

        static void Allowed(JsonNode? value, JsonObject schema, string path)
        {
            if (schema["$ref"]?.GetValue<string>() is { } reference)
                schema = reference.TrimStart('#', '/').Split('/').Aggregate((JsonNode)Schema, (at, part) => at[part]!).AsObject();
            if (schema["enum"] is JsonArray words && value is not null)
                Assert.True(words.Any(w => w?.GetValue<string>() == value.GetValue<string>()), $"{path}: {value}");
            if (value is JsonArray list && schema["items"] is JsonObject item)
                for (var i = 0; i < list.Count; i++)
                    Allowed(list[i], item, $"{path}/{i}");
            if (value is JsonObject whole)
                foreach (var (name, part) in whole)
                {
                    var of = schema["properties"]?[name] as JsonObject ?? schema["additionalProperties"] as JsonObject;
                    Assert.True(of is not null || schema["properties"] is null, $"{path}/{name} is no field of the schema");
                    if (of is not null)
                        Allowed(part, of, $"{path}/{name}");
                }
        }
    }

    [Theory]
    [InlineData("\"cover_mode\": \"if", "\"cover_mode\": \"iff", "mapping/cover_mode")]
    [InlineData("\"scale\": \"multiply\"", "\"scale\": \"times\"", "placement/scale")]
    [InlineData("\"rgb\": \"skin\"", "\"rgb\": \"skim\"", "slots/0/channels/rgb")]
    [InlineData("\"when\": \"base_diffuse_roughness\"", "\"when\": \"bas\"", "losses/2/when")]
    public void AFaultNamesTheFieldItIsAbout(string right, string wrong, string path)
    {
        var text = File.ReadAllText(Path.Combine(DialectProfiles.ShippedFolder(), "saggar.json"));
        Assert.Contains(right, text, StringComparison.Ordinal);
        Assert.Contains(path, ProfileCheck.Read(text.Replace(right, wrong, StringComparison.Ordinal)).Problems.Select(p => p.Path));
    }
}
