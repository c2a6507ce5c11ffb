using System.Numerics;

namespace Kiln.Scattering;

/// <summary>Reflectances at an interface: of eight facets at once, and of one.</summary>
public static class Fresnel
{
    private const float F82Cosine = 1f / 7f;

    /// <summary>
    /// Unpolarised reflectance of a dielectric (Fresnel equations; Walter et al. 2007, equation 22); 1 beyond the angle of total
    /// reflection.
    /// </summary>
    /// <param name="cos">Of the angle between ray and normal, on the side the ray comes from.</param>
    /// <param name="ior">Index behind the surface over the index before it; below 1 where light leaves the denser side.</param>
    public static float Dielectric(float cos, float ior) => Dielectric(Of(cos), Of(ior)).ToScalar();

    internal static Wide Dielectric(Wide cos, Wide ior)
    {
        var c = Abs(cos);
        var g2 = ior * ior - Wide.One + c * c;
        var g = Sqrt(Max(g2, Wide.Zero));
        Wide a = (g - c) / (g + c),
            b = (c * (g + c) - Wide.One) / (c * (g - c) + Wide.One);
        return Select(Positive(g2), Min(0.5f * a * a * (Wide.One + b * b), Wide.One), Wide.One);
    }

    /// <summary>
    /// Amplitudes reflected, parallel and perpendicular to the plane of incidence (Fresnel equations); real where nothing is totally
    /// reflected.
    /// </summary>
    public static (float Parallel, float Perpendicular) Amplitudes(float cos, float ior)
    {
        var (parallel, perpendicular) = Amplitudes(Of(cos), Of(ior));
        return (parallel.ToScalar(), perpendicular.ToScalar());
    }

    internal static (Wide Parallel, Wide Perpendicular) Amplitudes(Wide cos, Wide ior)
    {
        var cosT = Sqrt(Max(Wide.One - (Wide.One - cos * cos) / (ior * ior), Wide.Zero));
        return ((ior * cos - cosT) / (ior * cos + cosT), (cos - ior * cosT) / (cos + ior * cosT));
    }

    /// <summary>Reflectance at normal incidence: ((n − 1)/(n + 1))².</summary>
    public static float NormalIncidence(float ior) => NormalIncidence(Of(ior)).ToScalar();

    internal static Wide NormalIncidence(Wide ior)
    {
        var s = (ior - Wide.One) / (ior + Wide.One);
        return s * s;
    }

    /// <summary>The index of refraction that reflects a share at normal incidence.</summary>
    public static float IndexOf(float normalIncidence) => IndexOf(Of(normalIncidence)).ToScalar();

    internal static Wide IndexOf(Wide normalIncidence)
    {
        var s = Sqrt(Clamp(normalIncidence, Wide.Zero, Of(0.999f)));
        return (Wide.One + s) / (Wide.One - s);
    }

    public static Vector3 Schlick(float cos, Vector3 f0, Vector3 f90) => Schlick(Of(cos), Wide3.Of(f0), Wide3.Of(f90))[0];

    internal static Wide3 Schlick(Wide cos, in Wide3 f0, in Wide3 f90) => f0 + (f90 - f0) * Power5(Wide.One - cos);

    /// <summary>Metals by reflectance at 0° and tint at about 82° (Kutz, Hasan, Edmondson 2021; OpenPBR Surface 1.1, "Metal").</summary>
    public static Vector3 F82(float cos, Vector3 f0, Vector3 tint) => F82(Of(cos), Wide3.Of(f0), Wide3.Of(tint))[0];

    internal static Wide3 F82(Wide cos, in Wide3 f0, in Wide3 tint) =>
        Wide3.Max(Schlick(cos, f0, Wide3.One) - F82Dip(f0, tint) * (cos * Power6(Wide.One - cos)), Wide3.Zero);

