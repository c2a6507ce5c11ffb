namespace Kiln.Pixels.Decoding.Blocks;

/// <summary>BC6H (Khronos Data Format Specification, BPTC FLOAT): fourteen modes of 4 x 4 half-float RGB pixels in 16 bytes.</summary>
internal static class Bc6h
{
    /// <summary>
    /// One mode. The layout names where each run of bits goes, lowest bit of the block first: channel, endpoint, [high:low], a reversed
    /// run as [low:high]; what is not named follows in the table of the specification.
    /// </summary>
    private sealed record Mode(int Bits, int[] DeltaBits, bool Relative, bool TwoSubsets, (int Slot, int Bit)[] Layout);

    private static readonly Dictionary<int, Mode> Modes = new()
    {
        [0b00] = Of(
            10,
            [5, 5, 5],
            true,
            "g2[4] b2[4] b3[4] r0[9:0] g0[9:0] b0[9:0] r1[4:0] g3[4] g2[3:0] g1[4:0] b3[0] g3[3:0] b1[4:0] b3[1] b2[3:0] r2[4:0] "
                + "b3[2] r3[4:0] b3[3]"
        ),
        [0b01] = Of(
            7,
            [6, 6, 6],
            true,
            "g2[5] g3[4] g3[5] r0[6:0] b3[0] b3[1] b2[4] g0[6:0] b2[5] b3[2] g2[4] b0[6:0] b3[3] b3[5] b3[4] r1[5:0] g2[3:0] "
                + "g1[5:0] g3[3:0] b1[5:0] b2[3:0] r2[5:0] r3[5:0]"
        ),
        [0b00010] = Of(
            11,
            [5, 4, 4],
            true,
            "r0[9:0] g0[9:0] b0[9:0] r1[4:0] r0[10] g2[3:0] g1[3:0] g0[10] b3[0] g3[3:0] b1[3:0] b0[10] b3[1] b2[3:0] r2[4:0] "
                + "b3[2] r3[4:0] b3[3]"
        ),
        [0b00110] = Of(
            11,
            [4, 5, 4],
            true,
            "r0[9:0] g0[9:0] b0[9:0] r1[3:0] r0[10] g3[4] g2[3:0] g1[4:0] g0[10] g3[3:0] b1[3:0] b0[10] b3[1] b2[3:0] r2[3:0] "
                + "b3[0] b3[2] r3[3:0] g2[4] b3[3]"
        ),
        [0b01010] = Of(
            11,
            [4, 4, 5],
            true,
            "r0[9:0] g0[9:0] b0[9:0] r1[3:0] r0[10] b2[4] g2[3:0] g1[3:0] g0[10] b3[0] g3[3:0] b1[4:0] b0[10] b2[3:0] r2[3:0] "
                + "b3[1] b3[2] r3[3:0] b3[4] b3[3]"
        ),
        [0b01110] = Of(
            9,
            [5, 5, 5],
            true,
            "r0[8:0] b2[4] g0[8:0] g2[4] b0[8:0] b3[4] r1[4:0] g3[4] g2[3:0] g1[4:0] b3[0] g3[3:0] b1[4:0] b3[1] b2[3:0] r2[4:0] "
                + "b3[2] r3[4:0] b3[3]"
        ),
        [0b10010] = Of(
            8,
            [6, 5, 5],
            true,
            "r0[7:0] g3[4] b2[4] g0[7:0] b3[2] g2[4] b0[7:0] b3[3] b3[4] r1[5:0] g2[3:0] g1[4:0] b3[0] g3[3:0] b1[4:0] b3[1] "
                + "b2[3:0] r2[5:0] r3[5:0]"
        ),
        [0b10110] = Of(
            8,
            [5, 6, 5],
            true,
            "r0[7:0] b3[0] b2[4] g0[7:0] g2[5] g2[4] b0[7:0] g3[5] b3[4] r1[4:0] g3[4] g2[3:0] g1[5:0] g3[3:0] b1[4:0] b3[1] "
                + "b2[3:0] r2[4:0] b3[2] r3[4:0] b3[3]"
        ),
        [0b11010] = Of(
            8,
            [5, 5, 6],
            true,
            "r0[7:0] b3[1] b2[4] g0[7:0] b2[5] g2[4] b0[7:0] b3[5] b3[4] r1[4:0] g3[4] g2[3:0] g1[4:0] b3[0] g3[3:0] b1[5:0] "
                + "b2[3:0] r2[4:0] b3[2] r3[4:0] b3[3]"
        ),
        [0b11110] = Of(
            6,
            [6, 6, 6],
            false,
            "r0[5:0] g3[4] b3[0] b3[1] b2[4] g0[5:0] g2[5] b2[5] b3[2] g2[4] b0[5:0] g3[5] b3[3] b3[5] b3[4] r1[5:0] g2[3:0] "
                + "g1[5:0] g3[3:0] b1[5:0] b2[3:0] r2[5:0] r3[5:0]"
        ),
        [0b00011] = Of(10, [10, 10, 10], false, "r0[9:0] g0[9:0] b0[9:0] r1[9:0] g1[9:0] b1[9:0]", false),
        [0b00111] = Of(11, [9, 9, 9], true, "r0[9:0] g0[9:0] b0[9:0] r1[8:0] r0[10] g1[8:0] g0[10] b1[8:0] b0[10]", false),
        [0b01011] = Of(12, [8, 8, 8], true, "r0[9:0] g0[9:0] b0[9:0] r1[7:0] r0[10:11] g1[7:0] g0[10:11] b1[7:0] b0[10:11]", false),
        [0b01111] = Of(16, [4, 4, 4], true, "r0[9:0] g0[9:0] b0[9:0] r1[3:0] r0[10:15] g1[3:0] g0[10:15] b1[3:0] b0[10:15]", false),
    };

