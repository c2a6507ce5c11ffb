using System.Text.Json.Serialization;
using Kiln.Looks.Steps.Table;

namespace Kiln.Looks.Steps;

/// <summary>
/// One operation in a lane. <see cref="Id"/> is unique within its chain; a bypassed step passes its input on. What kinds of steps there
/// are, and everything that is known of each, stands in its own file beside its record: see <see cref="StepTable"/>.
/// </summary>
public abstract record Step
{
    public string Id { get; init; } = "";

    public bool Bypassed { get; init; }

    [JsonIgnore]
    public StepEntry Entry => StepTable.Of(GetType());
}
