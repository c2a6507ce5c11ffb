using System.Numerics;
using Kiln.Intake;
using Kiln.Intake.Listing;
using Kiln.Intake.Wiring;
using Kiln.Looks.Document;
using Kiln.Looks.Maps;
using Kiln.Looks.Readings;
using Kiln.Pixels;
using Kiln.Pixels.Decoding;

namespace Kiln.Exchange.Tests.Conversion;

/// <summary>
/// A surface known in closed form, delivered as downloads come: base colour, one packed file with metalness in red and glossiness in alpha,
/// and a Y-down normal map.
/// The reference is the same surface evaluated where it lies after placement, with formulas of its own.
/// </summary>
internal static class KnownSurface
{
    public const int Size = 256;
    private const int ReferenceSize = 2 * Size;
    private const float Tau = MathF.PI * 2;

    // Smooth and repeating; nothing symmetric, so that turns, flips and swaps all show.
    private static Vector3 Colour(float u, float v) =>
        new(0.5f + 0.3f * MathF.Sin(Tau * u), 0.45f + 0.3f * MathF.Cos(Tau * (u + v)), 0.4f + 0.25f * MathF.Sin(Tau * 2 * v));

    private static float Metal(float u, float v) => MathF.Sin(Tau * (u + 2 * v)) > 0.3f ? 1 : 0;

    private static float Gloss(float u, float v) => 0.5f + 0.3f * MathF.Cos(Tau * u) * MathF.Sin(Tau * v);

    private static (float P, float Q) Slope(float u, float v)
    {
        const float a = 0.35f;
        return (a * MathF.Cos(Tau * (u + v)), a * MathF.Cos(Tau * (u + v)) - 0.25f * MathF.Sin(Tau * 2 * v));
    }

    private static ImageBuffer Fill(
        int size,
        System.Collections.Immutable.ImmutableArray<string> channels,
        Func<float, float, float[]> at,
        SampleType type = SampleType.U8
    )
    {
        var picture = new ImageBuffer(size, size, channels, type);
        for (var y = 0; y < size; y++)
        for (var x = 0; x < size; x++)
        {
            var v = at((x + 0.5f) / size, 1 - (y + 0.5f) / size);
            for (var c = 0; c < v.Length; c++)
                picture[x, y, c] = v[c];
        }
        return picture;
    }

    private static float[] Normal(float p, float q, bool down)
    {
        var n = Vector3.Normalize(new(-p, -q, 1));
        return [0.5f + 0.5f * n.X, 0.5f + 0.5f * (down ? -n.Y : n.Y), 0.5f + 0.5f * n.Z];
    }

    /// <summary>Through the real intake, once for each shop: nothing is said to the program but the files.</summary>
    public static async Task<Look> DeliveredAsync(Workshop shop, Placement placement) =>
        (shop.Delivered ??= await WiredAsync(shop)) with
        {
            Placement = placement,
        };

    private static async Task<Look> WiredAsync(Workshop shop)
    {
        var folder = Directory.CreateDirectory(Path.Combine(shop.Folder, "delivery")).FullName;
        void Save(string name, ImageBuffer p) => File.WriteAllBytes(Path.Combine(folder, name), Pixels.Writing.PictureWriter.Png(p));
        Save("kelp_slab_basecolor.png", Fill(Size, ImageBuffer.Rgb, (u, v) => Colour(u, v) is var c ? [c.X, c.Y, c.Z] : []));
        Save("kelp_slab_metallic_smoothness.png", Fill(Size, ImageBuffer.Rgba, (u, v) => [Metal(u, v), 0, 0, Gloss(u, v)]));
        Save("kelp_slab_normal.png", Fill(Size, ImageBuffer.Rgb, (u, v) => Slope(u, v) is var (p, q) ? Normal(p, q, down: true) : []));
        var listing = DeliveryListing.Read([folder], Path.Combine(shop.Folder, "staging"));
        foreach (var file in listing.Files)
            shop.Put(File.ReadAllBytes(file.LocalPath));
        var result = await new IntakeAnalysis(shop).RunAsync(listing, "delivery");
        var set = Assert.Single(result.Sets);
        Assert.Equal(NormalY.Down, set.Maps.First(m => m.Role == MapRole.Normal).NormalY);
        Assert.Contains(set.Maps, m => m is { Role: MapRole.Glossiness, Channel: MapChannel.A });
        return SetWiring.Wire(set);
    }

