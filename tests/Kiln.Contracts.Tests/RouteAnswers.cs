using System.IO.Compression;
using System.Net.Http.Json;
using System.Security.Cryptography;
using System.Text;
using System.Text.Encodings.Web;
using System.Text.Json;
using System.Text.Json.Nodes;
using System.Text.RegularExpressions;

namespace Kiln.Contracts.Tests;

/// <summary>
/// What the routes answer about the demo, and the bytes of what they write: the front end, scripts and published versions rely on it.
/// </summary>
public sealed partial class RouteAnswers(ServerFixture server) : IClassFixture<ServerFixture>
{
    private const string Project = "Kiln.Contracts.Tests";
    private static readonly JsonSerializerOptions Indented = new()
    {
        WriteIndented = true,
        Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
    };
    private readonly Dictionary<string, string> named = [];

    /// <summary>
    /// The shape of every operation's answers, with component names resolved: what a type is called in the program is no part of it.
    /// </summary>
    [Fact]
    public void TheShapesOfAllAnswersAreThoseOfBefore()
    {
        var document = JsonNode.Parse(File.ReadAllText(Repository.Path("docs", "openapi.json")))!;
        var text = new StringBuilder();
        foreach (var (path, operations) in document["paths"]!.AsObject())
        foreach (var (method, operation) in operations!.AsObject())
        {
            var parameters = string.Join(
                ' ',
                (operation!["parameters"]?.AsArray() ?? []).Select(p => $"{p!["in"]}:{p["name"]}").Order(StringComparer.Ordinal)
            );
            text.Append($"{method.ToUpperInvariant()} {path} {parameters}\n");
            if (operation["requestBody"]?["content"] is JsonObject sent)
                foreach (var (kind, body) in sent)
                    text.Append($"  takes {kind} {Shape(document, body!["schema"], [])}\n");
            foreach (var (status, answer) in operation["responses"]!.AsObject().Where(r => r.Key.StartsWith('2')))
            foreach (var (kind, body) in answer!["content"]?.AsObject() ?? [])
                text.Append($"  {status} {kind} {Shape(document, body!["schema"], [])}\n");
        }
        GoldenFile.Check(Project, "routes.txt", text.ToString());
    }

    private static string Shape(JsonNode document, JsonNode? schema, string[] within)
    {
        if (schema is null)
            return "anything";
        if ((string?)schema["$ref"] is { } reference)
        {
            var name = reference.Split('/')[^1];
            return within.Contains(name) ? "(itself)" : Shape(document, document["components"]!["schemas"]![name], [.. within, name]);
        }
        foreach (var choice in (string[])["oneOf", "anyOf", "allOf"])
            if (schema[choice] is JsonArray options)
                return $"{choice}({string.Join(" | ", options.Select(o => Shape(document, o, within)))})";
        if (schema["enum"] is JsonArray values)
            return string.Join('|', values.Select(v => v?.ToString() ?? "null"));
        if (schema["properties"] is JsonObject properties)
            return "{" + string.Join(", ", properties.Select(p => $"{p.Key}: {Shape(document, p.Value, within)}")) + "}";
        if (schema["items"] is { } items)
            return $"[{Shape(document, items, within)}]";
        if (schema["additionalProperties"] is JsonObject entries)
            return $"{{*: {Shape(document, entries, within)}}}";
        return schema["type"] is JsonArray types
            ? string.Join('|', types.Select(t => t!.ToString()))
            : schema["type"]?.ToString() ?? "anything";
    }

