namespace Kiln.Scattering.Albedo;

/// <summary>What a table of albedos holds.</summary>
internal enum AlbedoKind
{
    /// <summary>Every reflectance 1.</summary>
    Reflection,

    /// <summary>(1 − cosine)⁵ of it, for Schlick's split (E = f0·A + f90·B, Karis 2013).</summary>
    Split,

    /// <summary>The mean over all directions, one number a width.</summary>
    Average,

    /// <summary>With the exact Fresnel of a dielectric.</summary>
    Dielectric,

    /// <summary>Of glass, reflected and refracted, from outside.</summary>
    Entering,

    /// <summary>The same from inside.</summary>
    Leaving,

    /// <summary>Of fibres (Estevez and Kulla 2017) before they are scaled.</summary>
    Fibres,
}

/// <summary>Where the numbers of the albedo tables stand: angles by the square root of the cosine, widths by the square root of the width
/// (that is, by roughness), layers by (n − 1)/(n + 1).</summary>
internal static class AlbedoGrid
{
    public const int Angles = 40,
        Widths = 40,
        Layers = 18;
    private const float GreatestInterface = 0.52f; // (n − 1)/(n + 1) of n = 3.17

    /// <summary>All tables in the order of the file; each has <see cref="Length"/> numbers.</summary>
    public static IEnumerable<(AlbedoKind Kind, Distribution Distribution, int Layer)> All()
    {
        foreach (var d in Enum.GetValues<Distribution>())
        {
            yield return (AlbedoKind.Reflection, d, 0);
            yield return (AlbedoKind.Split, d, 0);
            yield return (AlbedoKind.Average, d, 0);
            for (var layer = 0; layer < Layers; layer++)
                yield return (AlbedoKind.Dielectric, d, layer);
        }
        for (var layer = 0; layer < Layers; layer++)
            yield return (AlbedoKind.Entering, Distribution.Ggx, layer);
        for (var layer = 0; layer < Layers; layer++)
            yield return (AlbedoKind.Leaving, Distribution.Ggx, layer);
        yield return (AlbedoKind.Fibres, Distribution.Ggx, 0);
    }

    public static int Length(AlbedoKind kind) => kind == AlbedoKind.Average ? Widths : Angles * Widths;

    /// <summary>Index of refraction of a layer, 1 to 3.17.</summary>
    public static float Index(int layer)
    {
        var s = GreatestInterface * layer / (Layers - 1f);
        return (1f + s) / (1f - s);
    }

    public static float Angle(float cos) => MathF.Sqrt(Math.Clamp(cos, 0f, 1f)) * (Angles - 1);

    /// <summary>The layers of indices of refraction from 1 on, between 0 and the last.</summary>
    public static Wide Layer(Wide ior) => Unit((ior - Wide.One) / (ior + Wide.One) * (1f / GreatestInterface)) * (Layers - 1);

    public static Wide Angle(Wide cos) => Sqrt(Unit(cos)) * (Angles - 1);

    public static Wide Width(Wide width) => Sqrt(Unit(width)) * (Widths - 1);

    public static float Cosine(int i) => MathF.Max(1e-4f, MathF.Pow(i / (Angles - 1f), 2));

    public static float WidthOf(int i) => MathF.Max(Facets.LeastWidth, MathF.Pow(i / (Widths - 1f), 2));

    /// <summary>Between the four numbers around a place of a table.</summary>
    public static float Between(ReadOnlySpan<float> table, float x, float y)
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
}
