using System.Text.Json;
using System.Text.Json.Serialization;
using Kiln.Looks.Document;

namespace Kiln.Looks.Inputs;

/// <summary>
/// One input of the neutral surface. <paramref name="Type"/> is scalar, colour or direction; <paramref name="Default"/> one or three
/// numbers.
/// </summary>
public sealed record NeutralInput(
    string Name,
    string Group,
    string Type,
    float[]? Default,
    float Low,
    float High,
    string? Unit,
    [property: JsonPropertyName("words")] string Label
)
{
    public bool IsScalar => Type == "scalar";

    public bool IsColour => Type == "colour";

    public bool IsDirection => Type == "direction";

    /// <summary>A direction along the surface instead of away from it: a turn from u, or a map of directions (decision 0017).</summary>
    public bool IsTangent => Name is "geometry_tangent" or "geometry_coat_tangent";

    /// <summary>Whether a plain value may stand for it.</summary>
    public bool TakesValue => !IsDirection || IsTangent;

    public LookValue? DefaultValue =>
        Default is null ? null
        : IsColour ? new TintValue(Default[0], Default[1], Default[2], "acescg")
        : new ScalarValue(Default[0]);
}

/// <summary>The inputs of OpenPBR Surface 1.1 with the standard's defaults, and our own for occlusion and displacement.</summary>
public static class NeutralInputs
{
    public static readonly IReadOnlyList<NeutralInput> All = Load();

    private static readonly Dictionary<string, NeutralInput> ByName = All.ToDictionary(i => i.Name);

    public static bool Exists(string name) => ByName.ContainsKey(name);

    /// <exception cref="LookException">The surface has no such input.</exception>
    public static NeutralInput Find(string name) =>
        ByName.TryGetValue(name, out var input) ? input : throw new LookException($"The surface has no input '{name}'.");

    private static IReadOnlyList<NeutralInput> Load()
    {
        using var stream = typeof(NeutralInputs).Assembly.GetManifestResourceStream("Kiln.Looks.Inputs.neutral-inputs.json")!;
        return JsonSerializer.Deserialize<NeutralInput[]>(stream, JsonSerializerOptions.Web)!;
    }
}
