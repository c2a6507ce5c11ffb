using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;
using System.Runtime.Intrinsics;
using System.Runtime.Intrinsics.X86;

namespace Kiln.Colour.Views;

/// <summary>
/// A function of positive numbers as a table of 256 entries a stop, straight between them; beyond its ends it keeps its last value. The place in the table is read from the number's own bits,
/// whose exponent counts stops and whose fraction runs evenly inside one. A smooth curve is met to about 1e-6 of its size.
/// </summary>
internal sealed class StopTable
{
    private const int Fraction = 15, PerStop = 1 << (23 - Fraction);

    private readonly float[] entries;
    private readonly int firstBits;
    private readonly float least, most;

    /// <param name="function">Of numbers from 2 to the power <paramref name="low"/> to 2 to the power <paramref name="high"/>.</param>
    public StopTable(int low, int high, Func<float, float> function)
    {
        (least, most) = (MathF.ScaleB(1, low), MathF.ScaleB(1, high));
        firstBits = BitConverter.SingleToInt32Bits(least);
        entries = GC.AllocateArray<float>((high - low) * PerStop + 2, pinned: true);
        for (var i = 0; i < entries.Length; i++)
            entries[i] = function(BitConverter.Int32BitsToSingle(firstBits + (Math.Min(i, entries.Length - 2) << Fraction)));
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public unsafe Vector256<float> At(Vector256<float> v)
    {
        var bits = Vector256.MinNative(Vector256.MaxNative(v, Vector256.Create(least)), Vector256.Create(most)).AsInt32() - Vector256.Create(firstBits);
        var index = Vector256.ShiftRightLogical(bits, Fraction);
        var part = Vector256.ConvertToSingle(bits & Vector256.Create((1 << Fraction) - 1)) * (1f / (1 << Fraction));
        Vector256<float> low, high;
        if (Avx2.IsSupported)
        {
            // The table is pinned, so its place is kept.
            var at = (float*)Unsafe.AsPointer(ref MemoryMarshal.GetArrayDataReference(entries));
            (low, high) = (Avx2.GatherVector256(at, index, sizeof(float)), Avx2.GatherVector256(at + 1, index, sizeof(float)));
        }
        else
            (low, high) = (Taken(index, 0), Taken(index, 1));
        return Vector256.MultiplyAddEstimate(part, high - low, low);
    }

    private Vector256<float> Taken(Vector256<int> index, int next)
    {
        Span<float> taken = stackalloc float[8];
        for (var i = 0; i < 8; i++)
            taken[i] = entries[index[i] + next];
        return Vector256.Create((ReadOnlySpan<float>)taken);
    }
}