    [Fact]
    public async Task AnswersAndWrittenFilesAreThoseOfBefore()
    {
        using var client = await server.SignedInAsync("noor");
        var look = await IdAsync(client, "looks", "verdigris copper pipe");
        var collection = await IdAsync(client, "collections", "The Tide Organ");
        foreach (
            var place in (string[])
                [
                    "looks/finding-codes",
                    "naming/words",
                    "naming/rules",
                    "profiles",
                    "colour",
                    "colour/written",
                    "lights",
                    "chains",
                    "filters",
                    "comparisons",
                    "looks/duplicates",
                ]
        )
            await CheckAsync(client, place.Replace('/', '-'), place);
        foreach (
            var part in (string[])
                [
                    "",
                    "/history",
                    "/trims",
                    "/variants",
                    "/variants/rules",
                    "/versions",
                    "/relink",
                    "/network?dialect=gltf",
                    "/network?dialect=celadon",
                    "/board?dialect=openpbr",
                    "/numbers?lane=base_color&step=0&u=0.3&v=0.6",
                    "/histogram?lane=specular_roughness&step=0",
                ]
        )
            await CheckAsync(
                client,
                "look"
                    + part.Split('?')[0].Replace('/', '-')
                    + (part.Contains("dialect=", StringComparison.Ordinal) ? "-" + part.Split("dialect=")[1] : ""),
                $"looks/{look}{part}"
            );
        foreach (var part in (string[])["/rules", "/trims"])
            await CheckAsync(client, "collection" + part.Replace('/', '-'), $"collections/{collection}{part}");
        var revision = (await client.GetFromJsonAsync<JsonElement>($"looks/{look}")).GetProperty("revision").GetInt32();
        using var publish = new HttpRequestMessage(HttpMethod.Post, $"looks/{look}/versions")
        {
            Content = JsonContent.Create(new { note = "final", publishes = true }),
        };
        publish.Headers.TryAddWithoutValidation("If-Match", $"\"{revision}\"");
        var published = await client.SendAsync(publish);
        Assert.True(published.IsSuccessStatusCode, await published.Content.ReadAsStringAsync());
        await CheckAsync(client, "look-versions-1", $"looks/{look}/versions/1");
        foreach (var dialect in (string[])["openpbr", "gltf", "usd_preview", "bisque", "saggar"])
            await CheckZipAsync(client, $"version-package-{dialect}", $"looks/{look}/versions/1/package?dialect={dialect}");
        await CheckZipAsync(client, "archive", $"collections/{collection}/archive");
    }

    private static async Task<string> IdAsync(HttpClient client, string list, string name) =>
        (await client.GetFromJsonAsync<JsonElement>(list))
            .EnumerateArray()
            .First(l => l.GetProperty("name").GetString()!.Contains(name, StringComparison.Ordinal))
            .GetProperty("id")
            .GetString()!;

    private async Task CheckAsync(HttpClient client, string name, string place)
    {
        using var answer = await client.GetAsync(place);
        var text = await answer.Content.ReadAsStringAsync();
        Assert.True(answer.IsSuccessStatusCode, $"{place}: {text}");
        GoldenFile.Check(Project, $"answers/{name}.json", Lasting(JsonNode.Parse(text)!.ToJsonString(Indented)));
    }

    /// <summary>Names and contents of an archive; documents inside as text, since they hold identifiers and times of one run.</summary>
    private async Task CheckZipAsync(HttpClient client, string name, string place)
    {
        var bytes = await client.GetByteArrayAsync(place);
        var entries = new List<string>();
        using var zip = new ZipArchive(new MemoryStream(bytes));
        foreach (var entry in zip.Entries)
        {
            using var content = entry.Open();
            using var memory = new MemoryStream();
            content.CopyTo(memory);
            // Checksums follow from the rest.
            var isText = Path.GetExtension(entry.Name) is ".json" or ".mtlx" or ".usda" or ".txt";
            var kept =
                entry.Name == "checksums.txt" ? ""
                : isText ? Encoding.UTF8.GetString(memory.ToArray()) + "\n"
                : Convert.ToHexStringLower(SHA256.HashData(memory.ToArray())) + "\n";
            entries.Add(Times().Replace(Ids().Replace($"== {entry.FullName}\n{kept}", "ID"), "TIME"));
        }
        var text = string.Concat(entries.Order(StringComparer.Ordinal));
        GoldenFile.Check(Project, $"packages/{name}.txt", text);
    }

    /// <summary>
    /// Without what differs between two runs: identifiers are numbered in their order, times and the server's folder have names.
    /// </summary>
    private string Lasting(string text)
    {
        text = Ids().Replace(text, m => named.TryGetValue(m.Value, out var known) ? known : named[m.Value] = $"id-{named.Count + 1}");
        return Times().Replace(text.Replace(server.Folder, "FOLDER", StringComparison.Ordinal), "TIME");
    }

    [GeneratedRegex("[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}")]
    private static partial Regex Ids();

    [GeneratedRegex(@"\d{4}-\d\d-\d\dT[0-9:.]+(Z|[+-]\d\d:\d\d)?")]
    private static partial Regex Times();
}
