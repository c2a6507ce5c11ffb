namespace Kiln.Pixels.Decoding.Blocks;

/// <summary>BC7 (Khronos Data Format Specification, BPTC UNORM): eight modes of 4 x 4 RGBA pixels in 16 bytes.</summary>
internal static class Bc7
{
    private sealed record Mode(
        int Subsets,
        int PartitionBits,
        int RotationBits,
        int SelectBits,
        int ColourBits,
        int AlphaBits,
        int EndpointP,
        int SharedP,
        int IndexBits,
        int SecondIndexBits
    );

    private static readonly Mode[] Modes =
    [
        new(3, 4, 0, 0, 4, 0, 1, 0, 3, 0),
        new(2, 6, 0, 0, 6, 0, 0, 1, 3, 0),
        new(3, 6, 0, 0, 5, 0, 0, 0, 2, 0),
        new(2, 6, 0, 0, 7, 0, 1, 0, 2, 0),
        new(1, 0, 2, 1, 5, 6, 0, 0, 2, 3),
        new(1, 0, 2, 0, 7, 8, 0, 0, 2, 2),
        new(1, 0, 0, 0, 7, 7, 1, 0, 4, 0),
        new(2, 6, 0, 0, 5, 5, 1, 0, 2, 0),
    ];

    public static void Decode(ReadOnlySpan<byte> block, Span<byte> rgba)
    {
        var bits = new BlockBits(block);
        var number = 0;
        while (number < 8 && bits.Read(1) == 0)
            number++;
        if (number == 8)
        {
            // Reserved: such blocks are transparent black.
            rgba[..64].Clear();
            return;
        }
        var mode = Modes[number];
        int partition = bits.Read(mode.PartitionBits),
            rotation = bits.Read(mode.RotationBits),
            select = bits.Read(mode.SelectBits);
        Span<int> ends = stackalloc int[6 * 4];
        Endpoints(ref bits, mode, ends);
        Span<int> first = stackalloc int[16];
        Span<int> second = stackalloc int[16];
        Indices(ref bits, mode.Subsets, partition, mode.IndexBits, first);
        if (mode.SecondIndexBits > 0)
            Indices(ref bits, 1, 0, mode.SecondIndexBits, second);
        for (var i = 0; i < 16; i++)
        {
            var at = BlockPartitions.Subset(mode.Subsets, partition, i) * 8;
            int colourBits = mode.IndexBits,
                alphaBits = mode.IndexBits,
                colour = first[i],
                alpha = first[i];
            if (mode.SecondIndexBits > 0)
                (colour, colourBits, alpha, alphaBits) =
                    select == 0
                        ? (first[i], mode.IndexBits, second[i], mode.SecondIndexBits)
                        : (second[i], mode.SecondIndexBits, first[i], mode.IndexBits);
            int colourWeight = BlockPartitions.Weights(colourBits)[colour],
                alphaWeight = BlockPartitions.Weights(alphaBits)[alpha];
            var pixel = rgba.Slice(4 * i, 4);
            for (var c = 0; c < 4; c++)
            {
                var weight = c == 3 ? alphaWeight : colourWeight;
                pixel[c] = (byte)((ends[at + c] * (64 - weight) + ends[at + 4 + c] * weight + 32) >> 6);
            }
            if (rotation > 0)
                (pixel[3], pixel[rotation - 1]) = (pixel[rotation - 1], pixel[3]);
        }
    }

    /// <summary>Two RGBA ends a subset, unpacked to 8 bits: stored channel by channel, then the shared lowest bits.</summary>
    private static void Endpoints(ref BlockBits bits, Mode mode, Span<int> ends)
    {
        var count = mode.Subsets * 2;
        for (var c = 0; c < 4; c++)
        for (var e = 0; e < count; e++)
            ends[4 * e + c] =
                c < 3 ? bits.Read(mode.ColourBits)
                : mode.AlphaBits > 0 ? bits.Read(mode.AlphaBits)
                : 0;
        Span<int> lowest = stackalloc int[6];
        if (mode.EndpointP == 1)
            for (var e = 0; e < count; e++)
                lowest[e] = bits.Read(1);
        if (mode.SharedP == 1)
            for (var s = 0; s < mode.Subsets; s++)
                lowest[2 * s] = lowest[2 * s + 1] = bits.Read(1);
        var extra = mode.EndpointP + mode.SharedP;
        for (var e = 0; e < count; e++)
        for (var c = 0; c < 4; c++)
        {
            var width = (c < 3 ? mode.ColourBits : mode.AlphaBits) + extra;
            if (c == 3 && mode.AlphaBits == 0)
            {
                ends[4 * e + c] = 255;
                continue;
            }
            var value = extra == 1 ? ends[4 * e + c] << 1 | lowest[e] : ends[4 * e + c];
            value <<= 8 - width;
            ends[4 * e + c] = value | value >> width;
        }
    }

    private static void Indices(ref BlockBits bits, int subsets, int partition, int width, Span<int> indices)
    {
        for (var i = 0; i < 16; i++)
            indices[i] = bits.Read(BlockPartitions.IsAnchor(subsets, partition, i) ? width - 1 : width);
    }
}
