using System.Collections.Immutable;
using NetVips;

namespace Kiln.Pixels.Decoding;

/// <summary>What is read through libvips, whatever the format. Runs in the decoding child process only.</summary>
internal static class VipsReader
{
    static VipsReader()
    {
        // Loaders are called by name below, so nothing is sniffed; the untrusted ones are switched off all the same.
        NetVips.NetVips.BlockUntrusted = true;
        Operation.Block("VipsForeignLoadMagick", true);
        Operation.Block("VipsForeignLoadRad", false);
        Operation.Block("VipsForeignLoadOpenexr", false);
        NetVips.NetVips.Concurrency = 1;
        Cache.Max = 0;
    }

    /// <param name="open">Opens the file by the one loader that its content calls for.</param>
    /// <param name="develop">What the format needs done to its samples; null, or null from it, where nothing is special.</param>
    /// <exception cref="PictureException">The data is damaged, cut short or of a kind that is not read.</exception>
    public static ImageBuffer Read(PictureFacts facts, Func<Image> open, Func<Image, Image?>? develop = null)
    {
        try
        {
            using var opened = open();
            using var picture = develop?.Invoke(opened) ?? Plain(opened, facts);
            var type = picture.Format switch
            {
                Enums.BandFormat.Uchar => SampleType.U8,
                Enums.BandFormat.Ushort => SampleType.U16,
                Enums.BandFormat.Float => SampleType.F32,
                var f => throw new PictureException($"Samples of type {f} are not read; 8 and 16 bit integers and 32 bit floats are."),
            };
            return new ImageBuffer(
                picture.Width,
                picture.Height,
                Names(picture.Bands),
                type,
                type == SampleType.U8 ? picture.WriteToMemory<byte>()
                    : type == SampleType.U16 ? Bytes(picture.WriteToMemory<ushort>())
                    : Bytes(picture.WriteToMemory<float>())
            );
        }
        catch (VipsException e)
        {
            throw new PictureException("The picture data cannot be decoded; the file is damaged or cut short (" + Reason(e) + ").", e);
        }
    }

    /// <summary>
    /// OpenEXR with DWAA or DWAB compression, which the C interface does not decode: as half, red green blue and alpha or grey only.
    /// </summary>
    public static ImageBuffer ReadDwa(string path, PictureFacts facts)
    {
        if (facts.Channels.FirstOrDefault(c => c is not ("R" or "G" or "B" or "A" or "Y")) is { } odd)
            throw new PictureException(
                $"This OpenEXR file has the channel '{odd}' under {facts.Compression!.ToUpperInvariant()} compression, where only "
                    + "R, G, B, A and Y are read; save it with ZIP compression."
            );
        try
        {
            using var opened = Image.Openexrload(path, access: Enums.Access.Sequential, failOn: Enums.FailOn.Error);
            var all = new ImageBuffer(
                opened.Width,
                opened.Height,
                ImageBuffer.UsualChannels(opened.Bands),
                SampleType.F32,
                Bytes(opened.WriteToMemory<float>())
            );
            var picked = new ImageBuffer(all.Width, all.Height, [.. facts.Channels], SampleType.F16);
            for (var y = 0; y < all.Height; y++)
            for (var x = 0; x < all.Width; x++)
            for (var c = 0; c < picked.ChannelCount; c++)
                picked[x, y, c] = all[
                    x,
                    y,
                    picked.Channels[c] switch
                    {
                        "G" => 1,
                        "B" => 2,
                        "A" => 3,
                        _ => 0,
                    }
                ];
            return picked;
        }
        catch (VipsException e)
        {
            throw new PictureException("The OpenEXR file cannot be decoded; it is damaged or cut short (" + Reason(e) + ").", e);
        }
    }

    private static Image Plain(Image image, PictureFacts facts)
    {
        if (image.Interpretation == Enums.Interpretation.Cmyk)
            throw new PictureException("This picture is CMYK; save it as RGB and bring it in again.");
        if (image.Interpretation == Enums.Interpretation.Lab || image.Interpretation == Enums.Interpretation.Labs)
            throw new PictureException("This picture is stored as CIELAB; save it as RGB and bring it in again.");
        if (image.Bands > 2 || facts.Channels.Count > 2 || image.Bands == facts.Channels.Count || facts.HasAlpha)
            return image.Copy();
        return image.ExtractBand(0);
    }

    private static byte[] Bytes<T>(T[] samples)
        where T : unmanaged => System.Runtime.InteropServices.MemoryMarshal.AsBytes(samples.AsSpan()).ToArray();

    private static ImmutableArray<string> Names(int bands) => ImageBuffer.UsualChannels(bands);

    private static string Reason(VipsException e) => e.Message.Replace('\n', ' ').Trim() is var m && m.Length > 160 ? m[..160] : m;
}
