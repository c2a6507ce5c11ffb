using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;
using System.Runtime.Intrinsics;
using System.Runtime.Intrinsics.X86;

namespace Kiln.Colour.Views;

/// <summary>
/// A function of positive numbers as a table of 256 entries a stop, straight between them; beyond its ends it keeps its last value. The
/// place in the table is read from the number's own bits,
/// whose exponent counts stops and whose fraction runs evenly inside one. A smooth curve is met to about 1e-6 of its size.
/// </summary>
internal sealed class StopTable
{
    private const int Fraction = 15,
        PerStop = 1 << (23 - Fraction);

    private readonly float[] entries;
    private readonly int firstBits;
    private readonly float least,
        most;

    /// <param name="function">Of numbers from 2 to the power <paramref name="low"/> to 2 to the power <paramref name="high"/>.</param>
    public StopTable(int low, int high, Func<float, float> function)
    {
        (least, most) = (MathF.ScaleB(1, low), MathF.ScaleB(1, high));
        firstBits = BitConverter.SingleToInt32Bits(least);
        entries = new float[(high - low) * PerStop + 2];
        for (var i = 0; i < entries.Length; i++)
            entries[i] = function(BitConverter.Int32BitsToSingle(firstBits + (Math.Min(i, entries.Length - 2) << Fraction)));
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public Vector256<float> At(Vector256<float> v)
    {
        var bits =
            Vector256.MinNative(Vector256.MaxNative(v, Vector256.Create(least)), Vector256.Create(most)).AsInt32()
            - Vector256.Create(firstBits);
        var index = Vector256.ShiftRightLogical(bits, Fraction);
        var part = Vector256.ConvertToSingle(bits & Vector256.Create((1 << Fraction) - 1)) * (1f / (1 << Fraction));
        var (low0, high0) = Four(index.GetLower());
        var (low1, high1) = Four(index.GetUpper());
        Vector256<float> low = Vector256.Create(low0, low1),
            high = Vector256.Create(high0, high1);
        return Vector256.MultiplyAddEstimate(part, high - low, low);
    }

    /// <summary>
    /// Four entries and the ones after them. Entry and next are loaded together; the processor's own gathering is slower wherever it had to
    /// be made safe.
    /// </summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private (Vector128<float> Low, Vector128<float> High) Four(Vector128<int> index)
    {
        ref var first = ref MemoryMarshal.GetArrayDataReference(entries);
        var a = Vector128.Create(Pair(ref first, index.GetElement(0)), Pair(ref first, index.GetElement(1))).AsSingle();
        var b = Vector128.Create(Pair(ref first, index.GetElement(2)), Pair(ref first, index.GetElement(3))).AsSingle();
        return Sse.IsSupported
            ? (Sse.Shuffle(a, b, 0b10_00_10_00), Sse.Shuffle(a, b, 0b11_01_11_01))
            : (Vector128.Create(a[0], a[2], b[0], b[2]), Vector128.Create(a[1], a[3], b[1], b[3]));
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static double Pair(ref float first, int index) =>
        Unsafe.ReadUnaligned<double>(ref Unsafe.As<float, byte>(ref Unsafe.Add(ref first, index)));
}
