using System.Text.Json.Serialization;
using Kiln.Faults;
using Kiln.Looks.Ids;
using Kiln.Store.People;

namespace Kiln.Store.Archives;

/// <summary>What an archive says of itself and of its collection.</summary>
/// <param name="Schema">See <see cref="Current"/>.</param>
/// <param name="Looks">In their order; each lies in looks/ID.json.</param>
/// <param name="Profiles">Texts of the profiles that versions were made under, by SHA-256.</param>
public sealed record ArchiveHeader(
    int Schema,
    DateTime Made,
    ArchivedCollection Collection,
    IReadOnlyList<LookId> Looks,
    IReadOnlyDictionary<string, string> Profiles
)
{
    public const int Current = 1;
}

public sealed record ArchivedCollection(
    string Name,
    string? WorkingSpace,
    IReadOnlyList<ArchivedRules> Rules,
    IReadOnlyList<ArchivedTrims> Trims
);

public sealed record ArchivedRules(int Revision, string Text, string Person, DateTime At);

/// <param name="Trims">JSON.</param>
public sealed record ArchivedTrims(string Dialect, string Trims, string Person);

/// <summary>A look with all that happened to it. People by the name they sign in with.</summary>
public sealed record ArchivedLook(
    LookId Id,
    string Name,
    string Document,
    int Revision,
    string Section,
    string CreatedBy,
    DateTime Created,
    DateTime Changed,
    IReadOnlyList<ArchivedEdit> History,
    IReadOnlyList<ArchivedVersion> Versions
);

public sealed record ArchivedEdit(
    int Number,
    [property: JsonPropertyName("words")] string Sentence,
    string Edit,
    string Inverse,
    bool Undone,
    string Person,
    DateTime At
);

/// <param name="SpaceNames">JSON, as are the two after it.</param>
public sealed record ArchivedVersion(
    VersionId Id,
    int Number,
    string Document,
    string Hash,
    string Note,
    string Person,
    DateTime At,
    string State,
    [property: JsonPropertyName("judgedBy")] string? ReviewedBy,
    [property: JsonPropertyName("judgedAt")] DateTime? ReviewedAt,
    [property: JsonPropertyName("judgement")] string Review,
    string WorkingSpace,
    string SpaceNames,
    string Profiles,
    [property: JsonPropertyName("houseTrims")] string StudioTrims
);

/// <summary>An archive cannot be made or taken; the message is a sentence.</summary>
public sealed class ArchiveException(string message, Exception? inner = null)
    : KilnException(FaultKind.Unusable, "archive.invalid", message, inner);
