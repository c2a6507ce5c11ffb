using System.Numerics;

namespace Kiln.Models.Uvs;

/// <summary>A file's axes turned, not mirrored, so that y points upwards.</summary>
public static class Upright
{
    /// <param name="up">Which axis of the vector points upwards: X, Y or Z.</param>
    public static Vector3 Of(Vector3 v, char up) =>
        up switch
        {
            'Z' => new(v.X, v.Z, -v.Y),
            'X' => new(-v.Y, v.X, v.Z),
            _ => v,
        };
}
