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
internal sealed unsafe class WideTexture
{
    private const float Rescale = 5.192296858534828e33f; // 2^112: binary32 bias 127 less binary16 bias 15
    private const int MostCopies = 32;

    private readonly Half[] texels;
    private readonly float[] scalars;
    private readonly int[] widths = new int[MostCopies],
        heights = new int[MostCopies],
        begins = new int[MostCopies];
    private readonly float longest;
    private readonly int last;

    public WideTexture(Half[] texels, float[] scalars, IReadOnlyList<(int Width, int Height, int Begin)> levels)
    {
        (this.texels, this.scalars) = (texels, scalars);
        for (var i = 0; i < levels.Count; i++)
            (widths[i], heights[i], begins[i]) = levels[i];
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
        Vector256<int> width,
            height,
            begin;
        fixed (int* w = widths)
        fixed (int* h = heights)
        fixed (int* b = begins)
        {
            width = Avx2.GatherVector256(w, level, 4);
            height = Avx2.GatherVector256(h, level, 4);
            begin = Avx2.GatherVector256(b, level, 4);
        }
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

    private Wide3 Mixed(Vector256<int> a, Vector256<int> b, Vector256<int> c, Vector256<int> d, (Wide Across, Wide Down) at)
    {
        fixed (float* from = scalars)
        {
            Wide top = Lerp(Avx2.GatherVector256(from, a, 4), Avx2.GatherVector256(from, b, 4), at.Across),
                bottom = Lerp(Avx2.GatherVector256(from, c, 4), Avx2.GatherVector256(from, d, 4), at.Across);
            return new(Lerp(top, bottom, at.Down));
        }
    }

    private Wide3 Mixed(Vector256<int> a, Vector256<int> b, Vector256<int> c, Vector256<int> d, Wide across, Wide down)
    {
        fixed (Half* from = texels)
        {
            Wide3 top = Wide3.Lerp(Three(from, a), Three(from, b), across),
                bottom = Wide3.Lerp(Three(from, c), Three(from, d), across);
            return Wide3.Lerp(top, bottom, down);
        }
    }

    /// <summary>Three halves in a row, as two pairs that overlap.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static Wide3 Three(Half* from, Vector256<int> at)
    {
        Vector256<int> first = Avx2.GatherVector256((int*)from, at, 2),
            second = Avx2.GatherVector256((int*)((ushort*)from + 1), at, 2);
        return new(Single(first), Single(second), Single(Vector256.ShiftRightLogical(second, 16)));
    }

    /// <summary>The lower half of each as a number.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static Wide Single(Vector256<int> half)
    {
        var size = Vector256.ShiftLeft(half & Vector256.Create(0x7fff), 13).AsSingle() * Rescale;
        return size | Vector256.ShiftLeft(half & Vector256.Create(0x8000), 16).AsSingle();
    }
}
