using System.Numerics;
using Kiln.Scattering.Interfaces;

namespace Kiln.Scattering.Albedo;

/// <summary>
/// The integrals that <see cref="AlbedoTables"/> ships, worked out anew: directional albedos of microfacet lobes by evenly spread sampling
/// of facets.
/// All of them take a minute of two processors, so a test does it when the tables are renewed and compares samples of them in every run.
/// </summary>
internal static class AlbedoIntegrals
{
    private const int Angles = AlbedoGrid.Angles,
        Widths = AlbedoGrid.Widths,
        Samples = 24;

    /// <summary>A table by its place in the file.</summary>
    /// <exception cref="ArgumentOutOfRangeException">There is no such table.</exception>
    public static float[] Table(AlbedoKind kind, Distribution distribution = Distribution.Ggx, int layer = 0) =>
        kind switch
        {
            AlbedoKind.Reflection => Each((cos, facets) => Plain(cos, facets).All, distribution),
            AlbedoKind.Split => Each((cos, facets) => Plain(cos, facets).Split, distribution),
            AlbedoKind.Average => Average(Table(AlbedoKind.Reflection, distribution)),
            AlbedoKind.Dielectric => Exact(distribution, AlbedoGrid.Index(layer)),
            AlbedoKind.Entering => Glass(AlbedoGrid.Index(layer)),
            AlbedoKind.Leaving => Glass(1f / AlbedoGrid.Index(layer)),
            AlbedoKind.Fibres => Charlie(),
            _ => throw new ArgumentOutOfRangeException(nameof(kind)),
        };

    /// <summary>The share that returns with every reflectance 1, and (1 − cosine)⁵ of it.</summary>
    private static (float All, float Split) Plain(float cos, Facets facets) =>
        Reflected(
            cos,
            facets,
            (c, weight) =>
            {
                var x = 1f - c;
                return (weight, weight * x * x * x * x * x);
            },
            2
        );

    /// <summary>2∫E·μ dμ for every width.</summary>
    private static float[] Average(float[] plain)
    {
        const int steps = 512;
        var average = new float[Widths];
        for (var w = 0; w < Widths; w++)
        {
            double sum = 0;
            for (var i = 0; i < steps; i++)
            {
                var mu = (i + 0.5f) / steps;
                sum += AlbedoGrid.Between(plain, AlbedoGrid.Angle(mu), w) * mu;
            }
            average[w] = (float)(2 * sum / steps);
        }
        return average;
    }

    private static float[] Each(Func<float, Facets, float> value, Distribution distribution = Distribution.Ggx)
    {
        var table = new float[Angles * Widths];
        Parallel.For(0, Widths, w =>
        {
            for (var a = 0; a < Angles; a++)
                table[w * Angles + a] = value(AlbedoGrid.Cosine(a), new(AlbedoGrid.WidthOf(w), 0, distribution));
        });
        return table;
    }

    private static float[] Exact(Distribution distribution, float ior) =>
        Each((cos, facets) => Reflected(cos, facets, (c, weight) => (weight * Fresnel.Dielectric(c, ior), 0f), 1).Item1, distribution);

    /// <summary>Reflected and refracted light together.</summary>
    private static float[] Glass(float ior) =>
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

    private static float[] Charlie()
    {
        const int steps = 96;
        var table = new float[Angles * Widths];
        Parallel.For(0, Widths, w =>
        {
            var roughness = MathF.Max(0.01f, w / (Widths - 1f));
            for (var a = 0; a < Angles; a++)
            {
                var cos = AlbedoGrid.Cosine(a);
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
