using System.Text.Json.Serialization;
using Kiln.Looks.Readings;
using Kiln.Models.Measures;

namespace Kiln.Models.Packing;

/// <summary>What is known of a model without its triangles.</summary>
/// <param name="Format">obj, gltf, glb and the like.</param>
/// <param name="MetersPerUnit">Of the file.</param>
/// <param name="UpAxis">X, Y or Z.</param>
/// <param name="Remarks">Sentences: what was left out or guessed.</param>
public sealed record ModelFacts(
    string Format,
    double MetersPerUnit,
    char UpAxis,
    IReadOnlyList<string> Remarks,
    IReadOnlyList<PartFacts> Parts,
    IReadOnlyList<MaterialFacts> Materials
);

/// <param name="Path">Names from the root; no other part has it.</param>
/// <param name="Material">Its name in the file; null for none.</param>
/// <param name="MaterialAt">Its number among the materials; null for none.</param>
/// <param name="UvSets">Their names.</param>
/// <param name="Area">In square metres.</param>
/// <param name="Size">Sides of its box in metres, along the file's axes.</param>
public sealed record PartFacts(
    string Path,
    string Name,
    string? Material,
    int? MaterialAt,
    int Triangles,
    IReadOnlyList<string> UvSets,
    double Area,
    IReadOnlyList<float> Size,
    PartFigures Figures
);

/// <summary>A material as the file has it.</summary>
/// <param name="Values">By neutral input: one number or three, linear.</param>
public sealed record MaterialFacts(
    string Name,
    IReadOnlyList<TextureFacts> Textures,
    IReadOnlyDictionary<string, float[]> Values,
    bool HasOpacityInBaseColour
);

/// <param name="Written">The path as the file has it.</param>
/// <param name="Channel">Null for the usual one of the role.</param>
/// <param name="Within">Where the picture was laid that the file itself holds; null for one that it only names.</param>
public sealed record TextureFacts(MapRole Role, string Written, MapChannel? Channel, string? Within);

/// <summary>What the packing child says.</summary>
/// <param name="Error">A sentence instead of facts.</param>
internal sealed record PackingAnswer(string? Error, ModelFacts? Facts);

[JsonSerializable(typeof(PackingAnswer))]
internal sealed partial class PackingJson : JsonSerializerContext;
