using System.Numerics;

namespace Kiln.Proof.Geometry.Models;

/// <summary>Triangles of one part of a model, as a file has them.</summary>
/// <param name="Name">No other part has it.</param>
/// <param name="Corners">Three positions a triangle.</param>
/// <param name="Normals">Of the corners, by numbers of their own; null where the file has none.</param>
/// <param name="Uvs">Of the corners, v upwards; below 0 for a triangle that has none; null for a part without.</param>
public sealed record PartTriangles(
    string Name,
    Vector3[] Positions,
    int[] Corners,
    (Vector3[] Directions, int[] Corners)? Normals,
    (Vector2[] Places, int[] Corners)? Uvs
);
