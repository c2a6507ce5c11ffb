using System.Buffers;
using System.Buffers.Binary;
using System.IO.Compression;
using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;

namespace Kiln.Pixels.Writing;

/// <summary>CIE xy of red, green, blue and white, as the OpenEXR attribute <c>chromaticities</c> holds them.</summary>
public sealed record Chromaticities(
    float RedX,
    float RedY,
    float GreenX,
    float GreenY,
    float BlueX,
    float BlueY,
    float WhiteX,
    float WhiteY
);

/// <summary>
/// Writes OpenEXR, half or float, ZIP compressed, in lines or in tiles with all smaller levels (openexr.com, "OpenEXR File Layout" and the
/// ZIP predictor of the reference library).
/// </summary>
public static class ExrWriter
{
    private const int LinesPerChunk = 16,
        LineHeader = 8,
        TileHeader = 20;
    private const int InTiles = 0x200,
        MipMapped = 1;

    public static void Write(Stream stream, ImageBuffer picture, Chromaticities? chromaticities = null)
    {
        var source = picture.Type.IsFloat() ? picture : picture.As(SampleType.F16);
        var order = Enumerable.Range(0, source.ChannelCount).OrderBy(c => source.Channels[c], StringComparer.Ordinal).ToArray();
        var chunks = new ArraySegment<byte>[(source.Height + LinesPerChunk - 1) / LinesPerChunk];
        Parallel.For(0, chunks.Length, i => chunks[i] = Lines(source, order, i * LinesPerChunk));
        Write(stream, Header(source, order, chromaticities, tiled: false), chunks);
    }

    /// <summary>In tiles of 64 with all smaller levels, as texture systems read them: mean values, sides rounded down.</summary>
    public static void WriteTiled(Stream stream, ImageBuffer picture, Chromaticities? chromaticities = null)
    {
        var source = picture.Type.IsFloat() ? picture : picture.As(SampleType.F16);
        var order = Enumerable.Range(0, source.ChannelCount).OrderBy(c => source.Channels[c], StringComparer.Ordinal).ToArray();
        var chunks = new List<ArraySegment<byte>>();
        foreach (var (number, level) in PictureLevels.Of(source).Index())
        {
            int across = (level.Width + TiledTiffWriter.TileSide - 1) / TiledTiffWriter.TileSide,
                down = (level.Height + TiledTiffWriter.TileSide - 1) / TiledTiffWriter.TileSide;
            var tiles = new ArraySegment<byte>[across * down];
            Parallel.For(0, tiles.Length, i => tiles[i] = Tile(level, order, number, i % across, i / across));
            chunks.AddRange(tiles);
        }
        Write(stream, Header(source, order, chromaticities, tiled: true), chunks);
    }

    private static void Write(Stream stream, byte[] header, IReadOnlyCollection<ArraySegment<byte>> chunks)
    {
        stream.Write(header);
        var offset = header.Length + 8L * chunks.Count;
        Span<byte> word = stackalloc byte[8];
        foreach (var chunk in chunks)
        {
            BinaryPrimitives.WriteInt64LittleEndian(word, offset);
            stream.Write(word);
            offset += chunk.Count;
        }
        foreach (var chunk in chunks)
            stream.Write(chunk);
    }

    private static byte[] Header(ImageBuffer picture, int[] order, Chromaticities? chromaticities, bool tiled)
    {
        using var memory = new MemoryStream();
        using var w = new BinaryWriter(memory);
        w.Write(20000630);
        w.Write(2 | (tiled ? InTiles : 0));
        Attribute("channels", "chlist", () =>
        {
            foreach (var c in order)
            {
                Text(picture.Channels[c]);
                w.Write(picture.Type == SampleType.F16 ? 1 : 2);
                w.Write(0);
                w.Write(1);
                w.Write(1);
            }
            w.Write((byte)0);
        });
        if (chromaticities is { } p)
            Attribute("chromaticities", "chromaticities", () =>
            {
                foreach (var v in (float[])[p.RedX, p.RedY, p.GreenX, p.GreenY, p.BlueX, p.BlueY, p.WhiteX, p.WhiteY])
                    w.Write(v);
            });
        Attribute("compression", "compression", () => w.Write((byte)3));
        foreach (var name in (string[])["dataWindow", "displayWindow"])
            Attribute(name, "box2i", () =>
            {
                w.Write(0);
                w.Write(0);
                w.Write(picture.Width - 1);
                w.Write(picture.Height - 1);
            });
        Attribute("lineOrder", "lineOrder", () => w.Write((byte)0));
        Attribute("pixelAspectRatio", "float", () => w.Write(1f));
        Attribute("screenWindowCenter", "v2f", () => w.Write(0L));
        Attribute("screenWindowWidth", "float", () => w.Write(1f));
        if (tiled)
            Attribute("tiles", "tiledesc", () =>
            {
                w.Write(TiledTiffWriter.TileSide);
                w.Write(TiledTiffWriter.TileSide);
                w.Write((byte)MipMapped);
            });
        w.Write((byte)0);
        return memory.ToArray();

        void Text(string text)
        {
            w.Write(System.Text.Encoding.UTF8.GetBytes(text));
            w.Write((byte)0);
        }

        void Attribute(string name, string type, Action value)
        {
            Text(name);
            Text(type);
            var at = memory.Position;
            w.Write(0);
            value();
            var end = memory.Position;
            memory.Position = at;
            w.Write((int)(end - at - 4));
            memory.Position = end;
        }
    }

