using System.Text.Json;
using System.Text.Json.Nodes;

namespace Kiln.Looks.Document;

/// <summary>
/// One place where two looks differ: a lane's address (or placement, name, …), and what stands there in each, as indented JSON; null where
/// nothing does.
/// </summary>
public sealed record LookChange(string Place, string? Before, string? After);

/// <summary>Two looks compared lane by lane.</summary>
public static class LookChanges
{
    private static readonly string[] Keyed = ["slots", "sources", "lanes", "trims"];
    private static readonly JsonSerializerOptions Shown = new(LookJson.Options) { WriteIndented = true };

    /// <summary>Every place that differs, in the order of the document; none where the looks are the same.</summary>
    public static IReadOnlyList<LookChange> Between(Look before, Look after)
    {
        JsonObject a = Tree(before),
            b = Tree(after);
        var result = new List<LookChange>();
        foreach (var name in a.Select(p => p.Key).Union(b.Select(p => p.Key)))
        {
            if (Keyed.Contains(name))
                Each(name == "lanes" ? "" : name.TrimEnd('s') + ":", a[name] as JsonObject, b[name] as JsonObject, result);
            else if (name == "covers")
                Layers(a[name] as JsonArray, b[name] as JsonArray, result);
            else if (name == "variants")
                Each("variant:", ByName(a[name] as JsonArray), ByName(b[name] as JsonArray), result);
            else
                Compare(name, a[name], b[name], result);
        }
        return result;
    }

    private static JsonObject ByName(JsonArray? variants) =>
        new((variants ?? []).Select(v => KeyValuePair.Create((string)v!["name"]!, (JsonNode?)v.DeepClone())));

    private static JsonObject Tree(Look look) => (JsonObject)JsonSerializer.SerializeToNode(look, LookJson.Options)!;

    private static void Each(string prefix, JsonObject? a, JsonObject? b, List<LookChange> result)
    {
        foreach (var key in (a ?? []).Select(p => p.Key).Union((b ?? []).Select(p => p.Key)).Order(StringComparer.Ordinal))
            Compare(prefix + key, a?[key], b?[key], result);
    }

    /// <summary>Layers by their place: lane by lane where both have one.</summary>
    private static void Layers(JsonArray? a, JsonArray? b, List<LookChange> result)
    {
        for (var i = 0; i < Math.Max(a?.Count ?? 0, b?.Count ?? 0); i++)
        {
            var (one, other) = (i < (a?.Count ?? 0) ? a![i] as JsonObject : null, i < (b?.Count ?? 0) ? b![i] as JsonObject : null);
            if (one is null || other is null)
            {
                Compare($"cover:{i}", one, other, result);
                continue;
            }
            Each($"cover:{i}:", one["lanes"] as JsonObject, other["lanes"] as JsonObject, result);
            foreach (var name in one.Select(p => p.Key).Union(other.Select(p => p.Key)).Where(n => n != "lanes"))
                Compare($"cover:{i}:{name}", one[name], other[name], result);
        }
    }

    private static void Compare(string place, JsonNode? a, JsonNode? b, List<LookChange> result)
    {
        if (!JsonNode.DeepEquals(a, b))
            result.Add(new(place, a?.ToJsonString(Shown), b?.ToJsonString(Shown)));
    }
}
