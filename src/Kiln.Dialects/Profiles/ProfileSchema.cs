using System.Text.Json;
using System.Text.Json.Nodes;
using System.Text.Json.Schema;
using System.Text.Json.Serialization;
using System.Text.Json.Serialization.Metadata;
using Kiln.Colour.Spaces;
using Kiln.Looks.Inputs;

namespace Kiln.Dialects.Profiles;

/// <summary>
/// The JSON schema of a profile (2020-12), made from the records that read it and <see cref="ProfileFields"/>; shipped as
/// <c>profiles/profile.schema.json</c>. Keywords that begin with x- are for the form in Studio.
/// </summary>
public static class ProfileSchema
{
    private static readonly Lazy<string> Made = new(Make);

    public static string Text() => Made.Value;

    private static string Make()
    {
        var options = new JsonSerializerOptions(DialectProfile.Options)
        {
            TypeInfoResolver = new DefaultJsonTypeInfoResolver { Modifiers = { LeaveOutWhatIsWorkedOut } },
            // The exporter knows the words of this converter, so that an editor offers them.
            Converters = { new JsonStringEnumConverter(JsonNamingPolicy.CamelCase) },
        };
        var schema = options.GetJsonSchemaAsNode(typeof(DialectProfile), new() { TreatNullObliviousAsNonNullable = true }).AsObject();
        Label(schema, "");
        var whole = new JsonObject
        {
            ["$schema"] = "https://json-schema.org/draft/2020-12/schema",
            ["title"] = "A dialect profile of Nimble Kiln",
            ["x-sections"] = JsonSerializer.SerializeToNode(ProfileFields.Table.Sections, JsonSerializerOptions.Web),
            // Names that fields choose from, with their labels.
            ["x-names"] = new JsonObject
            {
                ["neutral"] = Names([
                    .. NeutralInputs.All.Select(i => (i.Name, i.Label)),
                    .. DisplacementSettings.Names.Select(n => (n, n.Replace('_', ' '))),
                ]),
                ["spaces"] = Names(Spaces),
                ["valueSpaces"] = Names([("document", "the working space"), .. Spaces]),
            },
        };
        foreach (var (name, value) in schema.ToList())
        {
            schema.Remove(name);
            whole[name] = value;
        }
        return whole.ToJsonString(
                new JsonSerializerOptions
                {
                    WriteIndented = true,
                    Encoder = System.Text.Encodings.Web.JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
                }
            ) + "\n";
    }

    private static IEnumerable<(string, string)> Spaces => ColourSpace.All.Select(s => (s.Id.Text, s.Label));

    private static JsonObject Names(IEnumerable<(string Name, string Label)> names) =>
        new(names.Select(n => KeyValuePair.Create<string, JsonNode?>(n.Name, n.Label)));

    /// <summary>A property that nothing sets is no part of the text.</summary>
    private static void LeaveOutWhatIsWorkedOut(JsonTypeInfo type)
    {
        for (var i = type.Properties.Count - 1; i >= 0; i--)
            if (type.Properties[i] is { Set: null, AssociatedParameter: null })
                type.Properties.RemoveAt(i);
    }

    private static void Label(JsonObject schema, string path)
    {
        if (ProfileFields.Table.Fields.TryGetValue(path, out var field))
        {
            schema["title"] = field.Label;
            if (field.About.Length > 0)
                schema["description"] = field.Unit is null ? field.About : $"{field.About} In {field.Unit}.";
            foreach (
                var (name, value) in new (string, JsonNode?)[]
                {
                    ("x-unit", field.Unit),
                    ("x-formula", field.Formula ? true : null),
                    ("x-choices", field.Choices is null ? null : JsonSerializer.SerializeToNode(field.Choices)),
                    ("x-keys", field.Keys),
                    ("x-values", field.Values),
                    ("x-oneOf", field.OneOf),
                }
            )
                if (value is not null)
                    schema[name] = value;
        }
        foreach (var (name, part) in schema["properties"] as JsonObject ?? [])
            if (part is JsonObject inner)
                Label(inner, path.Length == 0 ? name : $"{path}/{name}");
        if (schema["items"] is JsonObject item)
            Label(item, $"{path}/*");
        if (schema["additionalProperties"] is JsonObject value1)
            Label(value1, $"{path}/{{}}");
    }
}
