using System.Buffers.Binary;
using Kiln.Pixels;
using Kiln.Pixels.Writing;

namespace Kiln.Demo;

/// <summary>Pictures as files, in every format that downloads come in. TGA, TIFF and DDS are only ever written for the demo.</summary>
internal static class DemoFiles
{
    public static byte[] Png(ImageBuffer picture) => PictureWriter.Png(picture, compression: 3);

    /// <summary>A PNG with an sRGB chunk, rightly or wrongly (PNG, third edition, 11.3.2.5).</summary>
    public static byte[] PngTaggedSrgb(ImageBuffer picture)
    {
        var png = Png(picture);
        byte[] chunk = [0, 0, 0, 1, (byte)'s', (byte)'R', (byte)'G', (byte)'B', 0, 0xae, 0xce, 0x1c, 0xe9];
        return [.. png[..33], .. chunk, .. png[33..]];
    }

    public static byte[] Jpeg(ImageBuffer picture, int quality = 92) => PictureWriter.Jpeg(picture, quality);

    public static byte[] Exr(ImageBuffer picture, Chromaticities? chromaticities = null)
    {
        using var stream = new MemoryStream();
        ExrWriter.Write(stream, picture, chromaticities);
        return stream.ToArray();
    }

    /// <summary>Run-length coded TGA, first line at the top.</summary>
    public static byte[] Tga(ImageBuffer picture)
    {
        int n = picture.ChannelCount,
            w = picture.Width,
            h = picture.Height;
        var bytes = new List<byte>(w * h * n)
        {
            0,
            0,
            (byte)(n == 1 ? 11 : 10),
            0,
            0,
            0,
            0,
            0,
            0,
            0,
            0,
            0,
            (byte)w,
            (byte)(w >> 8),
            (byte)h,
            (byte)(h >> 8),
            (byte)(8 * n),
            (byte)(n == 4 ? 0x28 : 0x20),
        };
        for (var y = 0; y < h; y++)
        for (var x = 0; x < w; )
        {
            bool Same(int a, int b) => picture.Data.AsSpan((y * w + a) * n, n).SequenceEqual(picture.Data.AsSpan((y * w + b) * n, n));
            var run = 1;
            while (x + run < w && run < 128 && Same(x, x + run))
                run++;
            var raw = 1;
            while (run == 1 && x + raw < w && raw < 128 && !(x + raw + 1 < w && Same(x + raw, x + raw + 1)))
                raw++;
            bytes.Add((byte)(run > 1 ? 127 + run : raw - 1));
            for (var k = 0; k < (run > 1 ? 1 : raw); k++)
            {
                var p = picture.Data.AsSpan((y * w + x + k) * n, n);
                if (n == 1)
                    bytes.Add(p[0]);
                else
                    bytes.AddRange([p[2], p[1], p[0], .. n == 4 ? new[] { p[3] } : []]);
            }
            x += run > 1 ? run : raw;
        }
        return [.. bytes];
    }

    /// <summary>Uncompressed TIFF 6.0, one strip, little endian.</summary>
    public static byte[] Tiff(ImageBuffer picture)
    {
        int n = picture.ChannelCount,
            bits = picture.Type == SampleType.U16 ? 16 : 8;
        const int entries = 10,
            directory = 8;
        var bitsAt = directory + 2 + 12 * entries + 4;
        var dataAt = bitsAt + 2 * n + (2 * n & 2);
        var bytes = new byte[dataAt + picture.Data.Length];
        "II*\0"u8.CopyTo(bytes);
        BinaryPrimitives.WriteInt32LittleEndian(bytes.AsSpan(4), directory);
        BinaryPrimitives.WriteInt16LittleEndian(bytes.AsSpan(directory), entries);
        var at = directory + 2;
        void Entry(short tag, short type, int count, int value)
        {
            BinaryPrimitives.WriteInt16LittleEndian(bytes.AsSpan(at), tag);
            BinaryPrimitives.WriteInt16LittleEndian(bytes.AsSpan(at + 2), type);
            BinaryPrimitives.WriteInt32LittleEndian(bytes.AsSpan(at + 4), count);
            BinaryPrimitives.WriteInt32LittleEndian(bytes.AsSpan(at + 8), value);
            at += 12;
        }
        Entry(256, 4, 1, picture.Width);
        Entry(257, 4, 1, picture.Height);
        Entry(258, 3, n, n == 1 ? bits : bitsAt);
        Entry(259, 3, 1, 1);
        Entry(262, 3, 1, n == 1 ? 1 : 2);
        Entry(273, 4, 1, dataAt);
        Entry(277, 3, 1, n);
        Entry(278, 4, 1, picture.Height);
        Entry(279, 4, 1, picture.Data.Length);
        Entry(284, 3, 1, 1);
        for (var c = 0; c < n; c++)
            BinaryPrimitives.WriteInt16LittleEndian(bytes.AsSpan(bitsAt + 2 * c), (short)bits);
        picture.Data.CopyTo(bytes, dataAt);
        return bytes;
    }

