using System.Numerics;
using Kiln.Pixels.Decoding.Blocks;
using Kiln.Pixels.Decoding.Headers;

namespace Kiln.Pixels.Decoding;

/// <summary>DDS files, the first and largest level (Microsoft, "DDS file layout"; block formats in <c>Blocks/</c>).</summary>
internal static class DdsReader
{
    public static ImageBuffer Read(string path, PictureFacts facts)
    {
        using var stream = File.OpenRead(path);
        Span<byte> head = stackalloc byte[148];
        head.Clear();
        stream.ReadAtLeast(head, head.Length, throwOnEndOfStream: false);
        var header = DdsHeader.Read(head);
        if (stream.Length - header.DataAt < header.DataBytes)
            throw new PictureException("The picture data ends too early; the file is damaged or cut short.");
        stream.Position = header.DataAt;
        var data = new byte[header.DataBytes];
        stream.ReadExactly(data);
        var type = facts.IsFloat
            ? facts.Bits == 16
                ? SampleType.F16
                : SampleType.F32
            : facts.Bits == 16
                ? SampleType.U16
                : SampleType.U8;
        var picture = new ImageBuffer(header.Width, header.Height, [.. facts.Channels], type);
        if (header.Layout == DdsLayout.Masked)
            Masked(header, data, picture);
        else if (header.Layout > DdsLayout.Masked)
            data.CopyTo(picture.Data, 0);
        else
            Blocks(header.Layout, data, picture);
        return picture;
    }

    private static void Blocks(DdsLayout layout, byte[] data, ImageBuffer picture)
    {
        var size = layout is DdsLayout.Bc1 or DdsLayout.Bc4 or DdsLayout.Bc4Signed ? 8 : 16;
        var pixelBytes = picture.ChannelCount * picture.Type.Bytes();
        Span<byte> decoded = stackalloc byte[16 * 6];
        var at = 0;
        for (var y = 0; y < picture.Height; y += 4)
        for (var x = 0; x < picture.Width; x += 4, at += size)
        {
            Decode(layout, data.AsSpan(at, size), decoded);
            var columns = Math.Min(4, picture.Width - x) * pixelBytes;
            for (var line = 0; line < 4 && y + line < picture.Height; line++)
                decoded.Slice(line * 4 * pixelBytes, columns).CopyTo(picture.Data.AsSpan(((y + line) * picture.Width + x) * pixelBytes));
        }
    }

    private static void Decode(DdsLayout layout, ReadOnlySpan<byte> block, Span<byte> target)
    {
        switch (layout)
        {
            case DdsLayout.Bc1:
                ColourBlocks.Bc1(block, target);
                break;
            case DdsLayout.Bc2:
                ColourBlocks.Bc2(block, target);
                break;
            case DdsLayout.Bc3:
                ColourBlocks.Bc3(block, target);
                break;
            case DdsLayout.Bc4:
                ColourBlocks.Bc4(block, target, 1);
                break;
            case DdsLayout.Bc4Signed:
                ColourBlocks.Bc4Signed(block, target, 1);
                break;
            case DdsLayout.Bc5:
                ColourBlocks.Bc4(block, target, 2);
                ColourBlocks.Bc4(block[8..], target[1..], 2);
                break;
            case DdsLayout.Bc5Signed:
                ColourBlocks.Bc4Signed(block, target, 2);
                ColourBlocks.Bc4Signed(block[8..], target[1..], 2);
                break;
            case DdsLayout.Bc6h or DdsLayout.Bc6hSigned:
                Bc6h.Decode(block, System.Runtime.InteropServices.MemoryMarshal.Cast<byte, ushort>(target), layout == DdsLayout.Bc6hSigned);
                break;
            default:
                Bc7.Decode(block, target);
                break;
        }
    }

    private static void Masked(DdsHeader header, byte[] data, ImageBuffer picture)
    {
        var bytes = header.BitsPerPixel / 8;
        var masks = (header.Grey && header.Channels == 2 ? [header.Masks[0], header.Masks[3]] : header.Masks)
            .Take(header.Channels)
            .ToArray();
        var greatest = picture.Type == SampleType.U16 ? 65535u : 255u;
        for (int p = 0, pixels = picture.Width * picture.Height; p < pixels; p++)
        {
            uint value = 0;
            for (var k = 0; k < bytes; k++)
                value |= (uint)data[p * bytes + k] << 8 * k;
            for (var c = 0; c < masks.Length; c++)
            {
                var shift = BitOperations.TrailingZeroCount(masks[c]);
                var range = masks[c] == 0 ? 0 : masks[c] >> shift;
                // A narrow channel is stretched to the whole range, rounded.
                var sample = range == 0 ? 0 : (uint)(((ulong)((value & masks[c]) >> shift) * greatest + range / 2) / range);
                if (picture.Type == SampleType.U16)
                    picture.Samples<ushort>()[p * masks.Length + c] = (ushort)sample;
                else
                    picture.Data[p * masks.Length + c] = (byte)sample;
            }
        }
    }
}
