using System.Text.Json.Serialization;
using Kiln.Looks.Edits;
using Kiln.Looks.Readings;
using Kiln.Pixels;

namespace Kiln.Analysis.Findings;

[JsonConverter(typeof(CamelCaseEnum<Severity>))]
public enum Severity
{
    Error,
    Warning,
    Advice,
}

/// <summary>A picture that shows what is meant: a stored map under a reading.</summary>
public sealed record EvidencePicture(ContentHash Content, Reading Reading, [property: JsonPropertyName("words")] string Caption)
{
    /// <summary>What is striped in it; see <see cref="PictureMarks"/>. Null where nothing is.</summary>
    public string? Mark { get; init; }

    /// <summary>Moved by half its width and height, so that the edges meet in the middle.</summary>
    public bool Halved { get; init; }

    /// <summary>Only so many pixels on a side, from the middle, at full size; null for all of it.</summary>
    public int? Crop { get; init; }
}

/// <summary>Something that is probably wrong. <paramref name="Repair"/> is the edit that mends it, when one gesture can.</summary>
/// <param name="Subject">The lane's address or the slot it is about.</param>
/// <param name="Evidence">Numbers and what they mean, in words.</param>
public sealed record Finding(
    string Code,
    Severity Severity,
    string Subject,
    string Message,
    string Evidence,
    string? Fix = null,
    LookEdit? Repair = null
)
{
    public IReadOnlyList<EvidencePicture> Pictures { get; init; } = [];
}
