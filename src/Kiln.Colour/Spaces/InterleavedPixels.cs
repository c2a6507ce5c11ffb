using System.Runtime.CompilerServices;
using System.Runtime.Intrinsics;

namespace Kiln.Colour.Spaces;

/// <summary>Eight pixels of three samples between the order of a picture (rgbrgb…) and one vector a channel.</summary>
internal static class InterleavedPixels
{
    private static readonly Vector256<int> First = Vector256.Create(-1, 0, 0, -1, 0, 0, -1, 0),
        Second = Vector256.Create(0, -1, 0, 0, -1, 0, 0, -1);

    /// <summary>a = r0 g0 b0 r1 g1 b1 r2 g2, b = b2 r3 g3 b3 r4 g4 b4 r5, c = g5 b5 r6 g6 b6 r7 g7 b7.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static (Vector256<float> R, Vector256<float> G, Vector256<float> B) Sorted(
        Vector256<float> a,
        Vector256<float> b,
        Vector256<float> c
    )
    {
        // Red sits at 0, 3, 6 of a, at 1, 4, 7 of b and at 2, 5 of c: blended they fill a vector, in the order r0 r3 r6 r1 r4 r7 r2 r5; the
        // others likewise.
        var r = Vector256.ConditionalSelect(First.AsSingle(), a, Vector256.ConditionalSelect(Second.AsSingle(), b, c));
        var g = Vector256.ConditionalSelect(First.AsSingle(), c, Vector256.ConditionalSelect(Second.AsSingle(), a, b));
        var bl = Vector256.ConditionalSelect(First.AsSingle(), b, Vector256.ConditionalSelect(Second.AsSingle(), c, a));
        return (
            Vector256.Shuffle(r, Vector256.Create(0, 3, 6, 1, 4, 7, 2, 5)),
            Vector256.Shuffle(g, Vector256.Create(1, 4, 7, 2, 5, 0, 3, 6)),
            Vector256.Shuffle(bl, Vector256.Create(2, 5, 0, 3, 6, 1, 4, 7))
        );
    }

    /// <summary>The way back.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static (Vector256<float> A, Vector256<float> B, Vector256<float> C) Joined(
        Vector256<float> r,
        Vector256<float> g,
        Vector256<float> b
    )
    {
        r = Vector256.Shuffle(r, Vector256.Create(0, 3, 6, 1, 4, 7, 2, 5));
        g = Vector256.Shuffle(g, Vector256.Create(5, 0, 3, 6, 1, 4, 7, 2));
        b = Vector256.Shuffle(b, Vector256.Create(2, 5, 0, 3, 6, 1, 4, 7));
        return (
            Vector256.ConditionalSelect(First.AsSingle(), r, Vector256.ConditionalSelect(Second.AsSingle(), g, b)),
            Vector256.ConditionalSelect(First.AsSingle(), b, Vector256.ConditionalSelect(Second.AsSingle(), r, g)),
            Vector256.ConditionalSelect(First.AsSingle(), g, Vector256.ConditionalSelect(Second.AsSingle(), b, r))
        );
    }
}
