namespace Kiln.Looks.Steps;

/// <summary>A curve over many numbers: pieces are found by a table of the even steps between the ends, which misses only where points crowd.</summary>
internal static class CurveRows
{
    private const int Slots = 256, Stride = 3;

    public static void Apply(ReadOnlySpan<float> curve, ReadOnlySpan<float> x, Span<float> to)
    {
        var last = curve.Length - Stride;
        float low = curve[0], high = curve[last], scale = Slots / (high - low);
        Span<byte> first = stackalloc byte[Slots + 1];
        for (int slot = 0, piece = 0; slot <= Slots; slot++)
        {
            while ((piece + 2) * Stride <= last && low + slot / scale >= curve[(piece + 1) * Stride])
                piece++;
            first[slot] = (byte)piece;
        }
        for (var i = 0; i < x.Length; i++)
        {
            var v = x[i];
            if (!(v > low) || v >= high)
            {
                to[i] = v >= high ? curve[last + 1] : curve[1];
                continue;
            }
            var at = first[(int)((v - low) * scale)] * Stride;
            while (v >= curve[at + Stride])
                at += Stride;
            while (v < curve[at])
                at -= Stride;
            float h = curve[at + Stride] - curve[at], t = (v - curve[at]) / h, y0 = curve[at + 1], y1 = curve[at + Stride + 1], m0 = h * curve[at + 2], m1 = h * curve[at + Stride + 2];
            // Horner's form of the Hermite piece.
            to[i] = y0 + t * (m0 + t * (3 * (y1 - y0) - 2 * m0 - m1 + t * (2 * (y0 - y1) + m0 + m1)));
        }
    }
}
