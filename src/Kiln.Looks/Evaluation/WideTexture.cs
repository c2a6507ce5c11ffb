using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;
using System.Runtime.Intrinsics;
using System.Runtime.Intrinsics.X86;
using Kiln.Pixels;
using Kiln.Simd;
using static Kiln.Simd.WideMath;

namespace Kiln.Looks.Evaluation;

/// <summary>
/// The copies of a <see cref="MapTexture"/> that repeats, read in eight places at once: the four texels around each place in two copies,
/// mixed.
/// </summary>
internal sealed class WideTexture
{
    private const float Rescale = 5.192296858534828e33f; // 2^112: binary32 bias 127 less binary16 bias 15
    private const int MostCopies = 32;

    private readonly Half[] texels;
    private readonly float[] scalars;
    private readonly Vector128<int>[] sizes = new Vector128<int>[MostCopies];
    private readonly float longest;
    private readonly int last;

    public WideTexture(Half[] texels, float[] scalars, IReadOnlyList<(int Width, int Height, int Begin)> levels)
    {
        (this.texels, this.scalars) = (texels, scalars);
        for (var i = 0; i < levels.Count; i++)
            sizes[i] = Vector128.Create(levels[i].Width, levels[i].Height, levels[i].Begin, 0);
        longest = MathF.Max(levels[0].Width, levels[0].Height);
        last = levels.Count - 1;
        // Infinite halves are no case for a shift and a multiplication.
        MayGather = Avx2.IsSupported && AllFinite(MemoryMarshal.Cast<Half, ushort>(texels.AsSpan(0, Math.Max(0, texels.Length - 1))));
    }

    /// <summary>Whether <see cref="Sample"/> may be asked here.</summary>
    public bool MayGather { get; }

    private static bool AllFinite(ReadOnlySpan<ushort> halves)
    {
        var exponent = Vector256.Create((ushort)0x7c00);
        var found = Vector256<ushort>.Zero;
        var i = 0;
        for (; i + Vector256<ushort>.Count <= halves.Length; i += Vector256<ushort>.Count)
            found |= Vector256.Equals(Vector256.Create(halves[i..]) & exponent, exponent);
        for (; i < halves.Length; i++)
            if ((halves[i] & 0x7c00) == 0x7c00)
                return false;
        return found == Vector256<ushort>.Zero;
    }

    /// <param name="footprint">Sides of squares, in units of the whole picture.</param>
    public Wide3 Sample(Wide u, Wide v, Wide footprint)
    {
        var level = Clamp(Vector256.Log2(Max(footprint * longest, Of(1e-6f))), Wide.Zero, Of(last));
        var lower = Whole(level);
        var between = level - Float(lower);
        // The first of two copies alone where the second would not count.
        u -= Floor(u);
        v = Wide.One - (v - Floor(v));
        var result = Copy(u, v, lower);
        return Any(Positive(between))
            ? Wide3.Lerp(result, Copy(u, v, Vector256.Min(lower + Vector256<int>.One, Vector256.Create(last))), between)
            : result;
    }

    /// <summary>Bilinear in one copy each.</summary>
    private Wide3 Copy(Wide u, Wide v, Vector256<int> level)
    {
        var (width, height, begin) = Sizes(level);
        Wide x = u * Float(width) - Of(0.5f),
            y = v * Float(height) - Of(0.5f),
            left = Floor(x),
            top = Floor(y),
            across = x - left,
            down = y - top;
        var one = Vector256<int>.One;
        Vector256<int> lastX = width - one,
            lastY = height - one,
            x0 = Whole(left),
            y0 = Whole(top),
            x1 = x0 + one,
            y1 = y0 + one;
        // Over an edge the picture goes on at the other; a coordinate a hair below the wrap can round up to the far edge.
        x1 = Vector256.ConditionalSelect(Vector256.Equals(x1, width), Vector256<int>.Zero, x1);
        y1 = Vector256.ConditionalSelect(Vector256.GreaterThanOrEqual(y1, height), y1 - height, y1);
        x0 = Vector256.Min(Vector256.ConditionalSelect(Vector256.LessThan(x0, Vector256<int>.Zero), lastX, x0), lastX);
        y0 = Vector256.Min(Vector256.ConditionalSelect(Vector256.LessThan(y0, Vector256<int>.Zero), lastY, y0), lastY);
        (x1, y1) = (Vector256.Min(x1, lastX), Vector256.Min(y1, lastY));
        Vector256<int> upper = y0 * width,
            under = y1 * width;
        return texels.Length > 0
            ? Mixed((upper + x0) * 3 + begin, (upper + x1) * 3 + begin, (under + x0) * 3 + begin, (under + x1) * 3 + begin, across, down)
            : Mixed(begin + upper + x0, begin + upper + x1, begin + under + x0, begin + under + x1, (across, down));
    }

