using System.Numerics;
using Kiln.Scattering.Interfaces;

namespace Kiln.Scattering.Lobes;

/// <summary>Light that a thin sheet scatters to its other side.</summary>
internal readonly struct SheetLobe(Vector3 colour, float share, Vector3 underInterface)
{
    public bool IsThere => share > 0f;

    /// <summary>What it returns of light from everywhere, where the layers above leave <paramref name="below"/>.</summary>
    public float Albedo(float below) => below * share * Directions.Mean(colour * underInterface);

    public Vector3 Evaluate(Vector3 wi) => colour * (share * -wi.Z / MathF.PI) * underInterface;

    public static float Density(Vector3 wi, float chance) => chance * -wi.Z / MathF.PI;

    public static Vector3 Sample(Vector2 u) => -Directions.Cosine(u);
}
