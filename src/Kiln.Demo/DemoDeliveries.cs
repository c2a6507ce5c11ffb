using System.IO.Compression;
using System.Text;
using Kiln.Colour.Spaces;
using Kiln.Demo.Models;
using Kiln.Demo.Surfaces;
using Kiln.Pixels;
using Kiln.Pixels.Writing;

namespace Kiln.Demo;

/// <summary>Makes the demo deliveries as they would be downloaded: zips, each with its own way of naming.</summary>
public static class DemoDeliveries
{
    /// <summary>
    /// The deliveries in the order in which they come, with the collection each belongs to. One is a folder, the rest are zips.
    /// </summary>
    public static readonly IReadOnlyList<(string Name, string Collection)> All =
    [
        ("tide_organ_breakwater.zip", "The Tide Organ"),
        ("FennFR2-product-maps.zip", "Fenn FR-2"),
        ("Tide Organ Timber and Slate.zip", "The Tide Organ"),
        ("shoreline_scans_v2", "The Tide Organ"),
        ("organ-fittings-lookdev.zip", "The Tide Organ"),
        ("fr2_body_udims.zip", "Fenn FR-2"),
    ];

    public static IReadOnlyList<string> Names => [.. All.Select(d => d.Name)];

    private static readonly DateTimeOffset FixedTime = new(2026, 1, 15, 12, 0, 0, TimeSpan.Zero);

    /// <summary>Writes the deliveries that are not there yet.</summary>
    public static void Make(string folder, int size = 1024)
    {
        Directory.CreateDirectory(folder);
        Parallel.Invoke(
            () => Write(Path.Combine(folder, All[0].Name), () => TideOrgan(size)),
            () => Write(Path.Combine(folder, All[1].Name), () => Fenn(size)),
            () => Write(Path.Combine(folder, All[2].Name), () => TimberAndSlate(size)),
            () => WriteFolder(Path.Combine(folder, All[3].Name), () => ShorelineScans(size)),
            () => Write(Path.Combine(folder, All[4].Name), () => OrganFittings(size)),
            () => Write(Path.Combine(folder, All[5].Name), () => FieldRadioBody(size))
        );
    }