    /// <summary>Of each copy: width, height, place of its first texel.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private (Vector256<int> Width, Vector256<int> Height, Vector256<int> Begin) Sizes(in Vector256<int> level)
    {
        ref var first = ref MemoryMarshal.GetArrayDataReference(sizes);
        ref var at = ref Unsafe.As<Vector256<int>, int>(ref Unsafe.AsRef(in level));
        Vector256<int> a = Pair(ref first, at, Unsafe.Add(ref at, 4)),
            b = Pair(ref first, Unsafe.Add(ref at, 1), Unsafe.Add(ref at, 5)),
            c = Pair(ref first, Unsafe.Add(ref at, 2), Unsafe.Add(ref at, 6)),
            d = Pair(ref first, Unsafe.Add(ref at, 3), Unsafe.Add(ref at, 7));
        Vector256<long> lowAb = Avx2.UnpackLow(a, b).AsInt64(),
            lowCd = Avx2.UnpackLow(c, d).AsInt64();
        return (
            Avx2.UnpackLow(lowAb, lowCd).AsInt32(),
            Avx2.UnpackHigh(lowAb, lowCd).AsInt32(),
            Avx2.UnpackLow(Avx2.UnpackHigh(a, b).AsInt64(), Avx2.UnpackHigh(c, d).AsInt64()).AsInt32()
        );
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static Vector256<int> Pair(ref Vector128<int> first, int a, int b) =>
        Vector256.Create(Unsafe.Add(ref first, a), Unsafe.Add(ref first, b));

    private Wide3 Mixed(in Vector256<int> a, in Vector256<int> b, in Vector256<int> c, in Vector256<int> d, (Wide Across, Wide Down) at)
    {
        ref var from = ref MemoryMarshal.GetArrayDataReference(scalars);
        Wide top = Lerp(Gather(ref from, a), Gather(ref from, b), at.Across),
            bottom = Lerp(Gather(ref from, c), Gather(ref from, d), at.Across);
        return new(Lerp(top, bottom, at.Down));
    }

    private Wide3 Mixed(in Vector256<int> a, in Vector256<int> b, in Vector256<int> c, in Vector256<int> d, Wide across, Wide down)
    {
        ref var from = ref MemoryMarshal.GetArrayDataReference(texels);
        Wide3 top = Wide3.Lerp(Three(ref from, a), Three(ref from, b), across),
            bottom = Wide3.Lerp(Three(ref from, c), Three(ref from, d), across);
        return Wide3.Lerp(top, bottom, down);
    }

    /// <summary>Three halves in a row, read with the one that follows them.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static Wide3 Three(ref Half from, in Vector256<int> at)
    {
        ref var place = ref Unsafe.As<Vector256<int>, int>(ref Unsafe.AsRef(in at));
        Wide a = Vector256
                .Create(
                    Four(ref from, place),
                    Four(ref from, Unsafe.Add(ref place, 1)),
                    Four(ref from, Unsafe.Add(ref place, 4)),
                    Four(ref from, Unsafe.Add(ref place, 5))
                )
                .AsSingle(),
            b = Vector256
                .Create(
                    Four(ref from, Unsafe.Add(ref place, 2)),
                    Four(ref from, Unsafe.Add(ref place, 3)),
                    Four(ref from, Unsafe.Add(ref place, 6)),
                    Four(ref from, Unsafe.Add(ref place, 7))
                )
                .AsSingle();
        Vector256<int> pairs = Avx.Shuffle(a, b, 0b10_00_10_00).AsInt32(),
            thirds = Avx.Shuffle(a, b, 0b11_01_11_01).AsInt32();
        return new(Single(pairs), Single(Vector256.ShiftRightLogical(pairs, 16)), Single(thirds));
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static long Four(ref Half from, int at) => Unsafe.ReadUnaligned<long>(ref Unsafe.As<Half, byte>(ref Unsafe.Add(ref from, at)));

    /// <summary>The lower half of each as a number.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static Wide Single(Vector256<int> half)
    {
        var size = Vector256.ShiftLeft(half & Vector256.Create(0x7fff), 13).AsSingle() * Rescale;
        return size | Vector256.ShiftLeft(half & Vector256.Create(0x8000), 16).AsSingle();
    }
}
