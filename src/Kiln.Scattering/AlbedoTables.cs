using System.Numerics;

namespace Kiln.Scattering;

/// <summary>
/// Directional albedos of microfacet lobes, integrated once, when first asked for, by evenly spread sampling of facets:
/// without Fresnel, split for Schlick (E = f0·A + f90·B, Karis 2013), with the exact Fresnel of dielectrics, and of glass by both sides.
/// </summary>
public static class AlbedoTables
{
    private const int Angles = 40,
        Widths = 40,
        Iors = 18,
        Samples = 24;
    private const float GreatestInterface = 0.52f; // (n − 1)/(n + 1) of n = 3.17

    private sealed record PlainTable(float[] Reflection, float[] Split, float[] Average);

    private static readonly Lazy<PlainTable>[] Plain =
    [
        .. Enum.GetValues<Distribution>().Select(d => new Lazy<PlainTable>(() => BuildPlain(d))),
    ];
    private static readonly Lazy<float[]>[][] Exact = [.. Enum.GetValues<Distribution>().Select(d => Layers(i => BuildExact(d, Index(i))))];
    private static readonly Lazy<float[]>[] Entering = Layers(i => BuildGlass(Index(i))),
        Leaving = Layers(i => BuildGlass(1f / Index(i)));
    private static readonly Lazy<float[]> Fibres = new(BuildCharlie);

    private static Lazy<float[]>[] Layers(Func<int, float[]> build) =>
        [.. Enumerable.Range(0, Iors).Select(i => new Lazy<float[]>(() => build(i)))];

    /// <summary>Makes the tables now, so that no picture has to wait for them.</summary>
    public static void Prepare() => _ = (Plain[0].Value, Dielectric(Distribution.Ggx, 0.5f, 0.1f, 1.5f));

    /// <summary>Share of light that the lobe returns with every reflectance 1.</summary>
    public static float Reflection(Distribution distribution, float cos, float width) =>
        Bilinear(Plain[(int)distribution].Value.Reflection, Angle(cos), Width(width));

    /// <summary>2∫E·μ dμ.</summary>
    public static float Average(Distribution distribution, float width)
    {
        var at = Width(width);
        var i = Math.Min((int)at, Widths - 2);
        var table = Plain[(int)distribution].Value.Average;
        return table[i] + (table[i + 1] - table[i]) * (at - i);
    }

    /// <summary>Albedo with Schlick's Fresnel.</summary>
    public static Vector3 Schlick(Distribution distribution, float cos, float width, Vector3 f0, Vector3 f90)
    {
        var table = Plain[(int)distribution].Value;
        float a = Angle(cos),
            w = Width(width);
        var all = Bilinear(table.Reflection, a, w);
        var b = Bilinear(table.Split, a, w);
        return f0 * (all - b) + f90 * b;
    }

    /// <summary>Albedo with the exact Fresnel of a dielectric, index of refraction 1 to 3.1.</summary>
    public static float Dielectric(Distribution distribution, float cos, float width, float ior) =>
        Layered(Exact[(int)distribution], cos, width, ior);

    /// <summary>
    /// Share of light that a rough interface of glass sends on, reflected and refracted, when every facet loses none; index behind over
    /// before.
    /// </summary>
    public static float Glass(float cos, float width, float ior) =>
        ior >= 1f ? Layered(Entering, cos, width, ior) : Layered(Leaving, cos, width, 1f / ior);

    /// <summary>Albedo of the fibres of Estevez and Kulla before they are scaled.</summary>
    public static float Charlie(float cos, float roughness) =>
        Bilinear(Fibres.Value, Angle(cos), Math.Clamp(roughness, 0f, 1f) * (Widths - 1));

    private static float Layered(Lazy<float[]>[] layers, float cos, float width, float ior)
    {
        var at = Math.Clamp((ior - 1f) / (ior + 1f) / GreatestInterface, 0f, 1f) * (Iors - 1);
        var i = Math.Min((int)at, Iors - 2);
        float a = Angle(cos),
            w = Width(width);
        float low = Bilinear(layers[i].Value, a, w),
            high = Bilinear(layers[i + 1].Value, a, w);
        return low + (high - low) * (at - i);
    }

    private static float Index(int layer)
    {
        var s = GreatestInterface * layer / (Iors - 1f);
        return (1f + s) / (1f - s);
    }

    // Angles are spaced by the square root of the cosine, widths by the square root of the width (that is, by roughness).
    private static float Angle(float cos) => MathF.Sqrt(Math.Clamp(cos, 0f, 1f)) * (Angles - 1);

    private static float Width(float width) => MathF.Sqrt(Math.Clamp(width, 0f, 1f)) * (Widths - 1);

    private static float Cosine(int i) => MathF.Max(1e-4f, MathF.Pow(i / (Angles - 1f), 2));

    private static float WidthOf(int i) => MathF.Max(Facets.LeastWidth, MathF.Pow(i / (Widths - 1f), 2));

    private static float Bilinear(float[] table, float x, float y)
    {
        int x0 = Math.Min((int)x, Angles - 2),
            y0 = Math.Min((int)y, Widths - 2);
        float fx = x - x0,
            fy = y - y0;
        var at = y0 * Angles + x0;
        float top = table[at] + (table[at + 1] - table[at]) * fx,
            bottom = table[at + Angles] + (table[at + Angles + 1] - table[at + Angles]) * fx;
        return top + (bottom - top) * fy;
    }

