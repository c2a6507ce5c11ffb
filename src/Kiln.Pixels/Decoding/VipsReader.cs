using System.Collections.Immutable;
using NetVips;

namespace Kiln.Pixels.Decoding;

/// <summary>PNG, JPEG, TIFF, WebP and Radiance through libvips. Runs in the decoding child process only.</summary>
internal static class VipsReader
{
    static VipsReader()
    {
        // Loaders are called by name below, so nothing is sniffed; the untrusted ones are switched off all the same.
        NetVips.NetVips.BlockUntrusted = true;
        Operation.Block("VipsForeignLoadMagick", true);
        Operation.Block("VipsForeignLoadRad", false);
        NetVips.NetVips.Concurrency = 1;
        Cache.Max = 0;
    }

    /// <summary>Decodes a file; with <paramref name="longest"/> the result is area-averaged to fit, JPEG by its own scaled decoding first.</summary>
    public static ImageBuffer Read(string path, PictureFacts facts, int? longest)
    {
        try
        {
            using var opened = Open(path, facts, longest);
            using var picture = Plain(opened, facts);
            using var sized = longest is { } l ? Shrink(picture, l) : picture.Copy();
            var type = sized.Format switch
            {
                Enums.BandFormat.Uchar => SampleType.U8,
                Enums.BandFormat.Ushort => SampleType.U16,
                Enums.BandFormat.Float => SampleType.F32,
                var f => throw new PictureException($"Samples of type {f} are not read; 8 and 16 bit integers and 32 bit floats are."),
            };
            return new ImageBuffer(sized.Width, sized.Height, Names(sized.Bands), type, type == SampleType.U8 ? sized.WriteToMemory<byte>() : type == SampleType.U16 ? Bytes(sized.WriteToMemory<ushort>()) : Bytes(sized.WriteToMemory<float>()));
        }
        catch (VipsException e)
        {
            throw new PictureException("The picture data cannot be decoded; the file is damaged or cut short (" + Reason(e) + ").", e);
        }
    }

    private static Image Open(string path, PictureFacts facts, int? longest) => facts.Format switch
    {
        PictureFormat.Png => Image.Pngload(path, access: Enums.Access.Sequential, failOn: Enums.FailOn.Error),
        PictureFormat.Jpeg => Image.Jpegload(path, shrink: JpegShrink(facts, longest), access: Enums.Access.Sequential, failOn: Enums.FailOn.Error),
        PictureFormat.Tiff => Image.Tiffload(path, access: Enums.Access.Sequential, failOn: Enums.FailOn.Error),
        PictureFormat.WebP => Image.Webpload(path, access: Enums.Access.Sequential, failOn: Enums.FailOn.Error),
        PictureFormat.RadianceHdr => Image.Radload(path, access: Enums.Access.Sequential, failOn: Enums.FailOn.Error),
        _ => throw new PictureException($"{facts.Format.Words()} files are not read by this decoder."),
    };

    private static int JpegShrink(PictureFacts facts, int? longest)
    {
        var factor = longest is { } l ? Math.Max(facts.Width, facts.Height) / (2 * l) : 1;
        return factor >= 8 ? 8 : factor >= 4 ? 4 : factor >= 2 ? 2 : 1;
    }

    private static Image Plain(Image image, PictureFacts facts)
    {
        if (facts.Format == PictureFormat.RadianceHdr)
            return image.Coding == Enums.Coding.Rad ? image.Rad2float() : image.Copy();
        if (image.Interpretation == Enums.Interpretation.Cmyk)
            throw new PictureException("This picture is CMYK; save it as RGB and bring it in again.");
        if (image.Interpretation == Enums.Interpretation.Lab || image.Interpretation == Enums.Interpretation.Labs)
            throw new PictureException("This picture is stored as CIELAB; save it as RGB and bring it in again.");
        if (image.Bands > 2 || facts.Channels.Count > 2 || image.Bands == facts.Channels.Count || facts.HasAlpha)
            return image.Copy();
        return image.ExtractBand(0);
    }

    private static Image Shrink(Image image, int longest)
    {
        var factor = Math.Max(image.Width, image.Height) / (double)longest;
        if (factor <= 1)
            return image.Copy();
        using var shrunk = image.Shrink(Math.Min(factor, image.Width), Math.Min(factor, image.Height));
        return shrunk.Cast(image.Format);
    }

    private static byte[] Bytes<T>(T[] samples) where T : unmanaged => System.Runtime.InteropServices.MemoryMarshal.AsBytes(samples.AsSpan()).ToArray();

    private static ImmutableArray<string> Names(int bands) => ImageBuffer.UsualChannels(bands);

    private static string Reason(VipsException e) => e.Message.Replace('\n', ' ').Trim() is var m && m.Length > 160 ? m[..160] : m;
}
