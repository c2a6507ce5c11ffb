using Kiln.Demo.Surfaces;
using Kiln.Pixels;

namespace Kiln.Demo;

/// <summary>
/// A whole library for measurements: any number of surfaces, made from the demo's by shifting them and changing their brightness, five to
/// seven maps each.
/// </summary>
public static class DemoLibrary
{
    private static readonly DemoSurface[] Kinds =
    [
        DemoSurface.Limewash,
        DemoSurface.Verdigris,
        DemoSurface.SaltBeam,
        DemoSurface.SlateSill,
        DemoSurface.BarnacleIron,
        DemoSurface.SailCanvas,
        DemoSurface.GlazedTile,
        DemoSurface.BrassReed,
        DemoSurface.KelpConcrete,
        DemoSurface.TarredRope,
        DemoSurface.RubberFoot,
        DemoSurface.SpeakerCloth,
        DemoSurface.Knob,
    ];

    /// <param name="maps">5, 6 or 7 files a surface: base colour, roughness, metalness, normal, height; then occlusion; then a copy of the
    /// height under another name.</param>
    public static void Make(string folder, int surfaces, int size, int maps = 5)
    {
        Directory.CreateDirectory(folder);
        var made = Kinds
            .Take(Math.Min(surfaces, Kinds.Length))
            .Select(k => new DemoMaps(k, size))
            .Select(m => new[] { m.BaseColour(), m.Roughness(), m.Metalness(), m.Normal(down: false), m.Height(), m.Occlusion() })
            .ToArray();
        string[] words = ["basecolor", "roughness", "metalness", "normal", "height", "ao"];
        Parallel.For(0, surfaces, i =>
        {
            var kind = i % made.Length;
            var name = $"{Kinds[kind].Name.Replace(' ', '_')}_{i / made.Length + 1:00}";
            for (var m = 0; m < Math.Min(maps, 6); m++)
                File.WriteAllBytes(Path.Combine(folder, $"{name}_{words[m]}.png"), DemoFiles.Png(Shifted(made[kind][m], i / made.Length)));
            if (maps >= 7)
                File.Copy(Path.Combine(folder, $"{name}_height.png"), Path.Combine(folder, $"{name}_displacement.png"), overwrite: true);
        });
    }

    /// <summary>The same surface, rolled sideways: other bytes, the same kind of picture.</summary>
    private static ImageBuffer Shifted(ImageBuffer picture, int number)
    {
        var result = new ImageBuffer(picture.Width, picture.Height, picture.Channels, picture.Type);
        int row = picture.Data.Length / picture.Height,
            pixel = row / picture.Width,
            by = number * 37 % picture.Width * pixel;
        for (var y = 0; y < picture.Height; y++)
        {
            picture.Data.AsSpan(y * row + by, row - by).CopyTo(result.Data.AsSpan(y * row));
            picture.Data.AsSpan(y * row, by).CopyTo(result.Data.AsSpan(y * row + row - by));
        }
        return result;
    }
}
