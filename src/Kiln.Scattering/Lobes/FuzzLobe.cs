using System.Numerics;
using Kiln.Scattering.Interfaces;

namespace Kiln.Scattering.Lobes;

/// <summary>Light off the fibres above everything.</summary>
internal readonly struct FuzzLobe
{
    private readonly Fuzz fuzz;
    private readonly Vector3 colour;
    private readonly float weight;

    public FuzzLobe(SurfaceModel model, in SurfaceParameters p, Vector3 wo)
    {
        Under = 1f;
        weight = Directions.Unit(p.FuzzWeight);
        if (weight <= 0f)
            return;
        fuzz = new(model.Fuzz, p.FuzzRoughness, wo);
        colour = Directions.Unit(p.FuzzColour);
        Under = 1f - weight * Directions.Greatest(colour) * fuzz.Albedo;
    }

    /// <summary>No fibres, as light within the body meets them.</summary>
    public static FuzzLobe None { get; } = new(1f);

    private FuzzLobe(float under) => Under = under;

    /// <summary>What is left for what lies below.</summary>
    public float Under { get; }

    public bool IsThere => weight > 0f;

    public float Albedo => weight * Directions.Mean(colour) * fuzz.Albedo;

    public Vector3 Evaluate(Vector3 wi) => colour * (weight * fuzz.Evaluate(wi));

    public float Density(Vector3 wi) => fuzz.Density(wi);

    public Vector3 Sample(Vector2 u) => fuzz.Sample(u);
}