    /// <summary>BC1: the two extreme colours of each block as ends. Good enough for the demo, no more.</summary>
    public static byte[] Dds(ImageBuffer picture)
    {
        int w = picture.Width,
            h = picture.Height;
        var bytes = new byte[128 + w / 4 * (h / 4) * 8];
        "DDS "u8.CopyTo(bytes);
        (bytes[4], bytes[8], bytes[9], bytes[76], bytes[80]) = (124, 7, 0x10, 32, 4);
        BinaryPrimitives.WriteInt32LittleEndian(bytes.AsSpan(12), h);
        BinaryPrimitives.WriteInt32LittleEndian(bytes.AsSpan(16), w);
        "DXT1"u8.CopyTo(bytes.AsSpan(84));
        bytes[109] = 0x10;
        var at = 128;
        for (var y = 0; y < h; y += 4)
        for (var x = 0; x < w; x += 4, at += 8)
            Block(picture, x, y, bytes.AsSpan(at, 8));
        return bytes;
    }

    private static void Block(ImageBuffer picture, int x, int y, Span<byte> block)
    {
        Span<int> pixels = stackalloc int[48];
        int low = 0,
            high = 0,
            n = picture.ChannelCount;
        for (var i = 0; i < 16; i++)
        {
            for (var c = 0; c < 3; c++)
                pixels[3 * i + c] = picture.Data[((y + i / 4) * picture.Width + x + i % 4) * n + (n == 1 ? 0 : c)];
            var sum = pixels[3 * i] + pixels[3 * i + 1] + pixels[3 * i + 2];
            low = sum < pixels[3 * low] + pixels[3 * low + 1] + pixels[3 * low + 2] ? i : low;
            high = sum > pixels[3 * high] + pixels[3 * high + 1] + pixels[3 * high + 2] ? i : high;
        }
        ushort Packed(Span<int> p, int i) =>
            (ushort)((p[3 * i] * 31 + 127) / 255 << 11 | (p[3 * i + 1] * 63 + 127) / 255 << 5 | (p[3 * i + 2] * 31 + 127) / 255);
        ushort a = Packed(pixels, high),
            b = Packed(pixels, low);
        if (a < b)
            (a, b) = (b, a);
        BinaryPrimitives.WriteUInt16LittleEndian(block, a);
        BinaryPrimitives.WriteUInt16LittleEndian(block[2..], b);
        uint indices = 0;
        for (var i = 0; i < 16 && a > b; i++)
        {
            double along = 0,
                length = 0;
            for (var c = 0; c < 3; c++)
            {
                int from = pixels[3 * high + c],
                    to = pixels[3 * low + c];
                along += (double)(pixels[3 * i + c] - from) * (to - from);
                length += (double)(to - from) * (to - from);
            }
            // Palette order on the way from the first end to the second: 0, 2, 3, 1.
            var step = length > 0 ? (int)Math.Round(Math.Clamp(along / length, 0, 1) * 3) : 0;
            indices |=
                (uint)(
                    step switch
                    {
                        0 => 0,
                        1 => 2,
                        2 => 3,
                        _ => 1,
                    }
                )
                << 2 * i;
        }
        BinaryPrimitives.WriteUInt32LittleEndian(block[4..], indices);
    }
}
