using NetVips;

namespace Kiln.Pixels.Writing;

/// <summary>
/// Writes PNG (8 and 16 bit), JPEG and WebP through libvips. Our own pixels are trusted, so this runs in the calling process.
/// </summary>
public static class PictureWriter
{
    /// <summary>PNG bytes; float pictures must be converted to U8 or U16 first. Same pixels, same bytes.</summary>
    public static byte[] Png(ImageBuffer picture, int compression = 6)
    {
        using var image = ToVips(picture);
        return image.PngsaveBuffer(
            compression: compression,
            filter: compression <= 1 ? Enums.ForeignPngFilter.Sub : Enums.ForeignPngFilter.All,
            keep: Enums.ForeignKeep.None
        );
    }

    public static byte[] Jpeg(ImageBuffer picture, int quality = 85)
    {
        using var image = ToVips(picture);
        return image.JpegsaveBuffer(q: quality, keep: Enums.ForeignKeep.None);
    }

    public static byte[] WebP(ImageBuffer picture, int quality = 82)
    {
        using var image = ToVips(picture);
        return image.WebpsaveBuffer(q: quality, effort: 1, keep: Enums.ForeignKeep.None);
    }

    /// <summary>Pictures of the same size one after another, without end, as an animated WebP.</summary>
    public static byte[] AnimatedWebp(IReadOnlyList<ImageBuffer> frames, int milliseconds, int quality = 90)
    {
        var images = frames.Select(ToVips).ToArray();
        try
        {
            using var joined = Image.Arrayjoin(images, across: 1);
            using var animated = joined.Mutate(m =>
            {
                m.Set(GValue.GIntType, "page-height", frames[0].Height);
                m.Set(GValue.ArrayIntType, "delay", Enumerable.Repeat(milliseconds, frames.Count).ToArray());
                m.Set(GValue.GIntType, "loop", 0);
            });
            return animated.WebpsaveBuffer(q: quality);
        }
        finally
        {
            foreach (var image in images)
                image.Dispose();
        }
    }

    private static Image ToVips(ImageBuffer picture)
    {
        var (format, wide) = picture.Type switch
        {
            SampleType.U8 => (Enums.BandFormat.Uchar, false),
            SampleType.U16 => (Enums.BandFormat.Ushort, true),
            _ => throw new PictureException("PNG, JPEG and WebP hold 8 or 16 bit integers; convert the picture first, or write OpenEXR."),
        };
        var raw = Image.NewFromMemory(picture.Data, picture.Width, picture.Height, picture.ChannelCount, format);
        var interpretation = (picture.ChannelCount <= 2, wide) switch
        {
            (true, true) => Enums.Interpretation.Grey16,
            (true, false) => Enums.Interpretation.Bw,
            (false, true) => Enums.Interpretation.Rgb16,
            _ => Enums.Interpretation.Srgb,
        };
        using (raw)
            return raw.Copy(interpretation: interpretation);
    }
}
