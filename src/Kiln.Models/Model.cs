using System.Numerics;
using Kiln.Looks.Readings;

namespace Kiln.Models;

/// <summary>What a file of a model holds, in the file's own axes, in metres, with all transforms applied.</summary>
/// <param name="Format">obj, gltf, glb and the like.</param>
/// <param name="MetersPerUnit">Of the file.</param>
/// <param name="UpAxis">X, Y or Z.</param>
/// <param name="Remarks">Sentences: what was left out or guessed.</param>
public sealed record Model(
    string Format,
    double MetersPerUnit,
    char UpAxis,
    IReadOnlyList<ModelPart> Parts,
    IReadOnlyList<ModelMaterial> Materials,
    IReadOnlyList<string> Remarks
);

/// <summary>A mesh, or the faces of a mesh that share a material's name.</summary>
/// <param name="Path">Names from the root, each after a slash; no other part has it.</param>
/// <param name="Material">Its name in the file; null for none.</param>
/// <param name="Positions">In metres.</param>
/// <param name="Corners">Three positions a triangle, as the file winds it.</param>
/// <param name="UvSets">By the file's names; empty for a part without UVs.</param>
/// <param name="Normals">Null where a corner has none.</param>
public sealed record ModelPart(
    string Path,
    string Name,
    string? Material,
    Vector3[] Positions,
    int[] Corners,
    IReadOnlyList<UvSet> UvSets,
    NormalSet? Normals
)
{
    public int Triangles => Corners.Length / 3;

    public bool HasNormals => Normals is not null;

    /// <summary>Its material's number among those of the model, where the file says it so; one without a name has nothing else.</summary>
    public int? MaterialAt { get; init; }
}

/// <summary>Directions in which a part is shaded, as the file has them: of any length, in the model's axes.</summary>
/// <param name="Corners">Three directions a triangle.</param>
public sealed record NormalSet(Vector3[] Directions, int[] Corners);

/// <summary>Where a part's maps lie; V counts upwards.</summary>
/// <param name="Corners">Three places a triangle; below 0 for a triangle that has none.</param>
public sealed record UvSet(string Name, Vector2[] Places, int[] Corners)
{
    /// <summary>Whether a triangle has places.</summary>
    public bool Has(int triangle) => Corners[3 * triangle] >= 0;

    /// <summary>The three places of a triangle.</summary>
    public (Vector2 A, Vector2 B, Vector2 C) Of(int triangle) =>
        (Places[Corners[3 * triangle]], Places[Corners[3 * triangle + 1]], Places[Corners[3 * triangle + 2]]);
}

/// <summary>A material as the file has it.</summary>
/// <param name="Values">By neutral input: one number or three, linear.</param>
public sealed record ModelMaterial(string Name, IReadOnlyList<ModelTexture> Textures, IReadOnlyDictionary<string, float[]> Values)
{
    /// <summary>Whether the alpha of its base colour says how much of the surface is there.</summary>
    public bool HasOpacityInBaseColour { get; init; }
}

/// <param name="Written">The path as the file has it.</param>
/// <param name="Found">Relative to the model's folder; null where nothing was found.</param>
public sealed record ModelTexture(MapRole Role, string Written, string? Found)
{
    /// <summary>The picture itself, where the file holds it.</summary>
    public ReadOnlyMemory<byte>? Within { get; init; }

    /// <summary>The channel that is meant; null for the usual one of the role.</summary>
    public MapChannel? Channel { get; init; }
}