    /// <summary>2∫F·μ dμ of <see cref="F82(float, Vector3, Vector3)"/>: the Schlick part is f0 + (1 − f0)/21, and 2∫μ²(1 − μ)⁶ dμ =
    /// 1/126.</summary>
    internal static Wide3 F82Average(in Wide3 f0, in Wide3 tint) => f0 + (Wide3.One - f0) * (1f / 21f) - F82Dip(f0, tint) * (1f / 126f);

    /// <summary>
    /// A metal by its reflectance at 0° and an edge colour, of which a complex index is made (Gulbrandsen 2014, "Artist Friendly Metallic
    /// Fresnel", equations 1, 2 and 8),
    /// and the reflectance that the index has in unpolarised light (Fresnel equations).
    /// </summary>
    public static Vector3 Conductor(float cos, Vector3 reflectance, Vector3 edge) =>
        Conductor(Of(cos), Wide3.Of(reflectance), Wide3.Of(edge))[0];

    internal static Wide3 Conductor(Wide cos, in Wide3 reflectance, in Wide3 edge)
    {
        var r = Wide3.Min(Wide3.Max(reflectance, Wide3.Zero), new Wide3(Of(MostConducting)));
        Wide3 root = Wide3.Sqrt(r),
            one = Wide3.One;
        var tint = Wide3.Unit(edge);
        Wide3 least = (one + root) / (one - root),
            most = (one - r) / (one + r);
        var n = least + (most - least) * tint;
        Wide3 up = n + one,
            down = n - one;
        var k2 = Wide3.Max((r * up * up - down * down) / (one - r), Wide3.Zero);
        Wide c2 = Unit(cos * cos),
            s2 = Wide.One - c2;
        var n2 = n * n;
        var t = n2 - k2 - new Wide3(s2);
        var ab = Wide3.Sqrt(t * t + n2 * k2 * 4f);
        var a = Wide3.Sqrt(Wide3.Max((ab + t) * 0.5f, Wide3.Zero));
        Wide3 sum = ab + new Wide3(c2),
            twice = a * (2f * Sqrt(c2));
        var perpendicular = (sum - twice) / (sum + twice);
        Wide3 sum2 = ab * c2 + new Wide3(s2 * s2),
            twice2 = twice * s2;
        return perpendicular * 0.5f * (one + (sum2 - twice2) / Wide3.Max(sum2 + twice2, new Wide3(Of(1e-12f))));
    }

    /// <summary>2∫F·μ dμ of <see cref="Conductor(float, Vector3, Vector3)"/> by four points (Gauss and Legendre).</summary>
    public static Vector3 ConductorAverage(Vector3 reflectance, Vector3 edge) => ConductorAverage(Wide3.Of(reflectance), Wide3.Of(edge))[0];

    internal static Wide3 ConductorAverage(in Wide3 reflectance, in Wide3 edge)
    {
        var sum = Wide3.Zero;
        foreach (var (at, weight) in FourPoints)
            sum += Conductor(Of(at), reflectance, edge) * (2f * at * weight);
        return sum;
    }

    // A reflectance of 1 has no finite index.
    private const float MostConducting = 0.999f;

    // Abramowitz and Stegun, table 25.4, n = 4, brought to 0..1.
    private static readonly (float At, float Weight)[] FourPoints =
    [
        (0.0694318442f, 0.1739274226f),
        (0.3300094782f, 0.3260725774f),
        (0.6699905218f, 0.3260725774f),
        (0.9305681558f, 0.1739274226f),
    ];

    // (1 − 1/7)⁵ and ⁶.
    private const float AtDip5 = 0.46266435f,
        AtDip6 = 0.39656944f;

    private static Wide3 F82Dip(in Wide3 f0, in Wide3 tint) =>
        (f0 + (Wide3.One - f0) * AtDip5) * (Wide3.One - tint) * (1f / (F82Cosine * AtDip6));

    private static Wide Power5(Wide x)
    {
        x = Unit(x);
        var x2 = x * x;
        return x2 * x2 * x;
    }

    private static Wide Power6(Wide x)
    {
        x = Unit(x);
        var x2 = x * x;
        return x2 * x2 * x2;
    }
}
