using System.Numerics;
using System.Runtime.InteropServices;
using System.Runtime.Intrinsics;

namespace Kiln.Scattering.Albedo;

/// <summary>
/// Directional albedos of microfacet lobes: without Fresnel, split for Schlick, with the exact Fresnel of dielectrics, and of glass by both
/// sides. Integrated beforehand (<see cref="AlbedoIntegrals"/>) and shipped, so that the first picture waits for none of them.
/// </summary>
public static class AlbedoTables
{
    /// <summary>Where each kind begins, by distribution where there is one for each; layers follow one another.</summary>
    private static readonly int[] Begins = BeginsOfKinds();

    /// <summary>Pinned, as eight places are read at once.</summary>
    private static readonly float[] Numbers = Read();

    internal static ReadOnlySpan<float> Shipped(AlbedoKind kind, Distribution distribution = Distribution.Ggx, int layer = 0)
    {
        var length = AlbedoGrid.Length(kind);
        return Numbers.AsSpan(Begins[Row(kind, distribution)] + layer * length, length);
    }

    /// <summary>Share of light that the lobe returns with every reflectance 1.</summary>
    public static float Reflection(Distribution distribution, float cos, float width) =>
        Reflection(distribution, Of(cos), Of(width)).ToScalar();

    internal static Wide Reflection(Distribution distribution, Wide cos, Wide width) =>
        new Place(cos, width).In(Begins[Row(AlbedoKind.Reflection, distribution)]);

    /// <summary>2∫E·μ dμ.</summary>
    internal static Wide Average(Distribution distribution, Wide width)
    {
        var at = AlbedoGrid.Width(width);
        var i = Vector256.Min(Whole(at), Vector256.Create(AlbedoGrid.Widths - 2));
        var from = Vector256.Create(Begins[Row(AlbedoKind.Average, distribution)]) + i;
        Wide low = Gather(ref Numbers[0], from),
            high = Gather(ref Numbers[0], from + Vector256<int>.One);
        return Lerp(low, high, at - Float(i));
    }

    /// <summary>Albedo with Schlick's Fresnel.</summary>
    public static Vector3 Schlick(Distribution distribution, float cos, float width, Vector3 f0, Vector3 f90) =>
        Schlick(distribution, Of(cos), Of(width), Wide3.Of(f0), Wide3.Of(f90))[0];

    internal static Wide3 Schlick(Distribution distribution, Wide cos, Wide width, in Wide3 f0, in Wide3 f90)
    {
        var place = new Place(cos, width);
        var all = place.In(Begins[Row(AlbedoKind.Reflection, distribution)]);
        var b = place.In(Begins[Row(AlbedoKind.Split, distribution)]);
        return f0 * (all - b) + f90 * b;
    }

    /// <summary>Albedo with the exact Fresnel of a dielectric, index of refraction 1 to 3.1.</summary>
    public static float Dielectric(Distribution distribution, float cos, float width, float ior) =>
        Dielectric(distribution, Of(cos), Of(width), Of(ior)).ToScalar();

    internal static Wide Dielectric(Distribution distribution, Wide cos, Wide width, Wide ior) =>
        Layered(AlbedoKind.Dielectric, distribution, new(cos, width), ior);

    /// <summary>
    /// Share of light that a rough interface of glass sends on, reflected and refracted, when every facet loses none; index behind over
    /// before.
    /// </summary>
    internal static Wide Glass(Wide cos, Wide width, Wide ior)
    {
        var place = new Place(cos, width);
        var entering = AtLeast(ior, Wide.One);
        var sent = Wide.Zero;
        if (Any(entering))
            sent = Layered(AlbedoKind.Entering, Distribution.Ggx, place, ior);
        if (Bits(entering) != 0xff)
            sent = Select(entering, sent, Layered(AlbedoKind.Leaving, Distribution.Ggx, place, Wide.One / ior));
        return sent;
    }

    /// <summary>Albedo of the fibres of Estevez and Kulla before they are scaled.</summary>
    public static float Charlie(float cos, float roughness) => Charlie(Of(cos), Of(roughness)).ToScalar();

    internal static Wide Charlie(Wide cos, Wide roughness) =>
        new Place(AlbedoGrid.Angle(cos), Unit(roughness) * (AlbedoGrid.Widths - 1), true).In(
            Begins[Row(AlbedoKind.Fibres, Distribution.Ggx)]
        );

    private static Wide Layered(AlbedoKind kind, Distribution distribution, in Place place, Wide ior)
    {
        var layer = AlbedoGrid.Layer(ior);
        var i = Vector256.Min(Whole(layer), Vector256.Create(AlbedoGrid.Layers - 2));
        var from = Vector256.Create(Begins[Row(kind, distribution)]) + i * AlbedoGrid.Length(kind);
        Wide low = place.In(from),
            high = place.In(from + Vector256.Create(AlbedoGrid.Length(kind)));
        return Lerp(low, high, layer - Float(i));
    }

    /// <summary>Where eight lookups lie within a table of angles and widths.</summary>
    private readonly struct Place
    {
        private readonly Vector256<int> corner;
        private readonly Wide across,
            down;

        public Place(Wide cos, Wide width)
            : this(AlbedoGrid.Angle(cos), AlbedoGrid.Width(width), true) { }

        public Place(Wide x, Wide y, bool _)
        {
            var last = Vector256.Create(AlbedoGrid.Angles - 2);
            Vector256<int> x0 = Vector256.Min(Whole(x), last),
                y0 = Vector256.Min(Whole(y), last);
            (across, down) = (x - Float(x0), y - Float(y0));
            corner = y0 * AlbedoGrid.Angles + x0;
        }

        public Wide In(int begin) => In(Vector256.Create(begin));

        public Wide In(Vector256<int> begin)
        {
            ref var numbers = ref MemoryMarshal.GetArrayDataReference(Numbers);
            var at = begin + corner;
            var below = at + Vector256.Create(AlbedoGrid.Angles);
            var top = Lerp(Gather(ref numbers, at), Gather(ref numbers, at + Vector256<int>.One), across);
            return Lerp(top, Lerp(Gather(ref numbers, below), Gather(ref numbers, below + Vector256<int>.One), across), down);
        }
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
        var numbers = GC.AllocateUninitializedArray<float>((int)(stream.Length / sizeof(float)), pinned: true);
        stream.ReadExactly(MemoryMarshal.AsBytes(numbers.AsSpan()));
        return numbers;
    }
}
