using System.Text.Json.Serialization;
using Kiln.Analysis.Findings;
using Kiln.Looks.Document;
using Kiln.Looks.Overrides;
using Kiln.Looks.Readings;
using Kiln.Models.Measures;

namespace Kiln.Analysis.Models.Findings;

/// <summary>What mends a finding in one gesture.</summary>
[JsonConverter(typeof(CamelCaseEnum<ModelRepairKind>))]
public enum ModelRepairKind
{
    /// <summary>What parts have of their own is set.</summary>
    Settings,

    /// <summary>The looks that lie on the parts are said to be meant.</summary>
    Confirm,

    /// <summary>The look is opened.</summary>
    Look,

    /// <summary>The file's materials are shown.</summary>
    Materials,
}

/// <summary>What a part is to have of its own.</summary>
/// <param name="Projection">box, front, side, top, cylinder or sphere; null for the file's UVs.</param>
public sealed record RepairedPart(string Path, PartOverride Own, string? Projection);

/// <param name="Settings">For <see cref="ModelRepairKind.Settings"/>.</param>
public sealed record ModelRepair(ModelRepairKind Kind, IReadOnlyList<RepairedPart> Settings)
{
    public static ModelRepair Of(ModelRepairKind kind) => new(kind, []);
}

/// <summary>Something about a model that is probably wrong, or that somebody should know.</summary>
/// <param name="Parts">Paths, at least one.</param>
/// <param name="Evidence">Numbers and what they mean, in words.</param>
/// <param name="Fix">What the repair does, in words; null where no one gesture mends it.</param>
public sealed record ModelFinding(
    string Code,
    Severity Severity,
    IReadOnlyList<string> Parts,
    string Message,
    string Evidence,
    string? Fix = null,
    ModelRepair? Repair = null
);

/// <summary>A part with all that findings are made of.</summary>
/// <param name="Size">Sides of its box in metres.</param>
/// <param name="Figures">Null where it came in before they were kept.</param>
/// <param name="Look">As it lies on the part, with what that has of its own; null for none.</param>
/// <param name="LookKey">Parts with the same one show the same look.</param>
/// <param name="Projection">UVs that are made; null for those of the file.</param>
/// <param name="ByName">How sure its name made the binding; null where a person said so, or there is none.</param>
/// <param name="Named">What the file's own material names pictures for.</param>
/// <param name="Dead">Paths of these that lead nowhere.</param>
public sealed record FoundPart(
    string Path,
    string Name,
    int Triangles,
    double Area,
    IReadOnlyList<float> Size,
    PartFigures? Figures,
    Look? Look,
    string? LookKey,
    PartOverride Own,
    string? Projection,
    float? ByName,
    IReadOnlyList<MapRole> Named,
    IReadOnlyList<string> Dead
)
{
    /// <summary>Whether the look is archived while it lies on the part.</summary>
    public bool IsArchived { get; init; }

    /// <summary>Why the look that lies on it cannot be read; null where it can, or there is none.</summary>
    public string? LookFault { get; init; }

    /// <summary>Its maps lie on it by the file's UVs.</summary>
    internal UvMeasures? Uvs => Projection is null ? Figures?.Uvs : null;
}
