using Kiln.Looks.Ids;
using Kiln.Looks.Overrides;
using Kiln.Pixels;

namespace Kiln.Store.Models;

/// <summary>A model as the studio lists it.</summary>
public sealed record ModelRow
{
    public required ModelId Id { get; init; }

    public required string Name { get; init; }

    /// <summary>Of its file in the delivery that it came with.</summary>
    public required string Path { get; init; }

    public required string Format { get; init; }

    public required string UpAxis { get; init; }

    public required double MetersPerUnit { get; init; }

    public required string[] Remarks { get; init; }

    public required ContentHash Packed { get; init; }

    public DeliveryId? DeliveryId { get; init; }

    public required DateTime Created { get; init; }

    public required int Parts { get; init; }

    /// <summary>Parts that a look lies on.</summary>
    public required int Bound { get; init; }

    /// <summary>Parts without one whose names could mean several.</summary>
    public required int Asked { get; init; }

    public required long Triangles { get; init; }
}

/// <summary>A part, and what lies on it.</summary>
public sealed record PartRow
{
    public required string Path { get; init; }

    public required string Name { get; init; }

    public string? Material { get; init; }

    public required int Triangles { get; init; }

    public required string[] UvSets { get; init; }

    /// <summary>In square metres.</summary>
    public required double Area { get; init; }

    /// <summary>Sides of its box in metres, along the file's axes.</summary>
    public required float[] Size { get; init; }

    /// <summary>What it has of its own over the look.</summary>
    public required PartOverride Own { get; init; }

    /// <summary>UVs that are made for it: box, front, side, top, cylinder or sphere; null for those of the file.</summary>
    public string? Projection { get; init; }

    public LookId? LookId { get; init; }

    public string? LookName { get; init; }

    /// <summary>Whether the look was archived while it lies on the part.</summary>
    public bool LookArchived { get; init; }

    /// <summary>name, or person; null without a look.</summary>
    public string? BoundBy { get; init; }

    public float? Confidence { get; init; }

    public required string[] Reasons { get; init; }

    /// <summary>Looks that its names could mean, while nobody has said.</summary>
    public required LookId[] Candidates { get; init; }
}

/// <summary>A model that is new.</summary>
/// <param name="Held">Pictures that its file itself holds.</param>
public sealed record NewModel(
    string Name,
    string Path,
    string Format,
    char UpAxis,
    double MetersPerUnit,
    IReadOnlyList<string> Remarks,
    ContentHash Packed,
    long PackedBytes,
    IReadOnlyList<NewPart> Parts,
    IReadOnlyList<KeptMaterial> Materials,
    IReadOnlyList<(ContentHash Content, long Length)> Held
);

/// <param name="MaterialAt">Its number among the model's materials; null for none.</param>
/// <param name="Figures">As JSON.</param>
public sealed record NewPart(
    string Path,
    string Name,
    string? Material,
    int? MaterialAt,
    int Triangles,
    IReadOnlyList<string> UvSets,
    double Area,
    IReadOnlyList<float> Size,
    string Figures
);

/// <summary>A part on which a look is to lie, and which look whoever says so saw on it.</summary>
public sealed record PartChange(string Path, LookId? Was);

/// <summary>What names say of a part.</summary>
/// <param name="LookId">The look that is sure; null where there are several that could be meant.</param>
public sealed record NamedPart(string Path, LookId? LookId, float? Confidence, string[] Reasons, LookId[] Candidates);
