using System.Numerics;

namespace Kiln.Scattering.Interfaces;

/// <summary>Directions and shares that several lobes need.</summary>
internal static class Directions
{
    /// <summary>The direction, or zero where it goes into the surface.</summary>
    public static Vector3 Above(Vector3 w) => w.Z > 0f ? w : default;

    /// <summary>A direction above the surface with the density cos θ / π.</summary>
    public static Vector3 Cosine(Vector2 u)
    {
        var r = MathF.Sqrt(u.X);
        var (sin, cos) = MathF.SinCos(2f * MathF.PI * u.Y);
        return new(r * cos, r * sin, MathF.Sqrt(MathF.Max(0f, 1f - u.X)));
    }

    public static float Unit(float v) => v > 0f ? MathF.Min(v, 1f) : 0f;

    public static Vector3 Unit(Vector3 v) => Vector3.Clamp(v, Vector3.Zero, Vector3.One);

    public static float Mean(Vector3 v) => (v.X + v.Y + v.Z) / 3f;

    public static float Greatest(Vector3 v) => MathF.Max(v.X, MathF.Max(v.Y, v.Z));
}
