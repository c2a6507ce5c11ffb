using System.IO.Compression;
using System.Text;
using Kiln.Demo.Surfaces;
using Kiln.Pixels;
using Kiln.Pixels.Writing;

namespace Kiln.Demo;

/// <summary>Makes the demo deliveries as they would be downloaded: zips, each with its own way of naming.</summary>
public static class DemoDeliveries
{
    public static readonly IReadOnlyList<string> Names = ["tide_organ_breakwater.zip", "FennFR2-product-maps.zip"];

    private static readonly DateTimeOffset FixedTime = new(2026, 1, 15, 12, 0, 0, TimeSpan.Zero);

    /// <summary>Writes the deliveries that are not there yet.</summary>
    public static void Make(string folder, int size = 1024)
    {
        Directory.CreateDirectory(folder);
        Write(Path.Combine(folder, Names[0]), () => TideOrgan(size));
        Write(Path.Combine(folder, Names[1]), () => Fenn(size));
    }

    /// <summary>Folder per surface, words spelt out, glossiness, Y down said as dx; a preview and a readme.</summary>
    private static IEnumerable<(string, byte[])> TideOrgan(int size)
    {
        var copper = new DemoMaps(DemoSurface.Verdigris, size);
        const string pipe = "verdigris_copper_pipe/verdigris_copper_pipe_";
        yield return (pipe + "basecolor_1k.png", Png(copper.BaseColour()));
        yield return (pipe + "metalness_1k.png", Png(copper.Metalness()));
        yield return (pipe + "glossiness_1k.png", Png(copper.Glossiness()));
        yield return (pipe + "normal_dx_1k.png", Png(copper.Normal(down: true)));
        yield return (pipe + "height_1k_16bit.png", Png(copper.Height()));
        yield return (pipe + "ao_1k.jpg", PictureWriter.Jpeg(copper.Occlusion(), 92));
        yield return ("verdigris_copper_pipe/preview.jpg", PictureWriter.Jpeg(Resample.ToFit(copper.BaseColour(), 256, SampleType.U8), 85));
        var wall = new DemoMaps(DemoSurface.Limewash, size);
        const string lime = "limewashed_wall/limewashed_wall_";
        yield return (lime + "basecolor_1k.jpg", PictureWriter.Jpeg(wall.BaseColour(), 94));
        yield return (lime + "roughness_1k.jpg", PictureWriter.Jpeg(wall.Roughness(), 94));
        yield return (lime + "normal_gl_1k.png", Png(wall.Normal(down: false)));
        yield return (lime + "height_1k_16bit.png", Png(wall.Height()));
        yield return (lime + "basecolor_512.jpg", PictureWriter.Jpeg(Resample.ToFit(wall.BaseColour(), 512, SampleType.U8), 94));
        yield return ("readme.txt", Encoding.UTF8.GetBytes("Surfaces for The Tide Organ. Made up for the demo.\n"));
    }

    /// <summary>One folder, camelCase with a prefix, packed ORM; a window with emission and opacity.</summary>
    private static IEnumerable<(string, byte[])> Fenn(int size)
    {
        var knob = new DemoMaps(DemoSurface.Knob, size);
        yield return ("T_KnurledSteelKnob_BaseColor.png", Png(knob.BaseColour()));
        yield return ("T_KnurledSteelKnob_ORM.png", Png(knob.Packed()));
        yield return ("T_KnurledSteelKnob_Normal.png", Png(knob.Normal(down: false)));
        var window = new DemoMaps(DemoSurface.Window, size);
        yield return ("T_AmberTuningWindow_BaseColor.png", Png(window.BaseColour()));
        yield return ("T_AmberTuningWindow_Roughness.png", Png(window.Roughness()));
        yield return ("T_AmberTuningWindow_Normal.png", Png(window.Normal(down: false)));
        yield return ("T_AmberTuningWindow_Emissive.png", Png(window.Emission()));
        yield return ("T_AmberTuningWindow_Opacity.png", Png(window.Opacity()));
    }

    private static byte[] Png(ImageBuffer picture) => PictureWriter.Png(picture, compression: 3);

    private static void Write(string path, Func<IEnumerable<(string Name, byte[] Bytes)>> files)
    {
        if (File.Exists(path))
            return;
        var temporary = path + ".part";
        using (var zip = new ZipArchive(File.Create(temporary), ZipArchiveMode.Create))
            foreach (var (name, bytes) in files())
            {
                var entry = zip.CreateEntry(name, CompressionLevel.NoCompression);
                entry.LastWriteTime = FixedTime;
                using var stream = entry.Open();
                stream.Write(bytes);
            }
        File.Move(temporary, path);
    }
}
