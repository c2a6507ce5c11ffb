using System.Text.Json;
using System.Text.Json.Nodes;
using System.Text.Json.Schema;
using System.Text.Json.Serialization;
using System.Text.Json.Serialization.Metadata;

namespace Kiln.Dialects.Profiles;

/// <summary>
/// The JSON schema of a profile (2020-12), made from the records that read it; shipped as <c>profiles/profile.schema.json</c>.
/// </summary>
public static class ProfileSchema
{
    public static string Text()
    {
        var options = new JsonSerializerOptions(DialectProfile.Options)
        {
            TypeInfoResolver = new DefaultJsonTypeInfoResolver(),
            // The exporter knows the words of this converter, so that an editor offers them.
            Converters = { new JsonStringEnumConverter() },
        };
        var schema = options.GetJsonSchemaAsNode(typeof(DialectProfile), new() { TreatNullObliviousAsNonNullable = true }).AsObject();
        var whole = new JsonObject
        {
            ["$schema"] = "https://json-schema.org/draft/2020-12/schema",
            ["title"] = "A dialect profile of Nimble Kiln",
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
}
