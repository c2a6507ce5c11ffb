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

/// <summary>Reflection off fibres, for eight directions towards the viewer.</summary>
internal readonly struct Fuzz
{
    private readonly FuzzModel model;
    private readonly Wide roughness,
        inverseA,
        inverseB;
    private readonly Wide3 along,
        across;
    private readonly Wide cos,
        charlie;

    /// <summary>Share of light that fibres of white return.</summary>
    public Wide Albedo { get; }

    public Fuzz(FuzzModel model, Wide roughness, in Wide3 wo)
    {
        this.model = model;
        this.roughness = Clamp(roughness, Of(0.01f), Wide.One);
        cos = Unit(wo.Z);
        var length = Sqrt(wo.X * wo.X + wo.Y * wo.Y);
        var leans = Greater(length, Of(1e-6f));
        var per = Wide.One / Max(length, Of(1e-6f));
        along = new(Select(leans, wo.X * per, Wide.One), wo.Y * per & leans, Wide.Zero);
        across = new(Negative(along.Y), along.X, Wide.Zero);
        if (model == FuzzModel.Zeltner)
        {
            Wide x = cos,
                y = this.roughness;
            inverseA = (2.58126f * x + 0.813703f * y) * y / (Wide.One + 0.310327f * x * x + 2.60994f * x * y);
            inverseB =
                Sqrt(Wide.One - x) * (y - Wide.One) * y * y * y / (Of(0.0000254053f) + 1.71228f * x - 1.71506f * x * y + 1.34174f * y * y);
            Albedo = Unit(ZeltnerAlbedo(x, y));
        }
        else
        {
            charlie = AlbedoTables.Charlie(cos, this.roughness);
            Albedo = Min(charlie, Wide.One);
        }
    }

    private static Wide ZeltnerAlbedo(Wide x, Wide y)
    {
        var s = y * (Of(0.0206607f) + 1.58491f * y) / (Of(0.0379424f) + y * (Of(1.32227f) + y));
        var m = y * (Of(-0.193854f) + y * (Of(-1.14885f) + y * (Of(1.7932f) - 0.95943f * y * y))) / (Of(0.046391f) + y);
        var o = y * (Of(0.000654023f) + (Of(-0.0207818f) + 0.119681f * y) * y) / (Of(1.26264f) + y * (Of(-1.92021f) + y));
        var d = (x - m) / s;
        return Exp(-0.5f * d * d) / (s * MathF.Sqrt(2f * MathF.PI)) + o;
    }

    /// <summary>BRDF times the cosine of <paramref name="wi"/>.</summary>
    public Wide Evaluate(in Wide3 wi)
    {
        if (model == FuzzModel.Zeltner)
            return Albedo * Density(wi);
        var wo = along * Sqrt(Max(Wide.One - cos * cos, Wide.Zero)) + new Wide3(Wide.Zero, Wide.Zero, cos);
        var one = Charlie(cos, wi.Z, Wide3.Normalize(wo + wi).Z, roughness);
        return one * wi.Z / Max(charlie, Wide.One) & Positive(wi.Z);
    }

    /// <summary>The lobe of Estevez and Kulla 2017 (equation 2) with Ashikhmin's visibility, without the cosine.</summary>
    internal static float Charlie(float cosOut, float cosIn, float cosHalf, float roughness) =>
        Charlie(Of(cosOut), Of(cosIn), Of(cosHalf), Of(roughness)).ToScalar();

    private static Wide Charlie(Wide cosOut, Wide cosIn, Wide cosHalf, Wide roughness)
    {
        // KHR_materials_sheen: alpha is the square of the roughness.
        var inverse = Wide.One / Max(roughness * roughness, Of(1e-3f));
        var sin2 = Max(Wide.One - cosHalf * cosHalf, Wide.Zero);
        return (Of(2f) + inverse)
            * Pow(sin2, 0.5f * inverse)
            * (1f / (2f * MathF.PI))
            / (4f * Max(cosOut + cosIn - cosOut * cosIn, Of(1e-4f)));
    }

    public Wide Density(in Wide3 wi)
    {
        if (model == FuzzModel.Charlie)
            return Of(1f / (2f * MathF.PI)) & Positive(wi.Z);
        Wide x = inverseA * Wide3.Dot(wi, along) + inverseB * wi.Z,
            y = inverseA * Wide3.Dot(wi, across);
        var square = x * x + y * y + wi.Z * wi.Z;
        var ratio = inverseA / square;
        return wi.Z * (1f / MathF.PI) * ratio * ratio & Positive(wi.Z);
    }

    public Wide3 Sample(Wide u, Wide turns)
    {
        var (sin, cosine) = SinCosTurns(turns);
        if (model == FuzzModel.Charlie)
        {
            // Evenly over the half sphere: the lobe is widest at the horizon.
            var r = Sqrt(Max(Wide.One - u * u, Wide.Zero));
            return new(r * cosine, r * sin, u);
        }
        var radius = Sqrt(u);
        var w = new Wide3(radius * cosine, radius * sin, Sqrt(Max(Wide.One - u, Wide.Zero)));
        var v = Wide3.Normalize(new Wide3((w.X - w.Z * inverseB) / inverseA, w.Y / inverseA, w.Z));
        return along * v.X + across * v.Y + new Wide3(Wide.Zero, Wide.Zero, v.Z);
    }
}