    /// <summary>
    /// The truth: every value at the place where the placed picture shows it, as plain unplaced maps, Y up, roughness direct.
    /// </summary>
    public static Look Reference(Workshop shop, Placement placement) =>
        shop.References.TryGetValue(placement, out var known) ? known : shop.References[placement] = Evaluated(shop, placement);

    private static Look Evaluated(Workshop shop, Placement p)
    {
        var (sin, cos) = MathF.SinCos(p.RotationDegrees * MathF.PI / 180);
        // Written out once more, independently: undo the offset, turn back about the pivot, repeat, mirror.
        (float U, float V) Picture(float u, float v)
        {
            float x = u - p.OffsetU - p.PivotU,
                y = v - p.OffsetV - p.PivotV;
            float tx = (cos * x + sin * y + p.PivotU) * p.RepeatsU,
                ty = (-sin * x + cos * y + p.PivotV) * p.RepeatsV;
            return (p.MirrorU ? 1 - tx : tx, p.MirrorV ? 1 - ty : ty);
        }
        (float P, float Q) Placed(float u, float v)
        {
            // Numerically: how the picture's coordinates change along u and v, relief scaling with the mean size of a repeat.
            const float e = 1e-3f;
            var (a, b) = Picture(u, v);
            var (au, bu) = Picture(u + e, v);
            var (av, bv) = Picture(u, v + e);
            var (sp, sq) = Slope(a, b);
            var scale = 1 / MathF.Sqrt(p.RepeatsU * p.RepeatsV);
            return ((sp * (au - a) + sq * (bu - b)) / e * scale, (sp * (av - a) + sq * (bv - b)) / e * scale);
        }
        var colour = shop.Store(
            "truth_colour.png",
            Fill(
                ReferenceSize,
                ImageBuffer.Rgb,
                (u, v) => Picture(u, v) is var (a, b) && Colour(a, b) is var c ? [c.X, c.Y, c.Z] : [],
                SampleType.U16
            )
        );
        var metal = shop.Store(
            "truth_metal.png",
            Fill(ReferenceSize, ImageBuffer.Grey, (u, v) => Picture(u, v) is var (a, b) ? [Metal(a, b)] : [])
        );
        var rough = shop.Store(
            "truth_rough.png",
            Fill(ReferenceSize, ImageBuffer.Grey, (u, v) => Picture(u, v) is var (a, b) ? [1 - Gloss(a, b)] : [], SampleType.U16)
        );
        var normal = shop.Store(
            "truth_normal.png",
            Fill(ReferenceSize, ImageBuffer.Rgb, (u, v) => Placed(u, v) is var (sp, sq) ? Normal(sp, sq, down: false) : [], SampleType.U16)
        );
        PlacedMap Map(MapRole role, MapFile file) =>
            new(
                file.Name,
                role,
                MapChannel.Rgb,
                UsualReading.Of(
                    role,
                    new(PictureFormat.Png, file.Width, file.Height, file.Channels, file.Bits, false, null, false),
                    null,
                    role == MapRole.Normal ? NormalY.Up : null
                ),
                null,
                null,
                file.Width,
                file.Height,
                file.Bits,
                false,
                null,
                1,
                [],
                file
            );
        return SetWiring.Wire(
            new(
                "truth",
                [Map(MapRole.BaseColor, colour), Map(MapRole.Metalness, metal), Map(MapRole.Roughness, rough), Map(MapRole.Normal, normal)],
                [],
                []
            )
        );
    }
}
