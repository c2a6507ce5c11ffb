using System.Numerics;
using Kiln.Scattering.Albedo;

namespace Kiln.Scattering;

/// <summary>Which fibres stand on a surface.</summary>
public enum FuzzModel
{
    /// <summary>
    /// A transformed cosine whose size is its directional albedo (Zeltner, Burley, Chiang 2022), with the fits that MaterialX 1.39
    /// publishes.
    /// </summary>
    Zeltner,

    /// <summary>
    /// The inverted Gaussian of Estevez and Kulla 2017 with Ashikhmin's visibility, as KHR_materials_sheen allows, scaled where it would
    /// return more than it gets.
    /// </summary>
    Charlie,
}

/// <summary>Reflection off fibres, for one direction towards the viewer.</summary>
public readonly struct Fuzz
{
    private readonly FuzzModel model;
    private readonly float roughness,
        inverseA,
        inverseB;
    private readonly Vector3 along,
        across;
    private readonly float cos;

    /// <summary>Share of light that fibres of white return.</summary>
    public float Albedo { get; }

    public Fuzz(FuzzModel model, float roughness, Vector3 wo)
    {
        this.model = model;
        this.roughness = Math.Clamp(roughness, 0.01f, 1f);
        cos = Math.Clamp(wo.Z, 0f, 1f);
        var length = MathF.Sqrt(wo.X * wo.X + wo.Y * wo.Y);
        along = length > 1e-6f ? new(wo.X / length, wo.Y / length, 0) : Vector3.UnitX;
        across = new(-along.Y, along.X, 0);
        if (model == FuzzModel.Zeltner)
        {
            float x = cos,
                y = this.roughness;
            inverseA = (2.58126f * x + 0.813703f * y) * y / (1f + 0.310327f * x * x + 2.60994f * x * y);
            inverseB = MathF.Sqrt(1f - x) * (y - 1f) * y * y * y / (0.0000254053f + 1.71228f * x - 1.71506f * x * y + 1.34174f * y * y);
            Albedo = Math.Clamp(ZeltnerAlbedo(x, y), 0f, 1f);
        }
        else
        {
            Albedo = MathF.Min(1f, AlbedoTables.Charlie(cos, this.roughness));
        }
    }

    private static float ZeltnerAlbedo(float x, float y)
    {
        var s = y * (0.0206607f + 1.58491f * y) / (0.0379424f + y * (1.32227f + y));
        var m = y * (-0.193854f + y * (-1.14885f + y * (1.7932f - 0.95943f * y * y))) / (0.046391f + y);
        var o = y * (0.000654023f + (-0.0207818f + 0.119681f * y) * y) / (1.26264f + y * (-1.92021f + y));
        var d = (x - m) / s;
        return MathF.Exp(-0.5f * d * d) / (s * MathF.Sqrt(2f * MathF.PI)) + o;
    }

    /// <summary>BRDF times the cosine of <paramref name="wi"/>.</summary>
    public float Evaluate(Vector3 wi)
    {
        if (wi.Z <= 0f)
            return 0f;
        if (model == FuzzModel.Zeltner)
            return Albedo * Density(wi);
        var one = Charlie(
            cos,
            wi.Z,
            Vector3.Normalize(new Vector3(along.X, along.Y, 0) * MathF.Sqrt(MathF.Max(0f, 1f - cos * cos)) + new Vector3(0, 0, cos) + wi).Z,
            roughness
        );
        return one * wi.Z / MathF.Max(1f, AlbedoTables.Charlie(cos, roughness));
    }

    /// <summary>The lobe of Estevez and Kulla 2017 (equation 2) with Ashikhmin's visibility, without the cosine.</summary>
    internal static float Charlie(float cosOut, float cosIn, float cosHalf, float roughness)
    {
        // KHR_materials_sheen: alpha is the square of the roughness.
        var inverse = 1f / MathF.Max(1e-3f, roughness * roughness);
        var sin2 = MathF.Max(0f, 1f - cosHalf * cosHalf);
        return (2f + inverse)
            * MathF.Pow(sin2, 0.5f * inverse)
            / (2f * MathF.PI)
            / (4f * MathF.Max(1e-4f, cosOut + cosIn - cosOut * cosIn));
    }

    public float Density(Vector3 wi)
    {
        if (wi.Z <= 0f)
            return 0f;
        if (model == FuzzModel.Charlie)
            return 1f / (2f * MathF.PI);
        float x = inverseA * Vector3.Dot(wi, along) + inverseB * wi.Z,
            y = inverseA * Vector3.Dot(wi, across);
        var square = x * x + y * y + wi.Z * wi.Z;
        var ratio = inverseA / square;
        return wi.Z / MathF.PI * ratio * ratio;
    }

    public Vector3 Sample(Vector2 u)
    {
        var (sin, cosine) = MathF.SinCos(2f * MathF.PI * u.Y);
        if (model == FuzzModel.Charlie)
        {
            // Evenly over the half sphere: the lobe is widest at the horizon.
            var r = MathF.Sqrt(MathF.Max(0f, 1f - u.X * u.X));
            return new(r * cosine, r * sin, u.X);
        }
        var radius = MathF.Sqrt(u.X);
        var w = new Vector3(radius * cosine, radius * sin, MathF.Sqrt(MathF.Max(0f, 1f - u.X)));
        var v = Vector3.Normalize(new Vector3((w.X - w.Z * inverseB) / inverseA, w.Y / inverseA, w.Z));
        return along * v.X + across * v.Y + new Vector3(0, 0, v.Z);
    }
}
