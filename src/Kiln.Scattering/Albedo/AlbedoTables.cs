using System.Numerics;
using System.Runtime.InteropServices;

namespace Kiln.Scattering.Albedo;

/// <summary>
/// Directional albedos of microfacet lobes: without Fresnel, split for Schlick, with the exact Fresnel of dielectrics, and of glass by both
/// sides. Integrated beforehand (<see cref="AlbedoIntegrals"/>) and shipped, so that the first picture waits for none of them.
/// </summary>
public static class AlbedoTables
{
    /// <summary>Where each kind begins, by distribution where there is one for each; layers follow one another.</summary>
    private static readonly int[] Begins = BeginsOfKinds();

    private static readonly float[] Numbers = Read();

    internal static ReadOnlySpan<float> Shipped(AlbedoKind kind, Distribution distribution = Distribution.Ggx, int layer = 0)
    {
        var length = AlbedoGrid.Length(kind);
        return Numbers.AsSpan(Begins[Row(kind, distribution)] + layer * length, length);
    }

    /// <summary>Share of light that the lobe returns with every reflectance 1.</summary>
    public static float Reflection(Distribution distribution, float cos, float width) =>
        AlbedoGrid.Between(Shipped(AlbedoKind.Reflection, distribution), AlbedoGrid.Angle(cos), AlbedoGrid.Width(width));

    /// <summary>2∫E·μ dμ.</summary>
    public static float Average(Distribution distribution, float width)
    {
        var at = AlbedoGrid.Width(width);
        var i = Math.Min((int)at, AlbedoGrid.Widths - 2);
        var table = Shipped(AlbedoKind.Average, distribution);
        return table[i] + (table[i + 1] - table[i]) * (at - i);
    }

    /// <summary>Albedo with Schlick's Fresnel.</summary>
    public static Vector3 Schlick(Distribution distribution, float cos, float width, Vector3 f0, Vector3 f90)
    {
        float a = AlbedoGrid.Angle(cos),
            w = AlbedoGrid.Width(width);
        var all = AlbedoGrid.Between(Shipped(AlbedoKind.Reflection, distribution), a, w);
        var b = AlbedoGrid.Between(Shipped(AlbedoKind.Split, distribution), a, w);
        return f0 * (all - b) + f90 * b;
    }

    /// <summary>Albedo with the exact Fresnel of a dielectric, index of refraction 1 to 3.1.</summary>
    public static float Dielectric(Distribution distribution, float cos, float width, float ior) =>
        Layered(AlbedoKind.Dielectric, distribution, (cos, width, ior));

    /// <summary>
    /// Share of light that a rough interface of glass sends on, reflected and refracted, when every facet loses none; index behind over
    /// before.
    /// </summary>
    public static float Glass(float cos, float width, float ior) =>
        ior >= 1f
            ? Layered(AlbedoKind.Entering, Distribution.Ggx, (cos, width, ior))
            : Layered(AlbedoKind.Leaving, Distribution.Ggx, (cos, width, 1f / ior));

    /// <summary>Albedo of the fibres of Estevez and Kulla before they are scaled.</summary>
    public static float Charlie(float cos, float roughness) =>
        AlbedoGrid.Between(Shipped(AlbedoKind.Fibres), AlbedoGrid.Angle(cos), Math.Clamp(roughness, 0f, 1f) * (AlbedoGrid.Widths - 1));

    private static float Layered(AlbedoKind kind, Distribution distribution, (float Cos, float Width, float Ior) at)
    {
        var layer = AlbedoGrid.Layer(at.Ior);
        var i = Math.Min((int)layer, AlbedoGrid.Layers - 2);
        float a = AlbedoGrid.Angle(at.Cos),
            w = AlbedoGrid.Width(at.Width);
        float low = AlbedoGrid.Between(Shipped(kind, distribution, i), a, w),
            high = AlbedoGrid.Between(Shipped(kind, distribution, i + 1), a, w);
        return low + (high - low) * (layer - i);
    }

    private static int Row(AlbedoKind kind, Distribution distribution) => 2 * (int)kind + (int)distribution;

    private static int[] BeginsOfKinds()
    {
        var begins = new int[2 * Enum.GetValues<AlbedoKind>().Length];
        var at = 0;
        foreach (var (kind, distribution, layer) in AlbedoGrid.All())
        {
            if (layer == 0)
                begins[Row(kind, distribution)] = at;
            at += AlbedoGrid.Length(kind);
        }
        return begins;
    }

    private static float[] Read()
    {
        using var stream = typeof(AlbedoTables).Assembly.GetManifestResourceStream("Kiln.Scattering.albedo.bin")!;
        var numbers = new float[stream.Length / sizeof(float)];
        stream.ReadExactly(MemoryMarshal.AsBytes(numbers.AsSpan()));
        return numbers;
    }
}
