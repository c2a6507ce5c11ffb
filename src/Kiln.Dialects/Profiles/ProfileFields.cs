using System.Text.Json;
using System.Text.Json.Serialization;

namespace Kiln.Dialects.Profiles;

/// <summary>How people read one field of a profile.</summary>
/// <param name="About">What it is, and what a change of it changes; empty where the label says all.</param>
/// <param name="Unit">Of its number; null for none.</param>
/// <param name="Formula">Whether its texts are formulas.</param>
/// <param name="Choices">Labels of its words, where it is one of some.</param>
/// <param name="Keys">What its keys are, where they are known: inputs (of the dialect), neutral, spaces, valueSpaces.</param>
/// <param name="Values">Likewise for what stands at its keys.</param>
/// <param name="OneOf">Likewise for a text.</param>
/// <param name="Like">The field whose parts its own are labelled as.</param>
public sealed record ProfileField(
    string Label,
    string About,
    string? Unit = null,
    bool Formula = false,
    IReadOnlyDictionary<string, string>? Choices = null,
    string? Keys = null,
    string? Values = null,
    string? OneOf = null,
    string? Like = null
);

/// <summary>Fields that stand together.</summary>
public sealed record ProfileSection(string Title, IReadOnlyList<string> Fields);

/// <summary>
/// Labels and explanations of a profile's fields, by path: names joined by slashes, * for a place of a list and {} for what stands at a
/// key. They go into the schema, from which the form in Studio is made.
/// </summary>
public sealed record ProfileFields(IReadOnlyList<ProfileSection> Sections, IReadOnlyDictionary<string, ProfileField> Fields)
{
    private static readonly JsonSerializerOptions Options = new(JsonSerializerDefaults.Web)
    {
        UnmappedMemberHandling = JsonUnmappedMemberHandling.Disallow,
    };

    public static readonly ProfileFields Table = Load();

    private static ProfileFields Load()
    {
        using var stream = typeof(ProfileFields).Assembly.GetManifestResourceStream("Kiln.Dialects.Profiles.profile-fields.json")!;
        return JsonSerializer.Deserialize<ProfileFields>(stream, Options)!;
    }
}
