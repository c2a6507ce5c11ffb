using Kiln.Looks.Ids;
using Kiln.Looks.Maps;
using Kiln.Looks.Readings;

namespace Kiln.Store.Models;

/// <summary>A material of a model's file as it is kept.</summary>
/// <param name="Values">By neutral input: one number or three, linear.</param>
public sealed record KeptMaterial(
    string Name,
    IReadOnlyList<KeptTexture> Textures,
    IReadOnlyDictionary<string, float[]> Values,
    bool HasOpacityInBaseColour
);

/// <param name="Written">The path as the file has it.</param>
/// <param name="Channel">Null for the usual one of the role.</param>
/// <param name="Within">The picture, where the model's file holds it itself.</param>
/// <param name="Fault">Why a picture that the file holds cannot be read.</param>
public sealed record KeptTexture(MapRole Role, string Written, MapChannel? Channel, MapFile? Within, string? Fault);

/// <summary>A material with the look that was made of it.</summary>
/// <param name="Parts">Paths of the parts that have it.</param>
public sealed record MaterialRow(int Number, KeptMaterial Material, LookId? LookId, string? LookName, IReadOnlyList<string> Parts);
