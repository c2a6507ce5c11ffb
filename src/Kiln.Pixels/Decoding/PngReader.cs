using System.Buffers.Binary;
using System.IO.Compression;
using System.Numerics;
using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;
using System.Runtime.Intrinsics;

namespace Kiln.Pixels.Decoding;

/// <summary>
/// The PNGs that texture downloads consist of: 8 or 16 bits a channel, grey or colour with or without alpha, not interlaced (ISO/IEC 15948,
/// third
/// edition, clauses 7, 9 and 10). Everything else stays with the general reader. Why there is one of our own: docs/decisions/0006.
/// </summary>
internal static class PngReader
{
    private const int Header = 33,
        LargestFile = 1 << 29;

    /// <summary>
    /// The picture, or null where the general reader has to read it (palettes, few bits, interlacing, transparent colours).
    /// </summary>
    /// <exception cref="PictureException">The data is damaged or cut short.</exception>
    public static ImageBuffer? TryRead(string path, PictureFacts facts)
    {
        if (new FileInfo(path).Length > LargestFile)
            return null;
        var file = File.ReadAllBytes(path);
        int depth = file[24],
            type = file[25],
            interlaced = file[28];
        var channels = type switch
        {
            0 => 1,
            2 => 3,
            4 => 2,
            6 => 4,
            _ => 0,
        };
        if (depth is not (8 or 16) || channels != facts.Channels.Count || interlaced != 0)
            return null;
        var picture = new ImageBuffer(facts.Width, facts.Height, [.. facts.Channels], depth == 8 ? SampleType.U8 : SampleType.U16);
        try
        {
            using var inflate = new ZLibStream(new PictureDataStream(file), CompressionMode.Decompress);
            Rows(inflate, picture.Data, facts.Height, facts.Width * channels * depth / 8, channels * depth / 8);
        }
        catch (Exception e) when (e is InvalidDataException or EndOfStreamException)
        {
            throw new PictureException("The picture data cannot be decoded; the file is damaged or cut short.", e);
        }
        if (depth == 16)
        {
            // PNG stores the high byte first.
            var codes = MemoryMarshal.Cast<byte, ushort>(picture.Data.AsSpan());
            BinaryPrimitives.ReverseEndianness(codes, codes);
        }
        return picture;
    }

    private static void Rows(ZLibStream inflate, byte[] data, int height, int stride, int pixel)
    {
        // A row and its filter are inflated together.
        var raw = new byte[1 + stride];
        ReadOnlySpan<byte> above = new byte[stride];
        for (var y = 0; y < height; y++)
        {
            inflate.ReadExactly(raw);
            var row = data.AsSpan(y * stride, stride);
            Unfilter(raw[0], raw.AsSpan(1, stride), row, above, pixel);
            above = row;
        }
        // The checksum behind the last row is looked at when the end is reached.
        _ = inflate.ReadByte();
    }

    /// <summary>Turns differences back into samples (clause 9.2).</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private static void Unfilter(int filter, ReadOnlySpan<byte> raw, Span<byte> row, ReadOnlySpan<byte> above, int pixel)
    {
        switch (filter)
        {
            case 0:
                raw.CopyTo(row);
                return;
            case 1:
                raw[..pixel].CopyTo(row);
                for (var i = pixel; i < row.Length; i++)
                    row[i] = (byte)(raw[i] + row[i - pixel]);
                return;
            case 2:
                Up(raw, row, above);
                return;
            case 3:
                for (var i = 0; i < row.Length; i++)
                    row[i] = (byte)(raw[i] + ((i < pixel ? above[i] : row[i - pixel] + above[i]) >> 1));
                return;
            case 4:
                Paeth(raw, row, above, pixel);
                return;
            default:
                throw new InvalidDataException($"The filter {filter} does not exist.");
        }
    }

    private static void Up(ReadOnlySpan<byte> raw, Span<byte> row, ReadOnlySpan<byte> above)
    {
        var at = 0;
        for (; at + Vector<byte>.Count <= row.Length; at += Vector<byte>.Count)
            (new Vector<byte>(raw[at..]) + new Vector<byte>(above[at..])).CopyTo(row[at..]);
        for (; at < row.Length; at++)
            row[at] = (byte)(raw[at] + above[at]);
    }

