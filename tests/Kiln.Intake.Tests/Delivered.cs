using Kiln.Demo.Surfaces;
using Kiln.Intake.Content;
using Kiln.Intake.Naming;
using Kiln.Intake.Sets;
using Kiln.Looks.Maps;
using Kiln.Pixels;
using Kiln.Pixels.Decoding;

namespace Kiln.Intake.Tests;

/// <summary>Pictures as intake sees them once they are decoded, without a file behind them.</summary>
internal static class Delivered
{
    /// <summary>A name of which no pixel is known.</summary>
    public static DeliveredPicture Name(string path, bool alpha = false) =>
        Of(path, new(PictureFormat.Png, 1024, 1024, alpha ? ImageBuffer.Rgba : ImageBuffer.Rgb, 8, false, null, false), null);

    /// <summary>A name with its pixels.</summary>
    public static DeliveredPicture Picture(string path, ImageBuffer picture)
    {
        var facts = new PictureFacts(
            PictureFormat.Png,
            picture.Width,
            picture.Height,
            picture.Channels,
            picture.Type == SampleType.U8 ? 8 : 16,
            false,
            null,
            false
        );
        return Of(path, facts, ContentEvidence.Of(picture, PictureProbe.Measure(picture)));
    }

    /// <summary>What becomes of a folder of pictures.</summary>
    public static (List<MapSet> Sets, List<LooseFile> Unsorted) Group(IReadOnlyList<(string Path, ImageBuffer Picture)> pictures)
    {
        var sets = new SetGrouping(NamingTables.Shipped, "delivery", pictures.ToDictionary(p => p.Path, p => p.Picture)).Group(
            [.. pictures.Select(p => Picture(p.Path, p.Picture))],
            out var unsorted,
            []
        );
        return (sets, unsorted);
    }

    /// <summary>Seventeen surfaces of the demo studio that differ in material, relief and colour.</summary>
    public static IReadOnlyList<DemoSurface> Surfaces { get; } =
    [
        DemoSurface.Limewash,
        DemoSurface.Verdigris,
        DemoSurface.Knob,
        DemoSurface.Window,
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
        DemoSurface.AnodisedBody(1001),
        DemoSurface.AnodisedBody(1002),
        DemoSurface.AnodisedBody(1011),
    ];

    private static DeliveredPicture Of(string path, PictureFacts facts, ContentEvidence? evidence) =>
        new(
            new(path, path, 1, Hashes.Named(path)),
            facts,
            MapFile.Of(Hashes.Named(path), path, facts),
            NameReading.Of(path, NamingTables.Shipped),
            evidence
        );
}
