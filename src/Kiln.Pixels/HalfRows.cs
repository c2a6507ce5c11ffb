using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;

namespace Kiln.Pixels;

/// <summary>Half to float for whole rows, finite values only need a shift and a multiplication (IEEE 754 binary16).</summary>
public static class HalfRows
{
    private const float Rescale = 5.192296858534828e33f; // 2^112: binary32 bias 127 less binary16 bias 15

    public static void ToSingle(ReadOnlySpan<Half> source, Span<float> destination)
    {
        var bits = MemoryMarshal.Cast<Half, ushort>(source);
        for (var i = 0; i < bits.Length; i++)
            destination[i] = ToSingle(bits[i]);
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static float ToSingle(ushort half)
    {
        if ((half & 0x7c00) == 0x7c00)
            return (float)BitConverter.UInt16BitsToHalf(half);
        var magnitude = BitConverter.Int32BitsToSingle((half & 0x7fff) << 13) * Rescale;
        return BitConverter.Int32BitsToSingle(BitConverter.SingleToInt32Bits(magnitude) | ((half & 0x8000) << 16));
    }
}
