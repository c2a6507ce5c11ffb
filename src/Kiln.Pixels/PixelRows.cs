using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;

namespace Kiln.Pixels;

/// <summary>Rows of pixels between one plane a component and three components interleaved.</summary>
public static class PixelRows
{
    /// <summary>Three planes of n samples to 3n interleaved.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public static void Join(ReadOnlySpan<float> r, ReadOnlySpan<float> g, ReadOnlySpan<float> b, Span<float> pixels)
    {
        Check(r.Length, g.Length, b.Length, pixels.Length);
        ref var to = ref MemoryMarshal.GetReference(pixels);
        for (var i = 0; i < r.Length; i++)
        {
            to = r[i];
            Unsafe.Add(ref to, 1) = Unsafe.Add(ref MemoryMarshal.GetReference(g), i);
            Unsafe.Add(ref to, 2) = Unsafe.Add(ref MemoryMarshal.GetReference(b), i);
            to = ref Unsafe.Add(ref to, 3);
        }
    }

    /// <summary>3n samples interleaved to three planes of n.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public static void Part(ReadOnlySpan<float> pixels, Span<float> r, Span<float> g, Span<float> b)
    {
        Check(r.Length, g.Length, b.Length, pixels.Length);
        ref var from = ref MemoryMarshal.GetReference(pixels);
        for (var i = 0; i < r.Length; i++)
        {
            r[i] = from;
            Unsafe.Add(ref MemoryMarshal.GetReference(g), i) = Unsafe.Add(ref from, 1);
            Unsafe.Add(ref MemoryMarshal.GetReference(b), i) = Unsafe.Add(ref from, 2);
            from = ref Unsafe.Add(ref from, 3);
        }
    }

    private static void Check(int r, int g, int b, int pixels)
    {
        if (g != r || b != r || pixels != 3 * r)
            throw new ArgumentException(
                $"Three planes of the same length and three times as many interleaved samples are needed, not {r}, {g}, {b} and {pixels}."
            );
    }
}
