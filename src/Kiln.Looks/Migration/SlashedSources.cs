using System.Collections.Immutable;
using System.Text.Json;
using System.Text.Json.Nodes;
using Kiln.Looks.Document;
using Kiln.Looks.Edits;

namespace Kiln.Looks.Migration;

/// <summary>
/// Up to release 0.2 a source could have a slash in its name, and then none of its steps could be addressed. Documents and the edits of
/// their histories are read with a dash in its place.
/// </summary>
internal static class SlashedSources
{
    private static readonly string Prefix = LaneAddress.OfSource("a").Text[..^1];

    public static bool AreIn(Look look) => look.Sources.Keys.Any(n => n.Contains('/'));

    public static Look Without(Look look)
    {
        var names = new Dictionary<string, string>();
        foreach (var name in look.Sources.Keys)
            names[name] = name.Contains('/')
                ? FreeNames.Of(Dashed(name), n => look.Sources.ContainsKey(n) || names.ContainsValue(n))
                : name;
        string Address(string text) => names.TryGetValue(NameIn(text) ?? "", out var name) ? Prefix + name : text;
        var renamed = look with
        {
            Sources = look.Sources.ToImmutableSortedDictionary(s => names[s.Key], s => s.Value),
            Variants =
            [
                .. look.Variants.Select(v => v with { Values = v.Values.ToImmutableSortedDictionary(o => Address(o.Key), o => o.Value) }),
            ],
        };
        return ChainRewriting.Origins(renamed, o =>
            o is SourceOrigin source && names.TryGetValue(source.Source, out var name) ? new SourceOrigin(name) : o
        );
    }

    /// <summary>
    /// The edit as JSON, made anew. Where a look had the dashed name too, that is another source, and the edit will not fit.
    /// </summary>
    public static JsonNode? Without(JsonNode? edit) =>
        edit switch
        {
            JsonArray items => new JsonArray([.. items.Select(Without)]),
            JsonObject fields => new JsonObject(fields.Select(f => KeyValuePair.Create(f.Key, Field(fields, f.Key, f.Value)))),
            _ => edit?.DeepClone(),
        };

    private static JsonNode? Field(JsonObject of, string key, JsonNode? value) =>
        (key, value) switch
        {
            ("source", JsonValue) when of["kind"]?.ToString() == "source" => Changed(value, Dashed),
            ("from" or "to", JsonValue) when of["edit"]?.ToString() == "sourceRename" => Changed(value, Dashed),
            ("lane", JsonValue) => Changed(value, DashedAddress),
            ("sources", JsonObject sources) => WithKeys(sources, Dashed),
            ("values", JsonObject values) => WithKeys(values, DashedAddress),
            _ => Without(value),
        };

    private static JsonNode? Changed(JsonNode value, Func<string, string> change) =>
        value.GetValueKind() == JsonValueKind.String ? JsonValue.Create(change(value.GetValue<string>())) : value.DeepClone();

    private static JsonObject WithKeys(JsonObject all, Func<string, string> change) =>
        new(all.Select(one => KeyValuePair.Create(change(one.Key), Without(one.Value))));

    private static string Dashed(string name) => name.Replace('/', '-');

    /// <summary>What can be parsed is an address of this release: a step's input has slashes too.</summary>
    private static string DashedAddress(string text) =>
        !LaneAddress.TryParse(text, null, out _) && NameIn(text) is { } name ? Prefix + Dashed(name) : text;

    private static string? NameIn(string address) => address.StartsWith(Prefix, StringComparison.Ordinal) ? address[Prefix.Length..] : null;
}
