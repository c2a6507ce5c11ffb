using System.Buffers.Binary;
using System.IO.Compression;
using System.Runtime.InteropServices;
using System.Text;

namespace Kiln.Pixels.Writing;

/// <summary>
/// Writes a picture with all its smaller levels in tiles of 64, as texture systems read them: TIFF 6.0, one directory for each level,
/// deflated, marked as a plain texture
/// that repeats (private tags 33302 and 33303 of the reference library). Integers stay as they are; floats go to OpenEXR. Same pixels, same
/// bytes.
/// </summary>
public static class TiledTiffWriter
{
    public const int TileSide = 64;

    private const long LargestFile = uint.MaxValue - (1 << 20);
    private const int AsciiType = 2,
        ShortType = 3,
        LongType = 4;

    /// <exception cref="PictureException">The file would be larger than 4 GB, which its form cannot hold.</exception>
    public static void Write(Stream stream, ImageBuffer picture)
    {
        var source = picture.Type.IsFloat() ? picture.As(SampleType.U16) : picture;
        var levels = new List<byte[][]>();
        var sizes = new List<(int Width, int Height)>();
        foreach (var level in PictureLevels.Of(source))
        {
            levels.Add(Tiles(level));
            sizes.Add((level.Width, level.Height));
        }
        long offset = 8;
        var directories = new List<byte[]>();
        var total = 8 + levels.Sum(l => l.Sum(t => (long)t.Length)) + levels.Sum(l => 8L * l.Length + 1024);
        if (total > LargestFile)
            throw new PictureException("A picture with all its levels would be larger than 4 GB, which a TIFF cannot hold.");
        // Directories first, the whole picture's at the front; pixels after them.
        var pixels = offset + levels.Select((_, i) => (long)Directory(source, sizes[i], levels[i], i > 0, 0, 0, 0).Length).Sum();
        for (var i = 0; i < levels.Count; i++)
        {
            var length = Directory(source, sizes[i], levels[i], i > 0, 0, 0, 0).Length;
            directories.Add(Directory(source, sizes[i], levels[i], i > 0, offset, pixels, i + 1 < levels.Count ? offset + length : 0));
            offset += length;
            pixels += levels[i].Sum(t => (long)t.Length);
        }
        stream.Write([(byte)'I', (byte)'I', 42, 0, 8, 0, 0, 0]);
        foreach (var directory in directories)
            stream.Write(directory);
        foreach (var tile in levels.SelectMany(l => l))
            stream.Write(tile);
    }

    /// <param name="at">Where in the file it lies.</param>
    /// <param name="pixels">Where the level's tiles begin.</param>
    /// <param name="next">Where the next directory lies; 0 after the last.</param>
    private static byte[] Directory(
        ImageBuffer picture,
        (int Width, int Height) size,
        byte[][] tiles,
        bool isReduced,
        long at,
        long pixels,
        long next
    )
    {
        var n = picture.ChannelCount;
        var bits = picture.Type.Bytes() * 8;
        uint[] Same(int value) => [.. Enumerable.Repeat((uint)value, n)];
        var starts = new uint[tiles.Length];
        for (var i = 0; i < tiles.Length; i++)
        {
            starts[i] = (uint)pixels;
            pixels += tiles[i].Length;
        }
        var entries = new List<(int Tag, int Type, uint[] Values, string? Text)>
        {
            (254, LongType, [isReduced ? 1u : 0], null),
            (256, LongType, [(uint)size.Width], null),
            (257, LongType, [(uint)size.Height], null),
            (258, ShortType, Same(bits), null),
            (259, ShortType, [8], null),
            (262, ShortType, [n <= 2 ? 1u : 2u], null),
            (277, ShortType, [(uint)n], null),
            (284, ShortType, [1], null),
            (317, ShortType, [2], null),
            (322, LongType, [TileSide], null),
            (323, LongType, [TileSide], null),
            (324, LongType, starts, null),
            (325, LongType, [.. tiles.Select(t => (uint)t.Length)], null),
        };
        if (n is 2 or > 3)
            entries.Add((338, ShortType, [.. Enumerable.Repeat(2u, n == 2 ? 1 : n - 3)], null));
        entries.Add((339, ShortType, Same(1), null));
        entries.Add((33302, AsciiType, [], "Plain Texture\0"));
        entries.Add((33303, AsciiType, [], "periodic,periodic\0"));
        return Bytes(entries, at, next);
    }

