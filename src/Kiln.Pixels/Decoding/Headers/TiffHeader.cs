using System.Buffers.Binary;

namespace Kiln.Pixels.Decoding.Headers;

/// <summary>TIFF 6.0: the first image file directory's tags that say how the picture is stored.</summary>
internal static class TiffHeader
{
    public static PictureFacts Read(ReadOnlySpan<byte> head, Stream stream)
    {
        var little = head[0] == 'I';
        if (head[little ? 2 : 3] == '+')
            throw new PictureException("This is a BigTIFF file; save it as an ordinary TIFF or as OpenEXR.");
        var directory = U32(head[4..], little);
        ReadOnlySpan<byte> bytes = head;
        if (directory + 4096 > bytes.Length && stream.CanSeek && stream.Length > head.Length)
        {
            // The directory often lies behind the picture; only its own neighbourhood is read.
            stream.Position = directory;
            var tail = new byte[65536];
            var length = stream.ReadAtLeast(tail, tail.Length, false);
            return Directory(tail.AsSpan(0, length), little, directory, stream);
        }
        return Directory(bytes[(int)Math.Min(directory, (uint)bytes.Length)..], little, directory, stream);
    }

    private static PictureFacts Directory(ReadOnlySpan<byte> bytes, bool little, long offset, Stream stream)
    {
        // Tags by number, with what each is where the file does not say (TIFF 6.0, section 8).
        var tags = new Dictionary<int, int>();
        var (extra, hasProfile) = (0, false);
        var count = U16(bytes, little);
        for (var i = 0; i < count; i++)
        {
            var entry = new Entry(bytes.Slice(2 + 12 * i, 12), little);
            if (entry.Tag is 256 or 257 or 258 or 259 or 262 or 277 or 339)
                tags[entry.Tag] = entry.First(bytes, offset, stream);
            else if (entry.Tag == 338)
                extra = (int)entry.Count;
            else if (entry.Tag == 34675)
                hasProfile = true;
        }
        int Tag(int number, int usual) => tags.GetValueOrDefault(number, usual);
        int bits = Tag(258, 1),
            photometric = Tag(262, 1),
            samples = Tag(277, 1);
        if (photometric == 5)
            throw new PictureException("This TIFF is CMYK; save it as RGB and bring it in again.");
        var channels = photometric == 3 ? ImageBuffer.Rgb : ImageBuffer.UsualChannels(Math.Clamp(samples, 1, 64));
        if (samples == 2 && extra == 0)
            channels = ["Y", "A"];
        return new(
            PictureFormat.Tiff,
            Tag(256, 0),
            Tag(257, 0),
            channels,
            photometric == 3 ? 8
                : bits < 8 ? 8
                : bits,
            Tag(339, 1) == 3,
            hasProfile ? "ICC profile" : null,
            Tag(259, 1) is 6 or 7
        );
    }

    /// <summary>One of a directory's entries of twelve bytes.</summary>
    private readonly ref struct Entry(ReadOnlySpan<byte> bytes, bool little)
    {
        private readonly ReadOnlySpan<byte> bytes = bytes;

        public int Tag => U16(bytes, little);

        public uint Count => U32(bytes[4..], little);

        private bool IsShort => U16(bytes[2..], little) == 3;

        /// <summary>Its first number: a list may lie anywhere in the file, before its directory too.</summary>
        /// <param name="around">What was read from <paramref name="offset"/> on.</param>
        public int First(ReadOnlySpan<byte> around, long offset, Stream stream)
        {
            if (Count * (IsShort ? 2 : 4) <= 4)
                return IsShort ? U16(bytes[8..], little) : (int)U32(bytes[8..], little);
            var at = (long)U32(bytes[8..], little);
            if (at - offset is >= 0 and var within && within + 2 <= around.Length)
                return U16(around[(int)within..], little);
            if (!stream.CanSeek || at + 2 > stream.Length)
                throw new PictureException($"The TIFF's tag {Tag} points behind the end of the file; it is cut off or damaged.");
            stream.Position = at;
            Span<byte> two = stackalloc byte[2];
            stream.ReadExactly(two);
            return U16(two, little);
        }
    }

    private static int U16(ReadOnlySpan<byte> b, bool little) =>
        little ? BinaryPrimitives.ReadUInt16LittleEndian(b) : BinaryPrimitives.ReadUInt16BigEndian(b);

    private static uint U32(ReadOnlySpan<byte> b, bool little) =>
        little ? BinaryPrimitives.ReadUInt32LittleEndian(b) : BinaryPrimitives.ReadUInt32BigEndian(b);
}
