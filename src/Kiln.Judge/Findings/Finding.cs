using System.Text.Json.Serialization;
using Kiln.Looks.Edits;
using Kiln.Looks.Readings;

namespace Kiln.Judge.Findings;

[JsonConverter(typeof(CamelCaseEnum<Severity>))]
public enum Severity
{
    Error,
    Warning,
    Advice,
}

/// <summary>Something that is probably wrong. <paramref name="Repair"/> is the edit that mends it, when one gesture can.</summary>
public sealed record Finding(string Code, Severity Severity, string Subject, string Message, string Evidence, string? Fix = null, LookEdit? Repair = null);