    private static PlainTable BuildPlain(Distribution distribution)
    {
        var plain = new float[Angles * Widths];
        var split = new float[Angles * Widths];
        Parallel.For(0, Widths, w =>
        {
            for (var a = 0; a < Angles; a++)
            {
                (plain[w * Angles + a], split[w * Angles + a]) = Reflected(
                    Cosine(a),
                    new(WidthOf(w), 0, distribution),
                    (cos, weight) =>
                    {
                        var x = 1f - cos;
                        return (weight, weight * x * x * x * x * x);
                    },
                    2
                );
            }
        });
        var average = new float[Widths];
        for (var w = 0; w < Widths; w++)
        {
            const int steps = 512;
            double sum = 0;
            for (var i = 0; i < steps; i++)
            {
                var mu = (i + 0.5f) / steps;
                sum += Bilinear(plain, Angle(mu), w) * mu;
            }
            average[w] = (float)(2 * sum / steps);
        }
        return new(plain, split, average);
    }

    private static float[] Each(Func<float, Facets, float> value, Distribution distribution = Distribution.Ggx)
    {
        var table = new float[Angles * Widths];
        Parallel.For(0, Widths, w =>
        {
            for (var a = 0; a < Angles; a++)
                table[w * Angles + a] = value(Cosine(a), new(WidthOf(w), 0, distribution));
        });
        return table;
    }

    private static float[] BuildExact(Distribution distribution, float ior) =>
        Each((cos, facets) => Reflected(cos, facets, (c, weight) => (weight * Fresnel.Dielectric(c, ior), 0f), 1).Item1, distribution);

    /// <summary>Reflected and refracted light together.</summary>
    private static float[] BuildGlass(float ior) =>
        Each(
            (cos, facets) =>
            {
                var reflected = Reflected(cos, facets, (c, weight) => (weight * Fresnel.Dielectric(c, ior), 0f), 2).Item1;
                return reflected + OverFacets(cos, facets, 2, (wo, h, weight) =>
                    {
                        var oh = Vector3.Dot(wo, h);
                        return oh > 0f && Interface.Refract(wo, h, ior) is { Z: < 0f } wi
                            ? (weight * (1f - Fresnel.Dielectric(oh, ior)) * facets.G2(wo, wi), 0f)
                            : (0f, 0f);
                    }).Item1;
            }
        );

    private static float[] BuildCharlie()
    {
        const int steps = 96;
        var table = new float[Angles * Widths];
        Parallel.For(0, Widths, w =>
        {
            var roughness = MathF.Max(0.01f, w / (Widths - 1f));
            for (var a = 0; a < Angles; a++)
            {
                var cos = Cosine(a);
                var wo = new Vector3(MathF.Sqrt(1f - cos * cos), 0, cos);
                double sum = 0;
                for (var i = 0; i < steps; i++)
                for (var j = 0; j < steps; j++)
                {
                    // Closer towards the horizon, where narrow fibres are bright.
                    var z = (i + 0.5f) / steps;
                    z *= z;
                    var (sinPhi, cosPhi) = MathF.SinCos(MathF.PI * (j + 0.5f) / steps);
                    var r = MathF.Sqrt(1f - z * z);
                    var wi = new Vector3(r * cosPhi, r * sinPhi, z);
                    sum += Fuzz.Charlie(cos, z, Vector3.Normalize(wo + wi).Z, roughness) * z * 2 * MathF.Sqrt(z);
                }
                table[w * Angles + a] = (float)(sum * 2 * Math.PI / steps / steps);
            }
        });
        return table;
    }

    /// <summary>Mean over facets of what <paramref name="take"/> makes of the angle at the facet and the share that gets away.</summary>
    private static (float, float) Reflected(float cos, Facets facets, Func<float, float, (float, float)> take, int finer) =>
        OverFacets(cos, facets, finer, (wo, h, weight) =>
        {
            var oh = Vector3.Dot(wo, h);
            var wi = 2f * oh * h - wo;
            return oh > 0f && wi.Z > 0f ? take(oh, weight * facets.G2(wo, wi)) : (0f, 0f);
        });

    /// <param name="take">Gets D·(wo·h)/(density·wo.z), to be multiplied by the masking.</param>
    private static (float, float) OverFacets(float cos, Facets facets, int finer, Func<Vector3, Vector3, float, (float, float)> take)
    {
        var wo = new Vector3(MathF.Sqrt(1f - cos * cos), 0, cos);
        double first = 0,
            second = 0;
        var n = Samples * Samples * finer * finer;
        for (var i = 0; i < n; i++)
        {
            // A lattice rather than a grid: where a lobe is cut off at the horizon its error falls faster (the additive recurrence of the
            // plastic number, Roberts 2018).
            var h = facets.Sample(wo, new((float)((0.5 + i * 0.7548776662466927) % 1), (float)((0.5 + i * 0.5698402909980532) % 1)));
            var density = facets.Density(wo, h);
            var oh = Vector3.Dot(wo, h);
            if (oh <= 0f || density <= 0f)
                continue;
            var (a, b) = take(wo, h, facets.D(h) * oh / (density * cos));
            first += a;
            second += b;
        }
        return ((float)(first / n), (float)(second / n));
    }
}
