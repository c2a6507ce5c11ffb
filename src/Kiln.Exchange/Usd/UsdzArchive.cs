using System.Buffers.Binary;
using System.IO.Hashing;
using System.Text;
using Kiln.Exchange.Packages;
using Kiln.Looks.Evaluation;

namespace Kiln.Exchange.Usd;

/// <summary>
/// A USD layer and its textures as one file (USDZ file format specification 1.3): a zip that stores everything as it is, the layer first,
/// each file's bytes at a multiple of 64, so that it can be used
/// without unpacking. The same files give the same bytes. Read by <see cref="Kiln.Usd.UsdzFiles"/>.
/// </summary>
public static class UsdzArchive
{
    private const int Alignment = 64,
        LocalHeader = 30;

    // 1 January 1980, the earliest that a zip can say.
    private const ushort Day = 1 << 5 | 1;

    /// <exception cref="ExchangeException">It would be larger than 4 GB, which the format does not allow.</exception>
    public static void Write(Stream to, IReadOnlyList<WrittenFile> files, IContentFiles contents)
    {
        var directory = new MemoryStream();
        long at = 0;
        foreach (var file in files)
        {
            using var memory = new MemoryStream();
            file.CopyTo(memory, contents);
            var bytes = memory.GetBuffer().AsSpan(0, (int)memory.Length);
            var name = Encoding.UTF8.GetBytes(file.Path);
            // An extra field of no meaning fills up to the next multiple; it has a head of four bytes itself.
            var padding = (int)((Alignment - (at + LocalHeader + name.Length + 4) % Alignment) % Alignment);
            if (at + bytes.Length > uint.MaxValue - (64 << 20))
                throw new ExchangeException("Layer and textures together are larger than 4 GB, which a .usdz file cannot be.");
            var crc = Crc32.HashToUInt32(bytes);
            var common = new byte[26];
            Span<byte> c = common;
            BinaryPrimitives.WriteUInt16LittleEndian(c, 20);
            BinaryPrimitives.WriteUInt16LittleEndian(c[8..], Day);
            BinaryPrimitives.WriteUInt32LittleEndian(c[10..], crc);
            BinaryPrimitives.WriteUInt32LittleEndian(c[14..], (uint)bytes.Length);
            BinaryPrimitives.WriteUInt32LittleEndian(c[18..], (uint)bytes.Length);
            BinaryPrimitives.WriteUInt16LittleEndian(c[22..], (ushort)name.Length);
            BinaryPrimitives.WriteUInt16LittleEndian(c[24..], (ushort)(4 + padding));
            to.Write("PK\u0003\u0004"u8);
            to.Write(common);
            to.Write(name);
            to.Write([0x86, 0x19, (byte)padding, 0]);
            to.Write(new byte[padding]);
            to.Write(bytes);
            directory.Write("PK\u0001\u0002"u8);
            directory.Write([20, 0]);
            BinaryPrimitives.WriteUInt16LittleEndian(c[24..], 0);
            directory.Write(common);
            var last = new byte[14];
            BinaryPrimitives.WriteUInt32LittleEndian(last.AsSpan(10), (uint)at);
            directory.Write(last);
            directory.Write(name);
            at += LocalHeader + name.Length + 4 + padding + bytes.Length;
        }
        to.Write(directory.ToArray());
        var end = new byte[22];
        "PK\u0005\u0006"u8.CopyTo(end);
        BinaryPrimitives.WriteUInt16LittleEndian(end.AsSpan(8), (ushort)files.Count);
        BinaryPrimitives.WriteUInt16LittleEndian(end.AsSpan(10), (ushort)files.Count);
        BinaryPrimitives.WriteUInt32LittleEndian(end.AsSpan(12), (uint)directory.Length);
        BinaryPrimitives.WriteUInt32LittleEndian(end.AsSpan(16), (uint)at);
        to.Write(end);
    }
}
