namespace Kiln.Colour.Views;

/// <summary>
/// Marks what a display cannot show, without colour: stripes rising to the right where light is above its white, falling to the right where
/// a colour is outside its primaries or below black.
/// </summary>
public static class ClippingMarks
{
    /// <summary>Beyond rounding of the transform itself.</summary>
    private const float Tolerance = 1e-3f;
    private const int Stripe = 4;

    [Flags]
    public enum Beyond : byte
    {
        Nothing = 0,
        Above = 1,
        Below = 2,
    }

    /// <summary>What is beyond the display in a pixel of three unclamped components.</summary>
    public static Beyond Of(float r, float g, float b) =>
        (r > 1 + Tolerance || g > 1 + Tolerance || b > 1 + Tolerance ? Beyond.Above : 0)
        | (r < -Tolerance || g < -Tolerance || b < -Tolerance ? Beyond.Below : 0);

    /// <summary>Draws the stripes of one row over its display values.</summary>
    public static void Draw(Span<float> pixels, ReadOnlySpan<Beyond> marks, int y)
    {
        for (var x = 0; x < marks.Length; x++)
        {
            if (marks[x] == Beyond.Nothing)
                continue;
            // Both at once crosses the stripes.
            var rising = marks[x].HasFlag(Beyond.Above) && (x + y) % (2 * Stripe) < Stripe;
            var falling = marks[x].HasFlag(Beyond.Below) && (x - y % (2 * Stripe) + 2 * Stripe) % (2 * Stripe) < Stripe;
            pixels.Slice(3 * x, 3).Fill(rising || falling ? 0f : 1f);
        }
    }
}
