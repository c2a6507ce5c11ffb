using System.Buffers.Binary;

namespace Kiln.Pixels.Decoding.Blocks;

/// <summary>The 128 bits of a block, read from the lowest up.</summary>
internal struct BlockBits(ReadOnlySpan<byte> block)
{
    private UInt128 bits = new(BinaryPrimitives.ReadUInt64LittleEndian(block[8..]), BinaryPrimitives.ReadUInt64LittleEndian(block));

    public int Read(int count)
    {
        var value = (int)((uint)bits & ((1u << count) - 1));
        bits >>= count;
        return value;
    }
}

/// <summary>
/// How BC6H and BC7 divide a block into subsets (Khronos Data Format Specification, BPTC: partition tables and anchor indices).
/// </summary>
internal static class BlockPartitions
{
    /// <summary>Subset of each pixel for two subsets: bit i of entry p is pixel i of partition p.</summary>
    private static readonly ushort[] Two =
    [
        0xcccc, 0x8888, 0xeeee, 0xecc8, 0xc880, 0xfeec, 0xfec8, 0xec80, 0xc800, 0xffec, 0xfe80, 0xe800, 0xffe8, 0xff00, 0xfff0, 0xf000,
        0xf710, 0x008e, 0x7100, 0x08ce, 0x008c, 0x7310, 0x3100, 0x8cce, 0x088c, 0x3110, 0x6666, 0x366c, 0x17e8, 0x0ff0, 0x718e, 0x399c,
        0xaaaa, 0xf0f0, 0x5a5a, 0x33cc, 0x3c3c, 0x55aa, 0x9696, 0xa55a, 0x73ce, 0x13c8, 0x324c, 0x3bdc, 0x6996, 0xc33c, 0x9966, 0x0660,
        0x0272, 0x04e4, 0x4e40, 0x2720, 0xc936, 0x936c, 0x39c6, 0x639c, 0x9336, 0x9cc6, 0x817e, 0xe718, 0xccf0, 0x0fcc, 0x7744, 0xee22,
    ];

    /// <summary>Subset of each pixel for three subsets: sixteen digits from pixel 0 on.</summary>
    private static readonly string[] Three = PartitionsOfThree.Table;

    private static readonly byte[] AnchorOfTwo =
    [
        15, 15, 15, 15, 15, 15, 15, 15, 15, 15, 15, 15, 15, 15, 15, 15, 15, 2, 8, 2, 2, 8, 8, 15, 2, 8, 2, 2, 8, 8, 2, 2,
        15, 15, 6, 8, 2, 8, 15, 15, 2, 8, 2, 2, 2, 15, 15, 6, 6, 2, 6, 8, 15, 15, 2, 2, 15, 15, 15, 15, 15, 2, 2, 15,
    ];

    private static readonly byte[] SecondAnchorOfThree =
    [
        3, 3, 15, 15, 8, 3, 15, 15, 8, 8, 6, 6, 6, 5, 3, 3, 3, 3, 8, 15, 3, 3, 6, 10, 5, 8, 8, 6, 8, 5, 15, 15,
        8, 15, 3, 5, 6, 10, 8, 15, 15, 3, 15, 5, 15, 15, 15, 15, 3, 15, 5, 5, 5, 8, 5, 10, 5, 10, 8, 13, 15, 12, 3, 3,
    ];

    private static readonly byte[] ThirdAnchorOfThree =
    [
        15, 8, 8, 3, 15, 15, 3, 8, 15, 15, 15, 15, 15, 15, 15, 8, 15, 8, 15, 3, 15, 8, 15, 8, 3, 15, 6, 10, 15, 15, 10, 8,
        15, 3, 15, 10, 10, 8, 9, 10, 6, 15, 8, 15, 3, 6, 6, 8, 15, 3, 15, 15, 15, 15, 15, 15, 15, 15, 15, 15, 3, 15, 15, 8,
    ];

    public static int Subset(int subsets, int partition, int pixel) => subsets switch
    {
        1 => 0,
        2 => Two[partition] >> pixel & 1,
        _ => Three[partition][pixel] - '0',
    };

    /// <summary>Whether a pixel is the one of its subset whose index has one bit less.</summary>
    public static bool IsAnchor(int subsets, int partition, int pixel) => pixel == 0
        || subsets == 2 && pixel == AnchorOfTwo[partition]
        || subsets == 3 && (pixel == SecondAnchorOfThree[partition] || pixel == ThirdAnchorOfThree[partition]);

    /// <summary>Interpolation weights of 2, 3 and 4 bit indices, in 64ths.</summary>
    public static ReadOnlySpan<byte> Weights(int bits) => bits switch
    {
        2 => [0, 21, 43, 64],
        3 => [0, 9, 18, 27, 37, 46, 55, 64],
        _ => [0, 4, 9, 13, 17, 21, 26, 30, 34, 38, 43, 47, 51, 55, 60, 64],
    };
}