    /// <summary>Writes the first delivery alone to a file, for people who have no maps at hand.</summary>
    public static void MakeFirst(string path, int size = 512) => Write(path, () => TideOrgan(size));

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
        yield return ("organ_pipes.obj", OrganPipesModel.Row());
        yield return ("organ_pipe_tall.obj", OrganPipesModel.Tall());
        yield return ("organ_pipes.mtl", OrganPipesModel.Mtl());
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
        yield return ("fr2_complete.glb", FieldRadioModel.Glb(PicturesWithin));
        yield return ("fr2_subsets.usda", FieldRadioModel.Usda());
    }

    /// <summary>Small ones: a file that is complete holds them all.</summary>
    private static byte[]? PicturesWithin(string material, string role)
    {
        const int size = 128;
        var maps = new DemoMaps(
            material switch
            {
                "anodisedBody" => DemoSurface.AnodisedBody(1001),
                "cloth" => DemoSurface.SpeakerCloth,
                "amber" => DemoSurface.Window,
                "knurledSteel" => DemoSurface.Knob,
                _ => DemoSurface.RubberFoot,
            },
            size
        );
        return role switch
        {
            "baseColor" => Png(maps.BaseColour()),
            "packed" => Png(maps.Packed()),
            "normal" => Png(maps.Normal(down: false)),
            _ => null,
        };
    }

    /// <summary>
    /// Words with spaces in folders of their own, TIFF; one glossiness map called roughness, one height of eight bits stored in sixteen.
    /// </summary>
    private static IEnumerable<(string, byte[])> TimberAndSlate(int size)
    {
        var beam = new DemoMaps(DemoSurface.SaltBeam, size);
        const string timber = "Salt Worn Beam/Salt Worn Beam ";
        yield return (timber + "Base Color.tif", DemoFiles.Tiff(beam.BaseColour()));
        yield return (timber + "Glossiness.tif", DemoFiles.Tiff(beam.Glossiness()));
        yield return (timber + "Normal OpenGL.tif", DemoFiles.Tiff(beam.Normal(down: false)));
        yield return (timber + "Height.tif", DemoFiles.Tiff(beam.Height(SampleType.U8).As(SampleType.U16)));
        yield return (timber + "Ambient Occlusion.tif", DemoFiles.Tiff(beam.Occlusion()));
        yield return (timber + "Preview.jpg", DemoFiles.Jpeg(Resample.ToFit(beam.BaseColour(), 256, SampleType.U8), 85));
        var slate = new DemoMaps(DemoSurface.SlateSill, size);
        const string sill = "Wet Slate Sill/Wet Slate Sill ";
        yield return (sill + "Base Color.tif", DemoFiles.Tiff(slate.BaseColour()));
        yield return (sill + "Rough.tif", DemoFiles.Tiff(slate.Roughness()));
        yield return (sill + "Normal OpenGL.tif", DemoFiles.Tiff(slate.Normal(down: false)));
        yield return (sill + "Height.tif", DemoFiles.Tiff(slate.Height()));
        yield return (sill + "Reflection.tif", DemoFiles.Tiff(slate.Occlusion()));
        yield return ("Licence.txt", Encoding.UTF8.GetBytes("Free to use in made-up films.\n"));
    }

    /// <summary>
    /// Three-letter role words, 1K and half-size alternates in folders; a Y-down map named as Y up, a base colour already in ACEScg.
    /// </summary>
    private static IEnumerable<(string, byte[])> ShorelineScans(int size)
    {
        foreach (var (surface, name) in new[] { (DemoSurface.BarnacleIron, "barnacleIron"), (DemoSurface.KelpConcrete, "kelpConcrete") })
        {
            var maps = new DemoMaps(surface, size);
            var iron = surface == DemoSurface.BarnacleIron;
            if (iron)
                yield return (
                    $"1K/{name}_DIF_acescg_1k.exr",
                    DemoFiles.Exr(AcesCg(maps.BaseColour()), new(0.713f, 0.293f, 0.165f, 0.830f, 0.128f, 0.044f, 0.32168f, 0.33767f))
                );
            else
                yield return ($"1K/{name}_DIF_1k.jpg", DemoFiles.Jpeg(maps.BaseColour(), 94));
            yield return ($"1K/{name}_RGH_1k.jpg", DemoFiles.Jpeg(maps.Roughness(), 94));
            // Planted on the iron: the name says GL, green points down.
            yield return ($"1K/{name}_NRM_GL_1k.png", DemoFiles.Png(maps.Normal(down: iron)));
            yield return ($"1K/{name}_DSP_1k_16b.png", DemoFiles.Png(maps.Height()));
            if (iron)
                yield return ($"1K/{name}_MTL_1k.png", DemoFiles.Png(maps.Metalness()));
            yield return ($"512/{name}_DIF_512.jpg", DemoFiles.Jpeg(Resample.ToFit(maps.BaseColour(), size / 2, SampleType.U8), 90));
            yield return ($"512/{name}_RGH_512.jpg", DemoFiles.Jpeg(Resample.ToFit(maps.Roughness(), size / 2, SampleType.U8), 90));
            yield return (
                $"512/{name}_NRM_GL_512.jpg",
                DemoFiles.Jpeg(Resample.ToFit(maps.Normal(down: iron), size / 2, SampleType.U8), 95)
            );
            yield return ($"previews/{name}.jpg", DemoFiles.Jpeg(Resample.ToFit(maps.BaseColour(), 256, SampleType.U8), 85));
        }
        yield return ("IMG_0417.png", DemoFiles.Png(new DemoMaps(DemoSurface.KelpConcrete, size / 2).Occlusion()));
    }

    /// <summary>
    /// Role words in front, TGA and DDS; a roughness tagged sRGB, a map with a seam, metalness half grey, a constant metalness map.
    /// </summary>
    private static IEnumerable<(string, byte[])> OrganFittings(int size)
    {
        var sail = new DemoMaps(DemoSurface.SailCanvas, size);
        yield return ("basecolour-sail-canvas.tga", DemoFiles.Tga(sail.BaseColour()));
        yield return ("roughness-sail-canvas.png", DemoFiles.PngTaggedSrgb(sail.Roughness()));
        yield return ("normal-sail-canvas.tga", DemoFiles.Tga(sail.Normal(down: false)));
        yield return ("bump-sail-canvas.png", DemoFiles.Png(sail.Height()));
        var tile = new DemoMaps(DemoSurface.GlazedTile, size);
        yield return ("basecolour-glazed-blue-tile.dds", DemoFiles.Dds(tile.BaseColour()));
        yield return ("roughness-glazed-blue-tile.png", DemoFiles.Png(tile.Roughness()));
        yield return ("normal-glazed-blue-tile.png", DemoFiles.Png(tile.Normal(down: false)));
        yield return ("metalness-glazed-blue-tile.png", DemoFiles.Png(tile.Metalness()));
        var brass = new DemoMaps(DemoSurface.BrassReed, size);
        yield return ("basecolour-brass-reed-plate.tga", DemoFiles.Tga(brass.BaseColour()));
        // Planted: what it calls roughness is glossiness; only its metal gives it away.
        yield return ("roughness-brass-reed-plate.png", DemoFiles.Png(brass.Glossiness()));
        yield return ("metalness-brass-reed-plate.png", DemoFiles.Png(HalfGrey(brass.Metalness())));
        yield return ("normal-brass-reed-plate.png", DemoFiles.Png(brass.Normal(down: false)));
        var rope = new DemoMaps(DemoSurface.TarredRope, size);
        yield return ("basecolour-tarred-rope.jpg", DemoFiles.Jpeg(WithSeam(rope.BaseColour())));
        yield return ("roughness-tarred-rope.jpg", DemoFiles.Jpeg(rope.Roughness()));
        yield return ("normal-tarred-rope.png", DemoFiles.Png(rope.Normal(down: true)));
    }

    /// <summary>UDIM tiles with one missing, packed data, an odd size; folders per part.</summary>
    private static IEnumerable<(string, byte[])> FieldRadioBody(int size)
    {
        foreach (var tile in new[] { 1001, 1002, 1011 })
        {
            var body = new DemoMaps(DemoSurface.AnodisedBody(tile), size / 2);
            yield return ($"body/anodisedBody_baseColor.{tile}.png", DemoFiles.Png(body.BaseColour()));
            yield return ($"body/anodisedBody_normal.{tile}.png", DemoFiles.Png(body.Normal(down: false)));
            if (tile != 1011)
                yield return ($"body/anodisedBody_occlusionRoughnessMetallic.{tile}.png", DemoFiles.Png(body.Packed()));
        }
        var foot = new DemoMaps(DemoSurface.RubberFoot, size / 2);
        yield return ("rubber foot/baseColor.png", DemoFiles.Png(foot.BaseColour()));
        yield return ("rubber foot/roughness.png", DemoFiles.Png(foot.Roughness()));
        yield return ("rubber foot/normal.png", DemoFiles.Png(foot.Normal(down: false)));
        var cloth = new DemoMaps(DemoSurface.SpeakerCloth, size / 2);
        yield return ("speaker cloth/baseColor.png", DemoFiles.Png(cloth.BaseColour()));
        yield return ("speaker cloth/roughness.png", DemoFiles.Png(Resample.ToFit(cloth.Roughness(), size / 4, SampleType.U8)));
        yield return ("speaker cloth/normal.png", DemoFiles.Png(cloth.Normal(down: false)));
        yield return ("speaker cloth/opacity.png", DemoFiles.Png(cloth.Opacity()));
        yield return ("fr2.obj", FieldRadioModel.Obj());
        yield return ("fr2.mtl", FieldRadioModel.Mtl());
    }

    /// <summary>sRGB codes to linear ACEScg, as half floats.</summary>
    private static ImageBuffer AcesCg(ImageBuffer srgb)
    {
        var result = new ImageBuffer(srgb.Width, srgb.Height, ImageBuffer.Rgb, SampleType.F16);
        var convert = ColourTransform.Between(ColourSpace.SrgbTexture, ColourSpace.AcesCg);
        var row = new float[srgb.Width * 3];
        for (var y = 0; y < srgb.Height; y++)
        {
            srgb.ReadRow(y, row);
            convert.Apply(row);
            result.WriteRow(y, row);
        }
        return result;
    }

    private static ImageBuffer HalfGrey(ImageBuffer metal)
    {
        for (var i = 0; i < metal.Data.Length; i++)
            metal.Data[i] = (byte)(90 + metal.Data[i] / 3);
        return metal;
    }

    /// <summary>A picture that no longer repeats: it grows darker from left to right.</summary>
    private static ImageBuffer WithSeam(ImageBuffer picture)
    {
        var n = picture.ChannelCount;
        for (var i = 0; i < picture.Data.Length; i++)
            picture.Data[i] = (byte)(picture.Data[i] * (1 - 0.35f * (i / n % picture.Width) / picture.Width));
        return picture;
    }

    private static byte[] Png(ImageBuffer picture) => DemoFiles.Png(picture);

    private static void WriteFolder(string path, Func<IEnumerable<(string Name, byte[] Bytes)>> files)
    {
        if (Directory.Exists(path))
            return;
        var temporary = path + ".part";
        foreach (var (name, bytes) in files())
        {
            var file = Path.Combine(temporary, name);
            Directory.CreateDirectory(Path.GetDirectoryName(file)!);
            File.WriteAllBytes(file, bytes);
        }
        Directory.Move(temporary, path);
    }

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
