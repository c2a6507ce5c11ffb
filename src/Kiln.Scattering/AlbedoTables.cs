using System.Numerics;

namespace Kiln.Scattering;

/// <summary>
/// Directional albedos of the GGX reflection, integrated once, when first asked for, by stratified sampling of visible normals:
/// without Fresnel, split for Schlick (E = f0·A + f90·B, Karis 2013), and with the exact Fresnel of dielectrics.
/// </summary>
public static class AlbedoTables
{
    private const int Angles = 40, Widths = 40, Iors = 18, Samples = 24;
    private const float GreatestInterface = 0.52f; // (n − 1)/(n + 1) of n = 3.17

    private static readonly Lazy<(float[] Plain, float[] Split, float[] Average)> Plain = new(BuildPlain);
    private static readonly Lazy<float[]>[] Exact = [.. Enumerable.Range(0, Iors).Select(i => new Lazy<float[]>(() => BuildExact(i)))];

    /// <summary>Makes the tables now, so that no picture has to wait for them.</summary>
    public static void Prepare() => _ = (Plain.Value, Dielectric(0.5f, 0.1f, 1.5f));

    /// <summary>Share of light that the lobe returns with every reflectance 1.</summary>
    public static float Reflection(float cos, float width) => Bilinear(Plain.Value.Plain, Angle(cos), Width(width));

    /// <summary>2∫E·μ dμ.</summary>
    public static float Average(float width)
    {
        var at = Width(width);
        var i = Math.Min((int)at, Widths - 2);
        var table = Plain.Value.Average;
        return table[i] + (table[i + 1] - table[i]) * (at - i);
    }

    /// <summary>Albedo with Schlick's Fresnel.</summary>
    public static Vector3 Schlick(float cos, float width, Vector3 f0, Vector3 f90)
    {
        var all = Reflection(cos, width);
        var b = Bilinear(Plain.Value.Split, Angle(cos), Width(width));
        return f0 * (all - b) + f90 * b;
    }

    /// <summary>Albedo with the exact Fresnel of a dielectric, index of refraction 1 to 3.1.</summary>
    public static float Dielectric(float cos, float width, float ior)
    {
        var at = Math.Clamp((ior - 1f) / (ior + 1f) / GreatestInterface, 0f, 1f) * (Iors - 1);
        var i = Math.Min((int)at, Iors - 2);
        float a = Angle(cos), w = Width(width);
        float low = Bilinear(Exact[i].Value, a, w), high = Bilinear(Exact[i + 1].Value, a, w);
        return low + (high - low) * (at - i);
    }

    // Angles are spaced by the square root of the cosine, widths by the square root of the width (that is, by roughness).
    private static float Angle(float cos) => MathF.Sqrt(Math.Clamp(cos, 0f, 1f)) * (Angles - 1);

    private static float Width(float width) => MathF.Sqrt(Math.Clamp(width, 0f, 1f)) * (Widths - 1);

    private static float Cosine(int i) => MathF.Max(1e-4f, MathF.Pow(i / (Angles - 1f), 2));

    private static float WidthOf(int i) => MathF.Max(Microfacet.LeastWidth, MathF.Pow(i / (Widths - 1f), 2));

    private static float Bilinear(float[] table, float x, float y)
    {
        int x0 = Math.Min((int)x, Angles - 2), y0 = Math.Min((int)y, Widths - 2);
        float fx = x - x0, fy = y - y0;
        var at = y0 * Angles + x0;
        float top = table[at] + (table[at + 1] - table[at]) * fx, bottom = table[at + Angles] + (table[at + Angles + 1] - table[at + Angles]) * fx;
        return top + (bottom - top) * fy;
    }

    private static (float[], float[], float[]) BuildPlain()
    {
        var plain = new float[Angles * Widths];
        var split = new float[Angles * Widths];
        Parallel.For(0, Widths, w =>
        {
            for (var a = 0; a < Angles; a++)
            {
                (plain[w * Angles + a], split[w * Angles + a]) = Integrate(Cosine(a), WidthOf(w), (cos, weight) =>
                {
                    var x = 1f - cos;
                    return (weight, weight * x * x * x * x * x);
                }, 2);
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
        return (plain, split, average);
    }

    /// <summary>One index of refraction; made when a surface first needs it.</summary>
    private static float[] BuildExact(int layer)
    {
        var table = new float[Angles * Widths];
        var s = GreatestInterface * layer / (Iors - 1f);
        var ior = (1f + s) / (1f - s);
        Parallel.For(0, Widths, w =>
        {
            for (var a = 0; a < Angles; a++)
                table[w * Angles + a] = Integrate(Cosine(a), WidthOf(w), (cos, weight) => (weight * Fresnel.Dielectric(cos, ior), 0f), 1).Item1;
        });
        return table;
    }

    /// <summary>Mean over visible normals of G2/G1 times what <paramref name="take"/> makes of the angle at the facet.</summary>
    private static (float, float) Integrate(float cos, float width, Func<float, float, (float, float)> take, int finer)
    {
        var wo = new Vector3(MathF.Sqrt(1f - cos * cos), 0, cos);
        double first = 0, second = 0;
        var n = Samples * finer;
        var g1 = Microfacet.G1(cos, width);
        for (var i = 0; i < n; i++)
            for (var j = 0; j < n; j++)
            {
                var h = Microfacet.SampleVisible(wo, width, new((i + 0.5f) / n, (j + 0.5f) / n));
                var oh = Vector3.Dot(wo, h);
                var wi = 2f * oh * h - wo;
                if (wi.Z <= 0f)
                    continue;
                var (a, b) = take(oh, Microfacet.G2(cos, wi.Z, width) / g1);
                first += a;
                second += b;
            }
        return ((float)(first / (n * n)), (float)(second / (n * n)));
    }
}