    /// <summary>
    /// The bytes of one pixel side by side; each pixel waits for its left neighbour, so there is no more to do at once. Without branches,
    /// which noise would mislead.
    /// </summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private static void Paeth(ReadOnlySpan<byte> raw, Span<byte> row, ReadOnlySpan<byte> above, int pixel)
    {
        ref byte from = ref MemoryMarshal.GetReference(raw),
            to = ref MemoryMarshal.GetReference(row),
            up = ref MemoryMarshal.GetReference(above);
        Vector128<short> left = Vector128<short>.Zero,
            corner = Vector128<short>.Zero,
            low = Vector128.Create((short)255);
        var i = 0;
        // Eight bytes are taken and written at a time; those of the next pixel are overwritten by it.
        for (; i + sizeof(ulong) <= row.Length; i += pixel)
        {
            var b = Wide(ref up, i);
            Vector128<short> pa = b - corner,
                pb = left - corner,
                pc = Vector128.Abs(pa + pb);
            pa = Vector128.Abs(pa);
            pb = Vector128.Abs(pb);
            var least = Vector128.Min(pc, Vector128.Min(pa, pb));
            var nearest = Vector128.ConditionalSelect(
                Vector128.Equals(least, pa),
                left,
                Vector128.ConditionalSelect(Vector128.Equals(least, pb), b, corner)
            );
            corner = b;
            left = (Wide(ref from, i) + nearest) & low;
            Unsafe.WriteUnaligned(ref Unsafe.Add(ref to, i), Vector128.Narrow(left.AsUInt16(), left.AsUInt16()).AsUInt64().ToScalar());
        }
        for (; i < row.Length; i++)
        {
            int a = i < pixel ? 0 : row[i - pixel],
                b = above[i],
                c = i < pixel ? 0 : above[i - pixel];
            int toLeft = Math.Abs(b - c),
                toUp = Math.Abs(a - c),
                toCorner = Math.Abs(a + b - 2 * c);
            row[i] = (byte)(
                raw[i]
                + (
                    toLeft <= toUp && toLeft <= toCorner ? a
                    : toUp <= toCorner ? b
                    : c
                )
            );
        }
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static Vector128<short> Wide(ref byte start, int at) =>
        Vector128.WidenLower(Vector128.CreateScalarUnsafe(Unsafe.ReadUnaligned<ulong>(ref Unsafe.Add(ref start, at))).AsByte()).AsInt16();

    /// <summary>The contents of all IDAT chunks one after another.</summary>
    private sealed class PictureDataStream(byte[] file) : Stream
    {
        private int next = Header,
            at,
            left;

        public override bool CanRead => true;

        public override bool CanSeek => false;

        public override bool CanWrite => false;

        public override long Length => throw new NotSupportedException();

        public override long Position
        {
            get => throw new NotSupportedException();
            set => throw new NotSupportedException();
        }

        public override int Read(byte[] buffer, int offset, int count) => Read(buffer.AsSpan(offset, count));

        public override int Read(Span<byte> buffer)
        {
            while (left == 0)
            {
                if (next + 12 > file.Length)
                    return 0;
                var length = Math.Min(BinaryPrimitives.ReadUInt32BigEndian(file.AsSpan(next)), (uint)(file.Length - next - 12));
                var name = file.AsSpan(next + 4, 4);
                if (name.SequenceEqual("IEND"u8))
                    return 0;
                (at, left) = (next + 8, name.SequenceEqual("IDAT"u8) ? (int)length : 0);
                next += 12 + (int)length;
            }
            var taken = Math.Min(left, buffer.Length);
            file.AsSpan(at, taken).CopyTo(buffer);
            at += taken;
            left -= taken;
            return taken;
        }

        public override void Flush() { }

        public override long Seek(long offset, SeekOrigin origin) => throw new NotSupportedException();

        public override void SetLength(long value) => throw new NotSupportedException();

        public override void Write(byte[] buffer, int offset, int count) => throw new NotSupportedException();
    }
}
