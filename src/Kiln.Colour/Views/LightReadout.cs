using System.Numerics;
using Kiln.Colour.Spaces;
using Kiln.Pixels;

namespace Kiln.Colour.Views;

/// <summary>One pixel of a rendered picture, or the average over a patch: light in the working space, and what the display shows.</summary>
/// <param name="Working">Linear, in the working space.</param>
/// <param name="Luminance">Y, 1 for a perfect white under radiance 1.</param>
/// <param name="Stops">From middle grey (0.18); null for black.</param>
/// <param name="Displayed">Code values of the display under the view, 0..1.</param>
/// <param name="Hex">The same as #rrggbb.</param>
/// <param name="Beyond">Nothing, Above, Below or both: what the display cannot show.</param>
public sealed record LightReadout(
    int X,
    int Y,
    int Pixels,
    IReadOnlyList<float> Working,
    float Luminance,
    float? Stops,
    IReadOnlyList<float> Displayed,
    string Hex,
    string Beyond
)
{
    private const float MiddleGrey = 0.18f;

    /// <param name="light">Linear RGB(A) in the working space.</param>
    /// <param name="patch">Side of the square around the pixel, 1 for the pixel alone; it ends at the picture's edges.</param>
    public static LightReadout Of(ImageBuffer light, WorkingSpace working, View view, float exposureStops, int x, int y, int patch)
    {
        (x, y) = (Math.Clamp(x, 0, light.Width - 1), Math.Clamp(y, 0, light.Height - 1));
        var half = Math.Clamp(patch, 1, 512) / 2;
        var sum = Vector3.Zero;
        var count = 0;
        for (var py = Math.Max(0, y - half); py <= Math.Min(light.Height - 1, y + half); py++)
        for (var px = Math.Max(0, x - half); px <= Math.Min(light.Width - 1, x + half); px++, count++)
            sum += new Vector3(light[px, py, 0], light[px, py, 1], light[px, py, 2]);
        var mean = sum / count;
        var luminance = Vector3.Dot(mean, working.LuminanceWeights);
        var (shown, beyond) = view.Shown(mean, exposureStops);
        int Code(float v) => (int)MathF.Round(Math.Clamp(v, 0, 1) * 255);
        return new(
            x,
            y,
            count,
            [mean.X, mean.Y, mean.Z],
            luminance,
            luminance > 0 ? MathF.Log2(luminance / MiddleGrey) : null,
            [shown.X, shown.Y, shown.Z],
            $"#{Code(shown.X):x2}{Code(shown.Y):x2}{Code(shown.Z):x2}",
            beyond.ToString()
        );
    }
}