    private static ArraySegment<byte> Lines(ImageBuffer picture, int[] order, int firstLine)
    {
        var chunk = Packed(
            picture,
            order,
            new(0, firstLine, picture.Width, Math.Min(LinesPerChunk, picture.Height - firstLine)),
            LineHeader
        );
        BinaryPrimitives.WriteInt32LittleEndian(chunk, firstLine);
        BinaryPrimitives.WriteInt32LittleEndian(chunk.AsSpan(4), chunk.Count - LineHeader);
        return chunk;
    }

    private static ArraySegment<byte> Tile(ImageBuffer level, int[] order, int number, int column, int row)
    {
        int left = column * TiledTiffWriter.TileSide,
            top = row * TiledTiffWriter.TileSide;
        var chunk = Packed(
            level,
            order,
            new(left, top, Math.Min(TiledTiffWriter.TileSide, level.Width - left), Math.Min(TiledTiffWriter.TileSide, level.Height - top)),
            TileHeader
        );
        foreach (var (at, value) in ((int[])[column, row, number, number, chunk.Count - TileHeader]).Index())
            BinaryPrimitives.WriteInt32LittleEndian(chunk.AsSpan(4 * at), value);
        return chunk;
    }

    /// <summary>A part of the picture as the file holds it, behind room for the chunk's own header.</summary>
    private static ArraySegment<byte> Packed(ImageBuffer picture, int[] order, Area area, int headerLength)
    {
        var sample = picture.Type.Bytes();
        var length = area.Lines * area.Width * picture.ChannelCount * sample;
        byte[] plain = ArrayPool<byte>.Shared.Rent(length),
            predicted = ArrayPool<byte>.Shared.Rent(length);
        try
        {
            if (sample == sizeof(ushort))
                Planes<ushort>(picture, plain.AsSpan(0, length), order, area);
            else
                Planes<uint>(picture, plain.AsSpan(0, length), order, area);
            Predict(plain.AsSpan(0, length), predicted.AsSpan(0, length));
            using var memory = new MemoryStream(length / 2 + 64);
            memory.Write(new byte[headerLength]);
            using (var zlib = new ZLibStream(memory, CompressionLevel.Fastest, leaveOpen: true))
                zlib.Write(predicted, 0, length);
            // Chunks that do not shrink are stored as they are.
            if (memory.Length - headerLength >= length)
            {
                memory.SetLength(headerLength);
                memory.Position = headerLength;
                memory.Write(plain, 0, length);
            }
            return new(memory.GetBuffer(), 0, (int)memory.Length);
        }
        finally
        {
            ArrayPool<byte>.Shared.Return(plain);
            ArrayPool<byte>.Shared.Return(predicted);
        }
    }

    /// <summary>A piece of the picture, in pixels.</summary>
    private readonly record struct Area(int Left, int Top, int Width, int Lines);

    /// <summary>Channel after channel in each line.</summary>
    private static void Planes<T>(ImageBuffer picture, Span<byte> plain, int[] order, Area area)
        where T : unmanaged
    {
        var from = picture.Samples<T>();
        var to = MemoryMarshal.Cast<byte, T>(plain);
        int n = picture.ChannelCount,
            width = area.Width,
            at = 0;
        for (var y = area.Top; y < area.Top + area.Lines; y++)
            foreach (var c in order)
            {
                var row = from.Slice((y * picture.Width + area.Left) * n, width * n);
                var plane = to.Slice(at, width);
                ref var sample = ref Unsafe.Add(ref MemoryMarshal.GetReference(row), c);
                foreach (ref var one in plane)
                {
                    one = sample;
                    sample = ref Unsafe.Add(ref sample, n)!;
                }
                at += width;
            }
    }

    /// <summary>Even bytes first, odd bytes after, then differences biased by 128.</summary>
    private static void Predict(ReadOnlySpan<byte> plain, Span<byte> result)
    {
        var half = (plain.Length + 1) / 2;
        byte before = 0;
        for (var odd = 0; odd < 2; odd++)
        for (int i = odd, to = odd * half; i < plain.Length; i += 2, to++)
        {
            result[to] = (byte)(plain[i] - before + 128);
            before = plain[i];
        }
        result[0] = plain[0];
    }
}
