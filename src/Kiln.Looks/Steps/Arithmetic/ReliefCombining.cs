using System.Numerics;

namespace Kiln.Looks.Steps.Arithmetic;

/// <summary>
/// Several reliefs as one. Directions are unit vectors in tangent space, z outwards; a direction's slopes are −x/z and −y/z.
/// </summary>
public static class ReliefCombining
{
    /// <summary>
    /// Lays a detail relief onto a base one, so that it keeps its shape on slopes: reoriented normal mapping (Barré-Brisebois and Hill,
    /// "Blending in Detail", 2012), for signed vectors.
    /// </summary>
    public static Vector3 Reorient(Vector3 baseLayer, Vector3 detail)
    {
        var t = baseLayer + Vector3.UnitZ;
        var u = new Vector3(-detail.X, -detail.Y, detail.Z);
        return Vector3.Normalize(t * (Vector3.Dot(t, u) / t.Z) - u);
    }

    /// <summary>The relief whose slopes are the weighted sum of two reliefs' slopes.</summary>
    public static Vector3 Add(Vector3 first, float firstWeight, Vector3 second, float secondWeight)
    {
        float Share(float weight, float z) => z == 0 ? 0 : weight / z;
        float a = Share(firstWeight, first.Z),
            b = Share(secondWeight, second.Z);
        return Vector3.Normalize(new(first.X * a + second.X * b, first.Y * a + second.Y * b, 1));
    }
}