    /// <summary>Writes 16 RGB pixels as the bits of half floats.</summary>
    public static void Decode(ReadOnlySpan<byte> block, Span<ushort> rgb, bool signed)
    {
        var bits = new BlockBits(block);
        var number = bits.Read(2);
        if (number > 1)
            number |= bits.Read(3) << 2;
        if (!Modes.TryGetValue(number, out var mode))
        {
            // Reserved modes are black.
            rgb[..48].Clear();
            return;
        }
        // Twelve values: red, green, blue of the ends 0 to 3.
        Span<int> ends = stackalloc int[12];
        foreach (var (slot, bit) in mode.Layout)
            ends[slot] |= bits.Read(1) << bit;
        var partition = mode.TwoSubsets ? bits.Read(5) : 0;
        Unpack(mode, ends, signed);
        int subsets = mode.TwoSubsets ? 2 : 1,
            width = mode.TwoSubsets ? 3 : 4;
        for (var i = 0; i < 16; i++)
        {
            var index = bits.Read(BlockPartitions.IsAnchor(subsets, partition, i) ? width - 1 : width);
            int weight = BlockPartitions.Weights(width)[index],
                at = BlockPartitions.Subset(subsets, partition, i) * 6;
            for (var c = 0; c < 3; c++)
                rgb[3 * i + c] = Finish((ends[at + c] * (64 - weight) + ends[at + 3 + c] * weight + 32) >> 6, signed);
        }
    }

    private static void Unpack(Mode mode, Span<int> ends, bool signed)
    {
        var used = mode.TwoSubsets ? 4 : 2;
        for (var e = 0; e < used; e++)
        for (var c = 0; c < 3; c++)
        {
            ref var value = ref ends[3 * e + c];
            if (e > 0 && mode.Relative)
            {
                value = Extend(value, mode.DeltaBits[c]) + ends[c] & (1 << mode.Bits) - 1;
                if (signed)
                    value = Extend(value, mode.Bits);
            }
            else if (signed && (e == 0 || !mode.Relative))
                value = Extend(value, e == 0 ? mode.Bits : mode.DeltaBits[c]);
        }
        for (var i = 0; i < 3 * used; i++)
            ends[i] = signed ? UnquantiseSigned(ends[i], mode.Bits) : Unquantise(ends[i], mode.Bits);
    }

    private static int Extend(int value, int bits) => (value & 1 << bits - 1) != 0 ? value - (1 << bits) : value;

    private static int Unquantise(int value, int bits) =>
        bits >= 15 || value == 0 ? value
        : value == (1 << bits) - 1 ? 0xffff
        : ((value << 15) + 0x4000) >> bits - 1;

    private static int UnquantiseSigned(int value, int bits)
    {
        if (bits >= 16 || value == 0)
            return value;
        var size = Math.Abs(value);
        var wide = size >= (1 << bits - 1) - 1 ? 0x7fff : ((size << 15) + 0x4000) >> bits - 1;
        return value < 0 ? -wide : wide;
    }

    private static ushort Finish(int value, bool signed) =>
        signed ? (ushort)(value < 0 ? -value * 31 >> 5 | 0x8000 : value * 31 >> 5) : (ushort)(value * 31 >> 6);

    private static Mode Of(int bits, int[] deltas, bool relative, string layout, bool two = true)
    {
        var places = new List<(int, int)>();
        foreach (var run in layout.Split(' '))
        {
            var slot = (run[1] - '0') * 3 + "rgb".IndexOf(run[0]);
            var range = run[3..^1].Split(':').Select(int.Parse).ToArray();
            int high = range[0],
                low = range[^1];
            // "[9:0]" is stored lowest bit first; "[10:15]" highest first.
            for (var b = 0; b <= Math.Abs(high - low); b++)
                places.Add((slot, low + b * Math.Sign(high - low)));
        }
        return new(bits, deltas, relative, two, [.. places]);
    }
}