    /// <summary>A directory as it lies in the file; values that its entries have no room for follow it.</summary>
    private static byte[] Bytes(List<(int Tag, int Type, uint[] Values, string? Text)> entries, long at, long next)
    {
        using var memory = new MemoryStream();
        using var w = new BinaryWriter(memory);
        var beyond = at + 2 + 12 * entries.Count + 4;
        using var tail = new MemoryStream();
        w.Write((ushort)entries.Count);
        foreach (var (tag, type, values, text) in entries)
        {
            var bytes =
                text is not null ? Encoding.ASCII.GetBytes(text)
                : type == ShortType ? MemoryMarshal.AsBytes<ushort>(values.Select(v => (ushort)v).ToArray()).ToArray()
                : MemoryMarshal.AsBytes<uint>(values).ToArray();
            w.Write((ushort)tag);
            w.Write((ushort)type);
            w.Write((uint)(text is not null ? bytes.Length : values.Length));
            if (bytes.Length <= 4)
            {
                w.Write(bytes);
                w.Write(new byte[4 - bytes.Length]);
                continue;
            }
            w.Write((uint)(beyond + tail.Length));
            tail.Write(bytes);
            // Values begin at even places.
            if (tail.Length % 2 == 1)
                tail.WriteByte(0);
        }
        w.Write((uint)next);
        w.Write(tail.ToArray());
        return memory.ToArray();
    }

    private static byte[][] Tiles(ImageBuffer level)
    {
        int across = (level.Width + TileSide - 1) / TileSide,
            down = (level.Height + TileSide - 1) / TileSide;
        var result = new byte[across * down][];
        Parallel.For(0, result.Length, i => result[i] = Tile(level, i % across * TileSide, i / across * TileSide));
        return result;
    }

    /// <summary>Beyond the picture's edge its last row and column go on.</summary>
    private static byte[] Tile(ImageBuffer level, int left, int top)
    {
        var pixel = level.ChannelCount * level.Type.Bytes();
        var tile = new byte[TileSide * TileSide * pixel];
        var data = MemoryMarshal.AsBytes(level.Data.AsSpan());
        for (var y = 0; y < TileSide; y++)
        {
            var row = data.Slice(Math.Min(top + y, level.Height - 1) * level.Width * pixel, level.Width * pixel);
            var to = tile.AsSpan(y * TileSide * pixel, TileSide * pixel);
            var there = Math.Min(TileSide, level.Width - left);
            row.Slice(left * pixel, there * pixel).CopyTo(to);
            for (var x = there; x < TileSide; x++)
                row.Slice((level.Width - 1) * pixel, pixel).CopyTo(to[(x * pixel)..]);
            if (level.Type == SampleType.U8)
                Differences(to, level.ChannelCount);
            else if (level.Type == SampleType.U16)
                Differences(MemoryMarshal.Cast<byte, ushort>(to), level.ChannelCount);
        }
        using var memory = new MemoryStream();
        using (var zlib = new ZLibStream(memory, CompressionLevel.Fastest, leaveOpen: true))
            zlib.Write(tile);
        return memory.ToArray();
    }

    private static void Differences(Span<byte> row, int channels)
    {
        for (var i = row.Length - 1; i >= channels; i--)
            row[i] -= row[i - channels];
    }

    private static void Differences(Span<ushort> row, int channels)
    {
        for (var i = row.Length - 1; i >= channels; i--)
            row[i] -= row[i - channels];
    }
}
